"""`dechirer rehearse`: a job's files run by the simulated cutter, and what came of them beside the plan."""

from __future__ import annotations

import json
from pathlib import Path

from dechirer.cli.saying import STOPPED, BadInput, say
from dechirer.core.job.model import Job
from dechirer.core.plan import make_plan
from dechirer.devices.cut_rehearsal import Rehearsal, as_record, rehearse
from dechirer.devices.strokes import CutterFileError


def run_rehearsal(job: Job, seed: int, runs: int, folder: Path | None, *, as_json: bool) -> int:
    """Rehearse a job and say how it came out; the exit code.

    Raises:
        BadInput: a file cannot be run.
    """
    try:
        found = rehearse(make_plan(job), seed=seed, runs=runs, folder=folder)
    except CutterFileError as error:
        raise BadInput(str(error)) from None
    except OSError as error:
        raise BadInput(f"{error.filename}: {error.strerror}") from None
    if as_json:
        say(json.dumps(as_record(found), indent=1, ensure_ascii=False))
    else:
        _tell(found)
    return STOPPED if found.troubles else 0


def _tell(found: Rehearsal) -> None:
    if found.receipt is not None:
        for why in found.receipt.troubles:
            say(why)
        for path in found.receipt.changed:
            say(f"{path} was changed since it was exported; it is run as it is")
    for why in found.faults:
        say(why)
    for name, mat in found.nominal:
        free = sum(piece.state in ("free", "blank") and not piece.troubles for piece in mat.pieces)
        say(f"{name}: {free} of {len(mat.pieces)} pieces come out as planned")
        for why in mat.troubles:
            say(f"    {why}")
    for why in found.blades:
        say(f"    {why}")
    if found.runs:
        budget = f"{found.budget:.2f} by the machine's profile"
        say(f"spread over {found.runs} loads: {found.spread:.2f} mm each way, {budget}")
    for each in found.spoils:
        say(f"{each.what}: {100 * each.share:.0f} % of the loads ({each.limit})")
    say(f"about {found.minutes:.0f} minutes at the machines")
