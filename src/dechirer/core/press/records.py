"""What is measured and noted, and kept from job to job: calibrations of print and cut, tickets of papers at a printer.

A job carries copies of those it used, so that it says the same wherever it is opened.
"""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.values import Identifier

DATE = r"^\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$"
Made = Annotated[str, Meta(pattern=DATE)]
Named = Annotated[str, Meta(min_length=1, max_length=120)]


class Calibration(Decisions, frozen=True):
    """What was measured of a cut calibration page: where its print lies from its cut, to the right and down (mm), how
    much too wide and high it is (%), by what it is askew (degrees, clockwise), and how far single places stray (one
    standard deviation each way, mm). It holds for one paper, printer, machine and way of cutting."""

    id: Identifier
    made: Made
    paper: Named
    printer: Named
    machine: Named
    by: Literal["marks", "edge"]
    right: Annotated[float, Field("Print lies to the right by", -20, 20, takes="mm")] = 0.0
    down: Annotated[float, Field("Print lies lower by", -20, 20, takes="mm")] = 0.0
    wide: Annotated[float, Field("Too wide, %", -5, 5)] = 0.0
    high: Annotated[float, Field("Too high, %", -5, 5)] = 0.0
    skew_deg: Annotated[float, Field("Askew, degrees", -5, 5)] = 0.0
    spread: Annotated[float, Field("Places stray by", 0, 5, takes="mm")] = 0.05
    places: Annotated[int, Field("Places measured", 1, 400)] = 1
    how: Literal["scan", "typed"] = "scan"

    def is_of(self, paper: str, printer: str, machine: str, by: str) -> bool:
        """Whether it holds for a paper, a printer, a machine and a way of cutting."""
        return (self.paper, self.printer, self.machine, self.by) == (paper, printer, machine, by)


PAPER_TYPES = {
    "photo": "photo paper: more ink, finer dots; soaks through thin papers and dries slowly",
    "plain": "plain paper: less ink, dries at once; paler on card",
}


class Ticket(Decisions, frozen=True):
    """What is set at the printer for one paper: scaling off, the paper's type, quality, how it is fed, which side."""

    id: Identifier
    made: Made
    paper: Named
    printer: Named
    paper_type: Literal["photo", "plain"] = "photo"
    quality: Literal["best", "normal"] = "best"
    feed: Literal["tray", "rear"] = "tray"
    width: Annotated[float, Field("Sheet width", 0, 3000, takes="mm")] = 0.0
    height: Annotated[float, Field("Sheet height", 0, 3000, takes="mm")] = 0.0

    def is_of(self, paper: str, printer: str) -> bool:
        """Whether it is for a paper and a printer."""
        return (self.paper, self.printer) == (paper, printer)


class CornerTrial(Decisions, frozen=True):
    """How far off a blank that lies in the corner of a mat is cut, found by a trial cut on a machine: more than nought
    to the right and down (mm). `mat` is the id of the mat."""

    id: Identifier
    made: Made
    machine: Named
    mat: Identifier
    right: Annotated[float, Field("Cut to the right by", -50, 50, takes="mm")] = 0.0
    down: Annotated[float, Field("Cut lower by", -50, 50, takes="mm")] = 0.0


Record = Calibration | Ticket | CornerTrial


def tag_of(kind: type) -> str:
    """What a kind of record is called in its file."""
    return kind.__name__.lower()
