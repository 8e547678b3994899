"""The whole jobs that are printed first and cut after, from an empty start. Numbers are those of the list of jobs."""

from __future__ import annotations

import io

import numpy as np
from msgspec.structs import replace
from PIL import Image, ImageDraw

from dechirer.core.brief.decisions import Paper
from dechirer.core.brought import Art
from dechirer.core.decide.values import Size
from dechirer.core.dress.decisions import Column, Copies, Row, table_of
from dechirer.core.dress.shapes import make_shape
from dechirer.core.job.model import Job
from dechirer.core.length import parse_length
from dechirer.formats.art.picture import read_picture
from tests.dressing import art, item, step, words
from tests.helpers import attached, changed
from tests.jobs.made import PAPERS, dress, start, types

LETTER = Size(parse_length("8.5 in"), parse_length("11 in"))
PRINTED = (
    Paper("sheet", "matte print card", "#ffffff", "65 lb cover", LETTER),
    Paper("label", "matte label", "#ffffff", "80 lb text", LETTER),
)
INKS = ("#c03020", "#2040b0", "#20a040", "#d0a020")
MOTH = "M 40 8 C 20 -6 0 0 4 24 C 6 40 20 50 34 42 L 40 54 L 46 42 C 60 50 74 40 76 24 C 80 0 60 -6 40 8 Z"


def begin(size: str, fold: str, *, count: int = 1, paper: str = "sheet") -> Job:
    """An empty job with sheets for the printer beside the usual ones."""
    return changed(start(size, fold, count=count), brief__papers=(*PRINTED, *PAPERS), brief__base_paper=paper)


def picture(image: Image.Image, id: str, px_per_inch: float) -> Art:
    out = io.BytesIO()
    image.save(out, "PNG")
    return read_picture(out.getvalue(), f"{id}.png", id, px_per_inch=px_per_inch)


def four_labels(px: int = 1600, px_per_inch: float = 72.0) -> Art:
    """Four squares on clear ground, each with a border in black and its own colour inside: at 72 px to the inch many
    times too large."""
    image = Image.new("RGBA", (px, px), (255, 255, 255, 0))
    pen, side = ImageDraw.Draw(image), px // 4
    for colour, (x, y) in zip(INKS, ((0, 0), (1, 0), (0, 1), (1, 1)), strict=True):
        left, top = x * (px - side), y * (px - side)
        pen.rectangle((left, top, left + side - 1, top + side - 1), fill="#101010")
        rim = side // 10
        pen.rectangle((left + rim, top + rim, left + side - 1 - rim, top + side - 1 - rim), fill=colour)
    return picture(image, "four", px_per_inch)


def beach(px: int = 1800) -> Art:
    """A photograph, as it were: every place has a colour of its own."""
    across, down = np.meshgrid(np.linspace(0, 255, px), np.linspace(0, 255, px))
    deep = np.stack([across, down, 255 - (across + down) / 2], axis=2).astype(np.uint8)
    return picture(Image.fromarray(deep), "beach", 300.0)


def job_6_printed_inside_window_above(at: str = "30 mm") -> Job:
    """6 x 4 from 6 x 8; a message printed on the inside lower half, a window in the upper with a panel behind it."""
    job = changed(attached(begin("6x4in", "top-fold"), "window"), construct__window__paper="navy")
    job = types(
        job, construct__window__width="3 in", construct__window__height="2 in", construct__window__margin="1/4 in"
    )
    message = words("Come down to the marsh\nbefore the tide does", size="7 mm")
    return dress(
        job,
        item("message", "inside bottom", made="print", words=message, colour="#203060", down="top", y=at),
    )


def job_8_four_labels(width: str = "50 mm", px: int = 1600) -> Job:
    """Four labels of one picture, each on a border of 1/8 in, cut and not printed, from coloured card, on foam; a
    different one on each of four cards."""
    job = begin("5x7in", "side-fold", count=4, paper="heavy")
    size = {"width": width, "art": "four", "printed": True, "paper": "label", "foam": "2 mm"}
    label = item("label", made="piece", part=1, **size)
    others = tuple(item(f"label-{number}", made="guide", part=number, **size) for number in (2, 3, 4))
    border = item("border", made="piece", of="label", art=None, steps=(step("border", by="1/8 in"),), paper="navy")
    table = Copies(
        (Column("which", carries="label"),),
        (Row(("",), 1), *(Row((f"label-{number}",), 1) for number in (2, 3, 4))),
    )
    return dress(job, border, label, *others, arts=(four_labels(px),), copies=table)


def job_10_eight_printed(names: tuple[str, ...] = (*["our friends"] * 7, "Aunt Wilma"), size: str = "9 mm") -> Job:
    """Top fold 5.5 x 4, one to a page, seven of one wording and one of another, script printed and not joined."""
    job = changed(begin("5.5x4in", "top-fold", count=8), press__to_a_page="some")
    return dress(
        job,
        item("to", made="print", words=words("For {name}", face="lora", size=size), colour="#203060"),
        copies=table_of(("name",), tuple((name,) for name in names)),
    )


def job_12_moth(resized: bool = False, over_straps: bool = False) -> Job:
    """A money holder with a moth printed and cut, its back plain and mated by its outline, an amount in a circle."""
    job = begin("5x4in", "money-holder", paper="heavy")
    moth = art(MOTH, id="moth", width=80.0, height=54.0)
    moth = replace(moth, groups=(replace(moth.groups[0], colour="#7a3b66"),))
    corner = {"across": "left", "x": "4 mm", "down": "top", "y": "4 mm"}
    over = {"across": "left", "x": "32 mm"} if over_straps else corner
    low = {"down": "bottom", "y": "4 mm"}
    rows = [
        item("moth-back", made="piece", of="moth", art=None, steps=(step("outermost"),), paper="navy", mate="moth"),
        item("moth", made="piece", art="moth", width="34 mm", printed=True, paper="label", locked=True, **low),
        item("ring", made="print", art="shape-disc", width="20 mm", colour="#d0a020", **corner),
        item("sum", made="print", words=words("20", size="9 mm"), colour="#203060", **over),
    ]
    if resized:
        rows[0] = replace(rows[0], steps=(step("outermost"), step("border", by="1 mm")))
    return dress(changed(job, brief__base_paper="sheet"), *rows, arts=(moth, make_shape("disc")))


def job_16_three_crops(film: str = "clear", px: int = 1800) -> Job:
    """Three crops of one picture, each concentric with the next, on foam; film over the pages; a petal envelope."""
    job = attached(begin("5.25x5.25in", "top-fold", paper="heavy"), "envelope")
    job = changed(job, construct__fold__kind="unmarked", construct__envelope__style="petal", press__film=film)
    sides = {"large": "4.9 in", "middle": "3.9 in", "small": "2.9 in"}
    frames = [
        item(f"{name}-frame", made="guide", art="shape-rectangle", width=side, height=side)
        for name, side in sides.items()
    ]
    crops = [
        item(
            name,
            made="piece",
            of="picture",
            art=None,
            printed=True,
            paper="label",
            foam="1 mm",
            steps=(step("crop", of=f"{name}-frame"),),
        )
        for name in sides
    ]
    under = item(
        "under", made="piece", of="large", art=None, steps=(step("border", by="0.15 in"),), paper="navy", foam="1 mm"
    )
    whole = item("picture", made="guide", art="beach", width="5.1 in")
    return dress(job, whole, *frames, under, *crops, arts=(beach(px), make_shape("rectangle")))


PRINTED_GOOD = {
    "6 printed": job_6_printed_inside_window_above,
    "8 printed": job_8_four_labels,
    "10 printed": job_10_eight_printed,
    "12 printed": job_12_moth,
    "16 printed": job_16_three_crops,
}
