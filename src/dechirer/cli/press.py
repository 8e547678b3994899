"""The command line of Press: pages with their rehearsal, and scans of calibration pages."""

from __future__ import annotations

import json
from pathlib import Path

import click

from dechirer.cli.exporting import export_or_refuse
from dechirer.cli.saying import STOPPED, BadInput, say
from dechirer.core.audit import audited
from dechirer.core.job.model import Job
from dechirer.core.plan import Plan, make_plan
from dechirer.core.press.calibration import make_calibration_page
from dechirer.core.press.room import load_page
from dechirer.core.press.station import PAGES, PRESS
from dechirer.formats.export import Choice
from dechirer.formats.output import OutputFile


def run_press(job: Job, seed: int, out: Path, *, calibration: bool, as_json: bool, replace: bool = False) -> None:
    """Write pages, rehearse each, and say how well they fit."""
    from dechirer.devices.rehearsal import print_and_read

    made = audited(make_plan(job))
    pages = made.part(PAGES).pages
    if not pages and not calibration:
        raise BadInput("nothing of this job is printed")
    extra = _calibrations(made) if calibration else []
    files = export_or_refuse(made, out, choice=Choice(only=("press/",)), replace=replace, extra=extra)
    told = []
    for page in pages:
        found = print_and_read(made, page, seed)
        reading = found.reading
        told.append(
            {
                "page": page.number,
                "times": page.times + page.spoiled,
                "cut_by": "marks" if reading is not None else "edge",
                "refused": reading.refused if reading is not None else "",
                "typical_mm": None if not found.off else found.typical,
                "worst_mm": None if not found.off else found.worst,
            }
        )
        by = "read" if reading is not None else "cut by the edge"
        how = f"{by}: cut and print {found.typical:.2f} mm apart, {found.worst:.2f} at most"
        if reading is not None and reading.refused:
            how = f"refused: {reading.refused}"
        say(f"page {page.number} × {page.times + page.spoiled}: {how}", err=True)
    say(f"{len(files)} files in {out}", err=True)
    if as_json:
        say(json.dumps({"sheet": seed, "pages": told}, indent=1, ensure_ascii=False))
    if made.stops:
        for finding in made.findings:
            if finding.severity == "stop":
                say(f"stop: {finding.title}. {finding.reason}", err=True)
        raise click.exceptions.Exit(STOPPED)


def _calibrations(made: Plan) -> list[OutputFile]:
    from dechirer.formats.pages.calibration import calibration_files

    brief = made.job.brief
    known = made.part(PRESS).papers
    papers = [paper for paper in brief.papers if any(each.paper == paper.id for each in known)] or list(
        brief.papers[:1]
    )
    files: list[OutputFile] = []
    for paper in papers:
        sheet = load_page(paper.sheet, brief.machine, brief.printer, by_marks=job_reads(made.job))
        try:
            page = make_calibration_page(sheet, brief.machine.reader)
        except ValueError as error:
            raise BadInput(f"{paper.name}: {error}") from None
        for name, content in calibration_files(page, brief.machine, paper.name).items():
            files.append(OutputFile(f"press/{name}", lambda content=content: content))  # type: ignore[misc]
    return files


def job_reads(job: Job) -> bool:
    """Whether a job's sheets are cut by their marks."""
    return job.press.cut_by == "marks" and job.brief.machine.reader is not None


def run_read(scans: list[Path], job: Job | None, paper: str | None, *, edge: bool, as_json: bool) -> None:
    """Measure scans and say what they tell."""
    from dechirer.core.job.new import make_job
    from dechirer.core.paper.standards import parse_size
    from dechirer.formats.scans.finding import ScanError
    from dechirer.formats.scans.reading import describe, make_record, read_scans

    if job is None:
        job = make_job(sheet=parse_size("8.5 x 11 in", unit="in"))
    brief = job.brief
    printed = [known.paper for known in make_plan(job).part(PRESS).papers]
    wanted = [each for each in brief.papers if paper in (each.id, each.name)]
    if paper is not None and not wanted:
        raise BadInput(f"--paper: the job has no paper {paper}; it has {', '.join(each.name for each in brief.papers)}")
    used = wanted[0] if wanted else brief.paper(printed[0]) if printed else brief.papers[0]
    by_marks = not edge and brief.machine.reader is not None
    sheet = load_page(used.sheet, brief.machine, brief.printer, by_marks=by_marks)
    try:
        told = read_scans(scans, make_calibration_page(sheet, brief.machine.reader))
    except (ScanError, ValueError) as error:
        raise BadInput(str(error)) from None
    except OSError as error:
        raise BadInput(f"{error.filename or scans[0]}: {error.strerror or error}") from None
    if as_json:
        say(json.dumps(make_record(told), indent=1, ensure_ascii=False))
        return
    for line in describe(told):
        say(line)
