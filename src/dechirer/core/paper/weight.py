"""Paper weight and thickness: pounds with their basis, grammage, and an estimate of the caliper.

Words: *grammage* is mass per area in g/m2 (ISO 536). A *basis weight* in pounds is the mass of 500 sheets
of the basis size of that kind of paper, so a number of pounds without its basis is a question. *Bulk* is
thickness over grammage.
"""

from __future__ import annotations

import re

from msgspec import Struct

from dechirer.core.figure import Figure

GRAMS_PER_POUND = 453.59237
"""Exact: international yard and pound agreement, 1959."""

BASIS_SHEETS: dict[str, tuple[float, float]] = {
    "cover": (20.0, 26.0),
    "index": (25.5, 30.5),
    "text": (25.0, 38.0),
    "bristol": (22.5, 28.5),
    "bond": (17.0, 22.0),
}
"""Basis sizes in inches, each per 500 sheets (published trade sizes; see ISO 536 for grammage)."""

BULK_CM3_PER_G = 1.3
"""Thickness in micrometres per g/m2 of uncoated card: from memory; a measured thickness always wins."""

DOUBLE_SCORE_FROM_GSM = 260.0
"""Stock from about 100 lb cover on is scored twice (common practice, no published limit)."""


class WeightError(ValueError):
    """A text that cannot be read as a paper weight."""


class Weight(Struct, frozen=True):
    """A paper weight as stated. `basis` is a key of BASIS_SHEETS, `gsm`, or empty when it was not said."""

    amount: float
    basis: str

    @property
    def is_known(self) -> bool:
        """Whether it can be turned into grammage: false for pounds without a basis."""
        return self.basis != ""

    @property
    def gsm(self) -> float | None:
        """Grammage in g/m2, or None for pounds without a basis.

        gsm = lb x 453.59237 / (500 x area of the basis sheet in m2).
        """
        if self.basis == "gsm":
            return self.amount
        if not self.basis:
            return None
        return pounds_to_gsm(self.amount, self.basis)


def pounds_to_gsm(pounds: float, basis: str) -> float:
    """Turn a basis weight in pounds into grammage.

    Raises:
        WeightError: the basis is not one of BASIS_SHEETS.
    """
    if basis not in BASIS_SHEETS:
        raise WeightError(f"basis “{basis}” is not one of {', '.join(BASIS_SHEETS)}")
    width, height = BASIS_SHEETS[basis]
    return pounds * GRAMS_PER_POUND / (500 * width * height * 0.0254**2)


_WEIGHT = re.compile(
    r"^\s*(?P<amount>\d+(?:\.\d+)?)\s*(?P<unit>lbs?|#|pounds?|gsm|g/m2|g/m²|g)\.?\s*(?P<basis>[a-z]*)\s*$",
    re.IGNORECASE,
)


def parse_weight(text: str) -> Weight:
    """Read `110 lb cover`, `298 gsm` or `300 g`. Pounds without a basis are read, with an empty basis.

    Raises:
        WeightError: no number with a unit, an unknown basis, or a weight no card has (5 to 1000 gsm).
    """
    match = _WEIGHT.match(text)
    if match is None:
        raise WeightError(f"“{text}” is no paper weight; write one such as 110 lb cover or 298 gsm")
    amount = float(match["amount"])
    basis = match["basis"].lower()
    if match["unit"].lower().startswith("g"):
        if basis:
            raise WeightError(f"“{text}”: grammage has no basis; write {amount:g} gsm")
        weight = Weight(amount, "gsm")
    else:
        if basis and basis not in BASIS_SHEETS:
            raise WeightError(f"“{text}”: “{basis}” is no basis; use {', '.join(BASIS_SHEETS)}")
        weight = Weight(amount, basis)
    gsm = weight.gsm if weight.is_known else amount
    if gsm is None or not 5 <= gsm <= 1000:
        raise WeightError(f"“{text}” is outside 5 to 1000 g/m²; check the unit")
    return weight


def make_weight_figure(key: str, name: str, weight: Weight, field: str) -> Figure:
    """The grammage of a paper with its working; an unknown basis gives a figure of value 0 that says so."""
    if weight.basis == "gsm":
        return Figure(key, f"{name} grammage", weight.amount, "weight", field=field)
    stated = Figure(f"{key}.pounds", "stated weight", weight.amount, "pounds", field=field)
    if not weight.is_known:
        return Figure(
            key,
            f"{name} grammage",
            0.0,
            "weight",
            source="pounds of an unknown basis",
            inputs=(stated,),
            note="Pounds mean nothing without the basis: cover, index, text, bristol or bond.",
        )
    width, height = BASIS_SHEETS[weight.basis]
    return Figure(
        key,
        f"{name} grammage",
        pounds_to_gsm(weight.amount, weight.basis),
        "weight",
        formula="{" + stated.name + f"}} × 453.59237 ÷ (500 × {width:g} × {height:g} × 0.0254²)",
        inputs=(stated,),
        note=f"On the {weight.basis} basis 500 sheets of {width:g} × {height:g} in weigh so many pounds; a pound is "
        "453.59237 g, an inch 0.0254 m.",
    )


def make_thickness_figure(key: str, name: str, grammage: Figure, measured: Figure | None) -> Figure:
    """Thickness in mm: the measured one when there is one, else grammage times bulk.

    Returns a figure of value 0.25 mm, and says so, when not even the grammage is known.
    """
    if measured is not None:
        return Figure(
            key,
            f"{name} thickness",
            measured.value,
            formula="{" + measured.name + "}",
            inputs=(measured,),
        )
    if grammage.value <= 0:
        return Figure(key, f"{name} thickness", 0.25, source="a guess: the weight has no basis")
    return Figure(
        key,
        f"{name} thickness",
        grammage.value * BULK_CM3_PER_G / 1000,
        formula="{" + grammage.name + "} × " + f"{BULK_CM3_PER_G} ÷ 1000",
        inputs=(grammage,),
        note=f"An estimate by {BULK_CM3_PER_G} µm per g/m², the bulk of uncoated card (from memory): measure ten "
        "sheets together and type a tenth of it to be exact.",
    )
