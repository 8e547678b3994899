"""Corners as they were learned of several trial cuts: they take the place of an older trial of the job's own."""

from __future__ import annotations

from msgspec import structs

from dechirer.core.brief.machine import Machine
from dechirer.core.lay.decisions import Lay
from dechirer.core.learned import Learned, find_learned, place_key
from dechirer.core.press.records import CornerTrial

MOST_MM = 50.0


def with_learned(lay: Lay, machine: Machine, learned: tuple[Learned, ...]) -> Lay:
    """What Lay decides, with trials of this machine's mats as they were learned, unless the job has a newer one."""
    if not learned:
        return lay
    own = {(each.machine, each.mat): each for each in lay.trials}
    for mat in machine.all_mats:
        right, down = (find_learned(learned, place_key(machine.name, mat.id, side)) for side in ("right", "down"))
        if right is None or down is None or max(abs(right.value), abs(down.value)) > MOST_MM:
            continue
        key = (machine.name, mat.id)
        if key not in own or own[key].made < right.made:
            own[key] = CornerTrial(f"learned-{mat.id}", right.made, *key, right.value, down.value)
    return structs.replace(lay, trials=tuple(own.values())[-24:])
