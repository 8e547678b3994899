"""A button whose words are wrapped settles, whatever its height does to its width."""

from __future__ import annotations

from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QWidget
from pytestqt.qtbot import QtBot

from dechirer.desk.widgets.wrapped_button import WrappedButton

WORDS = "Hold each with 2 ties of 1.5 mm and keep them"


class ToAndFro(WrappedButton):
    """In one line it is made narrow, as by a scroll bar that comes; in more it is made wide, as by one that goes."""

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.resize(160 if "\n" not in self.text() else 400, self.height())


def test_words_that_would_go_to_and_fro_stay_in_more_lines(qtbot: QtBot) -> None:
    page = QWidget()
    qtbot.addWidget(page)
    button = ToAndFro(WORDS, page)
    page.show()
    for width in (400, 160, 390, 170):
        button.resize(width, button.height())
        assert button.text().replace("\n", " ") == WORDS
        assert "\n" in button.text()
        assert button.height() == button.maximumHeight()


def test_words_take_one_line_again_where_there_is_room(qtbot: QtBot) -> None:
    page = QWidget()
    qtbot.addWidget(page)
    button = WrappedButton(WORDS, page)
    page.show()
    button.resize(120, 30)
    narrow = button.height()
    assert button.text().count("\n") >= 2
    button.resize(400, 30)
    assert button.text() == WORDS
    assert button.height() < narrow
