"""Style of SVG elements: presentation attributes, inline styles, style sheets, inheritance, colours, lengths."""

from __future__ import annotations

import re
from typing import Any, NamedTuple
from xml.etree.ElementTree import Element

from dechirer.formats.art.collect import Budget
from dechirer.formats.art.svg_paint import PAINTS, Say, resolve_paint

MOST_CSS = 2_000_000
MOST_SIBLINGS, MOST_STEPS = 1, 6
MOST_MATCHES = 3_000_000
"""Rules times elements: more takes longer to match than anyone waits."""

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

_SIMPLE = re.compile(r"(?P<tag>\*|[A-Za-z][\w-]*)?(?P<id>#[\w-]+)?(?P<classes>(?:\.[\w-]+)*)")
_IMPORTANT = re.compile(r"!\s*important\s*$", re.IGNORECASE)
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


def declarations(text: str) -> tuple[dict[str, str], dict[str, str]]:
    """The properties of an inline style: those given plainly, and those given as important."""
    plain: dict[str, str] = {}
    important: dict[str, str] = {}
    for part in text.split(";"):
        name, colon, value = part.partition(":")
        if colon:
            bare = _IMPORTANT.sub("", value)
            name = name.strip()
            (plain if bare == value else important)[name if name.startswith("--") else name.lower()] = bare.strip()
    return plain, important


class Given(NamedTuple):
    """What style sheets say of an element: plainly, and as important."""

    plain: dict[str, str]
    important: dict[str, str]


NOTHING = Given({}, {})


class StyleSheets:
    """The style sheets of a document: which properties each element gets from them, weakest first."""

    def __init__(self, root: Element, budget: Budget, say: Say) -> None:
        """`say` is told what is not understood."""
        self.say, self._budget = say, budget
        self._by_element: dict[Element, list[tuple[Any, int, Given]]] = {}
        self._simple: list[tuple[tuple[str, str, frozenset[str]], int, Given]] = []
        texts = [each.text or "" for each in root.iter() if local(each.tag) == "style" and (each.text or "").strip()]
        text = "\n".join(texts)
        if not text:
            return
        if len(text) > MOST_CSS or text.count("{") * sum(1 for _ in root.iter()) > MOST_MATCHES:
            say("style sheets too large to be read")
            return
        try:
            self._match(root, text)
        except RecursionError:
            self._by_element = {}
            say("a style sheet nested too deep to be read")

    def _match(self, root: Element, text: str) -> None:
        import cssselect2
        import tinycss2

        matcher, involved = cssselect2.Matcher(), False
        for rule in tinycss2.parse_stylesheet(text, skip_comments=True, skip_whitespace=True):
            if rule.type != "qualified-rule":
                continue
            found = Given({}, {})
            for each in tinycss2.parse_blocks_contents(rule.content):
                if each.type == "declaration":
                    name = each.name if each.name.startswith("--") else each.lower_name
                    value = tinycss2.serialize(each.value).strip()
                    (found.important if each.important else found.plain)[name] = value
            prelude = tinycss2.serialize(rule.prelude)
            simple = [_SIMPLE.fullmatch(each.strip()) for each in prelude.split(",")]
            if all(simple):
                self._simple += [(each, len(self._simple), found) for each in map(_read_simple, simple)]
                continue
            involved = True
            if any(_is_involved(each) for each in prelude.split(",")):
                self.say("a style rule too involved to be matched")
                continue
            try:
                selectors = cssselect2.compile_selector_list(rule.prelude, {"svg": "http://www.w3.org/2000/svg"})
            except cssselect2.SelectorError:
                continue
            for selector in selectors:
                if selector.pseudo_element is None:
                    matcher.add_selector(selector, found)
        if not involved:
            return
        for wrapped in cssselect2.ElementWrapper.from_xml_root(root).iter_subtree():
            self._budget.spend(8)
            matches = matcher.match(wrapped)
            if matches:
                self._by_element[wrapped.etree_element] = [(match[0], match[1], match[-1]) for match in matches]

    def of(self, element: Element) -> Given:
        """What the style sheets say of an element."""
        found = list(self._by_element.get(element, ()))
        if self._simple:
            tag, id = local(element.tag), element.get("id") or ""
            classes = frozenset((element.get("class") or "").split())
            for (kind, name, wanted), order, given in self._simple:
                if kind in ("", tag) and name in ("", id) and wanted <= classes:
                    found.append(((bool(name), len(wanted), bool(kind)), order, given))
        if not found:
            return NOTHING
        merged = Given({}, {})
        for *_, given in sorted(found, key=lambda each: each[:2]):
            merged.plain.update(given.plain)
            merged.important.update(given.important)
        return merged


def _read_simple(match: re.Match[str] | None) -> tuple[str, str, frozenset[str]]:
    """A selector of a tag, an id and classes alone, as those; empty for any."""
    assert match is not None
    tag = match["tag"] or ""
    return (
        "" if tag == "*" else tag,
        (match["id"] or "").removeprefix("#"),
        frozenset(match["classes"].split(".")) - {""},
    )


def _is_involved(selector: str) -> bool:
    """Whether a selector may take longer to match than it is worth: each step back multiplies the ways to try."""
    return selector.count("~") > MOST_SIBLINGS or len(selector.split()) > MOST_STEPS


def inherited(above: dict[str, str]) -> dict[str, str]:
    """What of a style goes down to what is inside."""
    return {name: value for name, value in above.items() if name in INHERITED or name.startswith("--")}


def style_of(
    element: Element, above: dict[str, str], sheets: StyleSheets, base: dict[str, str] | None = None
) -> dict[str, str]:
    """The style of an element: inherited, then its attributes, style sheets, its own style attribute, and last what is
    important in sheets and in its own (CSS Cascade). A paint that is not understood is left as it was above.

    Args:
        base: what goes down from above, where it has been found already.
    """
    style = dict(base) if base is not None else inherited(above)
    given: dict[str, str] = {}
    for name, value in element.attrib.items():
        if name in INHERITED or name in OWN:
            given[name] = value
    by_sheet = sheets.of(element)
    inline = element.get("style")
    if by_sheet is not NOTHING or inline:
        own, important = declarations(inline) if inline else ({}, {})
        for found in (by_sheet.plain, own, by_sheet.important, important):
            given.update(found)
        style.update((name, value) for name, value in given.items() if name.startswith("--"))
    for name, value in given.items():
        if value == "inherit":
            if name in above:
                style[name] = above[name]
        elif name in PAINTS:
            paint = resolve_paint(value, style, sheets.say)
            if paint is not None:
                style[name] = paint
        else:
            style[name] = value
    return style


def local(tag: Any) -> str:
    """A tag without its namespace."""
    return tag.rpartition("}")[2] if isinstance(tag, str) else ""
