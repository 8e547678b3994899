"""Replays a display list with Qt. Colours and fonts are read from the theme at paint time."""

from __future__ import annotations

import itertools

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QImage, QPainter, QPainterPath, QPen, QPolygonF, QTransform

from dechirer.core.card.print import Raster
from dechirer.core.memory import until_forgotten
from dechirer.core.shape.outline import Box, clip_share
from dechirer.desk.theme import theme
from dechirer.desk.work.pixel_store import store
from dechirer.drawing.dimension import shape_dimension
from dechirer.drawing.display import Arrow, Dimension, Display, Label, Shape
from dechirer.drawing.forms import DOT_PX, FORMS, LineForm, dots_along
from dechirer.drawing.viewport import Viewport

LONG_PX = 12.0
"""Lines as long as that on an average are drawn one by one."""
PIECE = 32
"""Other curves are drawn so many of their lines at a time."""
BEYOND_PX = 60.0
"""Lines are drawn a little past the window's edge, so that their ends are not seen."""


@until_forgotten(4096)
def measure(text: str, style: str) -> float:
    """Width of a text in a style, in px."""
    return QFontMetricsF(theme.font(style)).horizontalAdvance(text)


def paint_display(
    painter: QPainter,
    display: Display,
    viewport: Viewport,
    *,
    picked: str = "",
    hovered: str = "",
    paths: dict[int, QPainterPath] | None = None,
) -> None:
    """Draw every item, back to front.

    Args:
        picked: key of the figure that is shown in Working; its number stands on a wash.
        hovered: key of the figure under the pointer.
        paths: where the paths of this display's shapes are kept, so that they are not made at every painting.
    """
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    lit = (picked, hovered)
    for item in display.items:
        if isinstance(item, Shape):
            _paint_shape(painter, item, viewport, paths)
        elif isinstance(item, Label | Dimension) and item.hidden and not (item.figure and item.figure in lit):
            continue
        elif isinstance(item, Label):
            _paint_label(painter, item, viewport, item.figure != "" and item.figure in lit)
        elif isinstance(item, Dimension):
            _paint_dimension(painter, item, viewport, picked, hovered)
        else:
            _paint_arrow(painter, item, viewport)


def _path_of(item: Shape) -> QPainterPath:
    """A shape's paths in mm."""
    path = QPainterPath()
    for points in item.paths:
        path.addPolygon(QPolygonF(list(itertools.starmap(QPointF, points))))
        if item.closed:
            path.closeSubpath()
    return path


def _paint_shape(
    painter: QPainter, item: Shape, viewport: Viewport, paths: dict[int, QPainterPath] | None = None
) -> None:
    made = paths.get(id(item)) if paths is not None else None
    if made is None:
        made = _path_of(item)
        if paths is not None:
            paths[id(item)] = made
    scale = viewport.scale
    path = QTransform(scale, 0.0, 0.0, scale, viewport.left_px, viewport.top_px).map(made)
    window = QRectF(painter.viewport()).adjusted(-BEYOND_PX, -BEYOND_PX, BEYOND_PX, BEYOND_PX)
    around, line = path.boundingRect(), path
    if painter.worldTransform().isIdentity() and not window.contains(around):
        if not around.adjusted(-1, -1, 1, 1).intersects(window):
            return
        # Most of a magnified picture lies outside: dashes there would be reckoned one by one.
        line = lines_within(item, viewport, window) if item.form else path
    sheet = around if item.fill and _is_upright(item) else None
    if item.shadow:
        _paint_shadow(painter, path, sheet)
    if item.fill:
        on = "" if item.fill.startswith("#") else item.on
        tint = theme.colour(item.fill, on)
        shown = store.image(item.raster.pixels) if item.raster is not None else None
        if item.raster is not None and shown is not None:
            _paint_pixels(painter, shown, item.raster, path, viewport)
        elif sheet is None:
            painter.fillPath(path, tint)
        else:
            painter.fillRect(sheet, tint)
    if item.form:
        form = FORMS[item.form]
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(_pen(form, item))
        draw_lines(painter, line)
        if form.double:
            inner = QPen(theme.colour(item.on) if item.on else theme.colour("surface"), form.width * item.weight / 3)
            painter.setPen(inner)
            draw_lines(painter, line)
        if form.tick:
            _paint_ticks(painter, item, viewport, form)
        if form.dots:
            painter.setBrush(theme.colour(item.on) if item.on else theme.colour("surface"))
            for points in item.paths:
                places = dots_along([viewport.to_px(point) for point in points], form.dots, closed=item.closed)
                for place in (each for each in places if window.contains(QPointF(*each))):
                    painter.drawEllipse(QPointF(*place), DOT_PX, DOT_PX)


def _paint_pixels(painter: QPainter, image: QImage, raster: Raster, path: QPainterPath, viewport: Viewport) -> None:
    """The pixels of a picture within a path (px)."""
    to, scale = raster.to, viewport.scale
    across, down = raster.pixels.width / image.width(), raster.pixels.height / image.height()
    lies = QTransform(across * to.a, across * to.b, down * to.c, down * to.d, to.e, to.f)
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    painter.setClipPath(path, Qt.ClipOperation.IntersectClip)
    on_screen = QTransform(scale, 0.0, 0.0, scale, viewport.left_px, viewport.top_px)
    painter.setTransform(lies * on_screen, True)
    painter.drawImage(QPointF(0.0, 0.0), image)
    painter.restore()


def _is_upright(item: Shape) -> bool:
    """Whether a shape is one rectangle with level and upright sides, as sheets and mats are: the quickest to fill."""
    if len(item.paths) != 1 or not item.closed or len(item.paths[0]) != 4:
        return False
    ring = item.paths[0]
    return all((a[0] == b[0]) != (a[1] == b[1]) for a, b in zip(ring, (*ring[1:], ring[0]), strict=True))


def lines_within(item: Shape, viewport: Viewport, window: QRectF) -> QPainterPath:
    """Those parts of a shape's lines that lie in a window, in px."""
    left, top, right, bottom = window.left(), window.top(), window.right(), window.bottom()
    found = QPainterPath()
    for points in item.paths:
        ring = (*points, points[0]) if item.closed and points else points
        places = [viewport.to_px(point) for point in ring]
        at: tuple[float, float] | None = None
        for (ax, ay), (bx, by) in itertools.pairwise(places):
            share = clip_share((ax, ay), (bx, by), Box(left, top, right, bottom))
            if share is None:
                at = None
                continue
            low, high = share
            start = (ax + (bx - ax) * low, ay + (by - ay) * low)
            end = (ax + (bx - ax) * high, ay + (by - ay) * high)
            if at != start:
                found.moveTo(*start)
            found.lineTo(*end)
            at = end if high == 1.0 else None
    return found


def draw_lines(painter: QPainter, path: QPainterPath) -> None:
    """Draw a path of straight lines with the painter's pen.

    Qt makes one shape of all that a pen wider than a pixel covers, and looks through the whole of it for every few rows
    of its box: a large slanted frame takes fifty times as long as its four lines do one by one, a large curve four
    times as long as piece by piece. (Curves line by line would have hard edges: the short ones cover each other's.)
    """
    pen = painter.pen()
    if pen.widthF() <= 1.0 or pen.style() != Qt.PenStyle.SolidLine:
        painter.drawPath(path)  # dashes would begin anew with each piece
        return
    if path.length() < LONG_PX * path.elementCount():
        for ring in path.toSubpathPolygons():
            for start in range(0, ring.size() - 1, PIECE):
                painter.drawPolyline(ring.mid(start, PIECE + 1))
        return
    pen.setCapStyle(Qt.PenCapStyle.SquareCap)  # makes whole corners, and is drawn as a line, as a round one is not
    painter.setPen(pen)
    rings = ([ring.at(place) for place in range(ring.size())] for ring in path.toSubpathPolygons())
    lines = [QLineF(a, b) for ring in rings for a, b in itertools.pairwise(ring)]
    if lines:
        painter.drawLines(lines[0], *lines[1:])


def _pen(form: LineForm, item: Shape) -> QPen:
    role = item.role if item.role not in ("ink",) or form.role == "ink" else form.role
    width = form.width * item.weight
    pen = QPen(theme.colour(role, item.on), width)
    pen.setCapStyle(Qt.PenCapStyle.FlatCap if form.dashes else Qt.PenCapStyle.RoundCap)
    pen.setJoinStyle(Qt.PenJoinStyle.MiterJoin)
    if form.dashes:
        pen.setDashPattern([dash / width for dash in form.dashes])
    return pen


def _paint_ticks(painter: QPainter, item: Shape, viewport: Viewport, form: LineForm) -> None:
    """Short strokes across the middle of each path."""
    for points in item.paths:
        (ax, ay), (bx, by) = viewport.to_px(points[0]), viewport.to_px(points[-1])
        length = ((bx - ax) ** 2 + (by - ay) ** 2) ** 0.5
        if length <= 0:
            continue
        nx, ny = -(by - ay) / length * form.tick / 2, (bx - ax) / length * form.tick / 2
        mx, my = (ax + bx) / 2, (ay + by) / 2
        painter.drawLine(QPointF(mx - nx, my - ny), QPointF(mx + nx, my + ny))


def _paint_shadow(painter: QPainter, path: QPainterPath, sheet: QRectF | None) -> None:
    """A soft edge to the right and below, so that layers read as layers.

    Args:
        sheet: the rectangle that will cover all but the edge of it, where it is one: only the edge is painted then.
    """
    tint = theme.colour("shadow")
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)  # it is soft, and large
    for step, alpha in ((3.0, 16), (2.0, 26), (1.0, 40)):
        tint = theme.colour("shadow").toRgb()
        tint.setAlpha(alpha)
        if sheet is None:
            painter.fillPath(path.translated(step, step), tint)
            continue
        left, top, right, bottom = sheet.left(), sheet.top(), sheet.right(), sheet.bottom()
        painter.fillRect(QRectF(right, top + step, step, bottom - top), tint)
        painter.fillRect(QRectF(left + step, bottom, right - left - step, step), tint)
    painter.restore()


def _paint_label(painter: QPainter, item: Label, viewport: Viewport, lit: bool) -> None:
    at_x, at_y = viewport.to_px(item.at)
    x, y = at_x + item.shift_px[0], at_y + item.shift_px[1]
    wide = measure(item.text, item.style)
    if item.led:
        painter.setPen(QPen(theme.colour("soft", item.on), 0.8))
        middle = x + {"start": wide / 2, "middle": 0.0, "end": -wide / 2}[item.anchor]
        painter.drawLine(QPointF(at_x, at_y), QPointF(middle, y + (9 if at_y > y else -9)))
    painter.save()
    painter.translate(x, y)
    painter.rotate(item.turn_deg)
    left = {"start": 0.0, "middle": -wide / 2, "end": -wide}[item.anchor]
    if lit:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour("accent-wash"))
        painter.drawRoundedRect(QRectF(left - 6, -11, wide + 12, 22), 4, 4)
    on = item.on
    if item.moved and not lit:
        # It may have left the paper its ink was chosen for, or come onto one.
        on = ""
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour("surface"))
        painter.drawRoundedRect(QRectF(left - 3, -9, wide + 6, 18), 3, 3)
    painter.setFont(theme.font(item.style))
    painter.setPen(theme.colour("accent") if lit else theme.colour(item.role, on))
    painter.drawText(QRectF(left - 2, -12, wide + 4, 24), Qt.AlignmentFlag.AlignCenter, item.text)
    if item.field:
        _underline(painter, left, left + wide, 8.0)
    painter.restore()


def _paint_dimension(painter: QPainter, item: Dimension, viewport: Viewport, picked: str, hovered: str) -> None:
    shaped = shape_dimension(item, viewport, measure(item.text, "strong"))
    chosen = item.figure != "" and item.figure == picked
    touched = item.figure != "" and item.figure == hovered
    painter.setPen(QPen(theme.colour("accent" if chosen else "soft", item.on), 1.0))
    for a, b in shaped.strokes:
        painter.drawLine(QPointF(*a), QPointF(*b))
    if shaped.lead is not None:
        painter.setPen(QPen(theme.colour("soft", item.on), 0.8))
        painter.drawLine(QPointF(*shaped.lead[0]), QPointF(*shaped.lead[1]))
    painter.setPen(QPen(theme.colour("accent" if chosen else "ink", item.on), 1.4))
    for a, b in shaped.slashes:
        painter.drawLine(QPointF(*a), QPointF(*b))
    painter.save()
    painter.translate(*shaped.centre)
    painter.rotate(shaped.turn_deg)
    box = QRectF(-shaped.width / 2, -shaped.height / 2, shaped.width, shaped.height)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.colour("accent-wash" if chosen or touched else "surface"))
    painter.drawRoundedRect(box.adjusted(2, 1, -2, -1), 4, 4)
    painter.setFont(theme.font("strong"))
    painter.setPen(theme.colour("accent" if chosen or touched else "ink"))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, item.text)
    if item.field:
        half = measure(item.text, "strong") / 2
        _underline(painter, -half, half, shaped.height / 2 - 3)
    painter.restore()


def _underline(painter: QPainter, left: float, right: float, y: float) -> None:
    """A fine dotted underline says that a number can be typed into."""
    painter.setPen(QPen(theme.colour("accent"), 1.0, Qt.PenStyle.DotLine))
    painter.drawLine(QPointF(left, y), QPointF(right, y))


def _paint_arrow(painter: QPainter, item: Arrow, viewport: Viewport) -> None:
    x, y = viewport.to_px(item.at)
    painter.save()
    painter.translate(x + item.shift_px[0], y + item.shift_px[1])
    painter.rotate(item.turn_deg)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.colour(item.role))
    painter.drawPolygon(QPolygonF([QPointF(9, 0), QPointF(-4, 6), QPointF(-4, -6)]))
    painter.restore()
