"""Printers: what one leaves bare round a sheet, and how far its ink may lie from where it should."""

from typing import Annotated

from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field


class Printer(Decisions, frozen=True):
    """A printer profile. Margins are of a sheet that stands, `top` being the edge that goes in first; lengths in mm.

    Errors are typical ones (one standard deviation, each way); those of the profile it begins with are of ink printers
    on a desk and from memory: scale 0.1 to 0.3 %, feed skewed up to 0.5 degrees, placed to 0.5 to 1.5 mm.
    """

    name: Annotated[str, Field("Printer name", 1, 120)] = "Desk printer"
    top: Annotated[float, Field("Left bare at the top", 0, 100, takes="mm")] = 5.0
    bottom: Annotated[float, Field("Left bare at the foot", 0, 100, takes="mm")] = 5.0
    left: Annotated[float, Field("Left bare at the left", 0, 100, takes="mm")] = 5.0
    right: Annotated[float, Field("Left bare at the right", 0, 100, takes="mm")] = 5.0
    widest: Annotated[float, Field("Widest sheet it takes", 20, 3000, takes="mm")] = 216.0
    placed_to: Annotated[float, Field("Places ink to", 0, 20, takes="mm")] = 0.6
    scale_share: Annotated[float, Field("Scale is off by, %", 0, 5)] = 0.15
    skew_deg: Annotated[float, Field("Feeds askew by, degrees", 0, 5)] = 0.2
    uneven: Annotated[float, Field("Feeds unevenly by", 0, 5, takes="mm")] = 0.05
    back_to: Annotated[float, Field("Back to front", 0, 20, takes="mm")] = 1.0
    page_minutes: Annotated[float, Field("A page takes, minutes", 0, 60)] = 2.0
