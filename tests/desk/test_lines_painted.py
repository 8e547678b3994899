"""Long lines wider than a pixel are drawn one by one: they look as Qt draws them whole, and cost a part of it."""

from __future__ import annotations

import math

import numpy as np
import pytest
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPainterPath, QPen, QPolygonF

from dechirer.desk.painter import LONG_PX, draw_lines


def path_of(*places: tuple[float, float]) -> QPainterPath:
    path = QPainterPath()
    path.addPolygon(QPolygonF([QPointF(*place) for place in places]))
    return path


def slanted(by_deg: float) -> QPainterPath:
    """A frame of 240 x 150 px, turned about its middle."""
    turn, corners = math.radians(by_deg), ((-120, -75), (120, -75), (120, 75), (-120, 75), (-120, -75))
    return path_of(
        *(
            (200 + x * math.cos(turn) - y * math.sin(turn), 200 + x * math.sin(turn) + y * math.cos(turn))
            for x, y in corners
        )
    )


def painted(path: QPainterPath, pen: QPen, *, whole: bool) -> NDArray[np.int16]:
    """The grey of each pixel when a path is drawn, by our own way or `whole`, by Qt's."""
    image = QImage(400, 400, QImage.Format.Format_Grayscale8)
    image.fill(255)
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(pen)
    if whole:
        painter.drawPath(path)
    else:
        draw_lines(painter, path)
    painter.end()
    bits = image.constBits()
    assert bits is not None
    return np.frombuffer(bits.asarray(image.sizeInBytes()), dtype=np.uint8).reshape(400, -1).astype(np.int16)


@pytest.mark.parametrize("width", [0.8, 1.4, 2.2, 3.0])
@pytest.mark.parametrize("by_deg", [0.0, 11.0, 45.0, 78.0])
def test_a_frame_looks_as_it_does_when_it_is_drawn_whole(width: float, by_deg: float) -> None:
    pen = QPen(QColor("black"), width)
    pen.setCapStyle(Qt.PenCapStyle.RoundCap)
    pen.setJoinStyle(Qt.PenJoinStyle.MiterJoin)
    one, other = (painted(slanted(by_deg), pen, whole=whole) for whole in (False, True))
    assert (other < 200).sum() > 300
    # As much ink, and no pixel that is black in one and white in the other, at the corners either.
    assert (255 - one).sum() == pytest.approx((255 - other).sum(), rel=0.03)
    assert np.abs(one - other).max() < 140


def test_dashes_stay_dashes() -> None:
    pen = QPen(QColor("black"), 2.0)
    pen.setCapStyle(Qt.PenCapStyle.FlatCap)
    pen.setDashPattern([4.0, 3.0])
    assert np.array_equal(painted(slanted(20.0), pen, whole=False), painted(slanted(20.0), pen, whole=True))


@pytest.mark.parametrize("width", [1.4, 2.2, 3.0])
def test_a_curve_looks_as_it_does_when_it_is_drawn_whole(width: float) -> None:
    steps = [2 * math.pi * step / 120 for step in range(121)]
    circle = path_of(*((200 + 90 * math.cos(step), 200 + 90 * math.sin(step)) for step in steps))
    assert circle.length() / circle.elementCount() < LONG_PX
    pen = QPen(QColor("black"), width)
    pen.setCapStyle(Qt.PenCapStyle.RoundCap)
    one, other = (painted(circle, pen, whole=whole) for whole in (False, True))
    assert (255 - one).sum() == pytest.approx((255 - other).sum(), rel=0.02)
    assert np.abs(one - other).max() < 140
    assert (np.abs(one - other) > 40).sum() < 20  # where two pieces meet


def test_what_has_no_length_is_drawn_without_an_error() -> None:
    for path in (QPainterPath(), path_of((5, 5)), path_of((5, 5), (5, 5))):
        painted(path, QPen(QColor("black"), 2.0), whole=False)
