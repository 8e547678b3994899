"""Job archives and logbooks of strangers, damaged at random: each is read or refused in one line, and nothing hangs.

`python -m bench.mutated_books [how many] [seed]`. A refusal names the file, is one line of at most 300 characters, and
holds no sentence of the interpreter.
"""

from __future__ import annotations

import contextlib
import random
import re
import sqlite3
import sys
import tempfile
import time
import traceback
import zipfile
from pathlib import Path

from bench.mutated import mutate
from dechirer.core.job.model import write_job_json
from dechirer.core.keep.entries import Note
from dechirer.demo import load_demo_job
from dechirer.formats.book.exchange import read_exported, write_export
from dechirer.formats.book.schema import BookError
from dechirer.formats.book.store import Book
from dechirer.formats.job.archive import ArchiveError, read_archive, write_archive

FOREIGN = re.compile(r"object cannot be|codec can't|has no attribute|Traceback|invalid literal|unhashable|^'\w+'$")
"""Sentences of the interpreter."""
MOST_WORDS = 300


def seeds(folder: Path) -> dict[str, bytes]:
    """Good files to begin with: archives, stored and packed, a logbook, and its exports."""
    job = load_demo_job("kites")
    write_archive(folder / "a.dechirer", job)
    with zipfile.ZipFile(folder / "stored.dechirer", "w", zipfile.ZIP_STORED) as archive:
        archive.writestr("job.json", write_job_json(job))
    book = Book(folder / "book.sqlite")
    book.keep([Note(f"note-{number}", "2026-05-02", "kites", f"cut {number}", "") for number in range(80)])
    (folder / "book.json").write_bytes(write_export(book, False))
    (folder / "book.csv").write_bytes(write_export(book, True))
    book.close()
    with contextlib.closing(sqlite3.connect(folder / "book.sqlite", isolation_level=None)) as opened:
        opened.execute("PRAGMA journal_mode = DELETE")
    names = ("a.dechirer", "stored.dechirer", "book.sqlite", "book.json", "book.csv")
    return {name: (folder / name).read_bytes() for name in names}


def try_one(path: Path, number: int) -> str:
    """What is wrong with how a file is taken; empty for nothing."""
    try:
        if path.suffix == ".dechirer":
            read_archive(path)
            return ""
        read_exported(path)
        if path.suffix == ".sqlite":
            own = Book(path.with_name(f"own-{number}.sqlite"))
            try:
                own.restore(path)
                own.entries()
            finally:
                own.close()
                for each in path.parent.glob(f"own-{number}*"):
                    each.unlink()
    except (ArchiveError, BookError) as error:
        words = str(error)
        if "\n" in words or len(words) > MOST_WORDS or FOREIGN.search(words):
            return f"the refusal is not plain: {words[:400]!r}"
    except Exception:  # noqa: BLE001 - whatever comes out is what is looked for
        return traceback.format_exc(limit=5)
    return ""


def main() -> int:
    """Try and print."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 5000
    seed = int(sys.argv[2]) if len(sys.argv) > 2 else 1
    rng, wrong, slowest = random.Random(seed), 0, (0.0, "")
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        begin = seeds(folder)
        for number in range(count):
            kind = rng.choice(tuple(begin))
            path = folder / f"damaged-{kind}"
            path.write_bytes(mutate(begin[kind], rng))
            began = time.thread_time()
            why = try_one(path, number)
            slowest = max(slowest, (time.thread_time() - began, kind))
            if why:
                wrong += 1
                print(f"{kind} {number}: {why}\n", flush=True)
    print(f"{count} damaged files, seed {seed}: {wrong} wrong; the slowest took {slowest[0]:.2f} s ({slowest[1]})")
    return int(wrong > 0)


if __name__ == "__main__":
    sys.exit(main())
