"""Writing a file so that a crash, a full disk or a pulled plug leaves the old one whole."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path


def write_atomically(path: Path, content: bytes) -> None:
    """Write to a temporary file in the same folder, flush it to the disk, and rename it over the old one.

    Raises:
        OSError: the folder is missing or read-only, or the disk is full; the old file is untouched.
    """
    handle, name = tempfile.mkstemp(prefix=f".{path.name}.", suffix=".part", dir=path.parent)
    temporary = Path(name)
    try:
        with os.fdopen(handle, "wb") as out:
            out.write(content)
            out.flush()
            os.fsync(out.fileno())
        mode = path.stat().st_mode & 0o777 if path.exists() else 0o666 & ~_umask()
        os.chmod(temporary, mode)
        os.replace(temporary, path)
    except BaseException:
        temporary.unlink(missing_ok=True)
        raise
    folder = os.open(path.parent, os.O_RDONLY)
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
