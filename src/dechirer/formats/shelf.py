"""The maker's own shelf: designs, words, recipes and papers kept in files, to be used again in any job.

A file of the shelf is a small job, and read with the same care; its name is that of what is kept.
"""

from __future__ import annotations

import re
from pathlib import Path

from msgspec import Struct, structs

from dechirer.core.brief.decisions import Paper
from dechirer.core.dress.carry import Kept
from dechirer.core.job.model import Job, from_plain, to_plain
from dechirer.core.job.new import make_job
from dechirer.formats.job.archive import ArchiveError, read_archive, write_archive

SUFFIX = ".kept"
MOST_FILES = 400
FRONT, GROUND = "front", "shelf-ground"
"""The face and the paper of the plain card that things on the shelf are shown on."""


class Shelved(Struct, frozen=True):
    """A file of the shelf, read: its name, and what is kept in it; `job` shows it on a plain card."""

    path: Path
    name: str
    kept: Kept
    job: Job

    @property
    def is_paper(self) -> bool:
        """Whether it holds papers and nothing to put on a face."""
        return not self.kept.dress.items


def write_kept(folder: Path, name: str, kept: Kept) -> Path:
    """Keep something under a name; a second one of the same name is kept beside the first. Returns its file.

    Raises:
        OSError: the folder cannot be written to.
        ValueError: it is more than a job may hold.
    """
    folder.mkdir(parents=True, exist_ok=True)
    stem = re.sub(r"[^\w -]+", "-", name, flags=re.UNICODE).strip(" .-")[:60] or "kept"
    path = next(
        path
        for number in range(1, 10_000)
        if not (path := folder / f"{stem}{'' if number == 1 else f' {number}'}{SUFFIX}").exists()
    )
    write_archive(path, _as_job(name, kept))
    return path


def read_kept(path: Path) -> Shelved:
    """Read a file of the shelf.

    Raises:
        ArchiveError: it is damaged, or no file of the shelf; the message begins with its name.
        OSError: it cannot be opened.
    """
    job = read_archive(path)
    papers = tuple(paper for paper in job.brief.papers if paper.id != GROUND)
    return Shelved(path, job.name, Kept(job.dress, papers), job)


def list_shelf(folder: Path) -> list[Path]:
    """The files of the shelf, those kept last first."""
    try:
        files = [path for path in folder.iterdir() if path.suffix == SUFFIX and path.is_file()]
        return sorted(files, key=lambda path: path.stat().st_mtime, reverse=True)[:MOST_FILES]
    except OSError:
        return []


def keep_paper(paper: Paper) -> Kept:
    """A paper to be kept; how many sheets of it are left is a matter of the job."""
    return Kept(structs.replace(make_job().dress), (structs.replace(paper, on_hand=None),))


def _as_job(name: str, kept: Kept) -> Job:
    job = make_job(name=name)
    ground = structs.replace(job.brief.papers[0], id=GROUND)
    brief = structs.replace(job.brief, papers=(ground, *kept.papers), base_paper=GROUND)
    # On the plain card that shows it everything is on the front; where it goes is said when it is used.
    items = tuple(structs.replace(item, face=FRONT) for item in kept.dress.items)
    dress = structs.replace(kept.dress, items=items)
    return from_plain(to_plain(structs.replace(job, brief=brief, dress=dress)))


__all__ = ["SUFFIX", "ArchiveError", "Shelved", "keep_paper", "list_shelf", "read_kept", "write_kept"]
