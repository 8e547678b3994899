"""Writing a file so that a crash, a full disk or a pulled plug leaves the old one whole."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

PART = ".dechirer-"
"""How temporary files begin: short, so that a name as long as the file system allows can be written to."""


def write_atomically(path: Path, content: bytes) -> None:
    """Write to a temporary file in the same folder, flush it to the disk, and rename it over the old one.

    A link is followed: what it leads to is written.

    Raises:
        OSError: the folder is missing or read-only, or the disk is full; the old file is untouched.
    """
    path = Path(os.path.realpath(path)) if path.is_symlink() else path
    put_in_place(write_beside(path, content), path)
    flush_folder(path.parent)


def put_in_place(temporary: Path, path: Path) -> None:
    """Rename a file that was written beside over the one it takes the place of, with the rights of that one.

    Raises:
        OSError: it cannot be renamed; the old file is untouched, and nothing stays beside it.
    """
    try:
        mode = path.stat().st_mode & 0o777 if path.exists() else 0o666 & ~_umask()
        os.chmod(temporary, mode)
        os.replace(temporary, path)
    except BaseException:
        temporary.unlink(missing_ok=True)
        raise


def write_beside(path: Path, content: bytes) -> Path:
    """Write to a temporary file in the folder of a path, flushed to the disk; returns it.

    Raises:
        OSError: the folder is missing or read-only, or the disk is full; nothing stays behind.
    """
    handle, name = tempfile.mkstemp(prefix=PART, suffix=".part", dir=path.parent)
    temporary = Path(name)
    try:
        with os.fdopen(handle, "wb") as out:
            out.write(content)
            out.flush()
            os.fsync(out.fileno())
    except BaseException:
        temporary.unlink(missing_ok=True)
        raise
    return temporary


def flush_folder(path: Path) -> None:
    """Flush the names in a folder to the disk, where the file system does that."""
    folder = os.open(path, os.O_RDONLY)
    try:
        os.fsync(folder)
    except OSError:
        pass  # some file systems do not flush folders; the rename itself has happened
    finally:
        os.close(folder)


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask
