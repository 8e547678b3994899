"""Checks of the run: is the stock scored and cut as its weight wants?"""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct, structs

from dechirer.core.brief.brief import BriefPlan
from dechirer.core.brief.decisions import Brief
from dechirer.core.brief.machine import find_holder
from dechirer.core.card.piece import Piece
from dechirer.core.card.tools import DOUBLE_WHEEL, TOOLS
from dechirer.core.construct.whole import ConstructPlan
from dechirer.core.decide.change import Change
from dechirer.core.dress.decisions import Dress
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.memory import Memory
from dechirer.core.paper.weight import DOUBLE_SCORE_FROM_GSM
from dechirer.core.run.decisions import Run, keep_setting
from dechirer.core.run.run import RunPlan, make_run
from dechirer.core.run.settings import MOST_PASSES, Setting, reach_of, setting_of, suggest
from dechirer.core.words import plural

THROUGH_MM = 0.005


class RunSeen(Struct, frozen=True):
    """The decisions up to here, what is known of the papers, the dressed card (`whole`) and the run, and the memory of
    what was found before."""

    brief: Brief
    run: Run
    facts: BriefPlan
    whole: ConstructPlan
    plan: RunPlan
    dress: Dress
    memory: Memory


@CHECKS.add("run.kiss-untested", of=make_run)
def find_kiss_cuts_that_were_not_tried(seen: RunSeen) -> Iterator[Finding]:
    """A kiss cut on a paper whose depth was never set after a test cut."""
    told: set[str] = set()
    for mat in seen.plan.mats:
        blade = next((each.tool.tool for each in mat.passes if each.operation == "kiss"), None)
        paper = mat.layout.paper
        setting = setting_of(seen.run.settings, paper, blade) if blade is not None else None
        if blade is None or paper in told or (setting is not None and setting.depth is not None):
            continue
        told.add(paper)
        yield Finding(
            "run.kiss-untested",
            "note",
            f"How deep {seen.facts.paper(paper).paper.name} is kiss-cut has not been tried",
            "Cut the test of Settings on it, look at what lies behind for a scratch and no more, and type in how far "
            "the blade stood out.",
            "Too deep, and what peels away takes its backing along; not deep enough, and it tears.",
            mat.layout.id,
        )


@CHECKS.add("run.blade-shallow", of=make_run)
def find_blades_that_do_not_go_through(seen: RunSeen) -> Iterator[Finding]:
    """A blade that is set to stand out by less than the paper is thick, or that would have to go over it again."""
    told: set[str] = set()
    for mat in seen.plan.mats:
        paper = mat.layout.paper
        facts = seen.facts.paper(paper)
        for each in mat.passes:
            setting, thick = setting_of(seen.run.settings, paper, each.tool.tool), facts.thickness.value
            reach = reach_of(setting, facts, each.tool.tool, each.times)
            if each.operation != "cut" or paper in told or reach >= thick - THROUGH_MM:
                continue
            told.add(paper)
            suggested = suggest(facts, each.tool.tool, seen.brief.machine.pace)
            shallow = setting is not None and setting.depth is not None and setting.depth < thick - THROUGH_MM
            mended = structs.replace(
                setting or Setting(paper, each.tool.tool),
                passes=min(MOST_PASSES, max(suggested.passes, each.times)),
                depth=suggested.depth if shallow else None if setting is None else setting.depth,
            )
            why = (
                f"It stands out by {reach:.2f} mm; the paper is {thick:.2f} mm thick."
                if shallow
                else f"It goes through about {reach:.2f} mm in {each.times} {plural(each.times, 'pass', 'passes')} "
                f"(from memory); the paper is {thick:.2f} mm thick."
            )
            through = reach_of(mended, facts, each.tool.tool, mended.passes) >= thick - THROUGH_MM
            if not through:
                why += f" {MOST_PASSES} passes do not do it either: it takes another blade, or a thinner paper."
            yield Finding(
                "run.blade-shallow",
                "stop" if shallow else "look",
                f"The {each.tool.title.lower()} does not go through {facts.paper.name}",
                why,
                "Nothing comes free, and what is torn off instead is spoiled.",
                mat.layout.id,
                (Mend("Set it as suggested", (keep_setting(seen.run, mended),)),) if through else (),
            )


@CHECKS.add("run.single-score", of=make_run)
def find_single_score_on_heavy_stock(seen: RunSeen) -> Iterator[Finding]:
    """Heavy stock is scored twice, or it cracks along the fold."""
    tool = next((choice.tool for choice in seen.plan.choices if choice.operation == "score"), "")
    scored = [piece for piece in seen.whole.pieces if any(line.operation == "score" for line in piece.run_lines)]
    all_heavy = all(_is_heavy(seen, piece) for piece in scored)
    told: set[str] = set()
    for piece in scored:
        facts = seen.facts.paper(piece.paper)
        if piece.paper in told or not _is_heavy(seen, piece) or tool == DOUBLE_WHEEL:
            continue  # once for a paper, however many pieces are of it
        setting = setting_of(seen.run.settings, piece.paper, tool)
        if (setting.passes if setting is not None else seen.run.score_passes) > 1:
            continue
        told.add(piece.paper)
        twice = structs.replace(setting or Setting(piece.paper, tool or "creasing-point"), passes=2)
        yield Finding(
            "run.single-score",
            "look",
            f"{facts.paper.name} is heavy for a single score",
            f"It weighs {facts.grammage.value:.0f} g/m²; from about {DOUBLE_SCORE_FROM_GSM:.0f} g/m² a fold is scored "
            "twice (common practice).",
            "The fold may crack or stand off its line. Try one on an offcut.",
            f"{piece.id}-fold",
            (
                Mend("Score twice", (Change("run.score_passes", 2),))
                if setting is None and all_heavy
                else Mend("Score this paper twice", (keep_setting(seen.run, twice),)),
                *_by_the_double_wheel(seen, all_heavy),
            ),
        )


def _by_the_double_wheel(seen: RunSeen, all_heavy: bool) -> Iterator[Mend]:
    """A double wheel does it in one pass, where there is one and nothing lighter is scored."""
    owned = DOUBLE_WHEEL in seen.run.tools and find_holder(seen.brief.machine, DOUBLE_WHEEL) is not None
    if owned and all_heavy:
        yield Mend(f"Use the {TOOLS[DOUBLE_WHEEL].title.lower()}", (Change("run.score_with", DOUBLE_WHEEL),))


def _is_heavy(seen: RunSeen, piece: Piece) -> bool:
    """Whether a piece is of a paper whose folds are scored twice."""
    return seen.facts.paper(piece.paper).grammage.value >= DOUBLE_SCORE_FROM_GSM
