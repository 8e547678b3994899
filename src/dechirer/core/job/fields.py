"""What a maker may type into a field: reads the text by the field's kind and returns the changes it means.

Messages are written to stand beside the field. The old value is kept whenever one is raised.
"""

from __future__ import annotations

import re
from fractions import Fraction
from typing import Any

from msgspec import Struct, structs

from dechirer.core.job.edit import Change, get_field, set_loading
from dechirer.core.job.model import Job
from dechirer.core.job.values import Size
from dechirer.core.length import Length, LengthError, format_length, parse_length
from dechirer.core.paper.banknotes import find_banknote_by_name
from dechirer.core.paper.standards import find_size, parse_size
from dechirer.core.paper.weight import WeightError, parse_weight


class FieldError(ValueError):
    """A text that a field does not take; says what it takes."""


class FieldSpec(Struct, frozen=True):
    """What a field takes. `kind` is length, size, count, number, weight or text; bounds in mm or plain."""

    title: str
    kind: str
    least: float = 0.0
    most: float = 1000.0
    optional: bool = False


_SPECS: tuple[tuple[str, FieldSpec], ...] = (
    (r"name", FieldSpec("Name of the job", "text", 1, 120)),
    (r"about", FieldSpec("What it is", "text", 0, 200)),
    (r"brief\.(width|height)", FieldSpec("Finished size", "length", 20, 600)),
    (r"brief\.count", FieldSpec("Copies", "count", 1, 10_000)),
    (r"brief\.blank", FieldSpec("Flat size of the blank", "size", 20, 1000, optional=True)),
    (r"brief\.papers\.[a-z0-9-]+\.name", FieldSpec("Paper name", "text", 1, 120)),
    (r"brief\.papers\.[a-z0-9-]+\.weight", FieldSpec("Paper weight", "weight")),
    (r"brief\.papers\.[a-z0-9-]+\.thickness", FieldSpec("Measured thickness", "length", 0.01, 5, optional=True)),
    (r"brief\.papers\.[a-z0-9-]+\.sheet", FieldSpec("Sheet size", "size", 20, 1000)),
    (r"brief\.papers\.[a-z0-9-]+\.on_hand", FieldSpec("Sheets on hand", "count", 0, 100_000, optional=True)),
    (r"brief\.machine\.name", FieldSpec("Machine name", "text", 1, 120)),
    (r"brief\.machine\.(mat|cut)_(width|height)", FieldSpec("Machine size", "mm", 20, 3000)),
    (r"brief\.machine\.cut_(left|top)", FieldSpec("Cut area offset", "mm", 0, 500)),
    (r"brief\.machine\.reader\.(width|height)", FieldSpec("Mark reader area", "mm", 20, 3000)),
    (r"brief\.machine\.pace\.(cut|score|travel)_mm_s", FieldSpec("Speed in mm/s", "number", 0.1, 5000)),
    (r"brief\.machine\.pace\.acceleration_mm_s2", FieldSpec("Acceleration in mm/s²", "number", 1, 100_000)),
    (r"brief\.machine\.pace\.(lift_s|load_mat_s|change_tool_s)", FieldSpec("Seconds", "number", 0, 3600)),
    (
        r"construct\.((liner|envelope)\.)?fold\.ends",
        FieldSpec("Fold line stops short of the edge by", "length", -50, 200),
    ),
    (r"construct\.((liner|envelope)\.)?fold\.dash", FieldSpec("Perforation dash", "length", 0.2, 50)),
    (r"construct\.((liner|envelope)\.)?fold\.land", FieldSpec("Perforation land", "length", 0, 50)),
    (r"construct\.liner\.reveal", FieldSpec("Liner reveal, each side", "length", -50, 200)),
    (r"construct\.gate\.gap", FieldSpec("Gap between the doors", "length", 0, 50)),
    (r"construct\.hinged\.hinge", FieldSpec("Hinge width", "length", 1, 600)),
    (r"construct\.hinged\.rim", FieldSpec("Repeats of the rim", "count", 0, 200)),
    (r"construct\.hinged\.proud", FieldSpec("The rim stands proud by", "length", 0.5, 50)),
    (r"construct\.concertina\.panels", FieldSpec("Panels", "count", 2, 40)),
    (r"construct\.concertina\.tab", FieldSpec("Glue tab", "length", 2, 60)),
    (r"construct\.concertina\.step", FieldSpec("Each panel lower by", "length", 0, 200)),
    (r"construct\.concertina\.widths", FieldSpec("Panel widths", "lengths", 10, 600, optional=True)),
    (r"construct\.concertina\.rise", FieldSpec("The tops rise by", "length", 0, 200)),
    (r"construct\.lock\.neck", FieldSpec("Neck of the tongue", "length", 2, 200)),
    (r"construct\.lock\.head", FieldSpec("Head of the tongue", "length", 2, 300)),
    (r"construct\.lock\.set_in", FieldSpec("The slot lies in by", "length", 1, 300)),
    (r"construct\.lock\.overlap", FieldSpec("The doors overlap by", "length", 0, 300)),
    (r"construct\.(lock|collar)\.clearance", FieldSpec("Clearance of the slot", "length", -20, 50)),
    (r"construct\.lock\.flap", FieldSpec("Depth of the top flap", "length", 0, 400)),
    (r"construct\.collar\.flap", FieldSpec("Depth of the flaps", "length", 0, 300)),
    (r"construct\.collar\.strap", FieldSpec("Width of the strap", "length", 4, 300)),
    (r"construct\.collar\.neck", FieldSpec("Neck of the strap", "length", 2, 300)),
    (r"construct\.collar\.slit_at", FieldSpec("Slit below the top", "length", 5, 500)),
    (r"construct\.collar\.tuck", FieldSpec("The strap goes in by", "length", 3, 200)),
    (r"construct\.collar\.reveal", FieldSpec("Facing smaller by, each side", "length", 0, 50)),
    (r"construct\.money\.note", FieldSpec("Note", "note", 20, 300)),
    (r"construct\.money\.thickness", FieldSpec("Thickness of the note", "length", 0.01, 2)),
    (r"construct\.money\.core", FieldSpec("The note is rolled on", "length", 1, 60)),
    (r"construct\.money\.clearance", FieldSpec("Clearance of the hole", "length", -5, 30)),
    (r"construct\.money\.wall", FieldSpec("Paper round the hole", "length", 1, 60)),
    (r"construct\.money\.dome", FieldSpec("Opening of the dome", "length", 5, 400)),
    (r"construct\.money\.depth", FieldSpec("Depth of the dome", "length", 1, 100)),
    (r"construct\.money\.rim", FieldSpec("Flange of the dome", "length", 1, 60)),
    (r"construct\.money\.free", FieldSpec("Free of glue round the flange", "length", 0, 60)),
    (r"construct\.money\.hanging", FieldSpec("Hanging hole", "length", 0, 60)),
    (r"construct\.row\.edge", FieldSpec("Paper round the motifs", "length", 1, 100)),
    (r"construct\.row\.strip", FieldSpec("Strip the flaps hang on", "length", 0.5, 100)),
    (r"construct\.row\.lift_deg", FieldSpec("The flaps lift by, in degrees", "count", 0, 120)),
    (r"construct\.row\.motifs\.[a-z0-9-]+\.(width|height)", FieldSpec("Motif", "length", 3, 300)),
    (r"construct\.layers\.[a-z0-9-]+\.border", FieldSpec("Border round the layer", "length", -50, 200)),
    (r"construct\.layers\.[a-z0-9-]+\.foam", FieldSpec("Foam under the layer", "length", 0, 10)),
    (r"construct\.window\.(width|height)", FieldSpec("Window", "length", 2, 600)),
    (r"construct\.window\.drop", FieldSpec("Window below the middle by", "length", -300, 300)),
    (r"construct\.window\.margin", FieldSpec("Glue margin of the backer", "length", 0, 100)),
    (r"construct\.slits\.(width|height)", FieldSpec("Insert", "length", 10, 600)),
    (r"construct\.slits\.catch", FieldSpec("The slits catch", "length", 1, 100)),
    (r"construct\.slits\.ease", FieldSpec("Each slit is longer by", "length", 0, 20)),
    (r"construct\.peel\.(width|height)", FieldSpec("What peels away", "length", 2, 600)),
    (r"construct\.peel\.drop", FieldSpec("Below the middle by", "length", -300, 300)),
    (r"construct\.peel\.margin", FieldSpec("The backer reaches past it by", "length", 0, 100)),
    (r"construct\.peel\.safe", FieldSpec("Stays from fold and edges", "length", 0, 100)),
    (r"construct\.stack\.(width|height)", FieldSpec("Largest layer", "length", 5, 600)),
    (r"construct\.stack\.count", FieldSpec("Layers of the stack", "count", 1, 8)),
    (r"construct\.stack\.step", FieldSpec("Each layer set in by", "length", 0.5, 100)),
    (r"construct\.stack\.insets", FieldSpec("Layers set in by (a list)", "lengths", 0, 300, optional=True)),
    (r"construct\.stack\.border", FieldSpec("Border round each layer", "length", 0, 50)),
    (r"construct\.stack\.foam", FieldSpec("Foam between the layers", "length", 0, 10)),
    (r"construct\.envelope\.inlay_margin", FieldSpec("Inlay smaller by, each side", "length", 1, 60)),
    (r"construct\.envelope\.ease", FieldSpec("Larger than the card by", "length", 0, 100)),
    (r"brief\.papers\.[a-z0-9-]+\.holds", FieldSpec("Narrowest web it holds", "length", 0.05, 20, optional=True)),
    (r"dress\.safe", FieldSpec("Safe zone", "length", 0, 100)),
    (r"dress\.pen_tip", FieldSpec("Tip of the pen", "length", 0.05, 5)),
    (r"dress\.(items|art)\.[a-z0-9-]+\.name", FieldSpec("Name", "text", 1, 120)),
    (r"dress\.items\.[a-z0-9-]+\.(width|height)", FieldSpec("Size on the face", "length", 1, 2000, optional=True)),
    (r"dress\.items\.[a-z0-9-]+\.fit_in", FieldSpec("Fitted, less", "length", -100, 300, optional=True)),
    (r"dress\.items\.[a-z0-9-]+\.margin", FieldSpec("Glue margin of the backer", "length", 0, 100)),
    (r"dress\.items\.[a-z0-9-]+\.place\.(x|y)", FieldSpec("Distance", "length", -2000, 2000)),
    (r"dress\.items\.[a-z0-9-]+\.place\.(left|right|top|bottom)", FieldSpec("Distance", "length", -2000, 2000)),
    (r"dress\.items\.[a-z0-9-]+\.place\.turn_deg", FieldSpec("Turned clockwise, degrees", "number", -360, 360)),
    (r"dress\.items\.[a-z0-9-]+\.words\.text", FieldSpec("Words", "text", 1, 2000)),
    (r"dress\.items\.[a-z0-9-]+\.words\.size", FieldSpec("Size of the letters", "length", 1, 600)),
    (r"dress\.items\.[a-z0-9-]+\.words\.width", FieldSpec("Width to fill", "length", 2, 1000)),
    (r"dress\.items\.[a-z0-9-]+\.words\.height", FieldSpec("Height to fill", "length", 1, 1000)),
    (r"dress\.items\.[a-z0-9-]+\.words\.rows", FieldSpec("Space between rows", "length", -100, 300)),
    (r"dress\.items\.[a-z0-9-]+\.words\.spacing", FieldSpec("Space between letters", "length", -30, 100)),
    (r"dress\.items\.[a-z0-9-]+\.words\.overlap", FieldSpec("Letters overlap by", "length", 0, 20)),
    (r"dress\.items\.[a-z0-9-]+\.steps\.[a-z0-9-]+\.by", FieldSpec("Measure of the step", "length", -200, 2000)),
    (r"dress\.items\.[a-z0-9-]+\.steps\.[a-z0-9-]+\.to", FieldSpec("Height of the step", "length", 0, 2000)),
    (r"dress\.items\.[a-z0-9-]+\.steps\.[a-z0-9-]+\.count", FieldSpec("How many", "count", 0, 400)),
    (r"lay\.margin", FieldSpec("Margin round the sheet", "length", 0, 100)),
    (r"lay\.spacing", FieldSpec("Space between pieces", "length", 0, 100)),
    (r"lay\.loadings\.[a-z0-9-]+\.sheet", FieldSpec("Sheet set at the machine", "size", 20, 1000, optional=True)),
    (r"run\.score_passes", FieldSpec("Score passes", "count", 1, 4)),
)


def find_spec(path: str) -> FieldSpec | None:
    """What the field at a path takes, or None when it is not typed into."""
    return next((spec for pattern, spec in _SPECS if re.fullmatch(pattern, path)), None)


def read_field(job: Job, path: str, text: str) -> tuple[Change, ...]:
    """Read what was typed into a field.

    The finished width and height also take a whole size (`a6`, `5 x 7`), which sets both.

    Raises:
        FieldError: the text is not of the field's kind or is out of its bounds.
    """
    spec = find_spec(path)
    if spec is None:
        raise FieldError(f"{path} is not a field to type into")
    text = text.strip()
    try:
        if path in ("brief.width", "brief.height") and (find_size(text) or re.search(r"\d\s*[x×X]\s*\d", text)):
            width, height = parse_size(text, unit=job.units)
            _check_length(spec, width, job.units)
            _check_length(spec, height, job.units)
            return Change("brief.width", width), Change("brief.height", height)
        empty = () if spec.kind == "lengths" else None
        value = _read(spec, text, job.units) if text or not spec.optional else empty
    except (LengthError, WeightError) as error:
        raise FieldError(str(error)) from None
    linked = _linked(job, path, value)
    if linked is not None:
        return (linked,)
    side = re.fullmatch(r"(dress\.items\.[a-z0-9-]+\.place)\.(left|right|top|bottom)", path)
    if side:  # typing a distance from a side keeps the item to that side from now on
        axis = ("across", "x") if side[2] in ("left", "right") else ("down", "y")
        place = structs.replace(get_field(job, side[1]), **{axis[0]: side[2], axis[1]: value})
        return (Change(side[1], place),)
    loading = re.fullmatch(r"lay\.loadings\.([a-z0-9-]+)\.(\w+)", path)
    if loading:  # a paper has a loading of its own only once something about it was changed
        return (set_loading(job, loading[1], **{loading[2]: value}),)
    return (Change(path, value),)


_LISTS = {
    "construct.concertina.widths": "construct.concertina.panels",
    "construct.stack.insets": "construct.stack.count",
}
"""A list, and the count of what it lists: typing one changes the other, as they have to agree."""


def _linked(job: Job, path: str, value: Any) -> Change | None:
    """One change of both, because a job whose list and count differ is not valid."""
    for values, count in _LISTS.items():
        parent, listed = values.rsplit(".", 1)
        counted = count.rsplit(".", 1)[1]
        if path == values and value:
            whole = structs.replace(get_field(job, parent), **{listed: value, counted: len(value)})
            return Change(parent, whole)
        old = get_field(job, values) if path == count else ()
        if old and len(old) != value:
            longer = (*old, *(old[-1:] * value))[:value]
            return Change(parent, structs.replace(get_field(job, parent), **{listed: longer, counted: value}))
    return None


def show_field(job: Job, path: str) -> str:
    """The text to edit for a field: what was typed, in the maker's own spelling."""
    side = re.fullmatch(r"(dress\.items\.[a-z0-9-]+\.place)\.(left|right|top|bottom)", path)
    if side:
        place = get_field(job, side[1])
        axis = ("across", "x") if side[2] in ("left", "right") else ("down", "y")
        return str(getattr(place, axis[1])) if getattr(place, axis[0]) == side[2] else ""
    value = get_field(job, path)
    spec = find_spec(path)
    if value is None:
        return ""
    if isinstance(value, tuple):
        return "; ".join(str(each) for each in value)
    if isinstance(value, Size):
        return f"{value.width} x {value.height}"
    if spec is not None and spec.kind == "mm":
        return format_length(value, job.units)
    if isinstance(value, float):
        return f"{value:g}"
    return str(value)


def _read(spec: FieldSpec, text: str, units: str) -> Any:
    match spec.kind:
        case "length":
            length = parse_length(text, unit=units)
            _check_length(spec, length, units)
            return length
        case "mm":
            length = parse_length(text, unit=units)
            _check_length(spec, length, units)
            return length.mm
        case "lengths":
            parts = [part for part in re.split(r"[;\n]", text) if part.strip()]
            if len(parts) > 40:
                raise FieldError(f"{spec.title}: at most 40, got {len(parts)}")
            lengths = tuple(parse_length(part, unit=units) for part in parts)
            for each in lengths:
                _check_length(spec, each, units)
            return lengths
        case "size" | "note":
            known = find_banknote_by_name(text) if spec.kind == "note" else None
            if known is not None:
                return Size(parse_length(f"{known.length_mm:g} mm"), parse_length(f"{known.height_mm:g} mm"))
            width, height = parse_size(text, unit=units)
            _check_length(spec, width, units)
            _check_length(spec, height, units)
            return Size(width, height)
        case "count":
            if not re.fullmatch(r"[+-]?\d{1,9}", text):
                raise FieldError(f"{spec.title}: “{text}” is not a whole number")
            _check_number(spec, int(text))
            return int(text)
        case "number":
            try:
                number = float(Fraction(text.replace(",", ".")))
            except (ValueError, ZeroDivisionError):
                raise FieldError(f"{spec.title}: “{text}” is not a number") from None
            _check_number(spec, number)
            return number
        case "weight":
            parse_weight(text)
            return text
        case _:
            if not spec.least <= len(text) <= spec.most:
                raise FieldError(f"{spec.title}: from {spec.least:.0f} to {spec.most:.0f} letters")
            return text


def _check_length(spec: FieldSpec, length: Length, units: str) -> None:
    if not spec.least <= length.mm <= spec.most:
        least, most = format_length(spec.least, units), format_length(spec.most, units)
        raise FieldError(f"{spec.title}: from {least} to {most}, got {format_length(length.mm, units)}")


def _check_number(spec: FieldSpec, number: float) -> None:
    if not spec.least <= number <= spec.most:
        raise FieldError(f"{spec.title}: from {spec.least:g} to {spec.most:g}, got {number:g}")
