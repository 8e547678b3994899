"""Pages, marks and scans: how fast, and how near to the truth. Yardstick of pages: the same picture put on a page by
reportlab alone, in the same run. What is true of a sheet is the simulated printer's own map.

The wanted figures of reading and scans are those of a prototype that was measured before.
"""

from __future__ import annotations

import io
import sys
import time

import numpy as np
from PIL import Image
from tests.scans import draw_scan

from bench.table import show, spread, verdict
from dechirer.core.card.registration import sign_of
from dechirer.core.decide.change import Change
from dechirer.core.dress.decisions import Dress, Item, Words, table_of
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.job.new import make_job
from dechirer.core.length import parse_length
from dechirer.core.plan import Plan, make_plan
from dechirer.core.press.calibration import fit_places, make_calibration_page, middle_of
from dechirer.core.press.pages import Page
from dechirer.core.press.station import PAGES, PRESS
from dechirer.devices.eye import Light, Spot, look_at
from dechirer.devices.printer import Faults, draw_faults, print_page
from dechirer.devices.reader import read_marks
from dechirer.formats.art.picture import read_picture
from dechirer.formats.outputs.press_page import write_page_pdf
from dechirer.formats.scans.measure import measure_scan

SIZE = (215.9, 279.4)
LETTER = (parse_length("8.5 in"), parse_length("11 in"))


def photo_job(wide: int, high: int) -> tuple[Job, bytes]:
    """A flat card as large as the room, a photograph all over it, and the photograph's file."""
    random = np.random.default_rng(1)
    across, down = np.meshgrid(np.linspace(0, 255, wide), np.linspace(0, 255, high))
    deep = np.stack([across, down, random.integers(0, 255, across.shape)], axis=2).astype(np.uint8)
    out = io.BytesIO()
    Image.fromarray(deep).save(out, "JPEG", quality=92)
    art = read_picture(out.getvalue(), "photo.jpg", "photo", px_per_inch=300.0)
    job = make_job(construction="flat", size=(parse_length("150 mm"), parse_length("220 mm")), sheet=LETTER)
    item = Item("photo", "photo", "front", "print", art="photo", width=parse_length("165 mm"))
    return apply_changes(job, [Change("dress", Dress(art=(art,), items=(item,)))]), out.getvalue()


def words_job(count: int) -> Job:
    """A card for each of so many names, one to a page."""
    names = tuple((f"Guest number {number}",) for number in range(count))
    job = make_job(
        construction="top-fold", size=(parse_length("5.5 in"), parse_length("4 in")), sheet=LETTER, count=count
    )
    item = Item("to", "to", "front", "print", words=Words("Dear {name}", face="lora", size=parse_length("9 mm")))
    return apply_changes(job, [Change("dress", Dress(items=(item,), copies=table_of(("name",), names)))])


def timed(work: object, times: int = 5) -> list[float]:
    taken = []
    for _ in range(times):
        began = time.perf_counter()
        work()  # type: ignore[operator]
        taken.append(1000 * (time.perf_counter() - began))
    return taken


def bare_page(data: bytes) -> bytes:
    """The yardstick: a page with the picture on it, by reportlab alone."""
    from reportlab import rl_config
    from reportlab.lib.utils import ImageReader
    from reportlab.pdfgen.canvas import Canvas

    rl_config.useA85 = 0
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(612, 792), invariant=1, pageCompression=1)
    canvas.drawImage(ImageReader(io.BytesIO(data)), 80, 80, 448, 640)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def bench_pages() -> list[tuple[str, str, str, str]]:
    """How fast pages are written."""
    job, data = photo_job(1866, 2600)
    plan = make_plan(job)
    (page,) = plan.part(PAGES).pages
    exact = make_plan(apply_changes(job, [Change("dress.items.photo.width", parse_length("150 mm"))]))
    (other,) = exact.part(PAGES).pages
    carried = timed(lambda: write_page_pdf((other, other.face), exact))
    own, bare = timed(lambda: write_page_pdf((page, page.face), plan)), timed(lambda: bare_page(data))
    ratio = sorted(own)[2] / sorted(bare)[2]
    rows = [
        (
            "a letter page with a photograph",
            spread(own),
            f"{ratio:.2f} of reportlab alone, wanted 1.2",
            verdict(ratio < 1.2),
        ),
        ("the same, as large as its piece: its rim is carried into the bleed", spread(carried), "", ""),
        ("reportlab alone", spread(bare), "the yardstick", ""),
    ]
    began = time.perf_counter()
    many = make_plan(words_job(100))
    planned = time.perf_counter() - began
    for each in many.part(PAGES).pages:
        write_page_pdf((each, each.face), many)
    taken = time.perf_counter() - began
    count = len(many.part(PAGES).pages)
    rows.append(
        (
            f"{count} pages of wordings",
            f"{taken:.1f} s ({planned:.1f} planning)",
            "wanted under 10 s",
            verdict(taken < 10),
        )
    )
    return rows


def page_of(plan: Plan) -> tuple[Page, bytes]:
    (page, *_) = plan.part(PAGES).pages
    return page, write_page_pdf((page, page.face), plan)


def bench_reading(sheets: int) -> list[tuple[str, str, str, str]]:
    """How near marks are read, and how well print and cut fit."""
    plan = make_plan(words_job(1))
    page, pdf = page_of(plan)
    brief, marks = plan.job.brief, page.sheet.registration
    assert marks is not None
    assert brief.machine.reader is not None
    grid = [(x, y) for x in np.linspace(28, 188, 9) for y in np.linspace(24, 255, 11)]
    corners = [(28.0, 24.0), (188.0, 24.0), (28.0, 255.0), (188.0, 255.0)]
    rows, turns = [], 0
    papers = {
        "white": (1.0, 1.0, 1.0),
        "grey": (0.7, 0.7, 0.7),
        "brown": (0.6, 0.45, 0.3),
        "one half covered": (1.0, 1.0, 1.0),
    }
    most = {"white": 5.0, "grey": 20.0, "brown": 20.0, "one half covered": 35.0}
    for name, paper in papers.items():
        off, taken = [], []
        for seed in range(sheets // 4):
            random = np.random.default_rng(seed)
            signs = random.choice([-1.0, 1.0], 5).tolist()
            faults = Faults(
                0.003 * signs[0], 0.003 * signs[1], 0.4 * signs[2], 1.5 * signs[3], 1.5 * signs[4], seed=seed
            )
            sheet = print_page(pdf, faults)
            spots: tuple[Spot, ...] = ()
            if name.startswith("one"):
                x, y = sheet.printed_at(marks.places)[seed % 6].tolist()
                spots = (Spot(x + 3, y, 6, 12, float(random.uniform(0, 1))),)
            picture = look_at(sheet.picture, SIZE, Light(paper=paper, seed=seed), spots)
            began = time.perf_counter()
            reading = read_marks(picture, SIZE, brief.machine.reader, marks.places, sign_of(page.number))
            taken.append(1000 * (time.perf_counter() - began))
            if reading.map is None:
                off.append(1e6)
                continue
            away = np.array([reading.map(place) for place in grid]) - sheet.printed_at(grid)
            off += (1000 * np.hypot(*away.T)).tolist()
            turned = read_marks(np.rot90(picture, 2), SIZE, brief.machine.reader, marks.places, sign_of(page.number))
            turns += turned.refused == "the sheet lies turned by half"
        p99, worst = float(np.percentile(off, 99)), max(off)
        good = (p99 if name == "white" else worst) <= most[name]
        wanted = f"wanted {'p99' if name == 'white' else 'worst'} {most[name]:.0f}"
        rows.append((f"read on {name}", f"p99 {p99:.1f} µm, worst {worst:.1f} µm", wanted, verdict(good)))
        rows.append(
            (f"time to read, {name}", spread(taken), "wanted 150 ms", verdict(sorted(taken)[len(taken) // 2] < 150))
        )
    count = 4 * (sheets // 4)
    rows.append(("sheets turned by half", f"{turns} of {count} known", "wanted all", verdict(turns == count)))
    budgets = plan.part(PRESS).papers[0].budgets
    read_off, edge_off, away_all = [], [], []
    for seed in range(sheets // 2):
        sheet = print_page(pdf, draw_faults(brief.printer, seed), px_per_inch=200)
        picture = look_at(sheet.picture, SIZE, Light(seed=seed))
        reading = read_marks(picture, SIZE, brief.machine.reader, marks.places, sign_of(page.number))
        assert reading.map is not None
        random = np.random.default_rng(seed)
        cuts = np.array([reading.map(place) for place in grid]) + random.normal(
            0, brief.machine.cuts_to, (len(grid), 2)
        )
        off = cuts - sheet.printed_at(grid)
        read_off.append(off)
        away_all += np.hypot(*off.T).tolist()
        laid = random.normal(0, brief.machine.laid_to, 2) + random.normal(0, brief.machine.cuts_to, (4, 2))
        edge_off.append(np.array(corners) + laid - sheet.printed_at(corners))
    median, p99 = float(np.median(away_all)), float(np.percentile(away_all, 99))
    rows.append(
        (
            "read and cut",
            f"median {median:.3f}, p99 {p99:.3f} mm",
            "wanted 0.1, 0.25",
            verdict(median < 0.1 and p99 < 0.25),
        )
    )
    for name, found, budget in (("read", read_off, budgets.read.mm), ("unread", edge_off, budgets.unread.mm)):
        real = float(np.sqrt(np.mean(np.square(np.concatenate(found)))))
        share = real / budget
        told = f"{real:.3f} mm, budget {budget:.3f}"
        rows.append((f"spread, {name}", told, "wanted within 20 %", verdict(0.8 < share < 1.2)))
    return rows


def bench_scans(count: int) -> list[tuple[str, str, str, str]]:
    """How near calibration scans are measured, and how fast after decoding."""
    job = make_job(sheet=LETTER)
    sheet = make_plan(words_job(1)).part(PRESS).papers[0].sheet
    page = make_calibration_page(sheet, job.brief.machine.reader)
    middle = middle_of(page.crosses)
    rows = []
    for name, cutter, most in (("no cutter error", 0.0, 10.0), ("50 µm of it", 0.05, 60.0)):
        off, taken, inside, all_ = [], [], 0, 0
        for seed in range(count):
            skew = 1.0 + 2.0 * (seed % 3) / 2
            grey, _ = draw_scan(page, skew_deg=skew * (-1) ** seed, cutter=cutter, seed=seed, turned=seed % 4 == 3)
            began = time.perf_counter()
            scan = measure_scan(grey, 300.0, page)
            taken.append(1000 * (time.perf_counter() - began))
            found = fit_places(tuple(page.crosses[number] for number in scan.numbers), scan.off)
            for x, y in page.crosses:
                dx, dy = x - sheet.width / 2, y - sheet.height / 2
                true = (0.35 + 0.003 * dx - 0.004 * dy, -0.2 - 0.002 * dy + 0.004 * dx)
                right, down = found.at((x, y), middle)
                off.append(1000 * float(np.hypot(right - true[0], down - true[1])))
            # Shift at the middle of the crosses, scale and skew against what is true.
            mx, my = middle[0] - sheet.width / 2, middle[1] - sheet.height / 2
            truths = (
                0.35 + 0.003 * mx - 0.004 * my,
                -0.2 - 0.002 * my + 0.004 * mx,
                0.3,
                -0.2,
                float(np.degrees(0.004)),
            )
            values = (found.right, found.down, found.wide, found.high, found.skew_deg)
            for value, truth, error in zip(values, truths, found.errors, strict=True):
                inside += abs(value - truth) <= 2 * error
                all_ += 1
        p99 = float(np.percentile(off, 99))
        rows.append((f"calibration scan, {name}", f"p99 {p99:.1f} µm", f"wanted {most:.0f}", verdict(p99 <= most)))
        share = inside / all_
        rows.append(
            (f"within two standard errors, {name}", f"{100 * share:.0f} %", "wanted 90 to 98 %", verdict(share >= 0.9))
        )
        rows.append(
            ("time after decoding", spread(taken), "wanted 500 ms", verdict(sorted(taken)[len(taken) // 2] < 500))
        )
    return rows


def main() -> None:
    """Measure and print. An argument says how many sheets are read; 400 unless it is given."""
    sheets = int(sys.argv[1]) if len(sys.argv) > 1 else 400
    assert "scipy" not in sys.modules
    show("pages", bench_pages())
    show(f"marks, over {sheets} sheets", bench_reading(sheets))
    show("calibration scans", bench_scans(max(6, sheets // 10)))


if __name__ == "__main__":
    main()
