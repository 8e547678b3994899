"""Typefaces: those that ship (outlines and single lines) and the maker's own, shaped with HarfBuzz.

fontTools' pen protocol and HarfBuzz are imported on first use.
"""

from __future__ import annotations

import itertools
import json
from functools import lru_cache
from pathlib import Path
from typing import Any

from msgspec import Struct

from dechirer.core.brought import FontFile
from dechirer.core.dress.decisions import Dress

FOLDER = Path(__file__).with_name("faces")
CAP_UNITS = 21.0
"""Height of a capital of the single-line faces in their own units."""
CAP_OF_EM = 0.7
"""Height of a capital of the single-line faces as a share of the em, as in common typefaces."""

X_HEIGHT = 14.0
ACCENT_GAP = 2.5
ACCENTS: dict[str, tuple[tuple[tuple[float, float], ...], ...]] = {
    "\u0300": (((-3, 4), (2, 0)),),
    "\u0301": (((-2, 0), (3, 4)),),
    "\u0302": (((-4, 0), (0, 4), (4, 0)),),
    "\u0303": (((-5, 0), (-3, 2), (-1, 2), (1, 0), (3, 0), (5, 2)),),
    "\u0304": (((-4, 1), (4, 1)),),
    "\u0306": (((-4, 4), (-2, 1), (2, 1), (4, 4)),),
    "\u0307": (((0, 0), (0, 0.6)),),
    "\u0308": (((-4, 0), (-4, 0.6)), ((4, 0), (4, 0.6))),
    "\u030a": (((0, 0), (-2, 2), (0, 4), (2, 2), (0, 0)),),
    "\u030b": (((-4, 0), (-1, 4)), ((1, 0), (4, 4))),
    "\u030c": (((-4, 4), (0, 0), (4, 4)),),
    "\u0327": (((0, 0), (1, -2), (-1, -5), (-3, -5)),),
    "\u0328": (((2, 0), (0, -3), (3, -5)),),
}
"""Strokes of accents for single-line letters, round the middle of the letter, in the faces' units; drawn for this
project. Combining marks by their Unicode names: grave, acute, circumflex, tilde, macron, breve, dot, diaeresis, ring,
double acute, caron, cedilla, ogonek."""
BELOW = frozenset({"\u0327", "\u0328"})


class FaceTitle(Struct, frozen=True):
    """A typeface that ships: its id, name, style (`upright`, `script`, `display` or `line`) and licence."""

    id: str
    title: str
    style: str
    licence: str = "SIL Open Font Licence 1.1"


SHIPPED: tuple[FaceTitle, ...] = (
    FaceTitle("dancing", "Dancing Script", "script"),
    FaceTitle("pacifico", "Pacifico", "script"),
    FaceTitle("sacramento", "Sacramento", "script"),
    FaceTitle("courgette", "Courgette", "script"),
    FaceTitle("josefin", "Josefin Sans", "upright"),
    FaceTitle("lora", "Lora", "upright"),
    FaceTitle("abril", "Abril Fatface", "display"),
    FaceTitle("alfa-slab", "Alfa Slab One", "display"),
    *(
        FaceTitle(f"line-{name}", f"Single line, {name}", "line", "free to use (Hershey)")
        for name in ("plain", "script", "flourish", "roman", "italic", "gothic", "fraktur", "double")
    ),
)

FEATURES: dict[str, str] = {
    "liga": "ligatures",
    "dlig": "more ligatures",
    "swsh": "swashes",
    "cswh": "swashes in place",
    "salt": "alternates",
    "calt": "alternates in place",
    "init": "forms at the start",
    "fina": "forms at the end",
    "titl": "titling",
    "smcp": "small capitals",
    "onum": "old-style figures",
    "lnum": "lining figures",
    "kern": "kerning",
    "frac": "fractions",
    "zero": "slashed zero",
    "hist": "historical forms",
    **{f"ss{number:02d}": f"style set {number}" for number in range(1, 21)},
}
"""OpenType features a maker may choose, with their names (OpenType specification, registered features)."""


class FontError(ValueError):
    """A font file that cannot be used; says why."""


class Shaped(Struct, frozen=True):
    """One glyph as shaped: its id, the letters it stands for, where it is put and how far it moves on (em = 1)."""

    glyph: int
    letters: str
    x: float
    y: float
    advance: float


class OutlineFace:
    """A typeface with outlines. Lengths are shares of the em; y runs down."""

    is_line = False

    def __init__(self, data: bytes, name: str) -> None:
        import uharfbuzz

        try:
            self._face = uharfbuzz.Face(data)
            self._font = uharfbuzz.Font(self._face)
            self.upem = float(self._face.upem)
            count = self._face.glyph_count
        except Exception as error:  # noqa: BLE001 - HarfBuzz's binding raises bare exceptions for damaged fonts
            raise FontError(f"{name}: is not a font that can be read ({error})") from None
        if not count or data[:4] not in (b"\x00\x01\x00\x00", b"OTTO", b"true", b"ttcf"):
            raise FontError(f"{name}: is not a TrueType or OpenType font, or has no letters in it")
        self.name = name

    def features(self) -> tuple[str, ...]:
        """The features it has that a maker may choose, in the order of FEATURES."""
        found: set[str] = set()
        for table in ("GSUB", "GPOS"):
            for index, _ in enumerate(self._face.get_table_script_tags(table)):
                found |= set(self._face.get_language_feature_tags(table, index))
        return tuple(tag for tag in FEATURES if tag in found)

    def title(self) -> str:
        """Its full name as the file has it; empty when it has none."""
        return str(self._face.get_name(4) or self._face.get_name(1) or "")

    def shape(self, text: str, features: tuple[str, ...]) -> list[Shaped]:
        """A row as glyphs, by HarfBuzz: kerned, with ligatures and the features asked for."""
        import uharfbuzz

        if not text:
            return []
        buffer = uharfbuzz.Buffer()
        buffer.add_str(text)
        buffer.guess_segment_properties()
        wanted = {feature.removeprefix("-"): not feature.startswith("-") for feature in features}
        uharfbuzz.shape(self._font, buffer, wanted)
        infos, places = buffer.glyph_infos, buffer.glyph_positions
        starts = [*sorted({info.cluster for info in infos}), len(text)]
        following = dict(itertools.pairwise(starts))
        found, seen = [], set[int]()
        for info, place in zip(infos, places, strict=True):
            letters = "" if info.cluster in seen else text[info.cluster : following[info.cluster]]
            seen.add(info.cluster)
            found.append(
                Shaped(
                    info.codepoint,
                    letters,
                    place.x_offset / self.upem,
                    -place.y_offset / self.upem,
                    place.x_advance / self.upem,
                )
            )
        return found

    def path(self, glyph: int) -> str:
        """A glyph's outline as a path, em = 1, y down."""
        pen = _GlyphPen(1.0 / self.upem)
        self._font.draw_glyph_with_pen(glyph, pen)
        return " ".join(pen.words)

    def has(self, character: str) -> bool:
        """Whether it has a glyph for a character."""
        return bool(self._font.get_nominal_glyph(ord(character)))


class _GlyphPen:
    def __init__(self, scale: float) -> None:
        self.scale, self.words = scale, list[str]()
        self.here = (0.0, 0.0)

    def _add(self, letter: str, *points: Any) -> None:
        self.here = points[-1]
        pairs = " ".join(f"{x * self.scale:.6f} {-y * self.scale:.6f}" for x, y in points)
        self.words.append(f"{letter} {pairs}")

    def moveTo(self, p: Any) -> None:
        self._add("M", p)

    def lineTo(self, p: Any) -> None:
        self._add("L", p)

    def curveTo(self, *points: Any) -> None:
        self._add("C", *points)

    def qCurveTo(self, *points: Any) -> None:
        (x0, y0), (cx, cy), (x, y) = self.here, points[0], points[-1]
        one = x0 + 2 / 3 * (cx - x0), y0 + 2 / 3 * (cy - y0)
        two = x + 2 / 3 * (cx - x), y + 2 / 3 * (cy - y)
        self._add("C", one, two, (x, y))

    def closePath(self) -> None:
        self.words.append("Z")

    def endPath(self) -> None:
        """An open subpath ends: nothing to write."""


class LineFace:
    """A single-line face for pens. Lengths are shares of the em; y runs down."""

    is_line = True

    def __init__(self, letters: dict[str, list[Any]], name: str) -> None:
        self.name, self._letters = name, letters
        self._unit = CAP_OF_EM / CAP_UNITS
        self._order = sorted(letters)

    def features(self) -> tuple[str, ...]:
        """None: single lines have no variants."""
        return ()

    def title(self) -> str:
        """Its name."""
        return self.name

    def shape(self, text: str, features: tuple[str, ...]) -> list[Shaped]:
        """A row as glyphs; accents that cannot be drawn are left off, what has no letter is left out."""
        found = []
        for letter in text:
            drawn, _ = self._parts(letter)
            if drawn:
                found.append(Shaped(ord(letter), letter, 0.0, 0.0, self._letters[drawn][0] * self._unit))
        return found

    def _parts(self, letter: str) -> tuple[str, str]:
        """The letter that is drawn for a character, and its accents that can be put on; empty when there is none."""
        if letter in self._letters:
            return letter, ""
        import unicodedata

        plain = unicodedata.normalize("NFD", letter)
        if plain[0] not in self._letters:
            return "", ""
        return plain[0], "".join(mark for mark in plain[1:] if mark in ACCENTS)

    def path(self, glyph: int) -> str:
        """A letter's strokes as an open path, em = 1, y down; accents stand over (or under) the middle of its ink."""
        letter, marks = self._parts(chr(glyph))
        strokes = [_numbers(stroke) for stroke in self._letters[letter][1:]]
        if marks and letter in "ij":
            strokes = [stroke for stroke in strokes if len(stroke) > 5 or min(y for _, y in stroke) < X_HEIGHT]
        xs = [x for stroke in strokes for x, _ in stroke] or [0.0]
        top, bottom = (max(y for stroke in strokes for _, y in stroke) if strokes else X_HEIGHT), 0.0
        for mark in marks:
            below = mark in BELOW
            lift = bottom if below else top + ACCENT_GAP
            middle = (min(xs) + max(xs)) / 2
            strokes += [[(middle + x, lift + y) for x, y in accent] for accent in ACCENTS[mark]]
            top += 0 if below else ACCENT_GAP + 4
        words = []
        for stroke in strokes:
            points = [f"{x * self._unit:.6f} {-y * self._unit:.6f}" for x, y in stroke]
            words.append("M " + " L ".join(points if len(points) > 1 else points * 2))
        return " ".join(words)

    def has(self, character: str) -> bool:
        """Whether it draws a character, accents and all."""
        import unicodedata

        letter, marks = self._parts(character)
        return bool(letter) and len(marks) == max(0, len(unicodedata.normalize("NFD", character)) - 1)


def _numbers(stroke: str) -> list[tuple[float, float]]:
    """A stroke's points in the face's own units, y up."""
    numbers = [float(word) for word in stroke.split()]
    return list(zip(numbers[::2], numbers[1::2], strict=True))


Typeface = OutlineFace | LineFace


@lru_cache(maxsize=1)
def _line_faces() -> dict[str, dict[str, list[Any]]]:
    found: dict[str, dict[str, list[Any]]] = json.loads((FOLDER / "strokes.json").read_text())
    return found


@lru_cache(maxsize=24)
def _shipped(face: str) -> Typeface:
    if face.startswith("line-"):
        return LineFace(_line_faces()[face], face)
    return OutlineFace((FOLDER / f"{face}.ttf").read_bytes(), face)


@lru_cache(maxsize=12)
def open_font(data: bytes, name: str) -> OutlineFace:
    """A font file of the maker's. Raises FontError when it cannot be used."""
    return OutlineFace(data, name)


def find_typeface(face: str, fonts: tuple[FontFile, ...]) -> Typeface:
    """The typeface of an id, the maker's own first; an unknown one gives the first that ships.

    Raises:
        FontError: the maker's font cannot be read.
    """
    own = next((font for font in fonts if font.id == face), None)
    if own is not None:
        return open_font(own.data, own.name)
    known = {shipped.id for shipped in SHIPPED}
    return _shipped(face if face in known else SHIPPED[0].id)


def list_typefaces(dress: Dress) -> list[tuple[str, str, str]]:
    """(id, title, style) of every typeface a job can use, the maker's own first."""
    own = [(font.id, font.name, "yours") for font in dress.fonts]
    return own + [(face.id, face.title, face.style) for face in SHIPPED]
