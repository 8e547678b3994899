"""One file adds one thing: each is written here as a newcomer would, put in its folder, and used in the window."""

from __future__ import annotations

from pathlib import Path

from tests.house.newcomer import use

CONSTRUCTION = '''
"""Bookmark: a strip with a tab above it that is scored."""

from typing import Annotated

from dechirer.core.card.assembly import Made
from dechirer.core.card.making import derive, times
from dechirer.core.card.panels import Face, Panel, PanelTree
from dechirer.core.construct.base import make_base
from dechirer.core.construct.card import Card
from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.values import given
from dechirer.core.figure import Figure
from dechirer.core.length import Length
from dechirer.core.shape.affine import Affine
from dechirer.core.shape.outline import rectangle


class Bookmark(Decisions, frozen=True):
    """How far the tab stands out."""

    tab: Annotated[Length, Field("Tab", 1, 80)] = given("10 mm")


@CONSTRUCTIONS.add("bookmark", title="Bookmark", order=95, decisions=Bookmark, quick="bookmark")
def make_bookmark(own: Bookmark, card: Card) -> Made:
    """A flat strip, its tab added to its height."""
    tab = Figure("bookmark.tab", "tab", own.tab.mm, field="construct.bookmark.tab")
    width = times(1, card.width, "base.width", "base width")
    tall = card.height.value + own.tab.mm
    height = derive("base.height", "base height", tall, "{finished height} + {tab}", card.height, tab)
    outline = rectangle(width.value, tall)
    face = Face("front", "front", "outside", width.value, tall, Affine())
    tree = PanelTree((Panel("front", "front", outline),), (), (face,))
    return Made(tree, (make_base(card, tree, outline, width=width, height=height, at={}),), {"front": "base"})
'''


def test_a_construction_is_one_file(tmp_path: Path) -> None:
    use(
        tmp_path,
        {"core/construct/kinds/bookmark.py": CONSTRUCTION},
        """
        assert find("kind-bookmark").toolTip() is not None
        plan = click("kind-bookmark")
        assert plan.job.brief.construction == "bookmark"
        click("station-construct")
        type_line("line-construct.bookmark.tab", "900 mm")
        assert "from" in find("complaint-construct.bookmark.tab").text()
        plan = type_line("line-construct.bookmark.tab", "1 in")
        assert abs(plan.figures["base.height"].value - 8 * 25.4) < 1e-9
        assert "Tab" in room.document.history.undo_label, room.document.history.undo_label
        room.stations["construct"].add.add_menu.aboutToShow.emit()
        find("add-layers-front", QAction).trigger()
        assert settle().construct.piece("layer-1") is not None
        # Its making-up comes of itself: the layer is glued on, where it lies on the strip, and the film shows it.
        click("station-fold")
        making = settle().making_up
        glued = [joint for joint in making.joints if "layer-1" in (joint.part, joint.onto)]
        assert len(glued) == 1 and glued[0].zone, making.joints
        assert [step.joint for step in making.steps if step.joint] == [glued[0].id]
        click("station-lay")
        # It opens again, and the file that was cut is the right size for another program.
        out = Path(os.environ["TMP_OUT"])
        from dechirer.formats.job.archive import read_archive, write_archive
        write_archive(out / "bookmark.card", room.document.job)
        assert read_archive(out / "bookmark.card") == room.document.job
        room.exports.export_to(out / "files")
        wait(lambda: "files written" in window.banners.text("export"), "the export")
        import re
        import xml.etree.ElementTree as ET
        heights = set()
        for path in (out / "files").rglob("mat-*.svg"):
            for element in ET.parse(path).iter():
                numbers = [float(word) for word in re.findall(r"-?[0-9.]+", element.get("d", ""))]
                for side in (numbers[0::2], numbers[1::2]):
                    heights.add(round(max(side, default=0) - min(side, default=0), 2))
        assert 203.2 in heights, heights
        """,
    )


STEP = '''
"""A step of a newcomer: squeeze."""

from typing import Annotated, Any

from dechirer.core.decide.field import Field
from dechirer.core.dress.drawn import Drawn
from dechirer.core.dress.outline import union_of, with_outline
from dechirer.core.dress.step import STEPS, Step


class Squeeze(Step, frozen=True, tag="squeeze"):
    """The outline made narrower."""

    share: Annotated[float, Field("to a share of", 0.1, 4)] = 0.5


@STEPS.add("squeeze", decisions=Squeeze, title="squeeze", about="Makes it narrower.", group="Edge", order=13)
def squeeze(drawn: Drawn, step: Squeeze, _others: dict[str, Drawn]) -> Drawn:
    """The outline made narrower, its left edge where it was."""
    from shapely import affinity

    whole = union_of(drawn)
    return with_outline(drawn, affinity.scale(whole, step.share, 1.0, origin=(whole.bounds[0], 0)))
'''


def test_a_step_is_one_file(tmp_path: Path) -> None:
    use(
        tmp_path,
        {"core/dress/steps/squeeze.py": STEP},
        """
        room.document.open_job(load_demo_job("kites"), None, saved=True)
        settle()
        click("station-dress")
        station = room.stations["dress"]
        picked = next(each for each in room.document.plan.dress.items if each.item.made == "piece")
        station.pick(picked.item.id)
        settle()
        def slim():
            piece = room.document.plan.dress.piece(picked.item.id)
            return piece.width.value / piece.height.value

        before = slim()
        steps = len(picked.item.steps)
        actions = {each.objectName(): each for each in find("add-step").menu().actions()}
        actions["add-step-squeeze"].trigger()
        plan = settle()
        assert abs(slim() / before - 0.5) < 0.02
        path = f"dress.items.{picked.item.id}.steps.squeeze-1.share"
        plan = type_line(f"line-{path}", "0.8")
        assert abs(slim() / before - 0.8) < 0.02
        type_line(f"line-{path}", "9")
        assert "from 0.1 to 4" in find(f"complaint-{path}").text()
        plan = click("step-off-squeeze-1")
        assert len(plan.dress.item(picked.item.id).item.steps) == steps
        """,
    )


CHECK = '''
"""Whether the card fits the shelf."""

from dechirer.core.construct.construct import make_construct
from dechirer.core.construct.seen import CardSeen
from dechirer.core.decide.change import Change
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import parse_length


@CHECKS.add("construct.higher-than-the-shelf", of=make_construct)
def find_card_above_the_shelf(seen: CardSeen):
    """A card of more than 170 mm does not stand on the shelf."""
    if seen.card.height.value > 170:
        mend = Mend("Make it 6 in high", (Change("brief.height", parse_length("6 in")),))
        yield Finding("construct.higher-than-the-shelf", "look", "It is higher than the shelf", "Shelf: 170 mm.",
                      "It does not stand there.", "base", (mend,))
'''


def test_a_check_is_one_file(tmp_path: Path) -> None:
    use(
        tmp_path,
        {"core/construct/checks/shelf.py": CHECK},
        """
        code = "construct.higher-than-the-shelf"
        click("station-construct")
        assert find(f"finding-{code}").isVisible()
        assert room.document.plan.verdict("construct") == "look"
        plan = click(f"mend-{code}-0")
        assert plan.figures["brief.height"].text("in") == "6 in"
        assert code not in [each.code for each in plan.findings]
        """,
    )


OUTPUT = '''
"""What to buy: the papers and how many sheets of each."""

from dechirer.core.plan import Plan
from dechirer.formats.output import OUTPUTS


@OUTPUTS.add("shopping.txt", order=25, about="what to buy")
def write_shopping(plan: Plan) -> bytes:
    """A line for each paper."""
    return "".join(f"{paper.name}\\n" for paper in plan.job.brief.papers).encode()
'''


def test_an_output_is_one_file(tmp_path: Path) -> None:
    use(
        tmp_path,
        {"formats/outputs/shopping.py": OUTPUT},
        """
        out = Path(os.environ["TMP_OUT"]) / "files"
        room.exports.export_to(out)
        wait(lambda: "files written" in window.banners.text("export"), "the export")
        assert (out / "shopping.txt").read_text().splitlines() == [each.name for each in room.document.job.brief.papers]
        assert (out / "run-sheet.pdf").exists()
        """,
    )


ROOM = '''
"""Shelf: how the finished cards are put away."""

TITLE = "Shelf"
ORDER = 75
'''

STATION = '''
"""Shelf as a station, in two parts: how high a stack is before Lay, how many stacks after Run."""

from typing import Annotated

from msgspec import Struct

from dechirer.core.brief.decisions import Brief
from dechirer.core.construct.station import CONSTRUCT
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.figure import Figure
from dechirer.core.finding import Finding
from dechirer.core.run.station import RUN
from dechirer.core.shelf import ORDER, TITLE
from dechirer.core.stations import Cost, Part, StationSpec


class Shelf(Decisions, frozen=True):
    """How many cards are stacked."""

    stack: Annotated[int, Field("Cards in a stack", 1, 100)] = 10


class Room(Struct, frozen=True):
    high: Figure

    def figures(self):
        return (self.high,)


class Stacks(Struct, frozen=True):
    count: Figure

    def figures(self):
        return (self.count,)


def make_room(shelf, construct, work):
    return Room(Figure("shelf.pieces", "pieces in a stack", shelf.stack * construct.piece_count.value, "count"))


def make_stacks(shelf, brief, room, run, work):
    number = -(-brief.count // shelf.stack)
    return Stacks(Figure("shelf.stacks", "stacks", number, "count", formula="{pieces in a stack}", inputs=(room.high,)))


ROOM = Part("shelf", "shelf", 42, lambda known: (known.of(Shelf), known.part(CONSTRUCT)), make_room)


def check(known):
    if known.of(Shelf).stack > 50:
        yield Finding("shelf.topples", "look", "The stack topples", "More than 50 cards.", "It falls.", "")


STACKS = Part("shelf-stacks", "shelf", 75,
              lambda known: (known.of(Shelf), known.of(Brief), known.part(ROOM), known.part(RUN)), make_stacks, check)

STATION = StationSpec(
    "shelf", TITLE, ORDER, Shelf, (ROOM, STACKS),
    lambda known: f"{known.part(STACKS).count.value:.0f} stacks",
    "Say how many cards lie on each other; the shelf says how many stacks there are.",
    lambda known: (Cost("shelf.stacks", f"{known.part(STACKS).count.value:.0f}", "stacks", 90),),
    lambda known: (("The stacks on the shelf", "stacks"),),
)
'''

VIEW = '''
"""The shelf as it is seen."""

from PyQt6.QtWidgets import QLabel, QVBoxLayout

from dechirer.desk.panels.field_panel import FieldPanel
from dechirer.desk.stations.base import Station


class ShelfStation(Station):
    def __init__(self, document, parent=None):
        super().__init__(document, parent)
        self.panel, self.words = FieldPanel(document, "shelf"), QLabel()
        self.words.setObjectName("shelf-words")
        column = QVBoxLayout(self)
        column.addWidget(self.panel)
        column.addWidget(self.words)

    def refresh(self):
        self.panel.show_job()
        self.words.setText(self.plan.figures["shelf.stacks"].text())

    def owns(self, element):
        return element == "stacks"


VIEW = ShelfStation
'''

SHELF = {"core/shelf/__init__.py": ROOM, "core/shelf/station.py": STATION}

USE_SHELF = """
room.document.type_field("brief.count", "45")
settle()
number = list(window.strip.buttons).index("shelf") + 1
QTest.keyClick(window, getattr(Qt.Key, f"Key_{number}"), Qt.KeyboardModifier.AltModifier)
plan = settle()
assert room.station == "shelf"
assert "5 stacks" in find("station-shelf").accessibleName(), find("station-shelf").accessibleName()
plan = type_line("line-shelf.stack", "60")
assert plan.verdict("shelf") == "look"
assert find("finding-shelf.topples").isVisible()
assert find("consequence-shelf.stacks").isVisible()
type_line("line-shelf.stack", "600")
assert "from 1 to 100" in find("complaint-shelf.stack").text()
assert "Cards in a stack" in room.document.history.undo_label
QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
assert settle().job.shelf.stack == 10
room.find()
line = find("find-line")
QTest.keyClicks(line, "stacks on the shelf")
assert find("find-rows").count() == 1
QTest.keyClick(line, Qt.Key.Key_Escape)
QTest.keyClick(window, Qt.Key.Key_F1)
from PyQt6.QtWidgets import QLabel
assert any("Say how many cards lie" in each.text() for each in find("help-box").findChildren(QLabel))
find("help-box").close()
out = Path(os.environ["TMP_OUT"])
from dechirer.formats.job.archive import read_archive, write_archive
write_archive(out / "shelf.card", room.document.job)
assert read_archive(out / "shelf.card") == room.document.job
from dechirer.core.job.schema import make_schema
assert make_schema()["$defs"]["Shelf"]["properties"]["stack"]["maximum"] == 100
"""


def test_a_station_in_two_parts_is_a_room_and_a_view(tmp_path: Path) -> None:
    seen = 'assert find("shelf-words").text() == "5"\n'
    use(
        tmp_path,
        {**SHELF, "desk/stations/shelf.py": VIEW},
        USE_SHELF.replace("plan = type_line", seen + "plan = type_line", 1),
    )


def test_a_station_without_a_view_of_its_own_is_shown_by_its_fields_and_figures(tmp_path: Path) -> None:
    seen = 'assert "stacks: 5" in find("figures-shelf").text(), find("figures-shelf").text()\n'
    use(tmp_path, SHELF, USE_SHELF.replace("plan = type_line", seen + "plan = type_line", 1))
