"""Job fields that take one of a few values: what may be chosen, with the maker's words for it."""

from __future__ import annotations

import re
from typing import Any

from dechirer.core.job.model import Job
from dechirer.core.paper.standards import load_sizes

Choices = tuple[tuple[Any, str], ...]

_SHAPES = ("rectangle", "disc", "hexagon", "octagon", "kite", "heart", "hut", "cloud")
_SIDES: Choices = (("left", "left door"), ("right", "right door"))


def _same(*words: str) -> Choices:
    return tuple((word, word) for word in words)


_CHOICES: tuple[tuple[str, Choices], ...] = (
    (r"construct\.hinged\.shape", _same("disc", "hexagon", "octagon", "kite", "heart", "hut", "cloud")),
    (r"construct\.concertina\.top", _same("straight", "dunes", "waves", "roofs")),
    (r"construct\.lock\.tongue", _same("heart", "disc", "bar")),
    (r"construct\.lock\.first", _SIDES),
    (r"construct\.lock\.head_shows", (("outside", "on the front"), ("inside", "behind the door"))),
    (r"construct\.lock\.flap_closes", (("last", "last"), ("first", "first"))),
    (r"construct\.money\.holder", (("straps", "standing straps"), ("dome", "a clear dome"))),
    (r"construct\.money\.shape", _same("rectangle", "disc", "tag")),
    (r"construct\.row\.motifs\.[a-z0-9-]+\.shape", _same("kite", "gull", "heart", "disc", "hut", "cloud", "hexagon")),
    (r"construct\.row\.motifs\.[a-z0-9-]+\.cut", (("flaps", "lifting flaps"), ("whole", "cut out whole"))),
    (r"construct\.slits\.style", _same("straight", "scalloped")),
    (r"construct\.(peel|stack)\.shape", _same(*_SHAPES)),
    (r"construct\.envelope\.style", _same("glued", "hexagon", "petal", "fold-over")),
)
_PAPERS: tuple[tuple[str, str], ...] = (
    (r"construct\.collar\.facing", "not faced"),
    (r"construct\.money\.back_paper", "as the front"),
    (r"construct\.envelope\.inlay", "no inlay"),
    (r"construct\.(window|slits|peel|stack|envelope)\.paper|construct\.stack\.border_paper", ""),
    (r"construct\.layers\.[a-z0-9-]+\.paper", ""),
)
"""Fields that name a paper; with the words for none, or empty where there must be one."""


def find_choices(job: Job, path: str) -> Choices:
    """What the field at a path may be, as (value, words); empty when it is not chosen from a list."""
    for pattern, choices in _CHOICES:
        if re.fullmatch(pattern, path):
            return choices
    for pattern, none in _PAPERS:
        if re.fullmatch(pattern, path):
            papers = tuple((paper.id, paper.name) for paper in job.brief.papers)
            return ((None, none), *papers) if none else papers
    if path == "construct.bought":
        names = [size.name.removesuffix(" envelope") for size in load_sizes() if size.kind == "envelope"]
        return tuple((name, name) for name in names)
    return ()


def has_effect(job: Job, path: str) -> bool:
    """Whether a field changes anything as the job is now: a dome's flange does not while straps hold the note."""
    construct = job.construct
    field = path.rsplit(".", 1)[1]
    if path.startswith("construct.money."):
        dome = construct.money.holder == "dome"
        return {"depth": dome, "rim": dome, "free": dome, "core": not dome}.get(field, True)
    if path == "construct.concertina.rise":
        return construct.concertina.top != "straight"
    if path == "construct.lock.flap_closes":
        return construct.lock.flap.mm > 0
    if path == "construct.collar.reveal":
        return construct.collar.facing is not None
    if path == "construct.envelope.inlay_margin":
        return construct.envelope is not None and construct.envelope.inlay is not None
    if path == "construct.stack.step":
        return construct.stack is not None and not construct.stack.insets
    return path != "construct.hinged.proud" or construct.hinged.rim > 0
