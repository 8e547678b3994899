"""The demo: Saltmarsh Kite Day, a made-up spring kite festival on a tidal marsh, and what its makers cut for it."""

from __future__ import annotations

from pathlib import Path

from dechirer.core.job.model import Job, read_job_json

DEMOS: dict[str, str] = {
    "kites": "Kite cards, dressed with art and words",
    "invitations": "Invitations, side fold with a liner",
    "dunes": "Dunes, a concertina with a skyline",
    "gate": "Gate card with an insert and its envelope",
    "lock": "Locking gate with a top flap",
    "corner": "Photograph held by corner slits",
    "collar": "Collar and strap",
    "prize": "Prize money, held by straps",
    "stack": "Kite in layers on foam",
    "topper": "Topper with a row of lifting flaps",
    "boathouse": "Boat house, a card from a file",
    "winners": "Winners' cards: numerals that differ, gems, seeds",
    "helpers": "Thank-you discs for helpers",
    "places": "Place cards",
}
"""The demo jobs by file name, with their titles; `FIRST` opens at first start."""
FIRST = "invitations"


def load_demo_job(name: str = FIRST) -> Job:
    """A demo job.

    Raises:
        KeyError: no demo has that name.
    """
    if name not in DEMOS:
        raise KeyError(name)
    return read_job_json((Path(__file__).parent / f"{name}.json").read_bytes())
