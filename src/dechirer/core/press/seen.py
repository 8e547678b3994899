"""What the checks of Press look at."""

from __future__ import annotations

from msgspec import Struct

from dechirer.core.brief.decisions import Brief
from dechirer.core.dress.dressed import DressPlan
from dechirer.core.press.decisions import Press
from dechirer.core.press.pages import PagesPlan
from dechirer.core.press.press import PressPlan


class PressSeen(Struct, frozen=True):
    """The decisions up to here, what is on the faces, what is printed, and the pages."""

    brief: Brief
    press: Press
    units: str
    dress: DressPlan
    plan: PressPlan
    pages: PagesPlan
