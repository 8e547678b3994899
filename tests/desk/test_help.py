"""The help: this screen, how lines look, the words of the trade."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLineEdit, QTextBrowser

from dechirer.core.job.model import Job
from dechirer.desk.boxes.trade_words import WORDS
from tests.desk.conftest import Desk
from tests.helpers import quick_job


@pytest.fixture
def desk(open_desk: Callable[[Job], Desk]) -> Desk:
    return open_desk(quick_job("5x7in"))


def told(desk: Desk) -> str:
    return desk.find("help-words", QTextBrowser).toPlainText()  # type: ignore[attr-defined,no-any-return]


def test_every_word_stands_once_in_order_and_points_at_words_that_are_there() -> None:
    words = list(WORDS)
    assert words == sorted(words, key=str.lower)
    for about in WORDS.values():
        _, points, other = about.partition("ee also ")
        assert not points or other.rstrip(".") in words, about


def test_words_are_looked_up_by_name_first_and_then_by_what_they_are_explained_with(desk: Desk) -> None:
    desk.room.do("help")
    desk.click("help-page-words")
    assert all(word in told(desk) for word in WORDS)
    line = desk.find("help-word", QLineEdit)
    desk.qtbot.keyClicks(line, "FOAM")
    assert told(desk).startswith("foam")
    assert "layer" in told(desk)
    line.clear()  # type: ignore[attr-defined]
    desk.qtbot.keyClicks(line, "<b>nothing</b>")
    assert told(desk) == "No such word here."


def test_a_word_is_found_from_anywhere(desk: Desk) -> None:
    desk.room.find()
    line = desk.find("find-line", QLineEdit)
    desk.qtbot.keyClicks(line, "word: reveal")
    desk.qtbot.keyClick(line, Qt.Key.Key_Return)
    assert desk.find("help-box").isVisible()
    assert told(desk).startswith("reveal")
