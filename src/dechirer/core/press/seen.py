"""What the checks of Press look at."""

from __future__ import annotations

from datetime import date
from typing import Any

from msgspec import Struct, structs

from dechirer.core.brief.decisions import Brief
from dechirer.core.decide.change import Change
from dechirer.core.dress.dressed import DressPlan
from dechirer.core.press.decisions import Press
from dechirer.core.press.pages import PagesPlan
from dechirer.core.press.press import PressPlan


class PressSeen(Struct, frozen=True):
    """The decisions up to here, what is on the faces, what is printed, the mats and how sheets are loaded on them, the
    pages, and what day it is."""

    brief: Brief
    press: Press
    units: str
    dress: DressPlan
    plan: PressPlan
    pages: PagesPlan
    lay: Any
    loadings: tuple[Any, ...]
    today: date

    def load_again(self, paper: str, **fields: Any) -> tuple[Change, ...]:
        """The change that sets fields of how a paper is loaded; none where it is loaded as it comes."""
        if not any(each.paper == paper for each in self.loadings):
            return ()
        changed = (structs.replace(each, **fields) if each.paper == paper else each for each in self.loadings)
        return (Change("lay.loadings", tuple(changed)),)

    def sheet_as_on_hand(self, paper: str) -> tuple[Change, ...]:
        """The change after which the sheet set at the machine is the paper's own."""
        return self.load_again(paper, sheet=None)
