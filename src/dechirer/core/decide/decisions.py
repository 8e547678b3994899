"""Decisions: what the maker chose. Those that belong together are a frozen struct whose values its fields hold to."""

from __future__ import annotations

import types
from functools import cache
from typing import Annotated, Any, ClassVar, Literal, Union, get_args, get_origin, get_type_hints

from msgspec import Struct

from dechirer.core.decide.field import LENGTHS, Field, Slot, check
from dechirer.core.decide.reading import read_value, show_value
from dechirer.core.decide.refusal import FieldError, at_field
from dechirer.core.decide.values import Size
from dechirer.core.length import Length


class Decisions(Struct, frozen=True, forbid_unknown_fields=True):
    """The base of all decisions: a value outside its field's bounds is refused whoever makes it.

    `also` names fields that are typed and shown though they are kept in others.
    """

    also: ClassVar[dict[str, Field]] = {}

    def __post_init__(self) -> None:
        for slot in _bounded(type(self)):
            try:
                check(slot, getattr(self, slot.name))
            except FieldError as error:
                raise FieldError(at_field(slot.name, str(error))) from None
        self.agree()

    def agree(self) -> None:
        """Refuse values that do not agree with each other. Raises ValueError; says nothing by itself."""

    def typed(self, name: str, text: str, units: str) -> dict[str, Any]:
        """The fields that change, by name, when a text is typed into the one of that name.

        Raises:
            FieldError: the text is not of the field's kind or out of its bounds.
        """
        return {name: read_value(slots_of(type(self))[name], text, units)}

    def shown(self, name: str, units: str) -> str:
        """The text to edit for a field: what was typed, in the maker's own spelling."""
        return show_value(slots_of(type(self))[name], getattr(self, name), units)


@cache
def slots_of(kind: type[Decisions]) -> dict[str, Slot]:
    """The fields of some decisions by name, in order, those that are typed though kept in others included."""
    found = {}
    # No local names: else a lambda in a field would see the names of its class only, not those of its module.
    hints = get_type_hints(kind, localns={}, include_extras=True)
    for name in kind.__struct_fields__:
        hint = hints[name]
        field = next((each for each in getattr(hint, "__metadata__", ()) if isinstance(each, Field)), None)
        if field is not None:
            found[name] = _make_slot(name, field, hint)
    for name, field in kind.also.items():
        found[name] = Slot(name, field, "length", Length)
    return found


def _make_slot(name: str, field: Field, hint: Any) -> Slot:
    plain, optional = _unwrap(hint)
    return Slot(name, field, _kind_of(field, plain), plain, optional)


def _unwrap(hint: Any) -> tuple[Any, bool]:
    """A type without its annotations, and whether it may be None."""
    optional = False
    while True:
        if get_origin(hint) is Annotated:
            hint = get_args(hint)[0]
        elif get_origin(hint) in (Union, types.UnionType) and type(None) in get_args(hint):
            optional = True
            left = [each for each in get_args(hint) if each is not type(None)]
            if len(left) != 1:
                return Union[tuple(left)], True  # noqa: UP007 - made at run time
            hint = left[0]
        else:
            return hint, optional


def _kind_of(field: Field, plain: Any) -> str:
    if field.takes:
        return field.takes
    if field.choices or get_origin(plain) is Literal:
        return "choice"
    if get_origin(plain) is tuple and _unwrap(get_args(plain)[0])[0] is Length:
        return "lengths"
    simple: dict[Any, str] = {
        Length: "length",
        Size: "size",
        bool: "switch",
        int: "count",
        float: "number",
        str: "text",
    }
    if plain in simple:
        return simple[plain]
    return "part" if isinstance(plain, type) and issubclass(plain, Decisions) else "other"


@cache
def _bounded(kind: type[Decisions]) -> tuple[Slot, ...]:
    """The fields whose values are checked when their decisions are made."""
    checked = LENGTHS | {"count", "number", "text", "choice"}
    return tuple(
        slot for slot in slots_of(kind).values() if slot.kind in checked and slot.name in kind.__struct_fields__
    )
