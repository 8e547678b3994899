"""Where art and typefaces come from and how they may be used: known again, by what is in them, in another job."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable
from typing import Literal, TypeVar

from msgspec import structs

from dechirer.core.brought import Art, FontFile
from dechirer.core.keep.entries import Licence

Part = TypeVar("Part", Art, FontFile)


def licence_id(part: Art | FontFile) -> str:
    """The id of what the book knows of art or a typeface: a seal of its outlines, its pixels or its file, whatever it
    is called and however large it is drawn."""
    seal = hashlib.sha256()
    if isinstance(part, FontFile):
        seal.update(part.data)
    elif part.pixels is not None:
        seal.update(part.pixels.data)
    else:
        for group in part.groups:
            for path in group.paths:
                seal.update(path.encode())
    return f"licence-{seal.hexdigest()[:32]}"


def licence_of(part: Art | FontFile, day: str) -> Licence:
    """What is noted of a part, as it is kept in the book."""
    what: Literal["art", "typeface"] = "typeface" if isinstance(part, FontFile) else "art"
    return Licence(licence_id(part), day, what, part.name[:120], part.licence, part.source)


def with_licence(part: Part, known: Iterable[Licence]) -> Part:
    """The part with what the book knows of it, where nothing is noted in the job."""
    id = licence_id(part)
    found = next((each for each in known if each.id == id), None)
    if found is None or part.licence != "unknown":
        return part
    return structs.replace(part, licence=found.licence, source=found.source[:200] or part.source)
