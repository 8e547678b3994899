"""Tasks a new maker would set, driven through the real window from a fresh profile, their actions counted.

    bin/bench first_use          # writes bench/first_use.md

An action is a click, a drag, a field typed (clicked, filled and entered), a key. Beside them stands the least there can
be: one for each decision the task states. What a hand cannot do is not done here either: a control must be in sight and
free to be used.
"""

from __future__ import annotations

import os
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from msgspec import Struct
from PIL import Image, ImageDraw
from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QAction, QDragEnterEvent, QDropEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLineEdit, QPlainTextEdit, QPushButton, QTableWidget, QToolButton, QWidget

from dechirer.core.plan import Plan
from dechirer.desk.room import Room
from dechirer.desk.start import furnish
from dechirer.desk.theme import theme
from dechirer.desk.widgets.drawing_view import DrawingView
from dechirer.desk.window import MainWindow

REPORT = Path(__file__).with_suffix(".md")
MOST_TIMES = 1.5
"""An action for every decision, and half as many more to get there."""


class Hand:
    """A maker's hand in one window; `did` is what it did, an action each."""

    def __init__(self, window: MainWindow, room: Room, folder: Path) -> None:
        self.window, self.room, self.folder = window, room, folder
        self.did: list[str] = []

    def settle(self) -> Plan:
        """Wait for the plan of the job as it is."""
        for _ in range(2000):
            QApplication.processEvents()
            if self.room.document.is_current:
                break
            QTest.qWait(5)
        QApplication.processEvents()
        assert self.room.document.plan is not None
        return self.room.document.plan

    def find(self, name: str, kind: type = QWidget) -> QWidget:
        """A control that can be used now."""
        found = self.window.findChild(kind, name)
        assert found is not None, f"there is no {name}"
        assert found.isVisible(), f"{name} is not in sight"
        assert found.isEnabled(), f"{name} cannot be used now"
        return found  # type: ignore[no-any-return]

    def click(self, name: str) -> None:
        """Click a control."""
        QTest.mouseClick(self.find(name), Qt.MouseButton.LeftButton)
        self.did.append(f"click {name}")
        self.settle()

    def choose(self, button: str, action: str) -> None:
        """Open the menu of a button and click an entry, by its name or its words."""
        tool = self.find(button, QToolButton)
        menu = tool.menu()  # type: ignore[attr-defined]
        menu.aboutToShow.emit()
        entries = [*menu.actions(), *menu.findChildren(QAction)]
        entry = next(each for each in entries if action in (each.objectName(), each.text()))
        assert entry.isEnabled(), action
        entry.trigger()
        self.did += [f"click {button}", f"click {action}"]
        self.settle()

    def key(self, key: Qt.Key, modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
        """Press a key in the window."""
        QTest.keyClick(self.window, key, modifier)
        self.did.append(f"key {key.name}")
        self.settle()

    def number(self, view: str, figure: str, text: str) -> None:
        """Click a number on a drawing, type, Enter."""
        drawing = self.find(view, DrawingView)
        place = drawing.place_of(figure)  # type: ignore[attr-defined]
        assert place is not None, figure
        QTest.mouseClick(drawing, Qt.MouseButton.LeftButton, pos=QPoint(round(place[0]), round(place[1])))
        editor = self.find(f"{view}-editor")
        QTest.keyClicks(editor, text)
        QTest.keyClick(editor, Qt.Key.Key_Return)
        self.did.append(f"type {text} into {figure}")
        self.settle()

    def words(self, text: str) -> None:
        """Type the words that are open on the face, Enter."""
        line = self.find("face-words", QPlainTextEdit)
        QTest.keyClicks(line, text)
        QTest.keyClick(line, Qt.Key.Key_Return)
        self.did.append(f"type {text}")
        self.settle()

    def cell(self, text: str) -> None:
        """Type into the cell of the table of copies that is picked, Enter."""
        table = self.find("copies-table", QTableWidget)
        QTest.keyClicks(table, text[:1])  # opens the cell, as any letter does
        editor = QApplication.focusWidget()
        assert editor is not None
        QTest.keyClicks(editor, text[1:])
        QTest.keyClick(editor, Qt.Key.Key_Return)
        self.did.append(f"type {text}")
        self.settle()

    def drop(self, path: Path) -> None:
        """Drag a file onto the window."""
        mime = QMimeData()
        mime.setUrls([QUrl.fromLocalFile(str(path))])
        left, none = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
        enter = QDragEnterEvent(QPoint(600, 400), Qt.DropAction.CopyAction, mime, left, none)
        QApplication.sendEvent(self.window, enter)
        drop = QDropEvent(QPointF(600, 400), Qt.DropAction.CopyAction, mime, left, none)
        QApplication.sendEvent(self.window, drop)
        self.did.append(f"drag {path.name} into the window")
        for _ in range(200):
            self.settle()
            if self.room.document.job.dress.items:
                QTest.qWait(50)
                self.settle()
                return
            QTest.qWait(20)


class Task(Struct, frozen=True):
    """A task: its words, the decisions it states, how it is done, and whether it came to what was wanted.

    `given` brings the window to where the task begins; what it does is not counted. `most` is the most actions it may
    take, where that was set before.
    """

    words: str
    decisions: tuple[str, ...]
    do: Callable[[Hand], None]
    came: Callable[[Plan, Hand], bool]
    given: Callable[[Hand], None] = lambda hand: None
    most: int = 0

    @property
    def limit(self) -> float:
        """How many actions it may take: `most`, else so many times its decisions."""
        return self.most or MOST_TIMES * len(self.decisions)


GUESTS = ("Wren", "Teal", "Ivo", "Marsh", "Ada", "Bo")


def invite(hand: Hand) -> None:
    hand.key(Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier)
    hand.choose("brief-add", "add-liner")
    hand.click("station-dress")
    hand.click("add-words")
    hand.words("{name}")
    hand.click("copies")
    for guest in GUESTS:
        hand.cell(guest)


def is_invited(plan: Plan, _hand: Hand) -> bool:
    size = (plan.job.brief.width.mm, plan.job.brief.height.mm)
    names = sorted(copy.name for copy in plan.dress.copies)
    return size == (127.0, 177.8) and plan.job.construct.liner is not None and names == sorted(GUESTS)


def make_disc(hand: Hand) -> None:
    hand.click("kind-hinged-shape")
    hand.choose("brief-add", "add-window")


def is_disc(plan: Plan, _hand: Hand) -> bool:
    base = plan.whole.piece("base")
    return plan.job.brief.construction == "hinged-shape" and base is not None and bool(plan.job.construct.window)


def border(hand: Hand) -> None:
    picture = Image.new("RGBA", (300, 260), (255, 255, 255, 0))
    ImageDraw.Draw(picture).polygon([(150, 10), (290, 110), (150, 250), (10, 110)], fill=(232, 162, 76, 255))
    path = hand.folder.with_name("kite.png")
    picture.save(path, dpi=(150, 150))
    hand.drop(path)
    hand.choose("made-of", "made-border")


def has_border(plan: Plan, _hand: Hand) -> bool:
    items = plan.job.dress.items
    return len(items) == 2 and items[0].of == items[1].id and items[0].made == "piece"


def too_large(hand: Hand) -> None:
    hand.room.document.type_field("brief.width", "7 1/2 in")
    hand.settle()


def shrink(hand: Hand) -> None:
    buttons = [
        button
        for button in hand.window.findChildren(QPushButton)
        if button.isVisible() and button.accessibleName().startswith("Make the card ")
    ]
    hand.click(buttons[0].objectName())


def export(hand: Hand) -> None:
    """The dialog proposes a folder of the job's own; here another one is typed, and Enter takes it."""
    hand.click("button-export")
    line = hand.window.findChild(QLineEdit, "export-folder")
    assert line is not None
    line.setText(str(hand.folder / "export"))
    QTest.keyClick(line, Qt.Key.Key_Return)
    hand.did.append("key Enter in the dialog")
    for _ in range(6000):
        QTest.qWait(20)
        if "written into" in hand.window.banners.text("export"):
            return


def line_with_words(hand: Hand) -> None:
    hand.key(Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier)
    hand.choose("brief-add", "add-liner")
    hand.click("station-dress")
    faces = hand.find("dress-faces")
    rows = [row for row in range(faces.count()) if "liner" in faces.itemText(row)]  # type: ignore[attr-defined]
    faces.setCurrentIndex(rows[-1])  # type: ignore[attr-defined]
    faces.activated.emit(rows[-1])  # type: ignore[attr-defined]
    hand.did += ["click dress-faces", "click the liner's face"]
    hand.settle()
    hand.click("add-words")
    hand.words("Come and fly")


TASKS = (
    Task(
        "A 5 x 7 with a liner, and a name for each of six guests",
        ("5 x 7", "a liner", "a name on it", *(f"guest {number}" for number in range(1, 7))),
        invite,
        is_invited,
    ),
    Task("A disc with a window", ("a disc", "a window"), make_disc, is_disc),
    Task(
        "Change all to A6",
        ("A6",),
        lambda hand: hand.number("brief-card", "brief.width", "a6"),
        lambda plan, _: (plan.job.brief.width.mm, plan.job.brief.height.mm) == (105.0, 148.0),
    ),
    Task(
        "Mend all findings",
        ("mend all",),
        lambda hand: (hand.click("mend-all"), QTest.qWait(300), hand.settle())[0],
        lambda plan, _: not any(finding.mends for finding in plan.findings),
    ),
    Task("A border round a picture", ("the picture", "a border"), border, has_border),
    Task(
        "Fit it on one sheet",
        ("fit it",),
        shrink,
        lambda plan, _: not plan.stops and plan.job.brief.width.mm < 7.5 * 25.4,
        too_large,
    ),
    Task(
        "Export",
        ("export", "into which folder"),
        export,
        lambda _, hand: any(hand.folder.rglob("*.svg")),
    ),
    Task(
        "A card with a liner and words in the liner",
        ("a card", "a liner", "inside", "the words"),
        line_with_words,
        lambda plan, _: bool(plan.job.dress.items) and "liner" in plan.job.dress.items[0].face,
        most=12,
    ),
)


def do_task(task: Task, folder: Path) -> tuple[list[str], Plan]:
    """Do a task in a new window from a fresh profile; what was done, and what came of it.

    Raises:
        AssertionError: it could not be done, or it came to something else, or findings stop the job.
    """
    for name in ("XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME"):
        os.environ[name] = str(folder / name.lower())
    window = MainWindow()
    window.show()
    furnish(window)
    room = window.room
    assert isinstance(room, Room)
    hand = Hand(window, room, folder / "out")
    try:
        hand.settle()
        task.given(hand)
        task.do(hand)
        plan = hand.settle()
        assert task.came(plan, hand), f"“{task.words}” came to something else"
        assert not plan.stops, [finding.title for finding in plan.findings]
        return hand.did, plan
    finally:
        room.guard.remove()
        room.end()
        window.room = None
        window.close()
        window.deleteLater()


def main() -> int:
    """Do every task and write the report; 1 when one takes too many actions."""
    app = QApplication(sys.argv[:1])
    theme.load_fonts()
    theme.apply_theme(app, "light")
    lines = [
        "# First use",
        "",
        "Counted by `bin/bench first_use`: a click, a drag, a field typed or a key is an action. The least is one for",
        f"each decision the task states; a task may take {MOST_TIMES} times as many.",
        "",
        "| Task | Decisions | Actions | At most | How |",
        "|---|---|---|---|---|",
    ]
    too_many = 0
    for task in TASKS:
        with tempfile.TemporaryDirectory() as folder:
            did, _ = do_task(task, Path(folder))
        too_many += len(did) > task.limit
        least = f"{len(task.decisions)}: {', '.join(task.decisions)}"
        lines.append(f"| {task.words} | {least} | {len(did)} | {task.limit:g} | {'; '.join(did)} |")
        print(lines[-1], flush=True)
    REPORT.write_text("\n".join(lines) + "\n", encoding="utf-8")
    return 1 if too_many else 0


if __name__ == "__main__":
    code = main()
    sys.stdout.flush()
    os._exit(code)
