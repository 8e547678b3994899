"""Steps that turn and size: mirror, fit."""

from typing import Annotated, Any, Literal

from msgspec import structs

from dechirer.core.decide.field import Field
from dechirer.core.decide.values import given
from dechirer.core.dress.drawn import Drawn, join_copies
from dechirer.core.dress.outline import middle_of
from dechirer.core.dress.step import STEPS, Step
from dechirer.core.length import Length
from dechirer.core.shape.affine import Affine


def _mirror_words(step: Any, _names: dict[str, str]) -> str:
    return "left to right" if step.side in ("left", "right") else "top to bottom"


class Mirror(Step, frozen=True, tag="mirror"):
    """Mirrored left to right, or top to bottom; the first may be kept beside it."""

    side: Annotated[Literal["left", "right", "top", "bottom"], Field("towards")] = "left"
    keep: Annotated[bool, Field("and keep the first")] = False
    gap: Annotated[Length, Field("apart", -200, 500, shows=lambda own: own.keep)] = given("0 mm")


@STEPS.add(
    "mirror",
    decisions=Mirror,
    title="mirror",
    about="Mirrors it left to right, or top to bottom.",
    group="Turn and size",
    order=50,
    whole=True,
    words=_mirror_words,
)
def mirror(drawn: Drawn, step: Mirror, _others: dict[str, Drawn]) -> Drawn:
    """Mirrored left to right, or top to bottom."""
    if step.keep:
        return _beside(drawn, step)
    x, y = middle_of(drawn)
    if step.side in ("left", "right"):
        return drawn.moved(Affine(a=-1.0, e=2 * x))
    return drawn.moved(Affine(d=-1.0, f=2 * y))


def _beside(drawn: Drawn, step: Mirror) -> Drawn:
    """What is drawn, and beside it the same mirrored at its edge."""
    left, top, right, bottom = drawn.box()
    half = step.gap.mm / 2
    maps = {
        "left": Affine(a=-1.0, e=2 * (left - half)),
        "right": Affine(a=-1.0, e=2 * (right + half)),
        "top": Affine(d=-1.0, f=2 * (top - half)),
        "bottom": Affine(d=-1.0, f=2 * (bottom + half)),
    }
    other = drawn.moved(maps[step.side])
    return structs.replace(drawn, parts=join_copies((drawn, other)))


def _fit_words(step: Any, _names: dict[str, str]) -> str:
    return str(step.by) + (f" × {step.to!s}" if step.to.mm else "")


class Fit(Step, frozen=True, tag="fit"):
    """Scaled to a width, or into a width and height, its ratio kept."""

    by: Annotated[Length, Field("width", 0.5, 2000)] = given("40 mm")
    to: Annotated[Length, Field("height (0: any)", 0, 2000)] = given("0 mm")


@STEPS.add(
    "fit",
    decisions=Fit,
    title="fit",
    about="Scales it to a width, or into a width and height, keeping its ratio.",
    group="Turn and size",
    order=51,
    whole=True,
    words=_fit_words,
)
def fit(drawn: Drawn, step: Fit, _others: dict[str, Drawn]) -> Drawn:
    """Scaled to a width, or into a width and height, its ratio kept."""
    left, top, right, bottom = drawn.box()
    wide, high = right - left, bottom - top
    if wide <= 0 or step.by.mm <= 0:
        return drawn
    factor = step.by.mm / wide
    if step.to.mm and high > 0:
        factor = min(factor, step.to.mm / high)
    x, y = middle_of(drawn)
    return drawn.moved(Affine(factor, 0, 0, factor, x - x * factor, y - y * factor))
