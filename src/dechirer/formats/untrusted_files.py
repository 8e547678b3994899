"""Files from strangers: opened only when they are regular files of a bearable size, and quoted only in part."""

from __future__ import annotations

import os
import stat
import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import BinaryIO

from dechirer.core.decide.letters import clean

MOST_QUOTED = 60


def quote(text: object, most: int = MOST_QUOTED) -> str:
    """Return a text for a message: without control characters, in one line, at most `most` letters."""
    plain = clean(str(text), "\ufffd").replace("\n", " ").replace("\t", " ")
    return plain if len(plain) <= most else f"{plain[: most - 1]}…"


def open_checked(path: Path, most: int, error: type[Exception]) -> BinaryIO:
    """Open a regular file for reading; a pipe or a device is refused without waiting for it.

    Args:
        most: the largest size in bytes.
        error: the kind of error a file is refused with.

    Raises:
        error: a folder, a pipe, a device or a socket, or too large.
        OSError: it does not exist or cannot be opened.
    """
    # Without O_NONBLOCK, opening a pipe waits until somebody writes to it.
    handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
    try:
        found = os.fstat(handle)
        if stat.S_ISDIR(found.st_mode):
            raise error(f"{quote(path.name)} is a folder, not a file.")
        if not stat.S_ISREG(found.st_mode):
            raise error(f"{quote(path.name)} is not a regular file.")
        if found.st_size > most:
            raise error(f"{quote(path.name)} is {found.st_size / 1e6:.0f} MB; the limit is {most / 1e6:.0f} MB.")
        return os.fdopen(handle, "rb")
    except BaseException:
        os.close(handle)
        raise


@contextmanager
def open_regular(path: Path, most: int, error: type[Exception]) -> Iterator[BinaryIO]:
    """As `open_checked`, closed at the end."""
    handle = open_checked(path, most, error)
    try:
        yield handle
    finally:
        handle.close()


def read_regular(path: Path, most: int, error: type[Exception]) -> bytes:
    """Read a regular file of at most `most` bytes, even when it grows meanwhile.

    Raises:
        error: as `open_checked`, or it grew past the limit.
        OSError: it cannot be read.
    """
    with open_regular(path, most, error) as handle:
        content = handle.read(most + 1)
    if len(content) > most:
        raise error(f"{quote(path.name)} is over {most / 1e6:.0f} MB; the limit is {most / 1e6:.0f} MB.")
    return content


_quiet = threading.RLock()


@contextmanager
def quiet_libraries() -> Iterator[None]:
    """Keep compiled libraries from printing to the terminal; meanwhile nothing reaches standard error.

    They write to the file descriptor itself, past Python. Where there is no standard error nothing is done.
    """
    with _quiet:
        try:
            sys.stderr.flush()
            kept = os.dup(2)
        except (OSError, AttributeError, ValueError):
            yield
            return
        try:
            nothing = os.open(os.devnull, os.O_WRONLY)
            os.dup2(nothing, 2)
            os.close(nothing)
            yield
        finally:
            with suppress(OSError):
                os.dup2(kept, 2)
            os.close(kept)
