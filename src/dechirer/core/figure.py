"""A number that carries its working: what it is, how it came about, and from which other figures.

A *typed* figure has no inputs; its `field` names the place in the job it was typed in. A *derived* figure
has a formula in words, with `{name}` where an input's value goes.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping

from msgspec import Struct

from dechirer.core.length import format_length

THIN_MM = 1.5
"""Below this a length in inches is told in thousandths, as thicknesses are."""
Kind = str  # length, fine, count, minutes, share, weight, pounds, area, mass or plain


class Figure(Struct, frozen=True):
    """One number of a plan.

    Attributes:
        key: where it is found again, such as `liner.width`.
        name: the maker's word for it, such as `liner width`.
        value: mm for lengths, minutes, pieces, or a share from 0 to 1.
        kind: `length`, `fine` (mm to a hundredth), `count`, `minutes`, `share`, `weight` (gsm), `pounds`, `area`
        (mm2), `mass` (g) or `plain`: how
            it is written.
        formula: the working, with `{input name}` for each input; empty for a typed figure.
        inputs: the figures the formula uses, in the order of the formula.
        note: a remark for the maker, such as the total beside a per-side measure.
        field: the job field it was typed in, when it was typed.
        source: where a constant comes from, when it is neither typed nor derived.
    """

    key: str
    name: str
    value: float
    kind: Kind = "length"
    formula: str = ""
    inputs: tuple[Figure, ...] = ()
    note: str = ""
    field: str | None = None
    source: str = ""

    def text(self, unit: str = "in") -> str:
        """The value written for people, with its unit."""
        return format_value(self.value, self.kind, unit)

    def both(self, unit: str = "in") -> str:
        """The value in the unit chosen, and in millimetres besides where that is inches and only nearly told so."""
        text = self.text(unit)
        if unit != "in" or self.kind != "length" or not text.startswith(("~", "0.")):
            return text
        return f"{text}, {self.value:.2f} mm" if abs(self.value) < THIN_MM else f"{text}, {self.text('mm')}"

    def sentence(self, unit: str = "in") -> str:
        """The formula with its values: `10 in − 2 × 1/16 in (reveal)`."""
        if not self.formula:
            return self.origin(unit)
        told = {given.name: f"{given.both(unit)} ({given.name})" for given in self.inputs}
        return fill_formula(self.formula, told)

    def origin(self, unit: str = "in") -> str:
        """Where a figure without inputs comes from."""
        if self.field:
            return f"typed in {self.field.split('.')[0].capitalize()}"
        return self.source

    def walk(self, depth: int = 0) -> Iterator[tuple[int, Figure]]:
        """Yield (depth, figure) for this figure and all it comes from, depth first, each input once."""
        seen: set[str] = set()
        stack = [(depth, self)]
        while stack:
            level, figure = stack.pop()
            if figure.key in seen:
                continue
            seen.add(figure.key)
            yield level, figure
            stack.extend((level + 1, given) for given in reversed(figure.inputs))

    def explain(self, unit: str = "in") -> str:
        """The whole working as indented text, down to what was typed."""
        lines = []
        for depth, figure in self.walk():
            lines.append("  " * depth + f"{figure.name} = {figure.both(unit)} = {figure.sentence(unit)}")
            if figure.note and depth == 0:
                lines.append(f"  {figure.note}")
        return "\n".join(lines)

    def tree(self) -> dict[str, object]:
        """The whole working as plain data, for `plan.json`."""
        return {
            "key": self.key,
            "name": self.name,
            "value": round(self.value, 4),
            "kind": self.kind,
            "formula": self.formula,
            "from": [given.tree() for given in self.inputs],
            "typed_in": self.field,
            "source": self.source,
        }


def fill_formula(formula: str, told: Mapping[str, str], otherwise: Callable[[str], str] | None = None) -> str:
    """A formula with words in place of each `{name}`, all at once: names, which makers choose, may hold braces.

    Args:
        told: what stands for each name; `otherwise` gives it for a name that is not among them, which else stays.
    """
    known = "|".join(re.escape(name) for name in sorted(told, key=len, reverse=True)) or r"(?!)"
    places = re.compile(rf"\{{(?:(?P<known>{known})|(?P<other>[^{{}}]*))\}}")

    def put(match: re.Match[str]) -> str:
        name = match["known"]
        if name is not None:
            return told[name]
        return otherwise(match["other"]) if otherwise is not None else match[0]

    return places.sub(put, formula)


def format_value(value: float, kind: Kind, unit: str) -> str:
    """Write a value of a figure's kind with its unit."""
    match kind:
        case "length":
            # Paper thickness and the like would vanish in thirty-seconds of an inch.
            if unit == "in" and 0 < abs(value) < THIN_MM and format_length(value, unit).startswith("~"):
                return f"{value / 25.4:.3f} in"
            return format_length(value, unit)
        case "fine":
            return f"{value:.2f} mm"
        case "count":
            return f"{value:.0f}"
        case "minutes":
            return format_minutes(value)
        case "share":
            return f"{100 * value:.0f} %"
        case "weight":
            return f"{value:.0f} g/m²"
        case "pounds":
            return f"{value:g} lb"
        case "mass":
            return f"{value:.1f} g" if unit != "in" else f"{value:.1f} g ({value / 28.349523125:.2f} oz)"
        case "area":
            return f"{value / 100:.0f} cm²"
        case _:
            return f"{value:g}"


def format_minutes(minutes: float) -> str:
    """Write a duration: seconds under one minute, hours from two."""
    if minutes < 1:
        return f"{60 * minutes:.0f} s"
    if minutes < 120:
        return f"{minutes:.0f} min"
    hours, rest = divmod(round(minutes), 60)
    return f"{hours} h {rest:02d} min"
