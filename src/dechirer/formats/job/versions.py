"""Earlier versions of a job: every save keeps the file that it replaces.

A version is the job's JSON with its long texts (outlines, pictures, typefaces) taken out and stored once under their
hash, so that twenty versions of a job with pictures take little more room than one. Versions of a job stand under its
id; a file that is no job is kept as it is. The last 20 stay, and one a day for 30 days.
"""

from __future__ import annotations

import fcntl
import hashlib
import json
import os
import re
import stat
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

from msgspec import Struct
from platformdirs import user_data_path

from dechirer.core.job.model import Job, read_job_json
from dechirer.formats.job.archive import DAMAGE, MOST_ARCHIVE_BYTES, ArchiveError, read_job_entry
from dechirer.formats.job.atomic import write_atomically

LAST_KEPT = 20
DAYS_KEPT = 30
LONG_TEXT = 2000
"""Texts from so many letters are stored under their hash."""
REFERENCE = "\0version:"
"""How a reference to such a text begins; no text of a job may hold this sign."""
MOST_BLOB_BYTES = 256 * 1024 * 1024


class VersionError(ValueError):
    """A version that cannot be read; the message says which and why."""


class Version(Struct, frozen=True):
    """An earlier version of a job.

    Attributes:
        number: counts up from 1 and is never used twice.
        saved: when the version was written to its file (UTC, ISO 8601).
        name: the job's name then; empty where the file was not a job.
        path: the file it was in.
        sha256: of the content, to leave out what is there already.
        is_job: whether it can be opened; else it is the file's bytes as they were.
    """

    number: int
    saved: str
    name: str
    path: str
    sha256: str
    is_job: bool = True


class FileContent(Struct, frozen=True):
    """What a file holds: a job's JSON as text and as plain data, or any other bytes (`plain` is None); and when it was
    written."""

    text: bytes
    plain: Any
    saved: datetime

    @property
    def is_job(self) -> bool:
        """Whether it looks like a job."""
        return isinstance(self.plain, dict) and isinstance(self.plain.get("name"), str)

    @property
    def name(self) -> str:
        """The job's name; empty for another file."""
        return str(self.plain["name"]) if self.is_job else ""

    @property
    def job_id(self) -> str:
        """The job's id; empty where it has none."""
        id = self.plain.get("id") if self.is_job else None
        return id if isinstance(id, str) and re.fullmatch("[0-9a-f]{1,64}", id) else ""


def read_content(path: Path) -> FileContent | None:
    """Read what a file holds, whatever it is; None where there is no regular file, or one that is too large."""
    try:
        found = path.stat()
        saved = datetime.fromtimestamp(found.st_mtime, UTC)
        if not stat.S_ISREG(found.st_mode) or found.st_size > MOST_ARCHIVE_BYTES:
            return None
        try:
            text = read_job_entry(path)
            return FileContent(text, json.loads(text), saved)
        except (ArchiveError, *DAMAGE, RecursionError):
            return FileContent(path.read_bytes(), None, saved)
    except OSError:
        return None


def keep_replaced(path: Path, job_id: str, folder: Path | None = None) -> Version | None:
    """Keep the file that a save is about to replace, among the versions of the job that is in it.

    Args:
        job_id: the id of the job that is saved, for a file without one.

    Returns:
        The version; None where there is no file, or it is the newest version already.

    Raises:
        OSError: the data folder cannot be written to.
    """
    content = read_content(path)
    if content is None:
        return None
    return VersionStore(content.job_id or job_id, folder).keep_content(content, path)


def versions_folder() -> Path:
    """Return the folder of all versions, in the data folder of the platform."""
    return user_data_path("dechirer") / "versions"


class VersionStore:
    """The versions of one job."""

    def __init__(self, job_id: str, folder: Path | None = None) -> None:
        self.root = (folder or versions_folder()) / (job_id or "unnamed")
        self._blobs = self.root / "texts"

    def list_versions(self) -> list[Version]:
        """List the versions, the newest first; records that cannot be read are left out."""
        found = []
        for path in self.root.glob("*.version"):
            try:
                found.append(self._read_record(path)[0])
            except VersionError:
                continue
        return sorted(found, key=lambda version: -version.number)

    def keep_content(self, content: FileContent, path: Path, now: datetime | None = None) -> Version | None:
        """Keep what a file held; None where it is the newest version already.

        Raises:
            OSError: the data folder cannot be written to.
        """
        body = content.plain if content.is_job else content.text
        return self._keep(body, content.text, content.name, path, content.saved, now or datetime.now(UTC))

    def keep_job(self, text: bytes, path: Path | None, now: datetime | None = None) -> Version | None:
        """Keep a job that is not in a file, as JSON.

        Raises:
            OSError: the data folder cannot be written to.
        """
        plain, now = json.loads(text), now or datetime.now(UTC)
        return self._keep(plain, text, plain["name"], path or Path(), now, now)

    def _keep(self, content: Any, text: bytes, name: str, path: Path, saved: datetime, now: datetime) -> Version | None:
        digest = hashlib.sha256(text).hexdigest()
        with self._locked():
            versions = self.list_versions()
            if versions and versions[0].sha256 == digest:
                return None
            number = 1 + max([self._read_last(), *(version.number for version in versions)])
            is_job = not isinstance(content, bytes)
            when = saved.isoformat(timespec="seconds")
            version = Version(number, when, name, str(path), digest, is_job)
            body = self._take_out(content) if is_job else self._store(content)
            record = json.dumps({"version": _as_plain(version), "body": body}, ensure_ascii=False).encode()
            write_atomically(self.root / f"{number:06d}.version", zlib.compress(record, 6))
            write_atomically(self.root / "last", str(number).encode())
            self._prune([version, *versions], now)
        return version

    def read(self, number: int) -> Job:
        """Read a version as a job.

        Raises:
            VersionError: it does not exist, is damaged, or is not a job.
        """
        version, body = self._read_record(self.root / f"{number:06d}.version")
        if not version.is_job:
            raise VersionError(f"version {number} is not a job; its file was damaged when it was replaced")
        try:
            return read_job_json(json.dumps(self._put_in(body)).encode())
        except (ValueError, OSError, zlib.error, RecursionError) as error:
            raise VersionError(f"version {number} cannot be read: {error}") from None

    # --- records and long texts ----------------------------------------------------------------------------------

    def _read_record(self, path: Path) -> tuple[Version, Any]:
        number = path.stem.lstrip("0") or path.stem
        try:
            record = json.loads(_unpack(path.read_bytes()))
            version = Version(**record["version"])
        except FileNotFoundError:
            raise VersionError(f"version {number} does not exist") from None
        except (OSError, ValueError, KeyError, TypeError, zlib.error, RecursionError):
            raise VersionError(f"version {number} is damaged") from None
        return version, record["body"]

    def _take_out(self, value: Any) -> Any:
        if isinstance(value, str) and len(value) >= LONG_TEXT:
            return REFERENCE + self._store(value.encode("utf-8", "surrogatepass"))
        if isinstance(value, list):
            return [self._take_out(each) for each in value]
        if isinstance(value, dict):
            return {key: self._take_out(each) for key, each in value.items()}
        return value

    def _put_in(self, value: Any) -> Any:
        if isinstance(value, str) and value.startswith(REFERENCE):
            return self._load(value.removeprefix(REFERENCE)).decode("utf-8", "surrogatepass")
        if isinstance(value, list):
            return [self._put_in(each) for each in value]
        if isinstance(value, dict):
            return {key: self._put_in(each) for key, each in value.items()}
        return value

    def _store(self, content: bytes) -> str:
        digest = hashlib.sha256(content).hexdigest()
        path = self._blobs / digest
        if not path.exists():
            self._blobs.mkdir(parents=True, exist_ok=True)
            write_atomically(path, zlib.compress(content, 6))
        return digest

    def _load(self, digest: str) -> bytes:
        content = _unpack((self._blobs / Path(digest).name).read_bytes())
        if hashlib.sha256(content).hexdigest() != digest:
            raise ValueError("a stored text is damaged")
        return content

    def _read_last(self) -> int:
        try:
            return int((self.root / "last").read_bytes())
        except (OSError, ValueError):
            return 0

    # --- keeping few ---------------------------------------------------------------------------------------------

    def _prune(self, versions: list[Version], now: datetime) -> None:
        kept = {version.number for version in choose_kept(versions, now)}
        used: set[str] = set()
        for path in self.root.glob("*.version"):
            try:
                version, body = self._read_record(path)
            except VersionError:
                continue
            if version.number not in kept:
                path.unlink()
            else:
                used |= set(_references(body)) if version.is_job else {body}
        for path in self._blobs.glob("*") if self._blobs.is_dir() else ():
            if path.name not in used:
                path.unlink()

    @contextmanager
    def _locked(self) -> Iterator[None]:
        self.root.mkdir(parents=True, exist_ok=True)
        handle = os.open(self.root, os.O_RDONLY)
        try:
            fcntl.flock(handle, fcntl.LOCK_EX)
            yield
        finally:
            os.close(handle)


def choose_kept(versions: list[Version], now: datetime) -> list[Version]:
    """Choose the versions that stay: the last 20, and of the rest the last of each day, for 30 days."""
    ordered = sorted(versions, key=lambda version: -version.number)
    kept, days = ordered[:LAST_KEPT], set()
    oldest = now - timedelta(days=DAYS_KEPT)
    for version in ordered[LAST_KEPT:]:
        day = version.saved[:10]
        if day not in days and datetime.fromisoformat(version.saved) >= oldest:
            days.add(day)
            kept.append(version)
    return kept


def _references(value: Any) -> Iterator[str]:
    if isinstance(value, str):
        if value.startswith(REFERENCE):
            yield value.removeprefix(REFERENCE)
    elif isinstance(value, list):
        for each in value:
            yield from _references(each)
    elif isinstance(value, dict):
        for each in value.values():
            yield from _references(each)


def _as_plain(version: Version) -> dict[str, Any]:
    return {name: getattr(version, name) for name in version.__struct_fields__}


def _unpack(data: bytes) -> bytes:
    unpacker = zlib.decompressobj()
    content = unpacker.decompress(data, MOST_BLOB_BYTES)
    if unpacker.unconsumed_tail:
        raise ValueError("too large")
    return content
