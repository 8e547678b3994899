"""Reading what was typed into a field, and writing what stands in it, by the field's kind."""

from __future__ import annotations

import re
from fractions import Fraction
from typing import Any

from dechirer.core.decide.field import Slot
from dechirer.core.decide.refusal import FieldError
from dechirer.core.decide.values import Size
from dechirer.core.length import Length, LengthError, format_length, parse_length
from dechirer.core.paper.banknotes import find_banknote_by_name
from dechirer.core.paper.standards import parse_size
from dechirer.core.paper.weight import WeightError, parse_weight

MOST_IN_A_LIST = 40


def read_value(slot: Slot, text: str, units: str) -> Any:
    """The value a text means in a field; None (or an empty list) for no text where there may be none.

    Args:
        units: `in` or `mm`, for numbers without a unit.

    Raises:
        FieldError: the text is not of the field's kind or is out of its bounds.
    """
    text = text.strip()
    if not text and (slot.optional or slot.kind == "lengths"):
        return () if slot.kind == "lengths" else None
    try:
        return _read(slot, text, units)
    except (LengthError, WeightError) as error:
        raise FieldError(str(error)) from None


def _read(slot: Slot, text: str, units: str) -> Any:
    match slot.kind:
        case "length":
            return check_length(slot, parse_length(text, unit=units), units)
        case "mm":
            return check_length(slot, parse_length(text, unit=units), units).mm
        case "lengths":
            parts = [part for part in re.split(r"[;\n]", text) if part.strip()]
            if len(parts) > MOST_IN_A_LIST:
                raise FieldError(f"{slot.field.title}: at most {MOST_IN_A_LIST}, got {len(parts)}")
            return tuple(check_length(slot, parse_length(part, unit=units), units) for part in parts)
        case "size" | "note":
            return _read_size(slot, text, units)
        case "count":
            if not re.fullmatch(r"[+-]?\d{1,9}", text):
                raise FieldError(f"{slot.field.title}: “{text}” is not a whole number")
            return check_number(slot, int(text))
        case "number":
            try:
                number = float(Fraction(text.replace(",", ".")))
            except (ValueError, ZeroDivisionError):
                raise FieldError(f"{slot.field.title}: “{text}” is not a number") from None
            return check_number(slot, number)
        case "weight":
            parse_weight(text)
            return text
        case "text":
            if not slot.allows(len(text)):
                least, most = slot.field.least or 0, slot.field.most or 0
                raise FieldError(f"{slot.field.title}: from {least:.0f} to {most:.0f} letters")
            return text
        case _:
            raise FieldError(f"{slot.field.title} is not a field to type into")


def _read_size(slot: Slot, text: str, units: str) -> Size:
    known = find_banknote_by_name(text) if slot.kind == "note" else None
    if known is not None:
        return Size(parse_length(f"{known.length_mm:g} mm"), parse_length(f"{known.height_mm:g} mm"))
    width, height = parse_size(text, unit=units)
    return Size(check_length(slot, width, units), check_length(slot, height, units))


def check_length(slot: Slot, length: Length, units: str) -> Length:
    """The length, when it is within the field's bounds.

    Raises:
        FieldError: it is not; with the bounds in the maker's unit.
    """
    if not slot.allows(length.mm):
        raise slot.refuse(format_length(length.mm, units), units)
    return length


def check_number(slot: Slot, number: Any) -> Any:
    """The number, when it is within the field's bounds.

    Raises:
        FieldError: it is not.
    """
    if not slot.allows(number):
        raise slot.refuse(f"{number:g}", "mm")
    return number


def show_value(slot: Slot, value: Any, units: str) -> str:
    """The text to edit for a value: lengths as they were typed, sizes as `5 in x 7 in`, lists with semicolons."""
    if value is None:
        return ""
    if isinstance(value, tuple):
        return "; ".join(str(each) for each in value)
    if isinstance(value, Size):
        return f"{value.width} x {value.height}"
    if slot.kind == "mm":
        text = format_length(value, units)
        return f"{value:g} mm" if text.startswith("~") else text  # what is shown is read back as it is
    if isinstance(value, float):
        return f"{value:g}"
    return str(value)
