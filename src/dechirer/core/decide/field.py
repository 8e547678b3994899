"""Fields: what is known of a decision besides its type, and the base of all decisions that holds them to it.

A *decision* is something the maker chose; decisions that belong together are a frozen struct of fields. A `Field`
stands in the annotation of each, and title, bounds, words for choices, the typed field, the panel in the window, the
schema, the undo label and the message of a refusal all come from it.
"""

from __future__ import annotations

import types
from collections.abc import Callable, Iterable
from functools import cache
from typing import Annotated, Any, ClassVar, Literal, Union, get_args, get_origin, get_type_hints

from msgspec import Struct

from dechirer.core.length import Length, format_length

Choices = tuple[tuple[Any, str], ...]
"""What may be chosen: (value, words)."""


class FieldError(ValueError):
    """A value that a field does not take; says what it takes."""


class Field(Struct, frozen=True):
    """What is known of one field.

    Attributes:
        title: the maker's word for it.
        least, most: bounds of a number: mm for lengths, letters for texts, plain otherwise.
        choices: words for the values it may have; or a function that lists them, when they are found at run time.
        takes: what may be typed, where the type does not tell: `mm` (a float typed as a length), `weight`, `note` (a
            banknote by name or its size), `paper` (the id of a paper of the job).
        none: words for no value, where there may be none.
        hint: what an empty line says.
        drawn: the drawing shows it, so that no panel does.
        hidden: it is changed by other means than a field, and no panel shows it.
        shows: whether it has an effect as its decisions are now.
        entry: makes an entry of a list that is named by its id and not there yet.
    """

    title: str
    least: float | None = None
    most: float | None = None
    choices: Any = ()
    takes: str = ""
    none: str = ""
    hint: str = ""
    drawn: bool = False
    hidden: bool = False
    shows: Callable[[Any], bool] | None = None
    entry: Callable[[str], Any] | None = None


class Slot(Struct, frozen=True):
    """A field in its place: its name, its kind and whether it may be empty.

    `kind` is `length`, `lengths`, `size`, `mm`, `count`, `number`, `text`, `weight`, `note`, `switch`, `choice`,
    `paper`, `part` (decisions of their own) or `other` (not typed or chosen).
    """

    name: str
    field: Field
    kind: str
    type: Any
    optional: bool = False

    @property
    def choices(self) -> Choices:
        """What may be chosen, with words; empty for a field that is typed, and for papers, which the job knows."""
        listed = self.field.choices() if callable(self.field.choices) else self.field.choices
        found = tuple(listed.items()) if isinstance(listed, dict) else tuple(listed)
        if not found and get_origin(self.type) is Literal:
            found = tuple((word, str(word).replace("-", " ")) for word in get_args(self.type))
        return ((None, self.field.none), *found) if self.optional and self.field.none and found else found

    @property
    def is_typed(self) -> bool:
        """Whether it is typed into a line."""
        return self.kind in TYPED

    def allows(self, value: float) -> bool:
        """Whether a number (mm for a length) is within its bounds."""
        least, most = self.field.least, self.field.most
        return (least is None or value >= least - 1e-9) and (most is None or value <= most + 1e-9)

    def refuse(self, got: str, units: str) -> FieldError:
        """The error for a value out of bounds."""
        least, most = (self._bound(each, units) for each in (self.field.least, self.field.most))
        if most is None:
            return FieldError(f"{self.field.title}: at least {least}, got {got}")
        if least is None:
            return FieldError(f"{self.field.title}: at most {most}, got {got}")
        return FieldError(f"{self.field.title}: from {least} to {most}, got {got}")

    def _bound(self, value: float | None, units: str) -> str | None:
        if value is None:
            return None
        return format_length(value, units) if self.kind in LENGTHS else f"{value:g}"


LENGTHS = frozenset({"length", "lengths", "size", "mm", "note"})
TYPED = LENGTHS | {"count", "number", "text", "weight"}


class Decisions(Struct, frozen=True, forbid_unknown_fields=True):
    """The base of all decisions: a value outside its field's bounds is refused whoever makes it.

    `also` names fields that are typed and shown though they are kept in others.
    """

    also: ClassVar[dict[str, Field]] = {}

    def __post_init__(self) -> None:
        for slot in _bounded(type(self)):
            _check(slot, getattr(self, slot.name))
        self.agree()

    def agree(self) -> None:
        """Refuse values that do not agree with each other. Raises ValueError; says nothing by itself."""

    def typed(self, name: str, text: str, units: str) -> dict[str, Any]:
        """The fields that change, by name, when a text is typed into the one of that name.

        Raises:
            FieldError: the text is not of the field's kind or out of its bounds.
        """
        from dechirer.core.decide.reading import read_value

        return {name: read_value(slots_of(type(self))[name], text, units)}

    def shown(self, name: str, units: str) -> str:
        """The text to edit for a field: what was typed, in the maker's own spelling."""
        from dechirer.core.decide.reading import show_value

        return show_value(slots_of(type(self))[name], getattr(self, name), units)


def require(condition: bool, message: str) -> None:
    """Refuse a value of a model.

    Raises:
        ValueError: the condition does not hold; with the message.
    """
    if not condition:
        raise ValueError(message)


def require_own_ids(what: str, entries: Iterable[Any]) -> None:
    """Refuse a list in which two entries have one id.

    Raises:
        ValueError: two have; `what` says of what.
    """
    ids = [entry.id for entry in entries]
    require(len(set(ids)) == len(ids), f"two {what} have the same id")


@cache
def slots_of(kind: type[Decisions]) -> dict[str, Slot]:
    """The fields of some decisions by name, in order, those that are typed though kept in others included."""
    found = {}
    hints = get_type_hints(kind, include_extras=True)
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
    from dechirer.core.decide.values import Size

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


def _check(slot: Slot, value: Any) -> None:
    """Refuse a value out of bounds, or one that is not among the choices."""
    if value is None:
        return
    match slot.kind:
        case "length":
            if not slot.allows(value.mm):
                raise slot.refuse(str(value), "mm")
        case "lengths":
            for each in value:
                _check_length(slot, each)
        case "size" | "note":
            _check_length(slot, value.width)
            _check_length(slot, value.height)
        case "text":
            if not slot.allows(len(value)):
                raise slot.refuse(f"{len(value)} letters", "mm")
        case "choice":
            known = [each for each, _ in slot.choices]
            if slot.field.choices and not callable(slot.field.choices) and value not in known:
                raise FieldError(f"{slot.field.title}: “{value}” is not one of {', '.join(map(str, known))}")
        case _:
            if not slot.allows(value):
                raise slot.refuse(f"{value:g}", "mm")


def _check_length(slot: Slot, length: Length) -> None:
    if not slot.allows(length.mm):
        raise slot.refuse(str(length), "mm")
