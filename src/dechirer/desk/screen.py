"""How large the screen's pixels are: measured by the maker once, else what the system says of the screen."""

from __future__ import annotations

from PyQt6.QtGui import QGuiApplication

CARD_MM = (85.60, 53.98)
"""A bank card's size, ISO/IEC 7810 ID-1."""
LIKELY = (1.5, 20.0)
"""Px per mm; what a screen says of itself beyond these is not believed."""
USUAL = 96 / 25.4


class _Screen:
    """The one screen's measure, in its own px per mm; 0 until it was measured."""

    def __init__(self) -> None:
        self.measured = 0.0

    @property
    def px_per_mm(self) -> float:
        """In the window's px, of which each may be several of the screen's: as measured, else as the system tells,
        else 96 px to the inch."""
        screen = QGuiApplication.primaryScreen()
        if self.measured:
            return self.measured / self.ratio
        told = screen.physicalDotsPerInch() / 25.4 if screen is not None else USUAL
        return told if LIKELY[0] <= told <= LIKELY[1] else USUAL

    @property
    def ratio(self) -> float:
        """How many of the screen's px lie along one of the window's."""
        screen = QGuiApplication.primaryScreen()
        return screen.devicePixelRatio() if screen is not None else 1.0


screen = _Screen()
