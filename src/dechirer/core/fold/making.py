"""The steps of making up one card, in an order that can be done: weed, crease, glue while it is flat, fold, put in.

The order follows from the card: what lies deepest is glued first, a face before the fold that hides it. Times are from
memory; the book, where there is one, knows better.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from msgspec import Struct

from dechirer.core.card.panels import PanelTree
from dechirer.core.card.piece import Piece
from dechirer.core.construct.whole import ConstructPlan
from dechirer.core.dress.dressed import Dressed, DressPlan
from dechirer.core.dress.outline import items_of
from dechirer.core.fold.adhesives import ADHESIVES
from dechirer.core.fold.decisions import MakingUp
from dechirer.core.fold.folds import FoldStep, say_senses
from dechirer.core.fold.joints import Joint
from dechirer.core.fold.step import MakeStep, step_id
from dechirer.core.length import format_length
from dechirer.core.words import plural

WEED_PIECE_S, WEED_HOLE_S, CREASE_S, GLUE_S, PLACE_S = 5.0, 2.0, 6.0, 12.0, 8.0
CM2_PER_S = 15.0
PAD_S, DOT_S, TAPE_MM_PER_S = 3.0, 4.0, 40.0
FOLD_S, PRESS_S, PUT_S, CLOSE_S, SETUP_S = 6.0, 4.0, 6.0, 10.0, 45.0
"""Hands at work, all from memory."""
CREASE_WORDS = {
    "folder": "Fold on the groove with the fingers, then press the fold with a folder, a scrap between.",
    "edge": "Fold up along a straight edge held on the groove, then press the fold flat.",
}
CLOSED_BY = {
    "gummed": "Wet the gum of its flap, close it, and press it from the middle out.",
    "sticker": "Close the flaps, and set the sticker over where they meet.",
    "ribbon": "Close the flaps, and tie the ribbon once round the short way.",
}


class Workshop(Struct, frozen=True):
    """What is made up: the card, its dress, its joints and those of its envelope, and how it is done."""

    construct: ConstructPlan
    dress: DressPlan
    tree: PanelTree
    folds: tuple[FoldStep, ...]
    envelope_folds: tuple[FoldStep, ...]
    joints: tuple[Joint, ...]
    own: MakingUp
    units: str
    closure: str = "gummed"


def make_steps(shop: Workshop) -> tuple[MakeStep, ...]:
    """Every step for one card, in the order that is proposed."""
    steps = [_weed(shop), *_crease(shop)]
    card = [joint for joint in shop.joints if joint.model == "card"]
    steps += _glue_all(shop, card, steps)
    steps += _set_middles(shop)
    steps += _trinkets(shop)
    steps += _fold_all(shop, steps)
    steps += _put_in(shop, steps)
    steps += _envelope(shop, steps)
    return tuple(steps)


def used_parts(steps: Sequence[MakeStep]) -> list[str]:
    """Every part that is put in by some step, as often as that happens."""
    return [part for step in steps for part in step.parts]


def _weed(shop: Workshop) -> MakeStep:
    count = max(1, shop.construct.made.pieces[0].count)
    pieces = sum(piece.count for piece in shop.dress.pieces) / count
    holes = sum(
        piece.count * sum(line.role in ("hole", "window") for line in piece.lines) for piece in shop.dress.pieces
    )
    number = max(1, round(pieces))
    return MakeStep(
        "weed",
        "weed",
        f"Weed {number} {plural(number, 'piece')} and lay {'it' if number == 1 else 'them'} out",
        "The mat is peeled from the paper, turned over and rolled back; small parts into a tray, counted.",
        hands_s=pieces * WEED_PIECE_S + holes / count * WEED_HOLE_S,
        setup_s=SETUP_S,
    )


def _crease(shop: Workshop) -> Iterator[MakeStep]:
    """Each piece with folds is creased before anything is glued on it, while it is thin."""
    for piece in shop.construct.pieces:
        folds = [mark for mark in piece.folds if not mark.lifts]
        if not folds or piece.id in ("envelope", "inlay"):
            continue
        told = "; ".join(_say_fold(piece, place, shop.units) for place in range(len(piece.folds)))
        more = f"{told}. {CREASE_WORDS[shop.own.crease]}"
        if piece.blank:
            more = f"{told}. It is scored already: fold it once and press."
        yield MakeStep(
            step_id("crease", piece.id),
            "crease",
            f"Crease the {plural(len(folds), 'fold')} of {called(piece.name)}",
            more,
            model="card",
            needs=("weed",),
            hands_s=len(folds) * CREASE_S,
            setup_s=SETUP_S / 3,
        )


def _say_fold(piece: Piece, place: int, units: str) -> str:
    mark = piece.folds[place]
    at = format_length(mark.at.value, units)
    how = "" if mark.kind == "score" else f", {'not marked' if mark.kind == 'unmarked' else mark.kind}"
    return f"{at} from the {mark.edge}, a {mark.sense} seen from the outside{how}"


def _glue_all(shop: Workshop, joints: Sequence[Joint], before: Sequence[MakeStep]) -> Iterator[MakeStep]:
    creased = tuple(step.id for step in before if step.stage == "crease")
    made: dict[str, str] = {}
    many = {joint.part: sum(other.part == joint.part for other in joints) for joint in joints}
    names = _names(shop)
    done: set[str] = set()
    for joint in joints:
        under = made.get(joint.onto)
        id = step_id("glue", joint.id)
        earlier = [made[joint.part]] if joint.part in made else []
        needs = ("weed", *creased, *([under] if under is not None else []), *earlier)
        yield _glue(shop, joint, id, names, needs, half=(joint.part in done) + 1 if many[joint.part] > 1 else 0)
        made[joint.part] = id
        done.add(joint.part)


def _glue(
    shop: Workshop, joint: Joint, id: str, names: dict[str, str], needs: tuple[str, ...], *, half: int
) -> MakeStep:
    spec, name = ADHESIVES[joint.adhesive], called(names.get(joint.part, joint.part))
    panel = next((panel.name for panel in shop.tree.panels if panel.id == joint.panel), joint.panel)
    onto = called(names.get(joint.onto, panel))
    where = f"the {joint.side} of {called(panel)}" if joint.onto in shop.construct.made.parts.values() else onto
    how = [spec.how[0].upper() + spec.how[1:]]
    if joint.free_of:
        how.append(f"none on {', '.join(joint.free_of)}")
    if half == 1:
        words, more = f"Glue {name} in by its first half, on {where}", "the other half stays loose for now"
        how.append(more)
    elif half == 2:
        words = f"Glue its second half, on {where}"
        how.append("glue on the loose half, close the card on it, press, and open it again at once")
    elif joint.adhesive == "self":
        words = f"Lay {name} on the {where}, before it is cut"
    else:
        on_foam = joint.adhesive == "foam"
        words = f"Put foam under {name} and set it on {where}" if on_foam else f"Glue {name} on {where}"
    if joint.number > 1:
        template = shop.own.aid == "jig"
        how.append(f"{joint.number} parts, set {'through the template' if template else 'by measuring from the edges'}")
    seconds = GLUE_S + joint.number * PLACE_S
    seconds += joint.area / 100 / CM2_PER_S if joint.adhesive in ("wet", "spray") else 0.0
    seconds += joint.tape / TAPE_MM_PER_S + joint.dots * DOT_S + len(joint.squares) * PAD_S
    return MakeStep(
        id,
        "glue",
        words,
        "; ".join(how) + ".",
        model=joint.model,
        parts=() if half == 2 else (joint.part,),
        joint=joint.id,
        needs=tuple(dict.fromkeys(needs)),
        hands_s=seconds,
        setup_s=SETUP_S,
        sets_min=spec.sets_min,
    )


def called(name: str) -> str:
    """A part's name within a sentence: “Kite Day”, the liner."""
    return f"the {name}" if name.islower() and not any(letter.isdigit() for letter in name) else f"“{name}”"


def _names(shop: Workshop) -> dict[str, str]:
    """What parts are called, by the ids slabs have them under."""
    found = {piece.id: piece.name for piece in shop.dress.pieces}
    found |= {piece.id: piece.name for piece in shop.construct.pieces}
    found |= {dressed.item.id: dressed.item.name for dressed in shop.dress.first_of_each()}
    for dressed in shop.dress.first_of_each():
        found[f"{dressed.item.id}-backer"] = f"backer of {dressed.item.name}"
    return found


def _kept_middles(dressed: Dressed) -> int:
    """How many loose middles of an item are kept and set back."""
    if dressed.item.islands != "keep" or dressed.item.made not in ("window", "art"):
        return 0
    return sum(len(area.interiors) for part in dressed.placed.drawn.parts if part.role == "cut" for area in part.areas)


def _set_middles(shop: Workshop) -> Iterator[MakeStep]:
    """Loose middles are set back into their openings, on what lies behind."""
    for dressed in shop.dress.first_of_each():
        number = _kept_middles(dressed)
        if not number or dressed.spot is None:
            continue
        item = dressed.item
        behind = [
            step_id("glue", joint.id)
            for joint in shop.joints
            if joint.panel == dressed.spot.panel and joint.part in (f"{item.id}-backer", "backer", "liner")
        ]
        template = "Through the template, which is cut with the same openings"
        by_eye = "Measured from the opening's edges, all round alike"
        yield MakeStep(
            step_id("middles", item.id),
            "glue",
            f"Set {number} loose {plural(number, 'middle')} of {called(item.name)} back",
            f"{template if shop.own.aid == 'jig' else by_eye}; a dot of glue on each, on what lies behind.",
            model="card",
            needs=("weed", *behind),
            hands_s=GLUE_S + number * (PLACE_S + DOT_S),
            setup_s=SETUP_S / 3,
        )


def _trinkets(shop: Workshop) -> Iterator[MakeStep]:
    for each in shop.own.trinkets:
        yield MakeStep(
            step_id("put-on", each.id),
            "put on",
            f"Put on {each.count} × {each.name}",
            "With tweezers or a wax pick, a dot of glue under each."
            if each.size.mm < 8
            else "A dot of glue under each.",
            model="card",
            needs=("weed",),
            hands_s=each.count * (DOT_S + PLACE_S / 2),
            setup_s=SETUP_S / 2,
            sets_min=ADHESIVES["dots"].sets_min,
        )


def _fold_all(shop: Workshop, before: Sequence[MakeStep]) -> Iterator[MakeStep]:
    last = ""
    for number, fold in enumerate(shop.folds, start=1):
        hidden = {
            (panel, "inside" if hinge.sense == "mountain" else "outside")
            for hinge in fold.hinges
            if not hinge.lifts
            for panel in (hinge.parent, hinge.child)
        }
        needs = [step.id for step in before if step.stage == "crease"]
        for step in before:
            joint = next((each for each in shop.joints if each.id == step.joint), None)
            if joint is not None and (joint.panel, joint.side) in hidden:
                needs.append(step.id)
        id = step_id("fold", str(number), fold.words)
        lifts = all(hinge.lifts for hinge in fold.hinges)
        press = "" if lifts else " Press it closed." if number == len(shop.folds) else ""
        yield MakeStep(
            id,
            "fold",
            fold.words[0].upper() + fold.words[1:],
            f"{say_senses(fold.hinges, 'outside').capitalize()}.{press}",
            fold.why,
            model="card",
            before=fold.before,
            after=fold.after,
            needs=(*dict.fromkeys(needs), *([last] if last and fold.why else [])),
            hands_s=FOLD_S + (0 if lifts else PRESS_S),
            setup_s=SETUP_S / 6,
        )
        last = id


def _put_in(shop: Workshop, before: Sequence[MakeStep]) -> Iterator[MakeStep]:
    """What is put in loose, into its pocket or between the panels."""
    glued = tuple(step.id for step in before if step.stage == "glue")
    for dressed in shop.dress.first_of_each():
        item = dressed.item
        if item.made != "held" or dressed.spot is None:
            continue
        number = len(items_of(dressed.placed.drawn))
        yield MakeStep(
            step_id("put-in", item.id),
            "put in",
            f"Put in {f'{number} × {item.name}' if number > 1 else called(item.name)}, at the {dressed.spot.title}",
            "Last, so that nothing has to be opened again.",
            model="card",
            parts=(item.id,),
            before=1.0,
            after=1.0,
            needs=glued,
            hands_s=PUT_S * number,
            setup_s=SETUP_S / 6,
        )


def _envelope(shop: Workshop, before: Sequence[MakeStep]) -> Iterator[MakeStep]:
    made, card = shop.construct.envelope, tuple(step.id for step in before)
    if made is None:
        if shop.construct.bought is not None:
            name = shop.construct.bought.name
            yield MakeStep(
                "into-envelope",
                "envelope",
                f"Put the card in its {name} envelope",
                "Its fold first, so that it does not catch.",
                needs=card,
                hands_s=CLOSE_S,
                setup_s=SETUP_S / 3,
            )
        return
    joints = [joint for joint in shop.joints if joint.model == "envelope"]
    names, done = _names(shop), dict[str, str]()
    yield MakeStep(
        "crease-envelope",
        "envelope",
        f"Crease the {len(made.tree.hinges)} folds of the envelope",
        f"All flaps to the inside. {CREASE_WORDS[shop.own.crease]}",
        model="envelope",
        needs=("weed",),
        parts=("envelope",),
        hands_s=len(made.tree.hinges) * CREASE_S,
        setup_s=SETUP_S / 3,
    )
    flaps = {joint.panel: joint for joint in joints if joint.id.endswith("-flap")}
    for joint in (each for each in joints if each.panel not in flaps or each.id != f"{each.panel}-flap"):
        step = _glue(
            shop,
            joint,
            step_id("glue", joint.id),
            names,
            ("crease-envelope", *done.values()),
            half=1 if len(joints) - len(flaps) > 1 and not done else 2 if done else 0,
        )
        done[joint.id] = step.id
        yield step
    yield from _fold_envelope(shop, flaps, tuple(done.values()), card)


def _fold_envelope(
    shop: Workshop, flaps: dict[str, Joint], glued: tuple[str, ...], card: tuple[str, ...]
) -> Iterator[MakeStep]:
    last, folds = "crease-envelope", shop.envelope_folds
    for number, fold in enumerate(folds, start=1):
        closing = number == len(folds)
        joint = next((flaps[hinge.child] for hinge in fold.hinges if hinge.child in flaps), None)
        if closing:
            yield MakeStep(
                "into-envelope",
                "envelope",
                "Put the card in the envelope",
                "Its fold first, so that it does not catch.",
                model="envelope",
                before=fold.before,
                after=fold.before,
                needs=(last, *card),
                hands_s=CLOSE_S,
                setup_s=SETUP_S / 3,
            )
        spec = ADHESIVES[joint.adhesive] if joint is not None else None
        more = CLOSED_BY[shop.closure] if closing else f"Stuck by {spec.title} where it meets them." if spec else ""
        id = step_id("envelope", str(number), fold.words)
        yield MakeStep(
            id,
            "envelope",
            f"Envelope: {fold.words}",
            more,
            fold.why,
            model="envelope",
            joint=joint.id if joint is not None else "",
            before=fold.before,
            after=fold.after,
            needs=(*glued, last, *(("into-envelope",) if closing else ())),
            hands_s=FOLD_S + (GLUE_S if joint is not None or closing else 0),
            setup_s=SETUP_S / 6,
            sets_min=spec.sets_min if spec is not None else 0.0,
        )
        last = id
