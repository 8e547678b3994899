"""An automatic look at a window: words that are cut off or too faint, things on each other or past their place.

`bin/look` takes every demo at every station, in three sizes and both themes; a sample of them is in the tests.
"""

from __future__ import annotations

import itertools
import os
import sys
from collections import Counter
from collections.abc import Iterator

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtCore import QPoint, QRect, Qt
from PyQt6.QtGui import QColor, QImage, QTextDocument
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractScrollArea,
    QApplication,
    QCheckBox,
    QComboBox,
    QLabel,
    QLayout,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QToolButton,
    QWidget,
)

from dechirer.desk.widgets.wrapped_button import WrappedButton

SIZES = ((683, 467), (1024, 700), (1280, 800), (1920, 1080))
SLACK_PX = 2
LEAST_CONTRAST = 4.5
"""Of text on its ground, by the Web Content Accessibility Guidelines 2.1, 1.4.3."""
ROOM_OF_A_LIST_PX = 30
"""What a list to choose from needs beside its words."""


def find_flaws(window: QWidget, *, contrast: bool = True) -> list[str]:
    """What is wrong in a window as it is now, in words."""
    return [*dict.fromkeys(_flaws(window, contrast))]


def _flaws(window: QWidget, contrast: bool) -> Iterator[str]:
    for widget in (window, *window.findChildren(QWidget)):
        if not widget.isVisibleTo(window) or widget.visibleRegion().isEmpty():
            continue
        yield from _cut_off(widget)
        yield from _past(widget)
        yield from _on_each_other(widget)
        yield from _wider_than_its_window(widget)
        if contrast and widget.isEnabled():
            yield from _faint(widget)


def name(widget: QWidget) -> str:
    """A widget in words: what it is, its name, its text."""
    text = widget.text() if isinstance(widget, (QLabel, QAbstractButton)) else ""
    return f"{type(widget).__name__} {widget.objectName()} “{_plain(text)[:40]}”"


def _plain(text: str) -> str:
    if not text.startswith("<"):
        return text
    document = QTextDocument()
    document.setHtml(text)
    return document.toPlainText()


def _cut_off(widget: QWidget) -> Iterator[str]:
    """Words that need more room than they have."""
    if isinstance(widget, QLabel):
        if not widget.text() or not widget.pixmap().isNull():
            return
        room = widget.contentsRect()
        if widget.wordWrap():
            needs = widget.heightForWidth(widget.width())
            if needs > widget.height() + SLACK_PX:
                yield f"{name(widget)}: is {widget.height()} px high and needs {needs}"
        elif widget.sizeHint().width() > widget.width() + SLACK_PX and widget.toolTip() != widget.text():
            yield f"{name(widget)}: is {room.width()} px wide and needs {widget.sizeHint().width()}"
    elif isinstance(widget, WrappedButton):
        if widget.heightForWidth(widget.width()) > widget.height() + SLACK_PX:
            yield f"{name(widget)}: is {widget.height()} px high and needs {widget.heightForWidth(widget.width())}"
    elif isinstance(widget, (QPushButton, QToolButton, QCheckBox)):
        words = max((widget.fontMetrics().horizontalAdvance(line) for line in widget.text().split("\n")), default=0)
        if min(words, widget.minimumSizeHint().width()) > widget.width() + SLACK_PX:
            yield f"{name(widget)}: is {widget.width()} px wide and needs {words}"
    elif isinstance(widget, QComboBox):
        words = widget.fontMetrics().horizontalAdvance(widget.currentText()) + ROOM_OF_A_LIST_PX
        words += 0 if widget.itemIcon(widget.currentIndex()).isNull() else widget.iconSize().width() + 4
        if words > widget.width() + SLACK_PX and not widget.toolTip():
            yield f"{name(widget)} “{widget.currentText()}”: is {widget.width()} px wide and needs {words}"
    elif isinstance(widget, QLineEdit) and not widget.text():
        words = widget.fontMetrics().horizontalAdvance(widget.placeholderText()) + 12
        if words > widget.width() + SLACK_PX and not widget.toolTip():
            yield f"{name(widget)} “{widget.placeholderText()}”: is {widget.width()} px wide and needs {words}"


def _parent_that_holds(widget: QWidget) -> QWidget | None:
    """The parent that lays a widget out; None where it is scrolled or lies freely."""
    parent = widget.parentWidget()
    if parent is None or widget.isWindow() or isinstance(parent.parentWidget(), QAbstractScrollArea):
        return None
    layout = parent.layout()
    return parent if layout is not None and _is_in(layout, widget) else None


def _is_in(layout: QLayout, widget: QWidget) -> bool:
    for index in range(layout.count()):
        item = layout.itemAt(index)
        assert item is not None
        inner = item.layout()
        if item.widget() is widget or (inner is not None and _is_in(inner, widget)):
            return True
    return False


def _past(widget: QWidget) -> Iterator[str]:
    """Something that lies past its parent."""
    parent = _parent_that_holds(widget)
    if parent is not None and not parent.rect().adjusted(-1, -1, 1, 1).contains(widget.geometry()):
        yield f"{name(widget)}: lies past {name(parent)}"


def _wider_than_its_window(area: QWidget) -> Iterator[str]:
    """Something scrolled of which a part is out of reach, as nothing scrolls that way."""
    if not isinstance(area, QScrollArea):
        return
    inner, port = area.widget(), area.viewport()
    off = area.horizontalScrollBarPolicy() == Qt.ScrollBarPolicy.ScrollBarAlwaysOff
    if inner is not None and port is not None and off and inner.width() > port.width() + SLACK_PX:
        yield f"{name(area)}: what it shows is {inner.width()} px wide, and {port.width()} of it are seen"


def _on_each_other(parent: QWidget) -> Iterator[str]:
    """Siblings of one layout that lie on each other."""
    layout = parent.layout()
    if layout is None:
        return
    own = [
        child
        for child in parent.children()
        if isinstance(child, QWidget) and child.isVisible() and not child.isWindow() and _is_in(layout, child)
    ]
    for one, other in itertools.combinations(own, 2):
        shared = one.geometry().intersected(other.geometry())
        if shared.width() > 1 and shared.height() > 1:
            yield f"{name(one)}: lies on {name(other)}"


def _faint(widget: QWidget) -> Iterator[str]:
    """Words whose darkest or lightest pixel does not stand out from their ground."""
    if not isinstance(widget, (QLabel, QPushButton, QToolButton)) or not widget.text():
        return
    shown = widget.visibleRegion().boundingRect()
    if shown != widget.rect():  # scrolled half out of sight
        return
    ratio = contrast_in(widget.window(), QRect(widget.mapTo(widget.window(), shown.topLeft()), shown.size()))
    if ratio < LEAST_CONTRAST:
        yield f"{name(widget)}: its words stand out {ratio:.1f} : 1"


def contrast_in(window: QWidget | None, part: QRect) -> float:
    """The contrast of what stands out most in a part of a window, with the colour most of it has."""
    assert window is not None
    picture = window.grab(part).toImage().convertToFormat(QImage.Format.Format_RGB32)
    colours = Counter(picture.pixel(QPoint(x, y)) for x in range(picture.width()) for y in range(picture.height()))
    ground = _luminance(QColor(colours.most_common(1)[0][0]))
    return max((max(ground, own) + 0.05) / (min(ground, own) + 0.05) for own in map(_luminance, map(QColor, colours)))


def _luminance(colour: QColor) -> float:
    """Relative luminance by WCAG 2.1."""
    parts = [part / 12.92 if part <= 0.03928 else ((part + 0.055) / 1.055) ** 2.4 for part in colour.getRgbF()[:3]]
    return sum(weight * part for weight, part in zip((0.2126, 0.7152, 0.0722), parts, strict=True))


def main() -> int:
    """Look at everything; 1 when something is wrong."""
    from PyQt6 import sip

    from dechirer.demo import DEMOS
    from dechirer.desk.headless import open_window, settle
    from dechirer.desk.theme import theme

    asked = sys.argv[1:] or list(DEMOS)
    seen: dict[str, list[str]] = {}
    count = 0
    for demo in asked:
        app, room = open_window(demo, "light")
        for theme_name in ("light", "dark"):
            theme.apply_theme(app, theme_name)
            for wide, high in SIZES:
                room.window.resize(wide, high)
                for station in room.ids:
                    room.show_station(station)
                    settle(app, room.window)
                    count += 1
                    where = f"{demo} {station} {wide} x {high} {theme_name}"
                    for flaw in find_flaws(room.window):
                        seen.setdefault(flaw, []).append(where)
        room.window.close()
        QApplication.processEvents()
        sip.delete(room.window)
    for flaw, places in seen.items():
        print(f"{flaw}\n    {len(places)}: {places[0]}", flush=True)
    print(f"{count} screens, {len(seen)} flaws")
    return 1 if seen else 0


if __name__ == "__main__":
    code = main()
    sys.stdout.flush()
    os._exit(code)
