"""Exports of the command line: a conflict is refused and its files are named."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from dechirer.cli.saying import BadInput
from dechirer.core.plan import Plan
from dechirer.formats.export import EVERYTHING, Choice, Conflict, ExportConflictError, export_plan
from dechirer.formats.output import OutputFile


def export_or_refuse(
    plan: Plan,
    folder: Path,
    *,
    choice: Choice = EVERYTHING,
    replace: bool = False,
    extra: Sequence[OutputFile] = (),
) -> list[Path]:
    """Export a plan; `replace` allows to replace files that an earlier export wrote, of this job or another.

    Raises:
        BadInput: files are in the way (the message names each), or the folder cannot be written to.
    """
    agreed = _is_listed if replace else ()
    try:
        return export_plan(plan, folder, choice=choice, replace=agreed, extra=extra)
    except ExportConflictError as error:
        raise BadInput(_explain(error, replace)) from None
    except OSError as error:
        raise BadInput(f"{error.filename or folder}: {error.strerror or error}") from None
    except ValueError as error:
        raise BadInput(f"--mat: {error}") from None


def _is_listed(conflict: Conflict) -> bool:
    return conflict.is_listed


def _explain(error: ExportConflictError, replace: bool) -> str:
    if replace or not any(conflict.is_listed for conflict in error.conflicts):
        return f"{error.folder}: {error.strerror}. Name another folder, or move these files."
    return f"{error.folder}: {error.strerror}. Name another folder, or give --replace to replace exported files."
