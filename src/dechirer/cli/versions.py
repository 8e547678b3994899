"""`dechirer versions`: the earlier versions of a job, and one of them put back."""

from __future__ import annotations

import json
from pathlib import Path

from dechirer.cli.saying import BadInput, say
from dechirer.core.job.model import Job
from dechirer.core.plan import make_plan
from dechirer.formats.job.saving import make_job_id, save_job
from dechirer.formats.job.version_changes import describe_changes
from dechirer.formats.job.versions import Version, VersionError, VersionStore


def run_versions(path: Path, job: Job, restore: int | None, *, as_json: bool) -> None:
    """List the versions of a job with what changed since, or restore one; what it replaces is kept as a version.

    Raises:
        BadInput: the version does not exist, or the file cannot be written.
    """
    store = VersionStore(job.id) if job.id else None
    versions = store.list_versions() if store is not None else []
    if restore is not None:
        _restore(path, job, store, restore)
        return
    if as_json:
        say(json.dumps([_record(version) for version in versions], indent=1, ensure_ascii=False))
        return
    if store is None or not versions:
        say(f"{path.name} has no earlier versions")
        return
    now = make_plan(job)
    for version in versions:
        try:
            changes = describe_changes(make_plan(store.read(version.number)), now)
        except VersionError as error:
            changes = str(error)
        say(f"{version.number}  {version.saved}  {version.name or version.path}: {changes}")


def _restore(path: Path, job: Job, store: VersionStore | None, number: int) -> None:
    try:
        if store is None:
            raise VersionError(f"version {number} does not exist")
        earlier = store.read(number)
        save_job(path, earlier, job.id or make_job_id())
    except VersionError as error:
        raise BadInput(f"--restore: {error}") from None
    except OSError as error:
        raise BadInput(f"{path}: {error.strerror or error}") from None
    say(f"Version {number} is restored in {path.name}; the replaced one is kept among the versions", err=True)


def _record(version: Version) -> dict[str, object]:
    return {
        "number": version.number,
        "saved": version.saved,
        "name": version.name,
        "path": version.path,
        "is_job": version.is_job,
    }
