"""Words against HarfBuzz's own shaping, and by measuring the ink that comes of them."""

from __future__ import annotations

import math

import pytest
import shapely
import uharfbuzz
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from dechirer.core.dress.decisions import Words
from dechirer.core.dress.words.lettering import Lettering, find_gap, find_tightest, set_words
from dechirer.core.dress.words.typefaces import FOLDER, SHIPPED, FontError, find_typeface, open_font
from dechirer.core.length import parse_length
from dechirer.core.plan import make_plan
from tests import dressing
from tests.dressing import dressed, item
from tests.helpers import examples, quick_job

OUTLINES = [face.id for face in SHIPPED if face.style != "line"]
LINES = [face.id for face in SHIPPED if face.style == "line"]


def words(text: str, face: str = "lora", **more: object) -> Words:
    lengths = {
        name: parse_length(str(value)) if isinstance(value, str) and "mm" in value else value
        for name, value in more.items()
    }
    return Words(text, face, **lengths)  # type: ignore[arg-type]


def lettered(setting: Words, shape: object = None) -> Lettering:
    return set_words(setting, setting.text, (), shape)


def ink(found: Lettering) -> tuple[float, float, float, float]:
    left, top, right, bottom = shapely.total_bounds([s for g in found.glyphs for s in (*g.areas, *g.lines)]).tolist()
    return left, top, right, bottom


def test_enough_faces_ship() -> None:
    assert len(OUTLINES) >= 8
    assert len(LINES) >= 6
    assert {face.style for face in SHIPPED} == {"script", "upright", "display", "line"}
    assert all(face.licence for face in SHIPPED)


@pytest.mark.parametrize("face", OUTLINES)
@pytest.mark.parametrize("text", ["AVATAR Tofu", "affluent fjord", "Saltmarsh Kite Day"])
def test_advances_and_kerning_are_harfbuzzs(face: str, text: str) -> None:
    data = (FOLDER / f"{face}.ttf").read_bytes()
    own = uharfbuzz.Face(data)
    buffer = uharfbuzz.Buffer()
    buffer.add_str(text)
    buffer.guess_segment_properties()
    uharfbuzz.shape(uharfbuzz.Font(own), buffer)
    shaped = find_typeface(face, ()).shape(text, ())
    assert [each.glyph for each in shaped] == [info.codepoint for info in buffer.glyph_infos]
    advances = [place.x_advance / own.upem for place in buffer.glyph_positions]
    assert [each.advance for each in shaped] == pytest.approx(advances)
    assert "".join(each.letters for each in shaped) == text


def test_kerning_and_ligatures_can_be_turned_off() -> None:
    lora = find_typeface("lora", ())
    plain, kerned = (sum(each.advance for each in lora.shape("AVAVA", f)) for f in (("-kern",), ()))
    assert kerned < plain - 0.05
    apart, joined = (len(lora.shape("fi", f)) for f in (("-liga",), ()))
    assert (apart, joined) == (2, 1)
    assert "liga" in lora.features()


def test_a_letters_outline_has_the_size_the_font_says() -> None:
    """The capital H of Lora is as high as its OS/2 table says (sCapHeight)."""
    from fontTools.ttLib import TTFont

    font = TTFont(FOLDER / "lora.ttf")
    wanted = 20 * font["OS/2"].sCapHeight / font["head"].unitsPerEm
    _, top, _, bottom = ink(lettered(words("H", size="20 mm")))
    assert bottom - top == pytest.approx(wanted, abs=0.02)


@pytest.mark.parametrize("face", [*OUTLINES, *LINES])
def test_every_face_sets_words_whose_ink_is_centred(face: str) -> None:
    found = lettered(words("Kite\nDay, 10", face))
    left, top, right, bottom = ink(found)
    assert (left + right, top + bottom) == pytest.approx((0, 0), abs=1e-6)
    for row in (0, 1):  # each row centred by its own ink
        part = Lettering(tuple(each for each in found.glyphs if each.row == row), 0)
        assert sum(ink(part)[::2]) == pytest.approx(0, abs=1e-6)
    assert all(bool(each.lines) == (face in LINES) for each in found.glyphs)


def test_rows_keep_clear_space_between_their_inks() -> None:
    found = lettered(words("gypsy\nHat", rows="4.5 mm"))
    upper, lower = (Lettering(tuple(g for g in found.glyphs if g.row == row), 0) for row in (0, 1))
    assert ink(lower)[1] - ink(upper)[3] == pytest.approx(4.5, abs=1e-6)


@examples(40)
@given(
    st.sampled_from(OUTLINES),
    st.text("abdeghklmnoprstuwy", min_size=1, max_size=9),
    st.floats(20, 120),
    st.floats(5, 40),
)
def test_words_fill_a_band_by_their_ink(face: str, text: str, width: float, height: float) -> None:
    left, top, right, bottom = ink(lettered(words(text, face, fit="band", width=f"{width} mm", height=f"{height} mm")))
    assert max((right - left) / width, (bottom - top) / height) == pytest.approx(1, abs=2e-3)


def test_words_fill_a_circle_and_a_shape() -> None:
    found = lettered(words("Kite\nFestival", "josefin", fit="circle", width="60 mm"))
    reach = [math.hypot(x, y) for x, y in shapely.get_coordinates([a for g in found.glyphs for a in g.areas]).tolist()]
    assert max(reach) == pytest.approx(30, abs=0.05)
    kite = shapely.Polygon([(30, 0), (60, 30), (30, 90), (0, 30)])
    found = lettered(words("Wind", "josefin", fit="shape"), kite)
    inside = shapely.union_all([area for glyph in found.glyphs for area in glyph.areas])
    assert shapely.covers(kite, inside)
    hull = shapely.convex_hull(inside)
    assert shapely.distance(hull, kite.exterior) < 0.1  # it touches
    larger = shapely.affinity.scale(hull, 1.02, 1.02)
    assert not shapely.covers(kite, larger)


def test_words_along_an_arc_stand_upright_on_it() -> None:
    found = lettered(words("HHHHH", "lora", fit="arc", width="80 mm", size="10 mm"))
    for glyph in found.glyphs:
        feet = shapely.get_coordinates(glyph.areas[0].exterior)
        lowest = min(math.hypot(*point) for point in feet.tolist())
        assert lowest == pytest.approx(40, abs=0.4)  # flat feet on a curve
    turned = [math.atan2(g.areas[0].centroid.x, -g.areas[0].centroid.y) for g in found.glyphs]
    assert turned == sorted(turned)
    assert turned[2] == pytest.approx(0, abs=0.02)


@examples(40)
@given(st.sampled_from(OUTLINES), st.text("abcdeghmnopqrsu", min_size=2, max_size=7), st.floats(0.1, 0.6))
def test_joined_letters_overlap_by_what_is_asked(face: str, text: str, overlap: float) -> None:
    found = lettered(words(text, face, joined=True, overlap=f"{overlap} mm", size="30 mm"))
    for one, other in zip(found.glyphs, found.glyphs[1:], strict=False):
        gap = find_gap(one.areas, other.areas)
        assert gap <= -overlap + 1e-6 or not other.follows
        moved = [shapely.affinity.translate(area, -gap) for area in other.areas]
        # The measured gap, taken back, is where they just touch.
        touch = shapely.distance(shapely.union_all(list(one.areas)), shapely.union_all(moved))
        assert touch < 0.02
    assert not found.apart


@given(st.floats(-5, 30), st.floats(-20, 20))
def test_the_gap_of_two_discs_is_plain_geometry(across: float, down: float) -> None:
    one, other = shapely.Point(0, 0).buffer(10, 64), shapely.Point(20 + across, down).buffer(10, 64)
    wanted = 20 + across - math.sqrt(400 - down * down) if abs(down) < 20 else math.inf
    found = find_gap((one,), (other,))
    assert found == pytest.approx(wanted, abs=0.05) or abs(down) > 19.5


def test_letters_that_do_not_join_and_dots_are_named() -> None:
    apart = lettered(words("oo", "lora", spacing="3 mm"))
    assert apart.apart == ("oo",)
    found = lettered(words("hint", "lora", joined=True))
    assert not found.apart
    assert found.loose == ("i",)


def test_filled_counters_are_named_and_the_tightest_spacing_keeps_them() -> None:
    setting = words("oooo", "lora", spacing="-6 mm")
    assert lettered(setting).filled == ("o",)
    spacing = find_tightest(setting, "oooo", ())
    assert spacing is not None
    kept = lettered(replace(setting, spacing=parse_length(f"{spacing:.3f} mm")))
    assert not kept.filled
    assert not kept.apart
    tighter = lettered(replace(setting, spacing=parse_length(f"{spacing - 0.3:.3f} mm")))
    assert tighter.filled


def test_missing_characters_are_named() -> None:
    assert lettered(words("a☃b", "lora")).missing == ("☃",)
    assert lettered(words("Æ", "line-plain")).missing == ("Æ",)


@pytest.mark.parametrize("text", ["ö", "É", "ç", "ñ", "å", "ů", "ő", "ą"])
def test_single_lines_put_accents_on_their_letters(text: str) -> None:
    import unicodedata

    plain = unicodedata.normalize("NFD", text)[0]
    accented, bare = (lettered(words(each, "line-plain", size="20 mm")) for each in (text, plain))
    assert accented.missing == ()
    (one,), (other,) = accented.glyphs, bare.glyphs
    assert len(one.lines) > len(other.lines)
    high = [ink(found)[3] - ink(found)[1] for found in (accented, bare)]
    assert high[0] > high[1] + 0.5


def test_a_broken_font_says_so() -> None:
    with pytest.raises(FontError, match="x"):
        open_font(b"OTTO" + b"\x00" * 60, "x.otf")


@examples(80)
@given(st.text(max_size=20), st.sampled_from([*OUTLINES, *LINES]), st.sampled_from(["size", "band", "circle", "arc"]))
def test_any_text_is_set_or_refused(text: str, face: str, fit: str) -> None:
    try:
        setting = words(text, face, fit=fit)
    except ValueError:
        assert not text.strip() or len(text) > 2000
        return
    found = lettered(setting)
    assert found.size >= 0


@pytest.mark.parametrize("face", ["dancing", "sacramento", "lora"])
@pytest.mark.parametrize("text", ["Frohe Fahrt", "Wavy rivers", "Toy fair"])
def test_joined_letters_do_not_come_apart_as_their_overlap_grows(face: str, text: str) -> None:
    parts = []
    for overlap in ("0.4 mm", "0.8 mm", "1.7 mm", "2.5 mm"):
        made = dressing.words(text, face=face, size="18 mm", joined=True, overlap=overlap)
        plan = make_plan(dressed(item(made="window", words=made), job=quick_job("12x5in", fold="flat")))
        whole = shapely.union_all(list(plan.dress.items[0].placed.drawn.areas))
        parts.append(len(shapely.get_parts(whole)))
    assert parts == sorted(parts, reverse=True)
