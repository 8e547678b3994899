"""What was closed leaves nothing in Qt: neither with what lives on, nor in the C library's heap."""

from __future__ import annotations

import ctypes
import gc
from collections.abc import Callable

import pytest
from PyQt6 import sip
from PyQt6.QtCore import QEvent
from PyQt6.QtWidgets import QApplication, QLabel, QWidget
from pytestqt.qtbot import QtBot

from dechirer.desk.widgets.flow import FlowLayout
from dechirer.desk.widgets.picture_list import PictureList
from dechirer.desk.work.appearance import Appearance
from dechirer.desk.work.pixel_store import store
from tests.desk.conftest import Desk


class _Heap(ctypes.Structure):
    """As `struct mallinfo2` of glibc's malloc.h."""

    names = "arena ordblks smblks hblks hblkhd usmblks fsmblks uordblks fordblks keepcost"
    _fields_ = [(name, ctypes.c_size_t) for name in names.split()]


def bytes_in_use() -> int:
    """What the C library has handed out, once all that is to go has gone."""
    library = ctypes.CDLL("libc.so.6")
    if not hasattr(library, "mallinfo2"):
        pytest.skip("only glibc tells")
    library.mallinfo2.restype = _Heap
    for _ in range(2):
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)
        QApplication.processEvents()
        gc.collect()
    return int(library.mallinfo2().uordblks)


def labels_in_a_flow(number: int = 100) -> tuple[QWidget, FlowLayout]:
    widget = QWidget()
    flow = FlowLayout(widget)
    for _ in range(number):
        flow.addWidget(QLabel("a word"))
    return widget, flow


def drop_whole() -> None:
    widget, _ = labels_in_a_flow()
    widget.show()
    widget.deleteLater()


def drop_each() -> None:
    widget, flow = labels_in_a_flow()
    for each in widget.findChildren(QLabel):
        each.deleteLater()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)
    assert flow.count() == 0
    widget.deleteLater()


def take_each() -> None:
    widget, flow = labels_in_a_flow()
    while flow.count():
        entry = flow.takeAt(0)
        assert entry is not None
        shown = entry.widget()
        assert shown is not None
        shown.deleteLater()
    widget.deleteLater()


def drop_at_once() -> None:
    widget, _ = labels_in_a_flow()
    sip.delete(widget)


@pytest.mark.parametrize("drop", [drop_whole, drop_each, take_each, drop_at_once])
def test_a_flow_of_widgets_takes_its_items_along(qtbot: QtBot, drop: Callable[[], None]) -> None:
    # 100 bytes for each widget stayed behind, 15,000 of them after an hour and a half of random work.
    for _ in range(4):
        drop()
        bytes_in_use()
    before = bytes_in_use()
    for _ in range(20):
        drop()
        bytes_in_use()
    assert (bytes_in_use() - before) / (20 * 100) < 40


def test_a_list_of_pictures_leaves_nothing_with_the_store_of_pixels(qtbot: QtBot) -> None:
    before = store.receivers(store.ready)
    holder = QWidget()
    for _ in range(5):
        PictureList("some", "Some", holder)
    assert store.receivers(store.ready) == before + 5
    sip.delete(holder)
    assert store.receivers(store.ready) == before


def test_what_changes_the_theme_leaves_nothing_with_the_hints(desk: Desk) -> None:
    # A proxy of 700 bytes stayed with them for each window.
    def make_and_drop() -> None:
        Appearance(desk.window, desk.room.settings, lambda: None).deleteLater()

    desk.settle()  # nothing is planned beside it
    for _ in range(20):
        make_and_drop()
    left = []
    for _ in range(3):  # in a long test run something else now and then keeps a little, too
        before = bytes_in_use()
        for _ in range(200):
            make_and_drop()
        left.append((bytes_in_use() - before) / 200)
    assert min(left) < 200
