"""How large the screen's pixels are: measured by the maker once, else what the system says of the screen."""

from __future__ import annotations

from PyQt6.QtGui import QGuiApplication

CARD_MM = (85.60, 53.98)
"""A bank card's size, ISO/IEC 7810 ID-1."""
LIKELY = (1.5, 20.0)
"""Px per mm; what a screen says of itself beyond these is not believed."""
USUAL = 96 / 25.4


class _Screen:
    """The one screen's measure, in px per mm; 0 until it was measured."""

    def __init__(self) -> None:
        self.measured = 0.0

    @property
    def px_per_mm(self) -> float:
        """As measured, else as the system tells, else 96 px to the inch."""
        if self.measured:
            return self.measured
        screen = QGuiApplication.primaryScreen()
        told = screen.physicalDotsPerInch() / 25.4 if screen is not None else USUAL
        return told if LIKELY[0] <= told <= LIKELY[1] else USUAL


screen = _Screen()
