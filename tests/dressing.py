"""Short ways to make dressed jobs for tests."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from dechirer.core.brought import Art, ArtGroup
from dechirer.core.dress.decisions import Dress, Item, Place, Words
from dechirer.core.dress.step import STEPS, Step
from dechirer.core.job.model import Job
from dechirer.core.length import parse_length
from tests.helpers import changed, quick_job

LENGTHS = frozenset(
    {
        "by",
        "to",
        "width",
        "height",
        "x",
        "y",
        "size",
        "rows",
        "spacing",
        "overlap",
        "margin",
        "fit_in",
        "foam",
        "thick",
        "dash",
        "gap",
        "tip",
    }
)


def lengths(fields: dict[str, Any]) -> dict[str, Any]:
    """Fields with texts such as "2 mm" made lengths."""
    return {
        name: parse_length(value) if name in LENGTHS and isinstance(value, str) else value
        for name, value in fields.items()
    }


def box_path(width: float, height: float, x: float = 0.0, y: float = 0.0) -> str:
    """A rectangle as a path."""
    return f"M {x} {y} L {x + width} {y} L {x + width} {y + height} L {x} {y + height} Z"


def art(*paths: str, id: str = "art", width: float = 20.0, height: float = 20.0, **more: Any) -> Art:
    """Art of one group of areas, or of `groups`."""
    groups = more.pop("groups", (ArtGroup("area", "areas", "cut", paths),))
    return Art(id, more.pop("name", "art.svg"), width, height, groups, **more)


def square(side: float = 20.0, **more: Any) -> Art:
    """A square of art."""
    return art(box_path(side, side), width=side, height=side, **more)


def stroked(breadth: float, id: str = "stroke") -> Art:
    """A wave of one open line, drawn so broad (mm)."""
    group = ArtGroup("wave", "wave", "cut", ("M 2 10 C 8 2 12 18 18 10",), stroke=breadth)
    return art(id=id, groups=(group,))


def item(id: str = "thing", face: str = "front", made: str = "piece", **more: Any) -> Item:
    """An item; `words` may be a text, `place` and steps are given by keyword."""
    place = {
        name: more.pop(name) for name in ("within", "across", "down", "x", "y", "turn_deg", "mirrored") if name in more
    }
    if isinstance(more.get("words"), str):
        more["words"] = words(more["words"])
    if not {"art", "words", "of"} & more.keys():
        more["art"] = "art"
    return Item(id, more.pop("name", id), face, made, place=Place(**lengths(place)), **lengths(more))  # type: ignore[arg-type]


def words(text: str, **more: Any) -> Words:
    """Words, in Lora unless said otherwise."""
    return Words(text, **{"face": "lora", **lengths(more)})


def step(kind: str, id: str = "", **more: Any) -> Step:
    """A step."""
    return STEPS[kind].decisions(id or f"{kind}-1", **lengths(more))


def dressed(*items: Item, job: Job | None = None, arts: tuple[Art, ...] = (), **more: Any) -> Job:
    """A job with items on its faces; a square of 20 mm is there as `art`. Its papers differ, and a pen is owned."""
    base = job or quick_job("5x7in", liner="1/16")
    papers = (
        replace(base.brief.papers[0], colour="#ffffff"),
        *(replace(paper, colour="#303060") for paper in base.brief.papers[1:]),
    )
    have = {each.id for each in arts}
    arts = arts if "art" in have else (square(), *arts)
    dress = Dress(art=arts, items=items, **more)
    return changed(
        base,
        brief__papers=papers,
        dress=dress,
        run__tools=tuple(dict.fromkeys((*base.run.tools, "pen", "hot-foil-tip"))),
    )
