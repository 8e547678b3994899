"""Words as they are set, large, for their own box."""

from __future__ import annotations

from dechirer.core.dress.dressed import Dressed
from dechirer.core.plan import Plan
from dechirer.core.shape.outline import bounds
from dechirer.drawing.display import Display, Item, Label, Shape

PAD = 0.06
"""Ground round the words, as a share of the longer side of their ink."""


def make_words_scene(plan: Plan, item_id: str) -> Display | None:
    """The words of an item on their paper; None when the plan has no such item, or its face is gone."""
    dressed = plan.dress.item(item_id)
    if dressed is None or dressed.spot is None:
        return None
    paper = plan.brief.paper(dressed.spot.paper).paper.face(good=dressed.spot.good)
    left, top, right, bottom = dressed.placed.drawn.box()
    pad = PAD * max(right - left, bottom - top, 1.0)
    ground = (
        (left - pad, top - pad),
        (right + pad, top - pad),
        (right + pad, bottom + pad),
        (left - pad, bottom + pad),
    )
    items: list[Item] = [Shape((ground,), fill=paper, on=paper, shadow=True), *_ink(plan, dressed, paper)]
    if dressed.placed.drawn.is_empty:
        items.append(Label(((left + right) / 2, (top + bottom) / 2), "nothing is set", "body", "stop"))
    return Display(tuple(items), bounds(ground), (16.0, 16.0, 16.0, 16.0), "The words as set")


def _ink(plan: Plan, dressed: Dressed, paper: str) -> list[Item]:
    """Letters as they are cut, drawn or printed."""
    item, drawn = dressed.item, dressed.placed.drawn
    inked = item.made in ("pen", "foil")
    role = item.colour or "ink"
    fill = plan.brief.paper(item.paper).paper.colour if item.paper else "sunken"
    if inked:
        fill = ""
    elif item.made in ("print", "hand"):
        fill = role
    items: list[Item] = []
    for area in drawn.areas:
        rings = tuple(tuple(ring.coords[:-1]) for ring in (area.exterior, *area.interiors))
        items.append(Shape(rings, fill=fill, form="pen" if inked else "cut", role=role if inked else "ink", on=paper))
    for line in drawn.lines:
        items.append(Shape((tuple(line.coords),), closed=False, form="pen", role=role, on=paper))
    return items


def describe_words(plan: Plan, item_id: str) -> str:
    """How words came out: their size, and what is wrong with them."""
    dressed = plan.dress.item(item_id)
    if dressed is None:
        return ""
    if dressed.placed.trouble:
        return dressed.placed.trouble
    lettering, words, units = dressed.placed.lettering, dressed.item.words, plan.job.units
    if lettering is None or words is None:
        return ""
    said = [f"{dressed.width.text(units)} × {dressed.height.text(units)}, {lettering.size:.1f} mm to the em."]
    if words.joined and lettering.apart:
        said.append(f"Do not join: {', '.join(lettering.apart[:8])}.")
    if words.joined and lettering.loose:
        said.append(f"Loose dots or accents: {', '.join(lettering.loose[:8])}.")
    if lettering.filled:
        said.append(f"Counters close in {', '.join(lettering.filled[:8])}.")
    if lettering.missing:
        said.append(f"The typeface has no {', '.join(lettering.missing[:8])}.")
    return "  ".join(said)
