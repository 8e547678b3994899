"""Style of SVG elements: presentation attributes, inline styles, style sheets, inheritance, colours, lengths."""

from __future__ import annotations

import re
from typing import Any
from xml.etree.ElementTree import Element

INHERITED = frozenset(
    {
        "fill",
        "stroke",
        "stroke-width",
        "fill-rule",
        "clip-rule",
        "stroke-linecap",
        "stroke-linejoin",
        "stroke-dasharray",
        "visibility",
        "color",
        "fill-opacity",
        "stroke-opacity",
        "font-size",
    }
)
OWN = frozenset(
    {
        "display",
        "opacity",
        "clip-path",
        "mask",
        "filter",
        "vector-effect",
        "stop-color",
        "overflow",
        "marker-start",
        "marker-mid",
        "marker-end",
        "marker",
    }
)
START: dict[str, str] = {
    "fill": "#000000",
    "stroke": "none",
    "stroke-width": "1",
    "fill-rule": "nonzero",
    "clip-rule": "nonzero",
    "stroke-linecap": "butt",
    "stroke-linejoin": "miter",
    "stroke-dasharray": "none",
    "visibility": "visible",
    "color": "#000000",
    "fill-opacity": "1",
    "stroke-opacity": "1",
    "font-size": "16",
}

_LENGTH = re.compile(r"\s*([+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)\s*([a-zA-Z%]*)\s*$")
PX_PER = {"": 1.0, "px": 1.0, "mm": 96 / 25.4, "cm": 96 / 2.54, "in": 96.0, "pt": 96 / 72, "pc": 16.0, "q": 96 / 101.6}
"""px of CSS (96 to the inch) per unit: CSS Values and Units Level 3, absolute lengths."""


def parse_length(text: str | None, whole: float = 0.0, default: float = 0.0, font: float = 16.0) -> float:
    """A length in user units (px). `whole` is what percentages are of; a text that is no length gives `default`."""
    if text is None:
        return default
    match = _LENGTH.match(text)
    if match is None:
        return default
    number, unit = float(match[1]), match[2].lower()
    if unit == "%":
        return number / 100 * whole
    if unit in ("em", "rem"):
        return number * font
    if unit == "ex":
        return number * font / 2
    if unit not in PX_PER:
        return default
    return number * PX_PER[unit]


def unit_of(text: str | None) -> str:
    """The unit a length is written in, in small letters; empty for none, `?` when it is no length."""
    match = _LENGTH.match(text) if text else None
    return match[2].lower() if match else "?"


def read_colour(text: str, current: str) -> str | None:
    """A colour as #rrggbb; None for none or wholly transparent. A reference to a paint gives None too."""
    text = text.strip()
    if len(text) == 7 and text[0] == "#":
        return text.lower()
    if text in ("none", "transparent", ""):
        return None
    import tinycss2.color3

    colour: Any = tinycss2.color3.parse_color(text)
    if colour == "currentColor":
        return current
    if colour is None:
        return None
    if colour.alpha == 0:
        return None
    return "#" + "".join(f"{round(max(0.0, min(1.0, part)) * 255):02x}" for part in colour[:3])


def declarations(text: str) -> dict[str, str]:
    """The properties of an inline style."""
    found: dict[str, str] = {}
    for part in text.split(";"):
        name, colon, value = part.partition(":")
        if colon:
            found[name.strip().lower()] = value.replace("!important", "").strip()
    return found


class StyleSheets:
    """The style sheets of a document: which properties each element gets from them, weakest first."""

    def __init__(self, root: Element) -> None:
        self._by_element: dict[Element, dict[str, str]] = {}
        texts = [each.text or "" for each in root.iter() if _local(each.tag) == "style" and (each.text or "").strip()]
        if texts:
            self._match(root, "\n".join(texts))

    def _match(self, root: Element, text: str) -> None:
        import cssselect2
        import tinycss2

        matcher = cssselect2.Matcher()
        for rule in tinycss2.parse_stylesheet(text, skip_comments=True, skip_whitespace=True):
            if rule.type != "qualified-rule":
                continue
            found = {}
            for each in tinycss2.parse_blocks_contents(rule.content):
                if each.type == "declaration":
                    found[each.lower_name] = tinycss2.serialize(each.value).strip()
            try:
                selectors = cssselect2.compile_selector_list(rule.prelude, {"svg": "http://www.w3.org/2000/svg"})
            except cssselect2.SelectorError:
                continue
            for selector in selectors:
                if selector.pseudo_element is None:
                    matcher.add_selector(selector, found)
        for wrapped in cssselect2.ElementWrapper.from_xml_root(root).iter_subtree():
            matches = matcher.match(wrapped)
            if matches:
                merged: dict[str, str] = {}
                for *_, found in sorted(matches, key=lambda match: match[:2]):
                    merged.update(found)
                self._by_element[wrapped.etree_element] = merged

    def of(self, element: Element) -> dict[str, str]:
        """What the style sheets say of an element."""
        return self._by_element.get(element, {})


def style_of(element: Element, above: dict[str, str], sheets: StyleSheets) -> dict[str, str]:
    """The style of an element: inherited, then attributes, then style sheets, then its own style attribute."""
    style = {name: value for name, value in above.items() if name in INHERITED}
    given: dict[str, str] = {}
    for name, value in element.attrib.items():
        if name in INHERITED or name in OWN:
            given[name] = value
    given.update(sheets.of(element))
    inline = element.get("style")
    if inline:
        given.update(declarations(inline))
    for name, value in given.items():
        if value == "inherit":
            if name in above:
                style[name] = above[name]
        else:
            style[name] = value
    return style


def _local(tag: Any) -> str:
    return tag.rpartition("}")[2] if isinstance(tag, str) else ""
