"""Roles guessed from names, dashes, ways of drawing and colours; all common practice."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.brought import ROLES
from dechirer.core.dress.roles import FEW_COLOURS, HAIRLINE_MM, Looks, guess_role, role_by_name


@pytest.mark.parametrize(
    ("name", "role"),
    [
        ("Score lines", "score"),
        ("FOLD", "score"),
        ("valley_folds", "score"),
        ("mountain", "score"),
        ("crease-1", "score"),
        ("perforation", "perforate"),
        ("Perf", "perforate"),
        ("kiss cut", "kiss"),
        ("peel off", "kiss"),
        ("foil gold", "foil"),
        ("Pen", "pen"),
        ("drawn by hand", "pen"),
        ("sketch", "pen"),
        ("print", "print"),
        ("Photo", "print"),
        ("cut", "cut"),
        ("cut-lines", "cut"),
        ("die", "cut"),
        ("outline", "cut"),
        ("window", "cut"),
        ("guides", "off"),
        ("safe area", "off"),
        ("bleed", "off"),
        ("template", "off"),
    ],
)
def test_names_of_layers_and_classes_say_what_is_done(name: str, role: str) -> None:
    assert role_by_name(name) == role
    found, reason = guess_role(Looks(name, "#123456", 1.0, False))
    assert found == role
    assert name in reason


@pytest.mark.parametrize("name", ["", "Layer 1", "open", "pendant", "sail", "path123", "executive", "uncut", "soldier"])
def test_names_that_say_nothing_are_not_taken_for_words_they_contain(name: str) -> None:
    assert role_by_name(name) is None


@pytest.mark.parametrize(
    ("looks", "role"),
    [
        (Looks("", "#000000", 0.0, False), "cut"),
        (Looks("", "#000000", 0.0, False, FEW_COLOURS + 1), "print"),
        (Looks("", "#000000", 0.2, True), "score"),
        (Looks("", "#ff0000", 0.2, False, 0, ("#ff0000", "#0000ff")), "cut"),
        (Looks("", "#0000ff", 0.2, False, 0, ("#ff0000", "#0000ff")), "unassigned"),
        (Looks("", "#000000", HAIRLINE_MM + 0.1, False, 2), "pen"),
        (Looks("", "#000000", HAIRLINE_MM - 0.1, False, 2), "unassigned"),
    ],
)
def test_what_has_no_name_is_told_by_how_it_is_drawn(looks: Looks, role: str) -> None:
    assert guess_role(looks)[0] == role


@given(st.text(max_size=60), st.floats(0, 50), st.booleans(), st.integers(0, 20))
def test_every_group_gets_some_role_with_a_reason(name: str, stroke: float, dashed: bool, fills: int) -> None:
    role, reason = guess_role(Looks(name, "#000000", stroke, dashed, fills))
    assert role in ROLES
    assert 0 < len(reason) <= 200
