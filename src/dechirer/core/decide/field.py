"""Fields: what is known of a decision besides its type.

A `Field` stands in the annotation of each decision, and title, bounds, words for choices, the typed field, the panel in
the window, the schema, the undo label and the message of a refusal all come from it.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Literal, get_args, get_origin

from msgspec import Struct

from dechirer.core.decide.refusal import FieldError
from dechirer.core.length import Length, format_length

Choices = tuple[tuple[Any, str], ...]
"""What may be chosen: (value, words)."""


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
        fixed: the entries of a list follow from something else; none is added or taken off by itself.
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
    fixed: bool = False
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


def check(slot: Slot, value: Any) -> None:
    """Refuse a value out of bounds, or one that is not among the choices.

    Raises:
        FieldError: it is; says what the field takes.
    """
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
