"""The theme in use: colours by role as Qt colours, fonts by style, the palette, and what a palette cannot say."""

from __future__ import annotations

import os.path
from functools import lru_cache

from PyQt6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PyQt6.QtWidgets import QApplication, QWidget

from dechirer.desk.theme.sheet import SHEET
from dechirer.desk.theme.tokens import DARK, LIGHT, SIZES, THEMES

_current = {"name": "light"}
_DRESSED = "dressed"
"""The property of windows that have the sheet."""
FAMILY = "Figtree"
FOLDER = os.path.dirname(__file__)
"""Plain paths: importlib.resources would cost 17 ms before the first paint."""


def name() -> str:
    """The theme in use: `light` or `dark`."""
    return _current["name"]


def colour(role: str, on: str = "") -> QColor:
    """The colour of a role or of a `#rrggbb`.

    `on` names the paper a thing is drawn on: papers keep their own colours in both themes, so the ink on a pale
    paper comes from the light tokens and the ink on a dark one from the dark tokens.
    """
    if role.startswith("#"):
        return QColor(role)
    tokens = THEMES[name()]
    if on:
        tokens = DARK if _is_dark(on) else LIGHT
    return _made(tokens[role])


@lru_cache(maxsize=128)
def _made(token: str) -> QColor:
    return QColor(token)


@lru_cache(maxsize=128)
def _is_dark(paper: str) -> bool:
    made = QColor(paper)
    return made.lightnessF() < 0.46


@lru_cache(maxsize=32)
def font(style: str) -> QFont:
    """The font of a style: small, body, strong, title, figure, large."""
    made = QFont(FAMILY)
    made.setPixelSize(SIZES[style])
    if style in ("strong", "title", "figure", "large"):
        made.setWeight(QFont.Weight.DemiBold)
    return made


def load_fonts() -> None:
    """Register the typeface that ships with the application (Figtree, SIL Open Font License 1.1)."""
    for weight in ("Regular", "SemiBold"):
        QFontDatabase.addApplicationFont(os.path.join(FOLDER, "fonts", f"Figtree-{weight}.ttf"))


def apply_theme(app: QApplication, theme: str) -> None:
    """Give the application a theme; painted views pick it up at their next paint."""
    _current["name"] = theme if theme in THEMES else "light"
    if app.style() is None or app.style().objectName() != "fusion":  # type: ignore[union-attr]
        app.setStyle("Fusion")
    app.setPalette(make_palette())
    app.setFont(font("body"))
    for window in app.topLevelWidgets():
        if window.property(_DRESSED):
            dress_window(window)


def dress_window(window: QWidget) -> None:
    """Give a window without a parent what a palette cannot say, and all within it and all boxes it opens.

    The application as a whole has no sheet: with one, each time a part is put into a larger one all within it is told
    anew what it inherits, so that a station took three times as long to make as it does without.
    """
    window.setProperty(_DRESSED, True)
    window.setStyleSheet(_style_sheet())


def make_palette() -> QPalette:
    """The whole palette, all roles and groups, from the tokens."""
    palette = QPalette()
    roles = {
        QPalette.ColorRole.Window: "ground",
        QPalette.ColorRole.WindowText: "ink",
        QPalette.ColorRole.Base: "surface",
        QPalette.ColorRole.AlternateBase: "sunken",
        QPalette.ColorRole.Text: "ink",
        QPalette.ColorRole.Button: "surface",
        QPalette.ColorRole.ButtonText: "ink",
        QPalette.ColorRole.BrightText: "on-accent",
        QPalette.ColorRole.Highlight: "accent-fill",
        QPalette.ColorRole.HighlightedText: "on-accent",
        QPalette.ColorRole.Link: "accent",
        QPalette.ColorRole.LinkVisited: "accent",
        QPalette.ColorRole.ToolTipBase: "surface",
        QPalette.ColorRole.ToolTipText: "ink",
        QPalette.ColorRole.PlaceholderText: "soft",
        QPalette.ColorRole.Light: "surface",
        QPalette.ColorRole.Midlight: "sunken",
        QPalette.ColorRole.Mid: "rule",
        QPalette.ColorRole.Dark: "rule-strong",
        QPalette.ColorRole.Shadow: "shadow",
        QPalette.ColorRole.Accent: "accent",
    }
    for role, token in roles.items():
        for group in (QPalette.ColorGroup.Active, QPalette.ColorGroup.Inactive):
            palette.setColor(group, role, colour(token))
        faded = {"ink": "soft"}.get(token, token)
        palette.setColor(QPalette.ColorGroup.Disabled, role, colour(faded))
    return palette


def _style_sheet() -> str:
    text = SHEET
    for picture in ("tick", "down"):
        text = text.replace(f"{{{picture}}}", os.path.join(FOLDER, f"{picture}.svg"))
    for role, value in THEMES[name()].items():
        text = text.replace("{" + role + "}", value)
    return text
