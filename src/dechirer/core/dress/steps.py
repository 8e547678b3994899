"""The kinds of steps of a recipe: what they are called, which measures they use, and what they say of themselves."""

from __future__ import annotations

from msgspec import Struct

from dechirer.core.job.dressing import Step, StepKind
from dechirer.core.length import format_length


class StepTitle(Struct, frozen=True):
    """A kind of step: its name, what it does, and which fields of a `Step` it uses with their names."""

    kind: StepKind
    title: str
    about: str
    fields: tuple[tuple[str, str], ...] = ()


STEPS: dict[StepKind, StepTitle] = {
    step.kind: step
    for step in (
        StepTitle(
            "border",
            "border",
            "Moves the outline out by the same distance everywhere, or in.",
            (("by", "out by"), ("edges", "of"), ("corners", "corners"), ("each", "each item its own")),
        ),
        StepTitle("join", "join", "Makes everything that touches one outline.", (("of", "with"),)),
        StepTitle(
            "merge",
            "merge",
            "Finds the least border at which all items become one piece; adds a little more.",
            (("by", "and more by"),),
        ),
        StepTitle(
            "cut",
            "cut out",
            "Cuts another item out of this one, as a window or hole.",
            (("of", "the shape of"), ("by", "larger by")),
        ),
        StepTitle(
            "relief",
            "relief",
            "Leaves an even web between the inner parts and to the edge.",
            (("by", "web"), ("keep", "keep the")),
        ),
        StepTitle(
            "bridge",
            "bridge",
            "Leaves ties of paper that hold the islands of an opening.",
            (("by", "width"), ("count", "ties to each")),
        ),
        StepTitle("fill", "fill holes", "Fills the holes."),
        StepTitle("outermost", "keep outermost", "Keeps the outermost outlines only, without holes."),
        StepTitle(
            "item", "take item", "Takes one item of several, the largest being the first.", (("count", "number"),)
        ),
        StepTitle("mirror", "mirror", "Mirrors it left to right, or top to bottom.", (("side", "towards"),)),
        StepTitle(
            "repeat",
            "repeat",
            "Repeats it evenly round a circle, or along another item's outline.",
            (("count", "times"), ("by", "radius"), ("of", "along"), ("each", "keep upright")),
        ),
        StepTitle("spread", "spread", "Spreads the items over a length by equal gaps.", (("by", "over"),)),
        StepTitle("round", "round corners", "Rounds every corner, outer and inner.", (("by", "radius"),)),
        StepTitle(
            "tidy", "tidy", "Removes specks, spurs and needless points, closes hairline gaps.", (("by", "up to"),)
        ),
        StepTitle(
            "fit",
            "fit",
            "Scales it to a width, or into a width and height, keeping its ratio.",
            (("by", "width"), ("to", "height")),
        ),
        StepTitle(
            "lift",
            "lift",
            "Cuts all but a hinge, so that it lifts; the hinge is scored.",
            (("by", "hinge"), ("side", "at the")),
        ),
    )
}


def describe(step: Step, units: str, names: dict[str, str]) -> str:
    """A step in a few words: `border 2 mm`, `bridge 1 mm, 2 ties`."""
    title = STEPS[step.kind].title
    used = dict(STEPS[step.kind].fields)
    words = [title]
    if step.kind == "cut":
        words.append(names.get(step.of or "", "nothing"))
        if step.by.mm:
            words.append(f"{format_length(step.by.mm, units)} larger")
    elif step.kind in ("mirror",):
        words.append("left to right" if step.side in ("left", "right") else "top to bottom")
    elif step.kind == "item":
        words.append(str(step.count))
    elif step.kind == "repeat":
        words.append(f"{step.count} times")
        words.append(f"along {names.get(step.of, step.of)}" if step.of else f"round {format_length(step.by.mm, units)}")
    elif step.kind == "fit":
        words.append(format_length(step.by.mm, units))
        if step.to.mm:
            words.append(f"× {format_length(step.to.mm, units)}")
    elif "by" in used:
        words.append(format_length(step.by.mm, units))
    if step.kind == "bridge":
        words.append(f"{step.count} {'tie' if step.count == 1 else 'ties'} each")
    if step.kind == "relief" and step.keep == "parts":
        words.append("the parts")
    if step.kind == "border" and step.edges == "all":
        words.append("all edges")
    return " ".join(words)
