"""A page of words and boxes to tick, written from the top down, as run sheet and making-up are made of."""

from __future__ import annotations

from typing import Any

PAGE = (595.28, 841.89)
"""A4 in points (ISO 216: 210 x 297 mm); prints on US letter when fitted to the page."""
LEFT, RIGHT, TOP = 48.0, 547.0, 48.0


class WrittenPage:
    """A page written from the top down; positions in points from the top left."""

    def __init__(self, canvas: Any) -> None:
        self.canvas = canvas
        self.y = TOP

    def text(
        self, words: str, *, size: float = 9.5, bold: bool = False, x: float = LEFT, colour: str = "#23262b"
    ) -> None:
        """Write words where the page is at, without going on."""
        from reportlab.lib.colors import HexColor

        self.canvas.setFillColor(HexColor(colour))
        self.canvas.setFont("Helvetica-Bold" if bold else "Helvetica", size)
        self.canvas.drawString(x, PAGE[1] - self.y - size, words)

    def wrapped(
        self, words: str, *, size: float = 9.5, bold: bool = False, x: float = LEFT, colour: str = "#23262b"
    ) -> None:
        """Write words in as many lines as they take."""
        from reportlab.lib.utils import simpleSplit

        for line in simpleSplit(words, "Helvetica-Bold" if bold else "Helvetica", size, RIGHT - x):
            self.text(line, size=size, bold=bold, x=x, colour=colour)
            self.y += size * 1.35

    def line(self, words: str, **style: Any) -> None:
        """Write one line."""
        self.text(words, **style)
        self.y += style.get("size", 9.5) * 1.45

    def heading(self, title: str, under: str) -> None:
        """Write a title and what there is to say of it."""
        self.wrapped(title, size=18, bold=True)
        self.y += 4
        self.wrapped(under, size=10.5, colour="#5f5a50")
        self.y += 8

    def tick_box(self, words: str, *, x: float = LEFT) -> None:
        """Write words behind a box to tick."""
        from reportlab.lib.colors import HexColor

        self.canvas.setStrokeColor(HexColor("#23262b"))
        self.canvas.setLineWidth(0.8)
        self.canvas.rect(x, PAGE[1] - self.y - 10, 9, 9, fill=0)
        top = self.y
        self.wrapped(words, x=x + 16)
        self.y = max(self.y + 3, top + 16)
