"""Verdict marks. In a module of its own, because the strip needs them before anything heavy is imported."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF

from dechirer.desk.theme import theme


def paint_verdict(painter: QPainter, verdict: str, x: float, y: float, role: str = "") -> None:
    """A verdict mark centred at (x, y): ring clear, triangle look, square stop, dash for notes."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    made = theme.colour(role or (verdict if verdict in ("stop", "look", "clear") else "soft"))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(made)
    if verdict == "stop":
        painter.drawRect(QRectF(x - 5, y - 5, 10, 10))
    elif verdict == "look":
        painter.drawPolygon(QPolygonF([QPointF(x, y - 6), QPointF(x + 6.5, y + 5), QPointF(x - 6.5, y + 5)]))
    elif verdict == "clear":
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(made, 2))
        painter.drawEllipse(QPointF(x, y), 4.5, 4.5)
    else:
        painter.drawRect(QRectF(x - 5, y - 1, 10, 2))
    painter.restore()
