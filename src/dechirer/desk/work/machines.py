"""The machines on offer: those that ship with Dechirer and those the maker has kept for other jobs."""

from __future__ import annotations

import re
from functools import lru_cache
from pathlib import Path

import msgspec
from platformdirs import user_config_path

from dechirer.core.brief.machine import Machine, load_machines
from dechirer.core.job.upgrade import upgrade_machine
from dechirer.formats.job.atomic import write_atomically


def machines_folder() -> Path:
    """Where the maker's own profiles are kept."""
    return user_config_path("dechirer") / "machines"


def load_all_machines() -> list[Machine]:
    """Shipped profiles and the maker's own; a profile that cannot be read is passed over."""
    folder = machines_folder()
    try:
        changed = folder.stat().st_mtime_ns
    except OSError:
        changed = 0
    found = {machine.name: machine for machine in load_machines().values()}
    found.update((machine.name, machine) for machine in _read_own(folder, changed))
    return list(found.values())


@lru_cache(maxsize=2)
def _read_own(folder: Path, changed: int) -> tuple[Machine, ...]:
    """The maker's own profiles; read again when the folder has changed, not at every plan that Brief shows."""
    found = []
    for path in sorted(folder.glob("*.json")):
        try:
            found.append(msgspec.convert(upgrade_machine(msgspec.json.decode(path.read_bytes())), Machine))
        except (OSError, msgspec.DecodeError):
            continue
    return tuple(found)


def keep_machine(machine: Machine) -> Path:
    """Keep a profile for other jobs.

    Raises:
        OSError: the settings folder cannot be written to.
    """
    folder = machines_folder()
    folder.mkdir(parents=True, exist_ok=True)
    name = re.sub(r"[^a-z0-9]+", "-", machine.name.lower()).strip("-") or "machine"
    path = folder / f"{name}.json"
    write_atomically(path, msgspec.json.format(msgspec.json.encode(machine), indent=2))
    return path
