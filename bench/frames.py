"""The folded card while it is turned: one frame drawn and painted at 1280 x 800, of the largest demos.

The yardstick is a screen of 60 pictures a second: 16.7 ms.
"""

from __future__ import annotations

import sys
import time

from PyQt6.QtCore import qInstallMessageHandler
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtWidgets import QApplication

from bench.table import show, spread, verdict
from dechirer.core.plan import make_plan
from dechirer.demo import load_demo_job
from dechirer.desk.painter import paint_display
from dechirer.desk.theme import theme
from dechirer.drawing.placing import place_words
from dechirer.drawing.scenes.solid import draw_folded
from dechirer.drawing.solid.eye import FRONT
from dechirer.drawing.solid.model import Folded
from dechirer.drawing.viewport import fit_viewport

FRAMES, WIDE, HIGH = 120, 1280, 800
LARGEST = ("kites", "topper", "helpers", "winners")


def main() -> None:
    """Measure and print."""
    from dechirer.desk.painter import measure

    qInstallMessageHandler(lambda *_: None)
    app = QApplication(sys.argv[:1])
    theme.load_fonts()
    theme.apply_theme(app, "light")
    image = QImage(WIDE, HIGH, QImage.Format.Format_RGB32)
    rows = []
    for name in LARGEST:
        plan = make_plan(load_demo_job(name))
        began = time.perf_counter()
        folded, taken = Folded(plan, 0.7), []
        draw_folded(folded)
        first = 1000 * (time.perf_counter() - began)
        for number in range(FRAMES):
            began = time.perf_counter()
            display = draw_folded(folded, FRONT.turned(3.0 * number, 20.0 * (number % 3 - 1)))
            viewport = fit_viewport(display.box, WIDE, HIGH, display.room_px)
            painter = QPainter(image)
            paint_display(painter, place_words(display, viewport, WIDE, HIGH, measure), viewport)
            painter.end()
            taken.append(1000 * (time.perf_counter() - began))
        good = verdict(sorted(taken)[FRAMES // 2] < 16)
        rows.append((f"{name}, turned", spread(taken), "wanted under 16 ms", good))
        rows.append((f"{name}, at another opening", f"{first:.1f} ms", "once for each opening", ""))
    show("a frame of the folded card at 1280 x 800", rows)


if __name__ == "__main__":
    main()
