"""A button whose words are wrapped takes the height its width needs, and no resize causes another one."""

from __future__ import annotations

from PyQt6.QtCore import QSize
from PyQt6.QtGui import QFont, QResizeEvent
from PyQt6.QtWidgets import QScrollArea, QVBoxLayout, QWidget
from pytestqt.qtbot import QtBot

from dechirer.desk.widgets.wrapped_button import WrappedButton

WORDS = "Hold each with 2 ties of 1.5 mm and keep them"


class Counted(WrappedButton):
    """Counts how deep resizes lie in each other."""

    deep = deepest = 0

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        Counted.deep += 1
        Counted.deepest = max(Counted.deepest, Counted.deep)
        super().resizeEvent(event)
        Counted.deep -= 1


def test_words_are_wrapped_by_width_and_none_is_lost(qtbot: QtBot) -> None:
    page = QWidget()
    qtbot.addWidget(page)
    button = WrappedButton(WORDS, page)
    page.show()
    for width in (400, 160, 120, 390, 170):
        lines = button.lines(width)
        assert " ".join(lines) == WORDS
        metrics = button.fontMetrics()
        assert all(metrics.horizontalAdvance(line) <= width for line in lines if " " in line)
    assert len(button.lines(120)) > 2
    assert len(button.lines(400)) == 1
    assert button.heightForWidth(120) > button.heightForWidth(400) == button.sizeHint().height()


def test_a_larger_font_is_wrapped_again(qtbot: QtBot) -> None:
    button = WrappedButton(WORDS)
    qtbot.addWidget(button)
    before = button.lines(300)
    font = QFont(button.font())
    font.setPointSize(3 * max(6, font.pointSize()))
    button.setFont(font)
    assert len(button.lines(300)) > len(before)


def test_many_in_a_narrow_list_settle_without_deep_resizes(qtbot: QtBot) -> None:
    """A column of them in a scroll area once sent resizes through each other until the stack was full."""
    area = QScrollArea()
    qtbot.addWidget(area)
    page = QWidget()
    column = QVBoxLayout(page)
    buttons = [Counted(WORDS) for _ in range(60)]
    for button in buttons:
        column.addWidget(button)
    area.setWidget(page)
    area.setWidgetResizable(True)
    area.show()
    for width in range(150, 420, 30):
        area.resize(QSize(width, 300))
        qtbot.wait(1)
        page.layout().activate()  # type: ignore[union-attr]
    assert Counted.deepest <= 2
    assert {button.height() for button in buttons} == {buttons[0].heightForWidth(buttons[0].width())}
