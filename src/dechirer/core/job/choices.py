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
    (r"build\.hinged\.shape", _same("disc", "hexagon", "octagon", "kite", "heart", "hut", "cloud")),
    (r"build\.concertina\.top", _same("straight", "dunes", "waves", "roofs")),
    (r"build\.lock\.tongue", _same("heart", "disc", "bar")),
    (r"build\.lock\.first", _SIDES),
    (r"build\.lock\.head_shows", (("outside", "on the front"), ("inside", "behind the door"))),
    (r"build\.lock\.flap_closes", (("last", "last"), ("first", "first"))),
    (r"build\.money\.holder", (("straps", "standing straps"), ("dome", "a clear dome"))),
    (r"build\.money\.shape", _same("rectangle", "disc", "tag")),
    (r"build\.row\.motifs\.[a-z0-9-]+\.shape", _same("kite", "gull", "heart", "disc", "hut", "cloud", "hexagon")),
    (r"build\.row\.motifs\.[a-z0-9-]+\.cut", (("flaps", "lifting flaps"), ("whole", "cut out whole"))),
    (r"build\.slits\.style", _same("straight", "scalloped")),
    (r"build\.(peel|stack)\.shape", _same(*_SHAPES)),
    (r"build\.envelope\.style", _same("glued", "hexagon", "petal", "fold-over")),
)
_PAPERS: tuple[tuple[str, str], ...] = (
    (r"build\.collar\.facing", "not faced"),
    (r"build\.money\.back_paper", "as the front"),
    (r"build\.envelope\.inlay", "no inlay"),
    (r"build\.(window|slits|peel|stack|envelope)\.paper|build\.stack\.border_paper", ""),
    (r"build\.layers\.[a-z0-9-]+\.paper", ""),
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
    if path == "build.bought":
        names = [size.name.removesuffix(" envelope") for size in load_sizes() if size.kind == "envelope"]
        return tuple((name, name) for name in names)
    return ()


def has_effect(job: Job, path: str) -> bool:
    """Whether a field changes anything as the job is now: a dome's flange does not while straps hold the note."""
    build = job.build
    field = path.rsplit(".", 1)[1]
    if path.startswith("build.money."):
        dome = build.money.holder == "dome"
        return {"depth": dome, "rim": dome, "free": dome, "core": not dome}.get(field, True)
    if path == "build.concertina.rise":
        return build.concertina.top != "straight"
    if path == "build.lock.flap_closes":
        return build.lock.flap.mm > 0
    if path == "build.collar.reveal":
        return build.collar.facing is not None
    if path == "build.envelope.inlay_margin":
        return build.envelope is not None and build.envelope.inlay is not None
    if path == "build.stack.step":
        return build.stack is not None and not build.stack.insets
    return path != "build.hinged.proud" or build.hinged.rim > 0
