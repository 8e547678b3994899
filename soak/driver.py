"""Drives the window at random, through what a maker can reach: every control, the drawings, drops, keys, sizes."""

from __future__ import annotations

import time
from collections.abc import Callable
from pathlib import Path
from random import Random

from PyQt6 import sip
from PyQt6.QtCore import QEvent, QMimeData, QPoint, QPointF, QProcess, Qt, QUrl
from PyQt6.QtGui import QAction, QDropEvent, QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QColorDialog,
    QComboBox,
    QDialog,
    QFileDialog,
    QInputDialog,
    QLineEdit,
    QMenu,
    QMessageBox,
    QPlainTextEdit,
    QPushButton,
    QSlider,
    QToolButton,
    QWidget,
)

from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.decide.change import Change
from dechirer.core.dress.decisions import Copies
from dechirer.core.job.model import Job, write_job_json
from dechirer.desk.actions import DEMOS
from dechirer.desk.boxes import changed_file_dialog, export_conflict_dialog
from dechirer.desk.room import Room
from dechirer.desk.widgets.add_menu import AddMenu
from dechirer.desk.widgets.drawing_view import DrawingView
from dechirer.desk.widgets.picture_list import PictureList
from dechirer.desk.window import MainWindow
from dechirer.desk.work import exports, sheet_printing
from dechirer.formats.job.stamp import FileStamp
from soak.texts import FILES, WORDS, typed

SIZES = ((800, 600), (1024, 720), (1280, 800), (1920, 1080), (3840, 2160))
NEVER = ("action-quit", "button-quit")
SETTLE_S = 60.0


def process_all() -> None:
    """Deliver what waits, deletions too: those are left for the loop, which does not run here."""
    QApplication.processEvents()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)


class StuckError(AssertionError):
    """A plan did not come."""


class Driver:
    """One window, and what is done to it. `log` holds what was done, newest last."""

    def __init__(self, room: Room, random: Random, folder: Path) -> None:
        self.room, self.random, self.folder = room, random, folder
        self.window: MainWindow = room.window
        self.log: list[str] = []
        self.first = write_job_json(room.document.job)
        self._open_job = room.document.open_job
        room.document.open_job = self._remember_first  # type: ignore[method-assign]
        folder.mkdir(parents=True, exist_ok=True)
        for name, data in FILES.items():
            (folder / name).write_bytes(data)
        self._deeds: list[tuple[float, Callable[[], str]]] = [
            (30, self.use_control),
            (14, self.type_into_drawing),
            (6, self.pick_in_drawing),
            (6, self.drag_in_drawing),
            (6, self.move_drawing),
            (2, self.choose_row),
            (2, self.slide),
            (6, self.stale),
            (8, self.change_station),
            (6, self.undo_storm),
            (3, self.press_key),
            (3, self.mend),
            (2, self.drop_file),
            (2, self.resize),
            (1, self.change_theme),
            (1.2, self.open_demo),
            (1.5, self.change_construction),
            (1.5, self.save),
            (0.6, self.export),
        ]

    def _remember_first(self, job: Job, path: Path | None, *, saved: bool, stamp: FileStamp | None = None) -> None:
        self._open_job(job, path, saved=saved, stamp=stamp)
        self.first = write_job_json(job)

    # --- answering -------------------------------------------------------------------------------------------

    def answer_questions(self) -> None:
        """Questions that would wait for an answer get one at random."""
        random, folder = self.random, self.folder
        QMessageBox.question = staticmethod(  # type: ignore[method-assign, assignment]
            lambda *_a, **_k: random.choice((QMessageBox.StandardButton.Discard, QMessageBox.StandardButton.Yes))
        )
        QFileDialog.getSaveFileName = staticmethod(  # type: ignore[method-assign, assignment]
            lambda *_a, **_k: (str(folder / random.choice(("a.dechirer", "b", "no/where.dechirer"))), "")
        )
        QFileDialog.getOpenFileName = staticmethod(  # type: ignore[method-assign, assignment]
            lambda *_a, **_k: (str(folder / random.choice((*FILES, "a.dechirer", "gone.svg"))), "")
        )
        QFileDialog.getOpenFileNames = staticmethod(  # type: ignore[method-assign, assignment]
            lambda *_a, **_k: ([str(folder / random.choice(tuple(FILES)))], "")
        )
        QFileDialog.getExistingDirectory = staticmethod(  # type: ignore[method-assign, assignment]
            lambda *_a, **_k: str(folder / "out")
        )
        changed_file_dialog.ask_about_changed = lambda *_a: random.choice(tuple(changed_file_dialog.LABELS))
        export_conflict_dialog.ask_about_conflict = lambda *_a: random.choice(("replace", "cancel", folder / "other"))
        exports.open_path = lambda _path: None
        sheet_printing.ask_and_print = lambda *_a: None
        QProcess.startDetached = staticmethod(lambda *_a, **_k: True)  # type: ignore[method-assign, assignment]
        QInputDialog.getText = staticmethod(  # type: ignore[method-assign, assignment]
            lambda *_a, **_k: (random.choice(WORDS), random.random() < 0.8)
        )
        QInputDialog.getItem = staticmethod(  # type: ignore[method-assign, assignment]
            lambda *_a, **_k: (random.choice(WORDS), random.random() < 0.8)
        )

        def colour(*_a: object, **_k: object) -> object:
            from PyQt6.QtGui import QColor

            return QColor(random.choice(("#c03020", "#ffffff", ""))) if random.random() < 0.9 else QColor()

        QColorDialog.getColor = staticmethod(colour)  # type: ignore[method-assign, assignment]

    # --- doing -----------------------------------------------------------------------------------------------

    def step(self) -> str:
        """Do one thing at random; returns what."""
        weights, deeds = zip(*self._deeds, strict=True)
        deed = self.random.choices(deeds, weights)[0]
        self.log.append(f"{deed.__name__} …")
        what = deed()
        self.log[-1] = f"{deed.__name__} {what}"
        self._tidy()
        process_all()
        if self.random.random() < 0.35:
            self.settle()
        return self.log[-1]

    def settle(self) -> None:
        """Wait for the plan of the job as it is; what is being typed on a drawing is kept, as when one looks up."""
        for station in self.room.stations.values():
            station.end_typing()
        until = time.monotonic() + SETTLE_S
        while True:
            QApplication.processEvents()  # what was begun beside the window may come in, and want a plan of its own
            if self.room.document.is_current or self.window.banners.text("plan"):
                return
            time.sleep(0.002)
            if time.monotonic() > until:
                raise StuckError(f"no plan in {SETTLE_S:.0f} s")

    def _tidy(self) -> None:
        """Not more than a few boxes stay open, and no menu."""
        open_now = [w for w in QApplication.topLevelWidgets() if isinstance(w, QDialog) and w.isVisible()]
        for box in open_now if len(open_now) > 2 or self.random.random() < 0.3 else ():
            box.close()
        for menu in QApplication.topLevelWidgets():
            if isinstance(menu, QMenu) and menu.isVisible():
                menu.close()

    def _front(self) -> QWidget:
        boxes = [w for w in QApplication.topLevelWidgets() if isinstance(w, QDialog) and w.isVisible()]
        return self.random.choice(boxes) if boxes and self.random.random() < 0.7 else self.window

    def _controls(self) -> list[QWidget]:
        kinds = (QAbstractButton, QComboBox, QLineEdit, QPlainTextEdit)
        found = []
        for each in self._front().findChildren(QWidget):
            if isinstance(each, kinds) and each.isVisible() and each.isEnabled() and each.objectName() not in NEVER:
                found.append(each)
        return found

    def use_control(self) -> str:
        controls = self._controls()
        return self._use(self.random.choice(controls)) if controls else ""

    def _use(self, control: QWidget) -> str:
        name = control.objectName() or type(control).__name__
        if isinstance(control, QComboBox):
            if control.count():
                at = self.random.randrange(control.count())
                name += f" = {control.itemText(at)}"
                control.setCurrentIndex(at)
                control.activated.emit(at)
        elif isinstance(control, QLineEdit):
            text = typed(self.random, control.text())
            name += f" < {text[:30]!r}"
            control.setFocus()
            control.setText(text)
            control.textEdited.emit(text)
            key = Qt.Key.Key_Escape if self.random.random() < 0.1 else Qt.Key.Key_Return
            QTest.keyClick(control, key)
        elif isinstance(control, QPlainTextEdit):
            if not control.isReadOnly():
                text = typed(self.random, control.toPlainText())
                name += f" < {text[:30]!r}"
                control.setPlainText(text)
        elif isinstance(control, (QPushButton, QToolButton)) and control.menu() is not None:
            menu = control.menu()
            assert menu is not None
            name += f" > {self._use_menu(menu)}"
        elif isinstance(control, QAbstractButton):
            name += f" “{control.text()[:20]}”"
            control.click()
        return name

    def _use_menu(self, menu: QMenu) -> str:
        menu.aboutToShow.emit()
        every = menu.findChildren(QAction) if isinstance(menu, AddMenu) else menu.actions()
        actions = [a for a in every if a.isEnabled() and not a.isSeparator() and a.objectName() not in NEVER]
        if not actions:
            return "nothing"
        action: QAction = self.random.choice(actions)
        inner = action.menu()
        if inner is not None:
            return self._use_menu(inner)
        text = action.text()
        action.trigger()
        return text

    def _views(self) -> list[DrawingView]:
        return [v for v in self.window.findChildren(DrawingView) if v.isVisible() and v.display is not None]

    def type_into_drawing(self) -> str:
        views = [view for view in self._views() if view.figures()]
        if not views:
            return ""
        view = self.random.choice(views)
        figure = self.random.choice(view.figures())
        if not view.edit(figure):
            return f"{figure} cannot be typed into"
        editor = view.findChild(QLineEdit)
        assert editor is not None
        text = typed(self.random, editor.text())
        editor.setText(text)
        QTest.keyClick(editor, Qt.Key.Key_Return)
        if editor.isVisible():
            QTest.keyClick(editor, Qt.Key.Key_Escape)
        return f"{figure} < {text[:30]!r}"

    def _somewhere(self, view: QWidget) -> QPoint:
        return QPoint(self.random.randrange(max(1, view.width())), self.random.randrange(max(1, view.height())))

    def pick_in_drawing(self) -> str:
        views = self._views()
        if not views:
            return ""
        view = self.random.choice(views)
        QTest.mouseMove(view, self._somewhere(view))
        QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=self._somewhere(view))
        return view.objectName()

    def drag_in_drawing(self) -> str:
        views = [view for view in self._views() if view.draggable]
        if not views:
            return ""
        view = self.random.choice(views)
        at = self._somewhere(view)
        QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=at)
        for _ in range(self.random.randrange(1, 6)):
            at += QPoint(self.random.randrange(-60, 61), self.random.randrange(-60, 61))
            QTest.mouseMove(view, at)
            QApplication.processEvents()
        if self.random.random() < 0.3:
            QTest.keyClick(view, Qt.Key.Key_Escape)
        QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=at)
        return view.objectName()

    def move_drawing(self) -> str:
        """The wheel, the middle button, keys and a double click in any drawing, boxes' included."""
        views = [v for v in self._front().findChildren(DrawingView) if v.isVisible() and v.display is not None]
        if not views:
            return ""
        view = self.random.choice(views)
        at = self._somewhere(view)
        what = self.random.choice(("wheel", "pan", "key", "double", "turn"))
        if what == "wheel":
            turned = QPoint(0, self.random.choice((-720, -120, 120, 240, 1200)))
            place, none = QPointF(at), Qt.KeyboardModifier.NoModifier
            QApplication.sendEvent(
                view,
                QWheelEvent(
                    place,
                    QPointF(view.mapToGlobal(at)),
                    QPoint(),
                    turned,
                    Qt.MouseButton.NoButton,
                    none,
                    Qt.ScrollPhase.NoScrollPhase,
                    False,
                ),
            )
        elif what == "key":
            keys = (Qt.Key.Key_Plus, Qt.Key.Key_Minus, Qt.Key.Key_0, Qt.Key.Key_1, Qt.Key.Key_M, Qt.Key.Key_F)
            keys += (Qt.Key.Key_B, Qt.Key.Key_I, Qt.Key.Key_O, Qt.Key.Key_Space, Qt.Key.Key_R)
            QTest.keyClick(view, self.random.choice(keys))
        elif what == "double":
            QTest.mouseDClick(view, Qt.MouseButton.LeftButton, pos=at)
        else:
            button = Qt.MouseButton.MiddleButton if what == "pan" else Qt.MouseButton.LeftButton
            QTest.mousePress(view, button, pos=at)
            for _ in range(self.random.randrange(1, 6)):
                at += QPoint(self.random.randrange(-90, 91), self.random.randrange(-90, 91))
                QTest.mouseMove(view, at)
                QApplication.processEvents()
            QTest.mouseRelease(view, button, pos=at)
        return f"{view.objectName()} {what}"

    def choose_row(self) -> str:
        """Another row of a list with pictures."""
        lists = [each for each in self.window.findChildren(PictureList) if each.isVisible() and each.rows.lines]
        if not lists:
            return ""
        chosen = self.random.choice(lists)
        row = self.random.randrange(len(chosen.rows.lines))
        chosen.setCurrentIndex(chosen.rows.index(row))
        return f"{chosen.objectName()} {row}"

    def slide(self) -> str:
        """A slider somewhere else."""
        sliders = [each for each in self._front().findChildren(QSlider) if each.isVisible() and each.isEnabled()]
        if not sliders:
            return ""
        slider = self.random.choice(sliders)
        slider.setValue(self.random.randint(slider.minimum(), slider.maximum()))
        return f"{slider.objectName()} {slider.value()}"

    def stale(self) -> str:
        """Change something and act at once, while the plan and what is shown are those of before."""
        controls = self._controls()
        nothing = [Change("dress.items", ()), Change("dress.copies", Copies())]
        drastic: list[tuple[str, Callable[[], object]]] = [
            ("new", lambda: self.room.do("new")),
            ("undo", lambda: self.room.do("undo")),
            ("no items", lambda: self.room.document.edit("x", nothing)),
            ("flat", lambda: self.room.document.edit("x", [Change("brief.construction", "flat")])),
        ]
        name, act = self.random.choice(drastic)
        act()
        used = []
        for control in self.random.sample(controls, min(4, len(controls))):
            if not sip.isdeleted(control) and control.isEnabled() and control.isVisible():
                used.append(self._use(control))
        return f"{name}, then {'; '.join(used)}"

    def change_station(self) -> str:
        station = self.random.choice(self.room.ids)
        self.room.show_station(station)
        return station

    def undo_storm(self) -> str:
        count = self.random.randrange(1, 12)
        for _ in range(count):
            self.room.do(self.random.choice(("undo", "undo", "redo")))
        return str(count)

    def press_key(self) -> str:
        focus = QApplication.focusWidget() or self.window
        keys = (Qt.Key.Key_Tab, Qt.Key.Key_Escape, Qt.Key.Key_Return, Qt.Key.Key_Right, Qt.Key.Key_Delete)
        key = self.random.choice(keys)
        QTest.keyClick(focus, key)
        return key.name

    def mend(self) -> str:
        plan = self.room.document.plan
        findings = [each for each in plan.findings if each.mends] if plan else []
        if not findings:
            return ""
        finding = self.random.choice(findings)
        self.room.findings.mended.emit(self.random.choice(finding.mends), finding)
        return finding.code

    def drop_file(self) -> str:
        name = self.random.choice(list(FILES))
        mime = QMimeData()
        mime.setUrls([QUrl.fromLocalFile(str(self.folder / name))])
        event = QDropEvent(
            QPointF(200, 300),
            Qt.DropAction.CopyAction,
            mime,
            Qt.MouseButton.LeftButton,
            Qt.KeyboardModifier.NoModifier,
            QEvent.Type.Drop,
        )
        QApplication.sendEvent(self.window, event)
        return name

    def resize(self) -> str:
        width, height = self.random.choice(SIZES)
        self.window.resize(width, height)
        return f"{width} x {height}"

    def change_theme(self) -> str:
        self.room.do("theme")
        return ""

    def open_demo(self) -> str:
        name = self.random.choice(DEMOS)[0]
        self.room.do(f"demo-{name}")
        return name

    def change_construction(self) -> str:
        kind = self.random.choice(list(CONSTRUCTIONS.ids()))
        self.room.document.edit(kind, [Change("brief.construction", kind)])
        return kind

    def save(self) -> str:
        path = self.folder / self.random.choice(("a.dechirer", "b.dechirer", "missing/c.dechirer"))
        self.room.files.save_to(path)
        return path.name

    def export(self) -> str:
        self.room.exports.export_to(self.folder / "out")
        return ""
