"""Every colour, size and space of the desk, by role. Qt-free, so that contrast is tested without a window."""

from __future__ import annotations

LIGHT: dict[str, str] = {
    "ground": "#F3EEE4",
    "surface": "#FBF8F1",
    "sunken": "#E7DFD0",
    "rule": "#CFC5B2",
    "rule-strong": "#A89C84",
    "ink": "#23262B",
    "soft": "#5F5A50",
    "accent": "#6E2A57",
    "accent-fill": "#6E2A57",
    "accent-wash": "#EAD9E3",
    "on-accent": "#FBF8F1",
    "stop": "#A6331F",
    "stop-wash": "#F3DCD3",
    "look": "#7F5700",
    "look-wash": "#F2E6C6",
    "clear": "#4A6A2D",
    "fold": "#2F4F87",
    "shadow": "#6B5F4A",
}

DARK: dict[str, str] = {
    "ground": "#211F22",
    "surface": "#2A272B",
    "sunken": "#1A181B",
    "rule": "#46414A",
    "rule-strong": "#6F6874",
    "ink": "#F1ECE3",
    "soft": "#B8B0A6",
    "accent": "#DFA0C8",
    "accent-fill": "#8C4A75",
    "accent-wash": "#4A2E41",
    "on-accent": "#FBF3F8",
    "stop": "#F0907C",
    "stop-wash": "#4A2A24",
    "look": "#E0B457",
    "look-wash": "#433720",
    "clear": "#A5C67F",
    "fold": "#9DB7EA",
    "shadow": "#000000",
}

THEMES: dict[str, dict[str, str]] = {"light": LIGHT, "dark": DARK}

TEXT_PAIRS: tuple[tuple[str, str], ...] = (
    *((ink, ground) for ground in ("ground", "surface", "sunken") for ink in ("ink", "soft", "accent", "stop", "look")),
    *((ink, "surface") for ink in ("clear", "fold")),
    ("clear", "sunken"),
    ("on-accent", "accent-fill"),
    ("accent", "accent-wash"),
    *(("ink", wash) for wash in ("accent-wash", "stop-wash", "look-wash")),
    ("stop", "stop-wash"),
    ("look", "look-wash"),
)
"""Every pair of roles in which the first is written on the second; each must reach 4.5:1 in both themes."""

SIZES: dict[str, int] = {"small": 12, "body": 13, "strong": 13, "title": 15, "figure": 19, "large": 27}
"""Type sizes in px by style."""

SIDE_WIDTH = 320
TOP_HEIGHT = 42
STRIP_HEIGHT = 60
LINE_HEIGHT = 46
"""Width of the side panel, heights of the top line, the strip and the consequences line, in px."""
