"""Every output file of a job, written into a folder of the job's own: all of them, or none.

A manifest lists what was written. Files that are not in it, files changed since, and the export of another job are
never touched without consent: `ExportConflictError` names them.
"""

from __future__ import annotations

import errno
import hashlib
import stat
from collections.abc import Callable, Collection, Sequence
from contextlib import suppress
from datetime import UTC, datetime
from fnmatch import fnmatchcase
from pathlib import Path

from msgspec import Struct
from platformdirs import user_documents_path

from dechirer.core.decide.letters import make_file_name
from dechirer.core.plan import Plan
from dechirer.core.words import count
from dechirer.formats.export_folder import UNFINISHED, Stage, locked, recover
from dechirer.formats.export_manifest import (
    MANIFEST,
    Manifest,
    ManifestFile,
    digest_file,
    digest_job,
    read_manifest,
    write_manifest,
)
from dechirer.formats.output import OUTPUTS, OutputFile

MOST_NAMED = 8
WHYS = {
    "unknown": "not written by Dechirer",
    "changed": "changed since it was exported",
    "other": "exported from another job",
}


class ExportCancelledError(Exception):
    """The user stopped the export; the previous files are unchanged."""


class Conflict(Struct, frozen=True):
    """A file that an export would replace or remove and that is not unchanged output of this job.

    Attributes:
        path: its path in the folder.
        why: a key of WHYS.
    """

    path: str
    why: str

    @property
    def is_listed(self) -> bool:
        """Whether a manifest of this program lists it, so that `--replace` may replace it."""
        return self.why != "unknown"


class ExportConflictError(OSError):
    """An export would touch files that are not its own; `conflicts` lists them. Nothing was written."""

    def __init__(self, folder: Path, conflicts: Sequence[Conflict], job_name: str = "") -> None:
        self.folder, self.conflicts, self.job_name = folder, tuple(conflicts), job_name
        named = [f"{each.path} ({WHYS[each.why]})" for each in conflicts[:MOST_NAMED]]
        more = f" and {len(conflicts) - MOST_NAMED} more" if len(conflicts) > MOST_NAMED else ""
        super().__init__(errno.EEXIST, f"these files are in the way: {', '.join(named)}{more}", str(folder))


class Choice(Struct, frozen=True):
    """Which files are written: by outputs' ids (None: all), beginnings of their ids and numbers of mats (empty: all).

    With mats chosen, only the files of those mats are written, and nothing else is removed.
    """

    outputs: frozenset[str] | None = None
    only: tuple[str, ...] = ()
    mats: tuple[int, ...] = ()

    def takes(self, output: str) -> bool:
        """Tell whether files of an output are written."""
        return (self.outputs is None or output in self.outputs) and (not self.only or output.startswith(self.only))


EVERYTHING = Choice()


def default_folder(job_name: str, job_file: Path | None) -> Path:
    """Return the folder a job is exported into unless the user names another: beside the saved job, else in the
    documents folder of the platform, under the job's name."""
    parent = job_file.absolute().parent if job_file is not None else user_documents_path()
    return parent / make_file_name(job_name)


def list_files(plan: Plan, choice: Choice = EVERYTHING) -> list[OutputFile]:
    """List the files of a plan that a choice takes, in order.

    Raises:
        ValueError: a chosen mat does not exist.
    """
    numbers = {layout.number for layout in plan.lay.layouts}
    missing = [number for number in choice.mats if number not in numbers]
    if missing:
        raise ValueError(f"mat {missing[0]} does not exist; the job has {count(len(numbers), 'mat')}")
    return [
        file
        for spec in OUTPUTS
        if choice.takes(spec.id) and spec.wanted(plan)
        for file in spec.files(plan)
        if not choice.mats or file.mat in choice.mats
    ]


def export_plan(
    plan: Plan,
    folder: Path,
    *,
    progress: Callable[[int, int], None] = lambda done, all: None,
    cancelled: Callable[[], bool] = lambda: False,
    choice: Choice = EVERYTHING,
    replace: Collection[str] | Callable[[Conflict], bool] = (),
    job_id: str = "",
    extra: Sequence[OutputFile] = (),
) -> list[Path]:
    """Write the files of a plan.

    Files of an earlier export of this job that the plan no longer has (a mat fewer) are removed, so that nobody cuts a
    stale one; any other file is left alone.

    Args:
        replace: files the user agreed to replace or remove: their paths, or a test of a conflict.
        job_id: the id of the job, where the plan's own job has none yet.
        extra: further files to write, under the paths of `EXTRA_PATTERNS`.

    Returns:
        The files written, in order, the manifest left out.

    Raises:
        ExportConflictError: files are in the way; nothing was written.
        ExportBusyError: another export is writing into the folder.
        ExportCancelledError: `cancelled` said yes; the previous files are unchanged.
        OSError: the folder cannot be made or written to; the previous files are unchanged.
        ValueError: a chosen mat does not exist.
    """
    files = [*list_files(plan, choice), *extra]
    work = _Export(plan, folder, files, choice, job_id or plan.job.id)
    made_folder = not folder.exists()
    folder.mkdir(parents=True, exist_ok=True)
    try:
        with locked(folder):
            recover(folder)
            work.write(progress, cancelled, replace if callable(replace) else lambda each: each.path in replace)
    except BaseException:
        if made_folder:
            with suppress(OSError):  # it holds something
                folder.rmdir()
        raise
    return [folder / file.path for file in files]


class _Export:
    """One export into a folder, under its lock."""

    def __init__(self, plan: Plan, folder: Path, files: list[OutputFile], choice: Choice, job_id: str) -> None:
        self.plan, self.folder, self.files, self.choice, self.job_id = plan, folder, files, choice, job_id
        self.made_from = digest_job(plan.job)
        self.manifest: Manifest | None = None
        self.is_same_job = False

    def write(
        self, progress: Callable[[int, int], None], cancelled: Callable[[], bool], agreed: Callable[[Conflict], bool]
    ) -> None:
        """Write the files; raises as `export_plan`."""
        self.manifest = read_manifest(self.folder)
        self.is_same_job = self.manifest is not None and self.manifest.is_of(self.plan.job, self.job_id)
        stale = self._find_stale()
        paths = [file.path for file in self.files]
        refused = [each for each in self._find_conflicts([*paths, *stale]) if not agreed(each)]
        if refused:
            raise ExportConflictError(self.folder, refused, self.manifest.job_name if self.manifest else "")
        _check_targets(self.folder, paths)
        stage = Stage(self.folder)
        try:
            written = []
            for file in self.files:
                if cancelled():
                    raise ExportCancelledError
                content = file.write()
                stage.write(file.path, content)
                digest = hashlib.sha256(content).hexdigest()
                written.append(ManifestFile(file.path, len(content), digest, self.made_from, file.mat))
                progress(len(written), len(self.files))
            if cancelled():
                raise ExportCancelledError
            for path in stale:
                stage.remove(path)
            stage.write(MANIFEST, write_manifest(self._merge(written, stale)))
        except BaseException:
            stage.discard()
            raise
        stage.commit()

    def _merge(self, written: list[ManifestFile], stale: list[str]) -> Manifest:
        """Return the manifest after the export: what was written, and what stays of the export before."""
        kept: list[ManifestFile] = []
        if self.manifest is not None and self.is_same_job:
            gone = {file.path for file in written} | set(stale)
            kept = [file for file in self.manifest.files if file.path not in gone]
        date = datetime.now(UTC).isoformat(timespec="seconds")
        return Manifest(self.job_id, self.plan.job.name, self.plan.job.about, date, (*written, *kept))

    def _find_stale(self) -> list[str]:
        """List what an earlier export left and this one removes, as far as it is unchanged.

        That is what the plan no longer has, what was made from an earlier version of the job and is not written now,
        and another job's export.
        """
        if self.manifest is None or (self.is_same_job and self.choice.mats):
            return []
        paths = {file.path for file in self.files}
        return [
            file.path
            for file in self.manifest.files
            if file.path not in paths and not self._stays(file) and digest_file(self.folder / file.path) == file.sha256
        ]

    def _stays(self, file: ManifestFile) -> bool:
        if not self.is_same_job or self.choice.takes(_output_of(file.path)):
            return False
        return bool(self.choice.only) or file.made_from == self.made_from

    def _find_conflicts(self, paths: Sequence[str]) -> list[Conflict]:
        """List the files that the export would touch and that are not unchanged output of this job."""
        conflicts = []
        for path in paths:
            target = self.folder / path
            if not target.exists() and not target.is_symlink():
                continue
            known = self.manifest.find(path) if self.manifest is not None else None
            if known is None:
                conflicts.append(Conflict(path, "unknown"))
            elif not self.is_same_job:
                conflicts.append(Conflict(path, "other"))
            elif digest_file(target) != known.sha256:
                conflicts.append(Conflict(path, "changed"))
        if self.manifest is None and (self.folder / MANIFEST).exists():
            conflicts.append(Conflict(MANIFEST, "unknown"))
        return conflicts


def _output_of(path: str) -> str:
    return next((spec.id for spec in OUTPUTS if fnmatchcase(path, spec.pattern())), path)


def _check_targets(folder: Path, paths: Sequence[str]) -> None:
    """Refuse targets that no file can take the place of, before anything is written.

    Raises:
        OSError: a target is a folder, or its folder is none, or lies on another disk.
    """
    device = folder.stat().st_dev
    for path in (*paths, MANIFEST, UNFINISHED):
        target = folder / path
        if target.is_dir():
            raise IsADirectoryError(errno.EISDIR, "a folder has the name of a file that is to be written", str(target))
        for parent in target.relative_to(folder).parents:
            inner = folder / parent
            if not inner.exists():
                continue
            found = inner.stat()
            if not stat.S_ISDIR(found.st_mode):
                raise NotADirectoryError(errno.ENOTDIR, "a file has the name of a folder that is needed", str(inner))
            if found.st_dev != device:
                raise OSError(errno.EXDEV, "this folder lies on another disk than the export", str(inner))
