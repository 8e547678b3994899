"""Checks of the construct: does each piece fit its neighbours, and do its lines stay on it?"""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct

from dechirer.core.construct.attached import slit_paths, window_outline
from dechirer.core.construct.construct import ConstructPlan, find_closed_box
from dechirer.core.construct.envelope_checks import THICK_MM, check_bought_envelope, check_envelope
from dechirer.core.construct.folding import fold, fold_steps
from dechirer.core.construct.foldline import line_ends
from dechirer.core.construct.panels import Face
from dechirer.core.construct.piece import Line, Piece, fold_of
from dechirer.core.finding import CheckList, Finding, Mend
from dechirer.core.job.edit import Change
from dechirer.core.job.model import Job
from dechirer.core.length import format_length, format_size, make_length, parse_length
from dechirer.core.shape.outline import bounds, distance_outside, distance_to_edge, rectangle


class ConstructContext(Struct, frozen=True):
    """What the construct's checks look at."""

    job: Job
    construct: ConstructPlan


CHECKS: CheckList[ConstructContext] = CheckList("construct")

LEAST_END_LAND_MM = 0.5
"""A dash that comes closer to the edge than this opens the edge when the fold is pressed."""


@CHECKS.register
def find_trouble_of_the_construction(context: ConstructContext) -> Iterator[Finding]:
    """The construction's own checks."""
    yield from context.construct.kind.check(context.job, context.construct.made)


@CHECKS.register
def find_liner_not_smaller(context: ConstructContext) -> Iterator[Finding]:
    """A liner must be smaller than its base, and have a fold to sit in."""
    job, liner = context.job, context.job.construct.liner
    if liner is None:
        return
    if not context.construct.kind.liner:
        yield Finding(
            "construct.liner-on-flat-card",
            "look",
            "construct",
            f"A {context.construct.kind.title.lower()} takes no liner",
            "The liner is kept in the job and left out while the card is built so.",
            "No liner is cut.",
            "liner",
            (
                Mend("Take the liner off", (Change("construct.liner", None),)),
                Mend("Fold it at the side", (Change("brief.construction", "side-fold"),)),
            ),
        )
        return
    sixteenth = Mend("Use 1/16 in a side", (Change("construct.liner.reveal", parse_length("1/16 in")),))
    if liner.reveal.mm <= 0:
        size = "as large as" if liner.reveal.mm == 0 else "larger than"
        yield Finding(
            "construct.liner-not-smaller",
            "stop",
            "construct",
            f"The liner is {size} its base",
            f"A reveal of {format_length(liner.reveal.mm, job.units)} a side leaves no border of the base to see.",
            "It will show past the edges and keep the card from closing.",
            "liner",
            (sixteenth,),
        )
    elif context.construct.piece("liner") is None:
        yield Finding(
            "construct.liner-vanished",
            "stop",
            "construct",
            "Nothing is left of the liner",
            f"A reveal of {format_length(liner.reveal.mm, job.units)} on each side takes the whole card.",
            "No liner is cut.",
            "liner",
            (sixteenth,),
        )


@CHECKS.register
def find_fold_past_edge(context: ConstructContext) -> Iterator[Finding]:
    """No score or perforation may run out of its piece, and no dash may open the edge."""
    for piece in context.construct.pieces:
        fold, path = fold_of(context.job, piece), piece.fold_field
        if fold is None:
            continue
        for line in piece.lines:
            if line.role not in ("fold", "tick"):
                continue
            ends = line_ends(line.paths) if line.role == "fold" else tuple(path[0] for path in line.paths)
            beyond = max(distance_outside(piece.outline, point) for point in ends)
            if beyond > 1e-6:
                yield _past_edge(context.job, piece, line.name, line.id, beyond, path)
            elif fold.kind == "perforate" and fold.land.mm > 0:
                nearest = min(distance_to_edge(piece.outline, point) for point in ends)
                if nearest < LEAST_END_LAND_MM - 1e-9:
                    yield _dash_at_edge(context.job, piece, line.id, nearest, path)


@CHECKS.register
def find_perforation_that_fails(context: ConstructContext) -> Iterator[Finding]:
    """A perforation needs lands to hold and at least one dash to fold at."""
    for piece in context.construct.pieces:
        fold, path = fold_of(context.job, piece), piece.fold_field
        if fold is None or not piece.folds or fold.kind != "perforate":
            continue
        usual = Mend(
            "Use 5 mm dashes and lands",
            (
                Change(f"{path}.dash", parse_length("5 mm")),
                Change(f"{path}.land", parse_length("5 mm")),
            ),
        )
        if fold.land.mm <= 0:
            yield Finding(
                "construct.perforation-without-land",
                "stop",
                "construct",
                f"The perforation cuts the {piece.name} in two",
                "Dashes with no land between them are one long cut.",
                "The panels come apart.",
                f"{piece.id}-fold",
                (usual, Mend("Score it instead", (Change(f"{path}.kind", "score"),))),
            )
        elif not any(line.operation == "perforate" for line in piece.lines):
            yield Finding(
                "construct.perforation-without-dash",
                "look",
                "construct",
                f"No dash fits on the fold of the {piece.name}",
                f"The fold is shorter than one dash of {fold.dash} and a land of {fold.land} at each end.",
                "The fold is left unmarked.",
                f"{piece.id}-fold",
                (usual,),
            )


def _past_edge(job: Job, piece: Piece, name: str, line: str, beyond: float, path: str) -> Finding:
    return Finding(
        "construct.fold-past-edge",
        "stop",
        "construct",
        f"The {name} of the {piece.name} runs out of its edge",
        f"It goes {format_length(beyond, job.units)} past the edge at each end.",
        "It marks the mat and the next piece, and a dash there opens the edge.",
        line,
        (Mend("End it at the edge", (Change(f"{path}.ends", parse_length("0 mm")),)),),
    )


def _dash_at_edge(job: Job, piece: Piece, line: str, nearest: float, path: str) -> Finding:
    return Finding(
        "construct.dash-at-edge",
        "look",
        "construct",
        f"A dash of the {piece.name} meets the edge",
        f"The land at the end is {nearest:.1f} mm; under {LEAST_END_LAND_MM} mm it tears when the fold is pressed.",
        "The fold opens at its ends.",
        line,
        (
            Mend("Use 5 mm lands", (Change(f"{path}.land", parse_length("5 mm")),)),
            Mend("Stop 3 mm short", (Change(f"{path}.ends", parse_length("3 mm")),)),
        ),
    )


@CHECKS.register
def find_layer_trouble(context: ConstructContext) -> Iterator[Finding]:
    """A layer must lie on a face the card has, and be smaller than it."""
    job, faces = context.job, [face.name for face in context.construct.tree.faces]
    for layer in job.construct.layers:
        drop = Mend("Take the layer off", (remove_layer(job, layer.id),))
        if layer.face not in faces:
            yield Finding(
                "construct.layer-without-face",
                "look",
                "construct",
                f"The card has no face called {layer.face}",
                f"A {context.construct.kind.title.lower()} has {', '.join(faces)}.",
                "The layer is not cut.",
                layer.id,
                (Mend(f"Put it on the {faces[0]}", (Change(f"construct.layers.{layer.id}.face", faces[0]),)), drop),
            )
        elif layer.border.mm < 0 or context.construct.piece(layer.id) is None:
            size = "larger than" if layer.border.mm < 0 else "not there: its border takes all of"
            yield Finding(
                "construct.layer-size",
                "stop",
                "construct",
                f"The layer is {size} its panel",
                f"A border of {format_length(layer.border.mm, job.units)} on each side of the {layer.face}.",
                "It shows past the edge." if layer.border.mm < 0 else "No layer is cut.",
                layer.id,
                (
                    Mend("Use 1/8 in a side", (Change(f"construct.layers.{layer.id}.border", parse_length("1/8 in")),)),
                    drop,
                ),
            )


def remove_layer(job: Job, layer_id: str) -> Change:
    """The change that takes a layer off."""
    return Change("construct.layers", tuple(each for each in job.construct.layers if each.id != layer_id))


FOLD_SAMPLES = 12
"""Openings of each folding step at which panels are tried for running into each other."""


@CHECKS.register
def find_panels_that_collide(context: ConstructContext) -> Iterator[Finding]:
    """No panel may have to go through another one while the card is folded in its order."""
    tree, slabs = context.construct.tree, context.construct.slabs
    steps = fold_steps(tree)
    if len(steps) < 2:  # panels that all fold at once go to and fro or lift; those have nothing to run into
        return
    from dechirer.core.construct.hidden import find_collision

    names = {panel.id: panel.name for panel in tree.panels}
    for sample in range(1, FOLD_SAMPLES * len(steps)):
        closed = sample / (FOLD_SAMPLES * len(steps))
        met = find_collision(tree, slabs, closed)
        if met is not None:
            step = steps[min(len(steps) - 1, int(closed * len(steps)))]
            yield Finding(
                "construct.folds-through",
                "stop",
                "construct",
                f"The {names[met[0]]} runs into the {names[met[1]]}",
                f"It happens at the step “{step}”.",
                "The card cannot be folded so.",
                "base",
            )
            return


LEAST_HIDDEN = 0.01


@CHECKS.register
def find_layer_behind_something(context: ConstructContext) -> Iterator[Finding]:
    """Where a panel stands out above what is in front of it, what is on it must stand out as well.

    A face that is wholly hidden when the card is closed is read opened, so it is left out.
    """
    construct, job = context.construct, context.job
    if not job.construct.layers:
        return
    from dechirer.core.construct.hidden import hidden_share

    front = construct.tree.faces[0]
    for layer in job.construct.layers:
        face = next((each for each in construct.tree.faces if each.name == layer.face), None)
        if face is None or face is front or not find_crowd(construct, face):
            continue
        border = layer.border.mm
        part = rectangle(max(0.1, face.width - 2 * border), max(0.1, face.height - 2 * border), at=(border, border))
        hidden, seen = hidden_share(construct.tree, construct.slabs, face, part, 1.0)
        if seen > LEAST_HIDDEN and hidden > LEAST_HIDDEN:
            yield Finding(
                "construct.layer-hidden",
                "look",
                "construct",
                f"The layer on {layer.face} stands behind what is in front",
                f"{100 * hidden:.0f} % of it is hidden when the card is closed, where {100 * seen:.0f} % of the panel "
                "stands out.",
                "It is covered, and its words cannot be read.",
                layer.id,
                (
                    Mend(f"Put it on the {front.name}", (Change(f"construct.layers.{layer.id}.face", front.name),)),
                    Mend("Take the layer off", (remove_layer(job, layer.id),)),
                ),
            )


def find_crowd(construct: ConstructPlan, face: Face) -> bool:
    """Whether a face looks the same way as the front when the card is closed, and so may stand behind something."""
    poses = fold(construct.tree, 1.0)
    ways = [
        poses[each.panel].turn((0.0, 0.0, 1.0 if each.side == "outside" else -1.0))[2]
        for each in (construct.tree.faces[0], face)
    ]
    return len(construct.tree.panels) > 2 and ways[0] * ways[1] > 0


LEAST_WINDOW_FRAME_MM = 6.0
"""Paper left between a window and the edge or fold: less tears or springs (common practice, no published figure)."""


@CHECKS.register
def find_window_trouble(context: ConstructContext) -> Iterator[Finding]:
    """A window must leave a frame, and its backer must stay off the fold and the edges."""
    job, window = context.job, context.job.construct.window
    if window is None:
        return
    face = context.construct.tree.faces[0]
    hole = bounds(window_outline(face, window))
    frame = min(hole.left, hole.top, face.width - hole.right, face.height - hole.bottom)
    widest = max(2.0, face.width - 2 * LEAST_WINDOW_FRAME_MM - 2 * window.margin.mm)
    tallest = max(2.0, face.height - 2 * LEAST_WINDOW_FRAME_MM - 2 * window.margin.mm - 2 * abs(window.drop.mm))
    smaller = Mend(
        "Make the window smaller",
        (
            Change("construct.window.width", make_length(min(window.width.mm, widest), job.units)),
            Change("construct.window.height", make_length(min(window.height.mm, tallest), job.units)),
        ),
    )
    off = Mend("No window", (Change("construct.window", None),))
    if frame < LEAST_WINDOW_FRAME_MM - 1e-6:
        past = frame < 0
        yield Finding(
            "construct.window-near-edge",
            "stop" if past else "look",
            "construct",
            f"The window {'runs past' if past else 'is close to'} the edge of the {face.name}",
            f"{format_length(max(frame, 0.0), job.units)} of paper is left; it holds from "
            f"{LEAST_WINDOW_FRAME_MM:.0f} mm.",
            "The frame tears, or the fold springs open.",
            "base-window",
            (smaller, off),
        )
    elif frame < window.margin.mm - 1e-6:
        narrower = make_length(frame - 1.0, job.units)
        mends = (Mend(f"Use a margin of {narrower}", (Change("construct.window.margin", narrower),)), smaller)
        yield Finding(
            "construct.backer-over-edge",
            "stop",
            "construct",
            "The window's backer reaches past its panel",
            f"A glue margin of {format_length(window.margin.mm, job.units)} needs more than the "
            f"{format_length(frame, job.units)} there is beside the window.",
            "It is glued over the fold or shows at the edge.",
            "backer",
            mends,
        )


SLACK = 0.05
"""A packet that is larger than its finished size by less than this closes square, in mm."""


@CHECKS.register
def find_card_that_does_not_close(context: ConstructContext) -> Iterator[Finding]:
    """Closed, every panel must lie flat and within the front's outline."""
    construct = context.construct
    brief = context.job.brief
    whole = find_closed_box(construct.tree)
    if any(hinge.closed_deg != 180.0 and not hinge.lifts for hinge in construct.tree.hinges):
        yield Finding(
            "construct.not-flat",
            "stop",
            "construct",
            "The card does not close flat",
            "A fold stays open.",
            "It does not go into an envelope.",
            "base",
        )
    elif len(construct.tree.panels) > 2 and (
        whole.width > brief.width.mm + SLACK or whole.height > brief.height.mm + SLACK
    ):
        yield Finding(
            "construct.not-square",
            "look",
            "construct",
            "The packet does not close square",
            f"Closed it is {format_size(whole.width, whole.height, context.job.units)}: panels reach past the front.",
            "It looks uneven and catches in the envelope.",
            "base",
            _mends_for_square(context.job),
        )


def _mends_for_square(job: Job) -> tuple[Mend, ...]:
    if job.brief.construction == "concertina" and job.construct.concertina.widths:
        return (Mend("Make all panels equal", (Change("construct.concertina.widths", ()),)),)
    if job.brief.construction == "lock-gate":
        small = make_length(min(job.construct.lock.head.mm, job.brief.width.mm * 0.25), job.units)
        neck = make_length(min(job.construct.lock.neck.mm, small.mm * 0.4), job.units)
        changes = (Change("construct.lock.head", small), Change("construct.lock.neck", neck))
        return (Mend(f"Make the head {format_length(small.mm, job.units)}", changes),)
    return ()


LEAST_SLIT_MM = 6.0
"""Paper left between a slit and the edge or fold (common practice, no published figure)."""
PLACING_MM = 1.0
"""How far a machine and an eye misplace a bought blank: 0.5 to 1 mm (common practice)."""


@CHECKS.register
def find_slit_trouble(context: ConstructContext) -> Iterator[Finding]:
    """Slits must leave paper at the edge, and catch more than the machine misplaces."""
    job, slits = context.job, context.job.construct.slits
    if slits is None:
        return
    face = context.construct.tree.faces[0]
    box = bounds([point for path in slit_paths(face, slits) for point in path])
    frame = min(box.left, box.top, face.width - box.right, face.height - box.bottom)
    off = Mend("No insert", (Change("construct.slits", None),))
    if frame < LEAST_SLIT_MM - 1e-6:
        room = 2 * (LEAST_SLIT_MM + slits.ease.mm)
        smaller = Mend(
            "Make the insert smaller",
            (
                Change(
                    "construct.slits.width", make_length(min(slits.width.mm, max(10.0, face.width - room)), job.units)
                ),
                Change(
                    "construct.slits.height",
                    make_length(min(slits.height.mm, max(10.0, face.height - room)), job.units),
                ),
            ),
        )
        yield Finding(
            "construct.slit-near-edge",
            "stop" if frame < 1.0 else "look",
            "construct",
            f"A slit is too near the edge of the {face.name}",
            f"{format_length(max(frame, 0.0), job.units)} of paper is left; it holds from {LEAST_SLIT_MM:.0f} mm.",
            "The corner tears out when the insert is put in.",
            "base-slits",
            (smaller, off),
        )
    tolerance = context.construct.figure("slits.tolerance")
    if tolerance is not None and tolerance.value < 2 * PLACING_MM:
        yield Finding(
            "construct.slit-catch",
            "look",
            "construct",
            "The slits hardly catch the insert",
            f"They may be {tolerance.value:.1f} mm out before a corner slips; a blank is easily misplaced by "
            f"{PLACING_MM:.0f} mm (common practice).",
            "A corner of the insert stays outside.",
            "base-slits",
            (Mend("Catch 12 mm", (Change("construct.slits.catch", parse_length("12 mm")),)),),
        )
    if 2 * slits.catch.mm >= min(slits.width.mm, slits.height.mm):
        yield Finding(
            "construct.slits-meet",
            "stop",
            "construct",
            "The slits run into each other",
            f"Each takes {format_length(slits.catch.mm, job.units)} of a side of "
            f"{format_length(min(slits.width.mm, slits.height.mm), job.units)}.",
            "The middle of the front falls out.",
            "base-slits",
            (Mend("Catch 6 mm", (Change("construct.slits.catch", parse_length("6 mm")),)), off),
        )


INNER_ROLES = ("hole", "window", "slit", "flap", "peel")


@CHECKS.register
def find_cuts_that_cross(context: ConstructContext) -> Iterator[Finding]:
    """What is cut inside a piece must not run into what else is cut there."""
    removals = {"window": "construct.window", "slits": "construct.slits", "peel": "construct.peel"}
    for piece in context.construct.pieces:
        inner = [line for line in piece.lines if line.role in INNER_ROLES]
        added = [line for line in inner if line.id.removeprefix(f"{piece.id}-") in removals]
        for line in added:
            crossed = next((other for other in inner if other is not line and _cross(line, other)), None)
            if crossed is not None:
                name = line.id.removeprefix(f"{piece.id}-")
                yield Finding(
                    "construct.cuts-cross",
                    "stop",
                    "construct",
                    f"The {line.name} runs into the {crossed.name}",
                    f"Both are cut in the {piece.name}, one through the other.",
                    "Parts of it fall out.",
                    line.id,
                    (Mend(f"No {line.name}", (Change(removals[name], None),)),),
                )
                break


def _cross(one: Line, other: Line) -> bool:
    """Whether two lines of a piece meet, or one lies inside the other."""
    import shapely

    shapes = [
        shapely.union_all([shapely.Polygon(path) if len(path) > 2 else shapely.LineString(path) for path in line.paths])
        for line in (one, other)
    ]
    return bool(shapely.intersects(*shapes))


@CHECKS.register
def find_peel_trouble(context: ConstructContext) -> Iterator[Finding]:
    """What peels away stays clear of edges and fold, and so does its backer."""
    if context.job.construct.peel is not None:
        from dechirer.core.construct.peel import check_peel

        yield from check_peel(context.job, context.construct.tree)


@CHECKS.register
def find_stack_trouble(context: ConstructContext) -> Iterator[Finding]:
    """A layer stack is whole, lies on a face there is, and inside it."""
    if context.job.construct.stack is not None:
        from dechirer.core.construct.layer_stack import check_stack

        yield from check_stack(context.job, context.construct.tree)


@CHECKS.register
def find_bought_envelope_trouble(context: ConstructContext) -> Iterator[Finding]:
    """The closed card goes into the envelope the maker has bought."""
    box = find_closed_box(context.construct.tree)
    yield from check_bought_envelope(
        context.job, box.width, box.height, context.construct.closed_thickness.value, context.construct.bought
    )


@CHECKS.register
def find_envelope_trouble(context: ConstructContext) -> Iterator[Finding]:
    """Its own checks, and what the post may say."""
    construct, job = context.construct, context.job
    if construct.envelope is not None:
        yield from check_envelope(job, construct.envelope)
        bulk = next(figure for figure in construct.envelope.figures if figure.key == "envelope.bulk").value
        inner = [figure.value for figure in construct.envelope.figures if figure.key.startswith("envelope.inner-")]
        ratio = max(inner) / min(inner)
        words = []
        if bulk > THICK_MM:
            words.append(f"it is {bulk:.1f} mm thick")
        if ratio < 1.3 or ratio > 2.5:
            words.append("it is nearly square" if ratio < 1.3 else "it is very long")
        if words:
            yield Finding(
                "construct.postage",
                "note",
                "construct",
                "The post may charge more",
                f"Many services do when {' and '.join(words)} (from memory). Ask your own service for its rules.",
                "",
                "envelope",
            )
