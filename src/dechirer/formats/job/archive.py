"""The job archive: a zip with `job.json` and its assets. Archives from strangers are hostile until read."""

from __future__ import annotations

import io
import os
import struct
import zipfile
import zlib
from pathlib import Path, PurePosixPath
from typing import BinaryIO

from dechirer.core.job.model import Job, JobError, read_job_told, write_job_json
from dechirer.formats.job.atomic import write_atomically
from dechirer.formats.untrusted_files import open_regular, quote

JOB_ENTRY = "job.json"
MOST_JOB_BYTES = 96 * 1024 * 1024
MOST_ENTRIES = 2000
MOST_DIRECTORY_BYTES = MOST_ENTRIES * 512
END_BYTES, LOCATOR_BYTES = 22, 20
END_SIGNATURE, LOCATOR_SIGNATURE = b"PK\5\6", b"PK\6\7"
MOST_ARCHIVE_BYTES = 512 * 1024 * 1024


DAMAGE = (
    zipfile.BadZipFile,
    zlib.error,
    struct.error,
    EOFError,
    RuntimeError,
    ValueError,
    OverflowError,
    KeyError,
    OSError,
)
"""What a damaged archive makes the zip reader raise: a RuntimeError among it is a way to pack that it does not know, an
OSError a place beyond the file's end."""


class ArchiveError(ValueError):
    """An archive that cannot be read; the message names the file and the place in it."""


def write_archive(path: Path, job: Job) -> bytes:
    """Save a job, leaving the old file whole when anything fails. Returns the bytes written.

    Raises:
        OSError: the folder is missing or read-only, or the disk is full.
    """
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        # A fixed date makes equal jobs equal files.
        entry = zipfile.ZipInfo(JOB_ENTRY, (1980, 1, 1, 0, 0, 0))
        entry.compress_type = zipfile.ZIP_DEFLATED
        entry.external_attr = 0o644 << 16
        archive.writestr(entry, write_job_json(job))
    write_atomically(path, out.getvalue())
    return out.getvalue()


def read_archive(path: Path) -> Job:
    """Read a job; raises as `read_archive_told`."""
    return read_archive_told(path)[0]


def read_archive_told(path: Path) -> tuple[Job, int]:
    """Read a job; with how many of its texts had something in them that is no letter, which was left out.

    Raises:
        ArchiveError: not an archive, damaged, an unsafe entry, too large, or a job that is not valid. The message
            begins with the file's name and names the field or entry.
        OSError: the file cannot be opened.
    """
    text = read_job_entry(path)
    try:
        return read_job_told(text)
    except JobError as error:
        raise ArchiveError(f"{path.name}, {JOB_ENTRY}: {error}") from None


def read_job_entry(path: Path) -> bytes:
    """Read the JSON of a job out of its archive, as it stands there.

    Raises:
        ArchiveError: not a regular file, not an archive, damaged, an unsafe entry, or too large.
        OSError: the file cannot be opened.
    """
    with open_regular(path, MOST_ARCHIVE_BYTES, ArchiveError) as handle:
        try:
            _refuse_many(path, handle)
            with zipfile.ZipFile(handle) as archive:
                _refuse_unsafe(path, archive)
                return _read_entry(path, archive, JOB_ENTRY, MOST_JOB_BYTES)
        except ArchiveError:
            raise
        except DAMAGE:
            raise ArchiveError(f"{quote(path.name)} is damaged or not a Dechirer job.") from None


def _refuse_many(path: Path, handle: BinaryIO) -> None:
    """Refuse an archive whose directory is too long, before the zip reader makes an object of each entry.

    The end of central directory record and the ZIP64 locator before it are described in PKWARE's APPNOTE, sections
    4.3.16 and 4.3.15.
    """
    size = handle.seek(0, os.SEEK_END)
    handle.seek(max(0, size - END_BYTES - 0xFFFF - LOCATOR_BYTES))
    tail = handle.read()
    handle.seek(0)
    at = len(tail) - END_BYTES
    # A record without a comment ends the file. Only else is it looked for: its own counts may spell its signature.
    if at < 0 or tail[at : at + 4] != END_SIGNATURE or tail[-2:] != b"\0\0":
        at = tail.rfind(END_SIGNATURE)
    if at < 0 or len(tail) - at < END_BYTES:
        return  # not an archive, as the zip reader finds
    _, _, _, on_disk, entries, directory, _, _ = struct.unpack("<4s4H2LH", tail[at : at + END_BYTES])
    if tail[max(0, at - LOCATOR_BYTES) : at].startswith(LOCATOR_SIGNATURE):
        raise ArchiveError(f"{quote(path.name)} is a ZIP64 archive, which a job never is.")
    if max(on_disk, entries) > MOST_ENTRIES or directory > MOST_DIRECTORY_BYTES:
        raise ArchiveError(f"{quote(path.name)} has more than {MOST_ENTRIES} entries.")


def _refuse_unsafe(path: Path, archive: zipfile.ZipFile) -> None:
    entries = archive.infolist()
    if len(entries) > MOST_ENTRIES:
        raise ArchiveError(f"{quote(path.name)} has {len(entries)} entries, more than {MOST_ENTRIES}.")
    for entry in entries:
        name = PurePosixPath(entry.filename.replace("\\", "/"))
        if name.is_absolute() or ".." in name.parts or ":" in entry.filename:
            raise ArchiveError(f"{quote(path.name)}: entry “{quote(entry.filename)}” points outside the archive.")
    names = [entry.filename for entry in entries]
    if names.count(JOB_ENTRY) != 1:
        raise ArchiveError(f"{quote(path.name)} has {names.count(JOB_ENTRY)} entries named {JOB_ENTRY}; a job has one.")


def _read_entry(path: Path, archive: zipfile.ZipFile, name: str, most: int) -> bytes:
    """Read at most `most` bytes, whatever the entry says of its own size."""
    with archive.open(name) as entry:
        text = entry.read(most + 1)
    if len(text) > most:
        raise ArchiveError(f"{quote(path.name)}, {name}: unpacks to over {most // 1024**2} MB, too large for a job.")
    return text
