"""The book with 10,000 runs: opening, searching and learning, beside plain sqlite3; and kills while it is written.

bin/bench book            # sizes and times
bin/bench book kill 200   # so many kill -9 at random moments of writing; what is left is looked at
"""

from __future__ import annotations

import os
import random
import signal
import sqlite3
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from msgspec.structs import replace

from dechirer.core.keep.entries import Entry
from dechirer.core.keep.learning import learn
from dechirer.devices.seasons import write_seasons
from dechirer.formats.book.store import NAME, Book

RUNS = 10_000
WRITER = """
import sys
from pathlib import Path
from dechirer.core.keep.entries import Note
from dechirer.formats.book.store import Book
book = Book(Path(sys.argv[1]))
start = int(sys.argv[2])
for number in range(start, start + 100_000):
    book.keep([Note(f"note-{number}", "2026-05-02", "a", "words " * 60)])
    print(number, flush=True)
"""


def timed(words: str, do: Callable[[], object], times: int = 5) -> None:
    """Do something several times and print the median."""
    took = []
    for _ in range(times):
        began = time.perf_counter()
        do()
        took.append(time.perf_counter() - began)
    print(f"{words:<44} {1000 * sorted(took)[times // 2]:8.1f} ms")


def many(runs: int) -> list[Entry]:
    """Seasons one after the other until there are so many runs."""
    found: list[Entry] = []
    season = write_seasons(1, runs=400)
    for number in range(runs // 400):
        found += [replace(each, id=f"{each.id}-{number}") for each in season]
    return found


def measure() -> None:
    """Open, search, learn, list."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / NAME
        entries = many(RUNS)
        book = Book(path)
        began = time.perf_counter()
        book.keep(entries)
        print(f"{len(entries)} entries of {RUNS} runs written in {time.perf_counter() - began:.1f} s, ", end="")
        book.close()
        print(f"{path.stat().st_size / 1e6:.1f} MB")
        timed("open and count", lambda: Book(path).count())
        plain = sqlite3.connect(path)
        timed("yardstick: sqlite3 counts by itself", lambda: plain.execute("SELECT count(*) FROM entries").fetchone())
        timed("search two words", lambda: book.find("harbour corner"))
        timed("read all", book.entries)
        timed("learn of all", lambda: learn(book.entries()), 3)


def kill(rounds: int) -> None:
    """Kill a writer at random moments; every entry that was told to be written has to be there."""
    pick, lost, half = random.Random(1), 0, 0
    with tempfile.TemporaryDirectory() as folder:
        path, start = Path(folder) / NAME, 0
        for _ in range(rounds):
            arguments = [sys.executable, "-c", WRITER, str(path), str(start)]
            with subprocess.Popen(arguments, stdout=subprocess.PIPE, text=True) as process:
                assert process.stdout is not None
                process.stdout.readline()
                time.sleep(pick.uniform(0.0, 0.25))
                os.kill(process.pid, signal.SIGKILL)
                told = [int(line) for line in process.stdout.read().splitlines() if line.isdigit()]
            last = told[-1] if told else start
            book = Book(path)
            ids = {int(each.id.removeprefix("note-")) for each in book.entries("note")}
            lost += len(set(range(last + 1)) - ids)
            half += bool(book.said)
            start = max(ids) + 1
            book.close()
    print(
        f"{rounds} kills: {lost} entries lost that were told to be kept, {half} times damaged, {start} entries in all"
    )


if __name__ == "__main__":
    if sys.argv[1:2] == ["kill"]:
        kill(int(sys.argv[2]) if len(sys.argv) > 2 else 200)
    else:
        measure()
