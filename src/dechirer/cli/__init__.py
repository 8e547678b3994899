"""The command line: the same work without a window.

Figures asked for with `--json` go to standard output alone, messages to standard error. Exit codes: 0 fine, 1 a
finding stops the job, 2 bad input.
"""

from __future__ import annotations

import io
import json
import os
import sys
from contextlib import suppress
from pathlib import Path

import click
from click.shell_completion import get_completion_class

from dechirer import __version__
from dechirer.cli.book import book
from dechirer.cli.exporting import export_or_refuse
from dechirer.cli.saying import BAD_INPUT, STOPPED, BadInput, say
from dechirer.core.audit import audited
from dechirer.core.brief.machine import load_machines
from dechirer.core.card.fold import FOLD_KINDS
from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.job.model import Job, JobError
from dechirer.core.job.new import make_job
from dechirer.core.length import LengthError, format_size, parse_length
from dechirer.core.paper.standards import parse_size
from dechirer.core.paper.weight import WeightError, parse_weight
from dechirer.core.plan import Plan, make_plan
from dechirer.formats.export import Choice
from dechirer.formats.job.archive import ArchiveError, read_archive
from dechirer.formats.outputs.plan_json import make_finding_record, make_plan_record

FINE = 0
FOLDS = {spec.quick: spec.id for spec in CONSTRUCTIONS if spec.quick}


picture_option = click.option(
    "--picture",
    type=click.Path(path_type=Path, dir_okay=False),
    help="A picture of the finished card as well, .png or .pdf.",
)
json_option = click.option("--json", "as_json", is_flag=True, help="Print figures as JSON on standard output.")
out_option = click.option(
    "--into",
    "--out",
    "out",
    type=click.Path(path_type=Path, file_okay=False),
    required=True,
    help="Folder for the files.",
)
replace_option = click.option(
    "--replace", is_flag=True, help="Replace exported files in the folder, even changed ones or those of another job."
)


@click.group(context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(__version__, prog_name="dechirer")
def command() -> None:
    """From the finished card back to every flat piece, mat and run.

    Without arguments `dechirer` opens the window.
    """


@command.command()
@click.option("--fold", type=click.Choice(list(FOLDS)), default=next(iter(FOLDS)), show_default=True)
@click.option("--size", help="Finished size: 5x7in, 105x148mm, A6, US A7.")
@click.option("--file", type=click.Path(path_type=Path), help="An SVG or DXF that is the card, in place of a size.")
@click.option("--liner", help="Reveal on each side, such as 1/16in; no liner without it.")
@click.option("--count", type=click.IntRange(1, 10_000), default=1, show_default=True)
@click.option("--weight", default="110 lb cover", show_default=True, help="Weight of the card's paper.")
@click.option("--sheet", default="12x12in", show_default=True, help="Sheet size.")
@click.option("--machine", type=click.Choice(list(load_machines())), default="heron-12", show_default=True)
@click.option(
    "--mark", type=click.Choice(list(FOLD_KINDS)), default="score", show_default=True, help="How the fold is marked."
)
@click.option(
    "--units",
    type=click.Choice(["in", "mm"]),
    default="in",
    show_default=True,
    help="Units of bare numbers and of the output.",
)
@click.option("--name", default="Quick card", show_default=True)
@picture_option
@out_option
@replace_option
@json_option
def card(
    fold: str,
    size: str | None,
    file: Path | None,
    liner: str | None,
    count: int,
    weight: str,
    sheet: str,
    machine: str,
    mark: str,
    units: str,
    name: str,
    picture: Path | None,
    out: Path,
    replace: bool,
    as_json: bool,
) -> None:
    """Plan a quick card and write its files."""
    if (size is None) == (file is None):
        raise BadInput("Give either --size or --file.")
    try:
        parse_weight(weight)
        job = make_job(
            construction=FOLDS[fold],
            size=_read("--size", parse_size, size or "5x7in", units),
            count=count,
            liner=_read("--liner", parse_length, liner, units) if liner else None,
            weight=weight,
            sheet=_read("--sheet", parse_size, sheet, units),
            machine=machine,
            fold=mark,
            units="in" if units == "in" else "mm",
            name=name,
        )
        if file is not None:
            job = _take_card(job, file)
    except (WeightError, JobError) as error:
        raise BadInput(str(error)) from None
    _write(job, out, as_json, picture, replace=replace)


def _take_card(job: Job, file: Path) -> Job:
    """The job whose card is what a file draws."""
    from dechirer.core.job.edit import apply_changes
    from dechirer.core.starting import take_card
    from dechirer.formats.art.collect import ArtError
    from dechirer.formats.art.read import read_art, read_bytes

    try:
        art = read_art(read_bytes(file), file.name, set())
    except ArtError as error:
        raise BadInput(str(error)) from None
    return apply_changes(job, take_card(job, art))


@command.command()
@click.argument("jobs", type=click.Path(path_type=Path), nargs=-1, required=True, metavar="JOB...")
@click.option("--together", is_flag=True, help="Several jobs on common mats, in one run, under the first one's name.")
@click.option("--closer", type=click.IntRange(0, 100_000), help="Look for a closer lay first, in so many rounds.")
@click.option("--mat", "mats", type=click.IntRange(1), multiple=True, help="Only the files of this mat; repeatable.")
@picture_option
@out_option
@replace_option
@json_option
def plan(
    jobs: tuple[Path, ...],
    together: bool,
    closer: int | None,
    mats: tuple[int, ...],
    picture: Path | None,
    out: Path,
    replace: bool,
    as_json: bool,
) -> None:
    """Write every output file of a JOB, or of several that are laid together."""
    if len(jobs) > 1 and not together:
        raise BadInput("several jobs are planned one by one, or --together")
    opened = _open(jobs[0])
    if len(jobs) > 1:
        from dechirer.cli.lay import lay_together

        opened = lay_together(opened, [_open(path) for path in jobs[1:]])
    if closer is not None:
        from dechirer.cli.lay import lay_closer

        opened = lay_closer(opened, closer)
    _write(opened, out, as_json, picture, replace=replace, mats=mats)


@command.command()
@click.argument("job", type=click.Path(path_type=Path))
@json_option
def check(job: Path, as_json: bool) -> None:
    """List the findings of a JOB; exit 1 when one stops it."""
    made = audited(make_plan(_open(job)))
    if as_json:
        say(json.dumps([make_finding_record(finding) for finding in made.findings], indent=1, ensure_ascii=False))
    else:
        _say_findings(made, err=False)
    _leave(made)


@command.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--ppi", type=click.FloatRange(1, 10_000), help="Pixels to the inch, when you know better than the file.")
@click.option("--units", type=click.Choice(["in", "mm"]), default="in", show_default=True, help="Units of the output.")
@json_option
def inspect(file: Path, ppi: float | None, units: str, as_json: bool) -> None:
    """Say what a FILE of art holds: true size, items, lines, doubts."""
    from dechirer.core.dress.inspection import inspect_art, make_inspection_record
    from dechirer.formats.art.collect import ArtError
    from dechirer.formats.art.read import read_art, read_bytes

    try:
        found = inspect_art(read_art(read_bytes(file), file.name, set(), px_per_inch=ppi))
    except ArtError as error:
        raise BadInput(str(error)) from None
    if as_json:
        say(json.dumps(make_inspection_record(found), indent=1, ensure_ascii=False))
        return
    lines = ", ".join(f"{count} {role}" for role, count in found.lines.items())
    say(f"{found.name}: {format_size(found.width, found.height, units)}, settled {found.settled}")
    say(f"{found.items} items with {found.islands} islands; {lines}; {found.open_lines} open lines")
    web = "none under 3 mm" if found.narrowest is None else f"{found.narrowest:.2f} mm"
    say(f"{found.nodes} nodes; narrowest web {web}")
    for name, role, colour, paths in found.groups:
        say(f"    {name}: {paths} × {role} {colour}")
    for doubt in found.doubts:
        say(f"doubt: {doubt}")


@command.command()
@click.argument("shell", type=click.Choice(["bash", "zsh", "fish"]))
def completion(shell: str) -> None:
    """Print what makes a shell complete `dechirer`: source it, or put it where the shell looks for it."""
    click.echo(write_completion(shell))


@command.command()
@click.argument("job", type=click.Path(path_type=Path))
@click.option(
    "--sheet", "seed", type=click.IntRange(0, 1_000_000), default=0, show_default=True, help="Which trial sheet."
)
@click.option("--calibration", is_flag=True, help="The calibration page of each paper as well.")
@out_option
@replace_option
@json_option
def press(job: Path, seed: int, calibration: bool, out: Path, replace: bool, as_json: bool) -> None:
    """Write the pages of a JOB, and print and read each on simulated devices."""
    from dechirer.cli.press import run_press

    run_press(_open(job), seed, out, calibration=calibration, as_json=as_json, replace=replace)


@command.command("rehearse")
@click.argument("job", type=click.Path(path_type=Path))
@click.option("--seed", type=click.IntRange(0, 1_000_000), default=0, show_default=True, help="The first load.")
@click.option(
    "--runs", type=click.IntRange(0, 1000), default=8, show_default=True, help="Loads with the machine's own faults."
)
@click.option(
    "--files",
    type=click.Path(path_type=Path, file_okay=False),
    help="An export to run, in place of files written anew.",
)
@json_option
def rehearse_command(job: Path, seed: int, runs: int, files: Path | None, as_json: bool) -> None:
    """Cut a JOB on the simulated machine and measure it against the plan; exit 1 when something would be wrong."""
    from dechirer.cli.rehearse import run_rehearsal

    sys.exit(run_rehearsal(_open(job), seed, runs, files, as_json=as_json))


@command.command("making-up")
@click.argument("job", type=click.Path(path_type=Path))
@out_option
@replace_option
@json_option
def making_up(job: Path, out: Path, replace: bool, as_json: bool) -> None:
    """Write how the parts of a JOB are put together, and its kit list; exit 1 when a finding stops it."""
    from dechirer.cli.making_up import run_making_up

    _leave(run_making_up(_open(job), out, as_json=as_json, replace=replace))


@command.command()
@click.argument("scans", type=click.Path(path_type=Path), nargs=-1, required=True, metavar="SCAN...")
@click.option("--job", type=click.Path(path_type=Path), help="The job whose printer and machine it was made with.")
@click.option("--paper", help="Which of its papers; the one that is printed on when it is left out.")
@click.option("--edge", is_flag=True, help="It was cut by the sheet's edge, not by the marks.")
@json_option
def read(scans: tuple[Path, ...], job: Path | None, paper: str | None, edge: bool, as_json: bool) -> None:
    """Measure the SCAN of a cut calibration page; a second scan, turned by half, cancels a shadow."""
    from dechirer.cli.press import run_read

    run_read(list(scans), _open(job) if job is not None else None, paper, edge=edge, as_json=as_json)


@command.command("versions")
@click.argument("job", type=click.Path(path_type=Path))
@click.option("--restore", type=click.IntRange(1), help="Put this version back into the file.")
@json_option
def versions_command(job: Path, restore: int | None, as_json: bool) -> None:
    """List the earlier versions of a JOB: each save keeps the one it replaces."""
    from dechirer.cli.versions import run_versions

    run_versions(job, _open(job), restore, as_json=as_json)


command.add_command(book)


def write_completion(shell: str) -> str:
    """A script with which bash, zsh or fish complete the commands, their options and files."""
    kind = get_completion_class(shell)
    assert kind is not None
    return kind(command, {}, "dechirer", "_DECHIRER_COMPLETE").source()


def run_command_line(arguments: list[str]) -> int:
    """Run one command and return its exit code."""
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(errors="backslashreplace")  # whatever letters the terminal knows
    try:
        command.main(args=arguments, prog_name="dechirer", standalone_mode=True)
    except SystemExit as end:
        return _flushed(int(end.code or 0))
    except OSError as error:
        return _cannot_write(error)
    return _flushed(FINE)


def _flushed(code: int) -> int:
    """The exit code, once what was printed has arrived."""
    try:
        sys.stdout.flush()
    except OSError as error:
        return _cannot_write(error)
    return code


def _cannot_write(error: OSError) -> int:
    with suppress(OSError):
        print(f"dechirer: the output cannot be written: {error.strerror or error}", file=sys.stderr)
    # What is left in the buffer would be tried, and fail, once more at the end.
    sys.stdout = open(os.devnull, "w", encoding="utf-8")  # noqa: SIM115
    return BAD_INPUT


def _read(option: str, reader, text: str, units: str):  # type: ignore[no-untyped-def]
    try:
        return reader(text, unit=units)
    except LengthError as error:
        raise BadInput(f"{option}: {error}") from None


def _open(path: Path) -> Job:
    try:
        return read_archive(path)
    except ArchiveError as error:
        raise BadInput(str(error)) from None
    except OSError as error:
        raise BadInput(f"{path}: {error.strerror or error}") from None


def _write(
    job: Job,
    out: Path,
    as_json: bool,
    picture: Path | None = None,
    *,
    replace: bool = False,
    mats: tuple[int, ...] = (),
) -> None:
    made = audited(make_plan(job))
    files = export_or_refuse(made, out, choice=Choice(mats=mats), replace=replace)
    try:
        if picture is not None:
            _draw(made, picture)
            files.append(picture)
    except OSError as error:
        raise BadInput(f"{error.filename or out}: {error.strerror or error}") from None
    if as_json:
        say(json.dumps(make_plan_record(made), indent=1, ensure_ascii=False))
    else:
        for piece in made.whole.pieces:
            size = format_size(piece.width.value, piece.height.value, job.units)
            say(f"{piece.letter} {piece.name}: {size} flat, × {piece.count}", err=True)
        mat_count, minutes = made.lay.mats.text(), made.run.minutes.text()
        say(f"{mat_count} mats, {made.run.changes.text()} tool changes, {minutes} at the machine", err=True)
        say(f"{len(files)} files in {out}", err=True)
    _say_findings(made, err=True)
    _leave(made)


def _draw(made: Plan, picture: Path) -> None:
    from dechirer.formats.card_picture import PictureError, write_picture

    try:
        write_picture(made, picture)
    except PictureError as error:
        raise BadInput(f"--picture: {error}") from None


def _say_findings(made: Plan, *, err: bool) -> None:
    for finding in made.findings:
        say(f"{finding.severity}: {finding.title}. {finding.reason}", err=err)
        for mend in finding.mends:
            say(f"    mend: {mend.label}", err=err)
    if not made.findings:
        say("all clear", err=err)


def _leave(made: Plan) -> None:
    if made.stops:
        raise click.exceptions.Exit(STOPPED)
