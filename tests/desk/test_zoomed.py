"""A magnified picture shows what the fitted one shows there, and costs no more."""

from __future__ import annotations

import numpy as np
import pytest
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QImage, QPainter
from pytestqt.qtbot import QtBot

from dechirer.core.shape.outline import Box
from dechirer.desk.painter import lines_within, paint_display
from dechirer.drawing.display import Display, Shape
from dechirer.drawing.forms import FORMS
from dechirer.drawing.viewport import Viewport

SIDE = 240


def painted(display: Display, viewport: Viewport, wide: int = SIDE, shift: int = 0) -> np.ndarray:
    image = QImage(wide, wide, QImage.Format.Format_RGB32)
    image.fill(0xFFFFFFFF)
    painter = QPainter(image)
    paint_display(painter, display, Viewport(viewport.scale, viewport.left_px + shift, viewport.top_px + shift))
    painter.end()
    data = image.constBits()
    assert data is not None
    return np.frombuffer(data.asstring(image.sizeInBytes()), np.uint8).reshape(wide, wide, 4)[:, :, :3].astype(int)


@pytest.mark.parametrize("form", [name for name, form in FORMS.items() if not form.dashes])
def test_what_lies_in_the_window_is_drawn_whether_or_not_the_rest_is(qtbot: QtBot, form: str) -> None:
    ring = tuple((100 + 90 * np.cos(t / 20), 100 + 60 * np.sin(t / 20)) for t in range(126))
    cross = (((0.0, 40.0), (200.0, 150.0)),)
    display = Display(
        (Shape((ring,), form=form, fill="#d0e0f0"), Shape(cross, closed=False, form=form)), Box(0, 0, 200, 200)
    )
    near = Viewport(9.0, -9.0 * 60, -9.0 * 60)  # a ninth of it in each direction
    whole = painted(display, near, wide=1900, shift=800)[800 : 800 + SIDE, 800 : 800 + SIDE]
    part = painted(display, near)
    inner = slice(4, SIDE - 4)
    assert np.abs(whole[inner, inner] - part[inner, inner]).max() <= 40  # edges differ by a shade
    assert (part != 255).any()


def test_dashes_far_outside_are_not_reckoned() -> None:
    lines = tuple(((0.0, float(y)), (5000.0, float(y))) for y in range(0, 400, 2))
    item = Shape(lines, closed=False, form="mountain", role="fold")
    path = lines_within(item, Viewport(100.0, -100_000.0, -3000.0), QRectF(0, 0, SIDE, SIDE))
    # Of 200 lines of half a million pixels two lie in the window, each from edge to edge.
    assert path.length() == pytest.approx(2 * SIDE)
    assert path.boundingRect() == QRectF(0, 0, SIDE, 200)
