"""Which letters a text may hold: what no typeface, file format or terminal can show is refused, or left out.

Control characters (all but a new line and a tab), halves of surrogate pairs and Unicode's noncharacters (The Unicode
Standard, section 23.7) are not text. XML 1.0, section 2.2, allows none of them either.
"""

from __future__ import annotations

import re
from typing import Any

from msgspec import Struct

_PLANES = "".join(f"{chr((plane << 16) | 0xFFFE)}{chr((plane << 16) | 0xFFFF)}" for plane in range(17))
_UNFIT = re.compile(f"[\x00-\x08\x0b-\x1f\x7f-\x9f\ud800-\udfff\ufdd0-\ufdef{_PLANES}]")


def find_unfit(text: str) -> str:
    """The first letter of a text that is none, as `U+0007`; empty when all are."""
    found = _UNFIT.search(text)
    return f"U+{ord(found.group()):04X}" if found else ""


def clean(text: str, instead: str = "") -> str:
    """A text without what is no letter."""
    return _UNFIT.sub(instead, text)


def find_unfit_in(value: Any) -> str:
    """As `find_unfit`, of every text in a value: in lists, entries and decisions."""
    waiting = [value]
    while waiting:
        here = waiting.pop()
        if isinstance(here, str):
            found = find_unfit(here)
            if found:
                return found
        elif isinstance(here, (tuple, list)):
            waiting += here
        elif isinstance(here, dict):
            waiting += [*here.keys(), *here.values()]
        elif isinstance(here, Struct):
            waiting += [getattr(here, name) for name in here.__struct_fields__]
    return ""


MOST_NAME_BYTES = 200
"""File systems take 255 bytes; the ending and a number must have room."""


def make_file_name(name: str, instead: str = "card") -> str:
    """Return a name as a file or folder may have it: without what file systems refuse, not hidden, not too long."""
    plain = re.sub(r'[\x00-\x1f/\\:*?"<>|]', "-", name).lstrip(". ").rstrip(". ")
    return plain.encode("utf-8", "ignore")[:MOST_NAME_BYTES].decode("utf-8", "ignore").rstrip(". ") or instead
