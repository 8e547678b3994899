"""Doors that meet in the middle: how narrow they may be, shared by the gates."""

from __future__ import annotations

from dechirer.core.finding import Finding, Mend
from dechirer.core.length import format_length

LEAST_DOOR_MM = 20.0
"""A narrower door does not stay folded (common practice: no hinge part under 20 mm)."""


def door_too_narrow(door: float, units: str, mend: Mend) -> Finding:
    """The finding for doors of a width in mm that is under LEAST_DOOR_MM."""
    return Finding(
        "construct.door-narrow",
        "stop",
        "The doors are too narrow to fold",
        f"Each is {format_length(door, units)} wide; under {LEAST_DOOR_MM:.0f} mm a door does not stay folded "
        "(common practice).",
        "They spring open or tear.",
        "base",
        (mend,),
    )
