"""Saving a job: what is replaced is kept as a version, and what was written is remembered by its stamp."""

from __future__ import annotations

import hashlib
import uuid
from pathlib import Path

from msgspec import Struct, structs

from dechirer.core.job.model import Job
from dechirer.formats.job.archive import write_archive
from dechirer.formats.job.stamp import FileStamp
from dechirer.formats.job.versions import keep_replaced


class Saved(Struct, frozen=True):
    """What a save came to: the stamp of the file, and why the replaced version could not be kept (empty: it is)."""

    stamp: FileStamp
    not_kept: str = ""


def make_job_id() -> str:
    """Return a new id for a job."""
    return uuid.uuid4().hex[:16]


def save_job(path: Path, job: Job, job_id: str) -> Saved:
    """Save a job under its id; the file it replaces is kept as a version. A link is followed.

    Raises:
        OSError: it cannot be written; the old file is whole.
    """
    not_kept = ""
    try:
        keep_replaced(path, job_id)
    except OSError as error:
        not_kept = error.strerror or str(error)
    content = write_archive(path, structs.replace(job, id=job_id))
    found = path.stat()
    # Where the size is another, somebody has written again already; a time of 0 makes the next look read the file.
    changed_ns = found.st_mtime_ns if found.st_size == len(content) else 0
    return Saved(FileStamp(len(content), changed_ns, hashlib.sha256(content).hexdigest()), not_kept)
