"""Formulas of figures, worked out anew: what the Working says must give the figure's value."""

from __future__ import annotations

import ast
import math
import re
from collections.abc import Callable

from dechirer.core.figure import Figure, fill_formula

_UNIT = re.compile(r"(\d+(?:\.\d+)?)\s*mm\b")
_BINARY: dict[type[ast.operator], Callable[[float, float], float]] = {
    ast.Add: lambda a, b: a + b,
    ast.Sub: lambda a, b: a - b,
    ast.Mult: lambda a, b: a * b,
    ast.Div: lambda a, b: a / b,
    ast.Pow: lambda a, b: a**b,
}


class FormulaError(ValueError):
    """A formula that is not one: words instead of a reckoning, or a name that is not among the inputs."""


def work_out(figure: Figure) -> float:
    """The value a figure's formula gives, from the values of its inputs.

    Raises:
        FormulaError: it has no formula, or one that cannot be reckoned.
    """
    values = {given.name: given.value for given in figure.inputs}
    used = list(values.values())

    def refuse(name: str) -> str:
        raise FormulaError(f"“{name}” is not among the inputs of {figure.key}")

    put = {name: f" v{place} " for place, name in enumerate(values)}
    text = _UNIT.sub(r"\1", fill_formula(figure.formula, put, refuse))
    for sign, plain in (("−", "-"), ("×", "*"), ("÷", "/"), ("²", "**2"), ("√", " sqrt "), ("π", f"{math.pi!r}")):
        text = text.replace(sign, plain)
    text = re.sub(r"sqrt\s*(v\d+|\d+(?:\.\d+)?)", r"sqrt(\1)", text)
    try:
        return _reckon(ast.parse(text.strip(), mode="eval").body, used)
    except (SyntaxError, ZeroDivisionError, OverflowError, ValueError) as error:
        raise FormulaError(f"{figure.key}: “{figure.formula}” cannot be reckoned ({error})") from None


def _reckon(node: ast.expr, used: list[float]) -> float:
    match node:
        case ast.Constant(value=int() | float() as value):
            return float(value)
        case ast.Name(id=name) if name[:1] == "v" and name[1:].isdigit():
            return used[int(name[1:])]
        case ast.UnaryOp(op=ast.USub(), operand=operand):
            return -_reckon(operand, used)
        case ast.BinOp(left=left, op=op, right=right) if type(op) in _BINARY:
            return _BINARY[type(op)](_reckon(left, used), _reckon(right, used))
        case ast.Call(func=ast.Name(id="sqrt"), args=[only]):
            return math.sqrt(_reckon(only, used))
    raise ValueError("words")
