"""Cards of bought blanks, as the catalogue of the findings and the tests of slots want them."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace

from dechirer.core.brief.machine import OtherMat, Slot, load_machines
from dechirer.core.decide.change import Change
from dechirer.core.dress.decisions import Column, Copies, Row
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job, write_job_compact
from dechirer.core.lay.decisions import Pin, set_loading
from dechirer.core.laying_together import invite, plan_other
from dechirer.core.paper.blanks import load_blanks
from dechirer.core.starting_blank import take_bought
from tests.dressing import dressed, item, words
from tests.helpers import attached, changed, quick_job, typed

BASE, INSERT = Column("blank", sets="paper", piece="base"), Column("insert", sets="paper", piece="insert")
PEN, SLOT = Column("pen", sets="pen"), Column("slot", sets="slot")


def blank_job(blank: str = "a2-side", *, count: int = 4, machine: str = "heron-12") -> Job:
    """Cards of a blank of the catalogue, slit for an insert behind the front, with pen words on the front."""
    job = changed(quick_job("5x7in", count=count), brief__machine=load_machines()[machine])
    known = next(each for each in load_blanks() if each.id == blank)
    job = attached(apply_changes(job, take_bought(job, known)), "slits")
    job = changed(job, construct__slits__lies="behind-front", construct__slits__paper="liner-paper")
    job = typed(job, "construct.slits.ease", "2 mm")
    hello = item("hello", made="pen", art=None, words=words("{name}", face="line-script", size="9 mm"))
    job = changed(dressed(hello, job=job), run__tools=("thin-card-blade", "creasing-point", "pen"))
    return apply_changes(job, [Change(f"brief.papers.{base_of(job)}.colour", "#f7f4ec")])


def rows_of(job: Job, columns: tuple[Column, ...], *rows: tuple[str, ...]) -> Job:
    """The job with a table of copies."""
    return changed(job, dress__copies=Copies((Column("name"), *columns), tuple(Row(row) for row in rows)))


def base_of(job: Job) -> str:
    """The id of the paper the card is made of."""
    return job.brief.base_paper


def on_mat(job: Job, mat: str | None) -> Job:
    """The job with its card's paper loaded on a mat."""
    return apply_changes(job, [set_loading(job.lay, base_of(job), mat=mat)])


def small_slots(job: Job) -> Job:
    """The job on a machine whose card mat takes only small blanks."""
    mat = OtherMat("tiny", "mat for tags", 200.0, 200.0, 180.0, 180.0, 6.0, 6.0, (Slot(20.0, 20.0, 60.0, 60.0),), 20.0)
    return on_mat(changed(job, brief__machine__mats=(mat,)), "tiny")


def in_words(job: Job) -> Job:
    """Rows of four designs."""
    return rows_of(job, (), ("Wren",), ("Gull",), ("Dune",), ("Kite",))


def _other_size(job: Job) -> Job:
    sheet = quick_job().brief.papers[0].sheet
    other = replace(job.brief.paper(base_of(job)), id="large", name="large blanks", sheet=sheet)
    job = apply_changes(job, [Change("brief.papers", (*job.brief.papers, other))])
    return rows_of(job, (BASE,), ("Wren", ""), ("Gull", "large"), ("Dune", ""), ("Kite", ""))


def _alike(job: Job) -> Job:
    """Liner and card of papers of nearly one colour."""
    colour, weight = job.brief.papers[0].colour, job.brief.papers[0].weight
    other = replace(job.brief.papers[1], colour=colour, weight=weight)
    return changed(job, brief__papers=(job.brief.papers[0], other))


def _stopping_guest(job: Job) -> Job:
    """A job laid with one that stops, as it was changed since in the file."""
    good, bad = quick_job("4x4in"), typed(quick_job("4x4in"), "brief.width", "30 in")
    job = apply_changes(job, invite(job, good, plan_other(good)))
    guest = replace(job.lay.guests[0], job=write_job_compact(bad).decode())
    return changed(job, lay__guests=(guest,))


def _idle_pins(job: Job) -> Job:
    """A piece put down by hand that is made no longer."""
    return changed(job, lay__pins=(Pin("card", 0, "base", 10.0, 10.0), Pin("card", 0, "liner", 20.0, 20.0)))


CATALOGUE: dict[str, Callable[[], Job]] = {
    "dress.copy-unset": lambda: rows_of(
        blank_job(), (PEN,), ("Wren", "no colour"), ("Gull", ""), ("Dune", "navy"), ("Kite", "")
    ),
    "dress.copy-blank-differs": lambda: _other_size(blank_job()),
    "dress.copy-colours": lambda: rows_of(
        blank_job(), (INSERT,), ("Wren", ""), ("Gull", base_of(blank_job())), ("Dune", ""), ("Kite", "")
    ),
    "lay.mat-missing": lambda: on_mat(in_words(blank_job()), "sold-long-ago"),
    "lay.no-slot": lambda: small_slots(in_words(blank_job())),
    "lay.slot-missing": lambda: rows_of(
        blank_job(), (SLOT,), ("Wren", "9"), ("Gull", "2"), ("Dune", "1"), ("Kite", "")
    ),
    "lay.papers-alike": lambda: _alike(quick_job("5x7in", liner="1/16")),
    "lay.guest-stops": lambda: _stopping_guest(quick_job("5x7in")),
    "lay.pins-idle": lambda: _idle_pins(quick_job("5x7in")),
    "lay.corner-untried": lambda: on_mat(in_words(blank_job()), "main"),
}
