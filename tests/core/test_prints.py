"""What is printed belongs to its piece: it lands with it, turns over with it, and tells copies apart."""

from __future__ import annotations

import io

import numpy as np
import pytest
import shapely
from PIL import Image, ImageDraw

from dechirer.core.brought import Art
from dechirer.core.card.piece import Piece, turn_over, turn_piece
from dechirer.core.card.placed import make_placement
from dechirer.core.card.print import Print
from dechirer.core.dress.decisions import Column, Copies, Row
from dechirer.core.job.model import Job
from dechirer.core.plan import make_plan
from dechirer.core.press.bleed import give_bleed
from dechirer.core.shape.affine import Affine, Point
from dechirer.formats.art.picture import read_picture
from tests.dressing import dressed, item, square, step, words
from tests.helpers import changed, quick_job

COLOURS = ("#c03020", "#2040b0", "#20a040", "#d0b020")


def picture_of(image: Image.Image, id: str = "art", px_per_inch: float = 254.0) -> Art:
    """A picture as the maker brings it in."""
    out = io.BytesIO()
    image.save(out, "PNG")
    return read_picture(out.getvalue(), f"{id}.png", id, px_per_inch=px_per_inch)


def four_squares() -> Art:
    """Four squares of 10 mm on clear ground, each half in its own colour and half in black, 10 mm apart."""
    image = Image.new("RGBA", (300, 300), (255, 255, 255, 0))
    pen = ImageDraw.Draw(image)
    for colour, (x, y) in zip(COLOURS, ((0, 0), (200, 0), (0, 200), (200, 200)), strict=True):
        pen.rectangle((x, y, x + 99, y + 99), fill=colour)
        pen.rectangle((x, y, x + 99, y + 49), fill="#000000")
    return picture_of(image)


def photo(wide: int = 200, high: int = 100, id: str = "photo") -> Art:
    """A picture that fills its frame: red grows to the right, green downwards."""
    across, down = np.meshgrid(np.linspace(0, 255, wide), np.linspace(0, 255, high))
    deep = np.stack([across, down, np.full_like(across, 90.0)], axis=2).astype(np.uint8)
    return picture_of(Image.fromarray(deep), id)


def colour_at(part: Print, point: Point) -> tuple[int, int, int]:
    """The colour a print shows at a place of its piece, read from its own pixels by Pillow."""
    assert part.raster is not None
    x, y = part.raster.to.inverse()(point)
    image = Image.open(io.BytesIO(part.raster.pixels.data)).convert("RGB")
    found = image.getpixel((int(x), int(y)))
    assert isinstance(found, tuple)
    return found[0], found[1], found[2]


def area_of(part: Print) -> float:
    """The printed area in mm2."""
    return float(sum(shapely.Polygon(outer, holes).area for outer, *holes in part.rings))


def pieces_of(job: Job, *stems: str) -> list[Piece]:
    return [piece for piece in make_plan(job).dress.pieces if piece.id.startswith(stems)]


@pytest.mark.parametrize(("turn", "mirrored"), [(0.0, False), (90.0, False), (180.0, False), (0.0, True)])
def test_a_picture_of_four_gives_four_pieces_each_with_its_own_pixels(turn: float, mirrored: bool) -> None:
    thing = item(art="art", printed=True, turn_deg=turn, mirrored=mirrored)
    own = pieces_of(dressed(thing, arts=(four_squares(),)), "thing")
    assert len(own) == 4
    seen = set()
    for piece in own:
        (part,) = piece.prints
        assert area_of(part) == pytest.approx(100.0, abs=0.6)
        assert len(part.rings) == 1, "none of a neighbour's"
        middle, quarter = (5.0, 5.0), 2.5
        # The half in black is the upper one as it was drawn, wherever that has come to lie.
        up = {0.0: (0, -1), 90.0: (1, 0), 180.0: (0, 1)}[turn]
        dark = (middle[0] + quarter * up[0], middle[1] + quarter * up[1])
        light = (middle[0] - quarter * up[0], middle[1] - quarter * up[1])
        assert colour_at(part, dark) == (0, 0, 0)
        seen.add("#" + "".join(f"{each:02x}" for each in colour_at(part, light)))
    assert seen == set(COLOURS)


def test_a_border_of_a_printed_piece_is_bare_and_exact() -> None:
    border = step("border", by="1/8 in", each=True)
    own = pieces_of(dressed(item(art="art", printed=True, steps=(border,)), arts=(four_squares(),)), "thing")
    assert len(own) == 4
    for piece in own:
        assert piece.width.value == pytest.approx(10.0 + 2 * 3.175, abs=0.02)
        (part,) = piece.prints
        left, top, right, bottom = shapely.Polygon(part.rings[0][0]).bounds
        assert (left, top) == pytest.approx((3.175, 3.175), abs=0.02)
        assert (right - left, bottom - top) == pytest.approx((10.0, 10.0), abs=0.02)


def test_art_in_colours_is_printed_in_them_within_one_outline() -> None:
    own = pieces_of(dressed(item(art="art", printed=True), arts=(square(20.0),)), "thing")
    assert [[part.colour for part in piece.prints] for piece in own] == [["#000000"]]
    assert area_of(own[0].prints[0]) == pytest.approx(400.0)
    plain = pieces_of(dressed(item(art="art"), arts=(square(20.0),)), "thing")
    assert plain[0].prints == ()


def test_crops_of_one_picture_show_it_where_it_lies_and_stay_tied_to_it() -> None:
    def crops(x: str) -> list[Piece]:
        rows = [
            item("picture", made="guide", art="photo", width="40 mm", across="left", x=x),
            item("frame", made="guide", art="art", width="10 mm"),
            item("large", of="picture", printed=True, steps=(step("crop", of="frame", by="2 mm"),)),
            item("small", of="picture", printed=True, steps=(step("crop", of="frame"),)),
        ]
        return pieces_of(dressed(*rows, arts=(photo(), square(10.0))), "large", "small")

    large, small = crops("40 mm")
    assert (large.width.value, small.width.value) == pytest.approx((14.0, 10.0), abs=0.02)
    # Concentric crops show the same at their middles.
    one, other = (colour_at(piece.prints[0], (size / 2, size / 2)) for piece, size in ((large, 14.0), (small, 10.0)))
    assert one == pytest.approx(other, abs=3)
    moved = crops("44 mm")
    assert moved[1].width.value == pytest.approx(10.0, abs=0.02)
    shifted = colour_at(moved[1].prints[0], (5.0, 5.0))
    # The picture, 40 mm wide, has gone 4 mm to the right: a tenth of its range less red.
    assert one[0] - shifted[0] == pytest.approx(25.5, abs=4)
    assert all(piece.prints[0].raster is not None and piece.prints[0].raster.goes_on for piece in moved)


def test_prints_on_the_card_land_on_its_flat_side() -> None:
    job = dressed(
        item("out", made="print", art="photo", width="40 mm"),
        item("in", face="inside right", made="print", art="photo", width="40 mm"),
        arts=(photo(),),
    )
    (base,) = pieces_of(job, "base")
    sides = {part.item: part.side for part in base.prints}
    assert sides == {"out": "outside-up", "in": "inside-up"}
    front = base.prints[0]
    left, _, right, _ = shapely.Polygon(front.rings[0][0]).bounds
    assert left > 127.0, "a side-fold card's front is the right half of its sheet, outside up"
    assert right - left == pytest.approx(40.0, abs=0.01)
    assert colour_at(front, (left + 1.0, 88.9))[0] < 20 < 200 < colour_at(front, (right - 1.0, 88.9))[0]


def test_what_is_printed_turns_over_with_its_piece_and_lies_on_the_sheet_with_it() -> None:
    (base,) = pieces_of(dressed(item("out", made="print", art="photo", width="40 mm"), arts=(photo(),)), "base")
    over = turn_over(base)
    left = shapely.Polygon(base.prints[0].rings[0][0]).bounds[0]
    assert shapely.Polygon(over.prints[0].rings[0][0]).bounds[2] == pytest.approx(base.width.value - left)
    assert over.prints[0].side == "outside-up"
    quarter = turn_piece(base, Affine(0.0, 1.0, -1.0, 0.0, 0.0, 0.0))
    assert shapely.Polygon(quarter.prints[0].rings[0][0]).bounds[1] == pytest.approx(left)
    # Face down, nothing of it lies up; face up and turned it does.
    assert list(make_placement("a", over, 0, 0, turned=False, pinned=False).prints()) == []
    (lies,) = make_placement("a", base, 5, 7, turned=True, pinned=False).prints()
    assert shapely.Polygon(lies.rings[0][0]).bounds[1] == pytest.approx(7 + left)


def test_seven_alike_and_one_otherwise_are_two_kinds() -> None:
    table = Copies((Column("who"),), (Row(("aunt",), 7), Row(("uncle",), 1)))
    job = dressed(
        item("wish", made="print", words=words("For my {who}", size="8 mm")),
        copies=table,
        job=changed(quick_job("5x7in"), brief__count=8),
    )
    bases = pieces_of(job, "base")
    assert [piece.count for piece in bases] == [7, 1]
    assert all(piece.prints and piece.prints[0].words for piece in bases)
    same = dressed(
        item("wish", made="print", words=words("For you", size="8 mm")),
        copies=table,
        job=changed(quick_job("5x7in"), brief__count=8),
    )
    assert [piece.count for piece in pieces_of(same, "base")] == [8]


def test_a_photograph_of_its_own_for_each_guest() -> None:
    table = Copies((Column("face", carries="portrait"),), (Row(("",), 1), Row(("other",), 1)))
    two = changed(quick_job("5x7in"), brief__count=2)
    portrait = item("portrait", made="print", art="photo", width="30 mm")
    job = dressed(portrait, arts=(photo(), photo(120, 100, "other")), copies=table, job=two)
    bases = pieces_of(job, "base")
    assert [piece.count for piece in bases] == [1, 1]
    sizes = [piece.prints[0].raster.pixels.width for piece in bases if piece.prints[0].raster]
    assert sizes == [200, 120]


def test_words_by_hand_are_not_printed() -> None:
    (base,) = pieces_of(dressed(item("wish", made="hand", words=words("For you", size="8 mm"))), "base")
    assert base.prints == ()


def test_copies_of_a_picture_round_a_circle_each_have_their_own_pixels() -> None:
    ring = step("repeat", count=3, by="30 mm")
    own = pieces_of(dressed(item(art="photo", printed=True, width="12 mm", steps=(ring,)), arts=(photo(),)), "thing")
    assert len(own) == 3
    for piece in own:
        (part,) = piece.prints
        assert len(part.rings) == 1
        middle = (piece.width.value / 2, piece.height.value / 2)
        assert colour_at(part, middle)[:2] == pytest.approx((127, 127), abs=4)


@pytest.mark.parametrize(("inset_px", "share"), [(2, 1.0), (15, 0.0)])
def test_ink_of_a_picture_counts_within_the_budget_of_the_cut_and_not_beyond(inset_px: int, share: float) -> None:
    """A picture of 20 mm as pale as its paper, 10 px to the mm, with a dark middle 0.2 or 1.5 mm inside its edge."""
    image = Image.new("RGBA", (240, 240), (255, 255, 255, 0))
    pen = ImageDraw.Draw(image)
    pen.rectangle((20, 20, 219, 219), fill="#ffffff")
    pen.rectangle((20 + inset_px, 20 + inset_px, 219 - inset_px, 219 - inset_px), fill="#203060")
    plan = make_plan(dressed(item(printed=True, paper="liner-paper"), arts=(picture_of(image),)))
    piece = next(each for each in plan.dress.pieces if each.prints)
    (edge,) = give_bleed(piece, "#ffffff", 0.5, "evidence")[1].edges
    assert edge.share == pytest.approx(share, abs=0.05)
