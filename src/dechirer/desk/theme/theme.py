"""The theme in use: colours by role as Qt colours, fonts by style, the palette, and what a palette cannot say."""

from __future__ import annotations

import os.path
from functools import lru_cache

from PyQt6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PyQt6.QtWidgets import QApplication

from dechirer.desk.theme.tokens import DARK, LIGHT, SIZES, THEMES

_current = {"name": "light"}
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
        return _made(role)
    tokens = THEMES[name()]
    if on:
        tokens = DARK if _is_dark(on) else LIGHT
    return _made(tokens[role])


@lru_cache(maxsize=512)
def _made(text: str) -> QColor:
    return QColor(text)


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
    # From one sheet to another Qt works out anew what every widget inherits, widget by widget: 0.25 s for a full
    # window. Taken off and put on again, it takes a fifth of that.
    app.setStyleSheet("")
    if app.style() is None or app.style().objectName() != "fusion":  # type: ignore[union-attr]
        app.setStyle("Fusion")
    app.setPalette(make_palette())
    app.setFont(font("body"))
    app.setStyleSheet(_style_sheet())


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
    tokens = THEMES[name()]
    text = """
    QToolTip { color: {ink}; background: {surface}; border: 1px solid {rule}; padding: 4px; }
    QLineEdit { background: {surface}; color: {ink}; border: 1px solid {rule-strong};
        border-radius: 4px; padding: 3px 7px; min-height: 20px; selection-background-color: {accent-fill};
        selection-color: {on-accent}; }
    QLineEdit:focus { border: 2px solid {accent}; padding: 2px 6px; }
    QComboBox { background: {surface}; color: {ink}; border: 1px solid {rule-strong}; border-radius: 4px;
        padding: 2px 4px 2px 7px; min-height: 20px; }
    QComboBox:focus { border: 2px solid {accent}; padding: 1px 3px 1px 6px; }
    QComboBox:disabled { color: {soft}; border-color: {rule}; }
    QComboBox::drop-down { border: none; width: 18px; }
    QComboBox::down-arrow { image: url("{down}"); width: 10px; height: 10px; }
    QComboBox QAbstractItemView { background: {surface}; color: {ink}; border: 1px solid {rule};
        selection-background-color: {accent-wash}; selection-color: {ink}; }
    QPushButton { background: {surface}; color: {accent}; border: 1px solid {accent}; border-radius: 4px;
        padding: 4px 12px; font-weight: 600; }
    QPushButton:hover { background: {accent-wash}; }
    QPushButton:focus { border: 2px solid {accent}; padding: 3px 11px; }
    QPushButton:disabled { color: {soft}; border-color: {rule}; }
    QPushButton[main="true"] { background: {accent-fill}; color: {on-accent}; }
    QToolButton { border: none; border-radius: 4px; padding: 4px 9px; color: {ink}; background: transparent; }
    QToolButton:hover { background: {sunken}; }
    QToolButton:focus { border: 1px solid {accent}; padding: 3px 8px; }
    QToolButton:disabled { color: {soft}; }
    QToolButton:checked { background: {accent-fill}; color: {on-accent}; }
    QToolButton[quiet="true"] { color: {accent}; }
    QToolButton[quiet="true"]:disabled { color: {soft}; }
    QToolButton[quiet="true"]:checked { background: {accent-wash}; color: {accent}; }
    QToolButton[main="true"] { background: {accent-fill}; color: {on-accent}; font-weight: 600; padding: 5px 14px; }
    QToolButton::menu-indicator { image: none; }
    QMenu { background: {surface}; color: {ink}; border: 1px solid {rule}; padding: 4px; }
    QMenu::item { padding: 5px 26px 5px 14px; border-radius: 3px; }
    QMenu::item:selected { background: {accent-wash}; color: {ink}; }
    QMenu::item:disabled { color: {soft}; }
    QScrollArea { border: none; background: transparent; }
    QScrollArea > QWidget > QWidget { background: transparent; }
    QTextBrowser { border: none; background: transparent; }
    QListView { border: none; background: transparent; outline: none; }
    QScrollBar:vertical { background: transparent; width: 10px; margin: 0; }
    QScrollBar::handle:vertical { background: {rule-strong}; border-radius: 4px; min-height: 28px; margin: 1px; }
    QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
    QScrollBar:horizontal { background: transparent; height: 10px; }
    QScrollBar::handle:horizontal { background: {rule-strong}; border-radius: 4px; min-width: 28px; margin: 1px; }
    QSlider:horizontal { min-height: 22px; }
    QSlider::groove:horizontal { height: 4px; background: {rule}; border-radius: 2px; }
    QSlider::sub-page:horizontal { background: {accent}; border-radius: 2px; }
    QSlider::handle:horizontal { background: {surface}; border: 2px solid {accent}; width: 14px; height: 14px;
        margin: -7px 0; border-radius: 9px; }
    QSlider::handle:horizontal:focus { background: {accent-wash}; }
    QLabel[role="soft"] { color: {soft}; }
    QFrame[chip="true"] { background: {surface}; border: 1px solid {rule}; border-radius: 6px; }
    QFrame[chip="true"] QLabel { border: none; background: transparent; }
    QLabel[role="stop"] { color: {stop}; }
    QLabel[role="accent"] { color: {accent}; }
    QCheckBox::indicator { width: 14px; height: 14px; border: 1px solid {rule-strong}; border-radius: 3px;
        background: {surface}; }
    QCheckBox::indicator:checked { background: {accent-fill}; border-color: {accent-fill}; image: url("{tick}"); }
    QCheckBox::indicator:focus { border: 2px solid {accent}; }
    QCheckBox:disabled { color: {soft}; }
    QCheckBox, QRadioButton { spacing: 7px; color: {ink}; }
    """
    for picture in ("tick", "down"):
        text = text.replace(f"{{{picture}}}", os.path.join(FOLDER, f"{picture}.svg"))
    for role, value in tokens.items():
        text = text.replace("{" + role + "}", value)
    return text
