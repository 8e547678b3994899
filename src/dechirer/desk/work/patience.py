"""Work that takes long: said with what it is at, with a way to stop it, and afterwards with ways out."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, QTimer

from dechirer.core.decide.change import Change
from dechirer.desk.widgets.banner import Banners
from dechirer.desk.work.document import Document

PATIENCE_MS = 1000
AGAIN_MS = 400


class Patience(QObject):
    """Watches the plan that is being made. Nothing is said of one that comes within PATIENCE_MS."""

    def __init__(self, document: Document, banners: Banners, parent: QObject) -> None:
        super().__init__(parent)
        self._document, self._banners = document, banners
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._say)
        document.changed.connect(self._begin)
        document.planned.connect(self._end)
        document.plan_failed.connect(lambda _error: self._end())

    def end(self) -> None:
        """The window closes."""
        self._timer.stop()

    def _begin(self) -> None:
        if not self._document.is_waiting:
            return
        self._banners.drop("stopped")
        if not self._timer.isActive():
            self._timer.start(PATIENCE_MS)

    def _end(self) -> None:
        if not self._document.is_waiting or self._document.is_stopped:
            self._timer.stop()
            self._banners.drop("slow")

    def _say(self) -> None:
        if not self._document.is_waiting or self._document.is_stopped:
            return
        words = f"Working out the last edit: {self._at()}"
        if self._banners.text("slow"):
            self._banners.set_text("slow", words)
        else:
            self._banners.say("slow", "note", words, [("Stop", self.stop)])
        self._timer.start(AGAIN_MS)

    def _at(self) -> str:
        what, item = self._document.doing
        name = self._name_of(item)
        return f"{what}, of {name}…" if name and what else f"{what or 'one moment'}…"

    def _name_of(self, item: str) -> str:
        return next((each.name for each in self._document.job.dress.items if each.id == item), "")

    def _make_guide(self, item: str, name: str) -> None:
        self._document.edit(f"{name} a guide", [Change(f"dress.items.{item}.made", "guide")])

    def stop(self) -> None:
        """Stop the work, and say what can be done instead."""
        words, (_, item) = self._at().rstrip("…"), self._document.doing
        name = self._name_of(item)
        self._document.stop()
        self._end()
        buttons: list[tuple[str, Callable[[], None]]] = [
            ("Work it out", self._document.resume),
            ("Undo the edit", self._document.undo),
        ]
        if name:
            buttons.append((f"Only draw {name[:24]}", lambda: self._make_guide(item, name)))
        self._banners.say(
            "stopped", "look", f"Stopped; it was at this: {words}. What you see is the plan of before.", buttons
        )
