"""The manifest of an export, `export.json`: which files a folder holds of which job, with their hashes.

Only what a manifest lists, with the hash it lists, is ever replaced or removed. A manifest may come from a stranger, so
its paths are taken only where they are relative, stay in the folder and are named as an output of ours is.
"""

from __future__ import annotations

import hashlib
import json
from fnmatch import fnmatchcase
from pathlib import Path, PurePosixPath
from typing import Any

import msgspec
from msgspec import Struct

from dechirer import __version__
from dechirer.core.job.model import Job, write_job_compact
from dechirer.formats.output import OUTPUTS

MANIFEST = "export.json"
MANIFEST_FORMAT = 1
MOST_MANIFEST_BYTES = 4 * 1024 * 1024
MOST_FILES = 20_000
CHUNK_BYTES = 1 << 20


class ManifestFile(Struct, frozen=True):
    """A file of an export: its path in the folder, its size in bytes, its SHA-256, the digest of the job it was made
    from, and the number of its mat (0 for a file of the whole job)."""

    path: str
    size: int
    sha256: str
    made_from: str = ""
    mat: int = 0


class Manifest(Struct, frozen=True):
    """What a folder holds: the job's id, name and description, the date (ISO 8601, UTC), and its files in order."""

    job_id: str
    job_name: str
    about: str
    date: str
    files: tuple[ManifestFile, ...] = ()

    def find(self, path: str) -> ManifestFile | None:
        """Return the entry of a path, or None."""
        return next((file for file in self.files if file.path == path), None)

    def is_of(self, job: Job, job_id: str) -> bool:
        """Tell whether this is the export of a job: by its id where both have one, else by name and description."""
        if self.job_id and job_id:
            return self.job_id == job_id
        return (self.job_name, self.about) == (job.name, job.about)


def digest_job(job: Job) -> str:
    """Return the SHA-256 of a job as compact JSON, without its id: equal decisions have equal digests."""
    return hashlib.sha256(write_job_compact(msgspec.structs.replace(job, id=""))).hexdigest()


def digest_file(path: Path) -> str:
    """Return the SHA-256 of a regular file; empty where there is none that can be read."""
    digest = hashlib.sha256()
    try:
        if not path.is_file():
            return ""
        with path.open("rb") as handle:
            while chunk := handle.read(CHUNK_BYTES):
                digest.update(chunk)
    except OSError:
        return ""
    return digest.hexdigest()


def write_manifest(manifest: Manifest) -> bytes:
    """Return a manifest as indented JSON."""
    record = {
        "format": MANIFEST_FORMAT,
        "program": f"Dechirer {__version__}",
        "job": {"id": manifest.job_id, "name": manifest.job_name, "about": manifest.about},
        "date": manifest.date,
        "files": [msgspec.to_builtins(file) for file in manifest.files],
    }
    return json.dumps(record, indent=1, ensure_ascii=False).encode() + b"\n"


def read_manifest(folder: Path) -> Manifest | None:
    """Return the manifest of a folder; None where there is none, or none that this program wrote."""
    path = folder / MANIFEST
    try:
        if not path.is_file() or path.stat().st_size > MOST_MANIFEST_BYTES:
            return None
        record = json.loads(path.read_bytes())
        job = record["job"]
        files = msgspec.convert(record["files"][:MOST_FILES], tuple[ManifestFile, ...])
        texts: tuple[Any, ...] = (job["id"], job["name"], job["about"], record["date"])
    except (OSError, ValueError, KeyError, TypeError, AttributeError, RecursionError):
        return None
    if record.get("format") != MANIFEST_FORMAT or not all(isinstance(text, str) for text in texts):
        return None
    job_id, job_name, about, date = texts
    return Manifest(job_id, job_name, about, date, tuple(file for file in files if is_output_path(file.path)))


def is_output_path(path: str) -> bool:
    """Tell whether a path in a manifest may be one of an output: relative, inside the folder, and named as one is."""
    pure = PurePosixPath(path)
    if pure.is_absolute() or ".." in pure.parts or "\\" in path or "\0" in path:
        return False
    return any(fnmatchcase(path, pattern) for pattern in (*EXTRA_PATTERNS, *(spec.pattern() for spec in OUTPUTS)))


EXTRA_PATTERNS = ("press/calibration-*.pdf", "press/calibration-*.svg")
"""Files that a command writes besides the registered outputs."""
