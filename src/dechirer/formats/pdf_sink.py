"""Replays a display list onto a PDF page."""

from __future__ import annotations

from typing import Any

from dechirer.core.card.print import Raster
from dechirer.core.shape.affine import Point
from dechirer.drawing.dimension import shape_dimension
from dechirer.drawing.display import Arrow, Dimension, Display, Label, Shape
from dechirer.drawing.forms import DOT_PX, FORMS, dots_along
from dechirer.drawing.rasters import Previews, decode_small
from dechirer.drawing.viewport import Viewport, fit_viewport

INK = {
    "ink": "#23262b",
    "soft": "#5f5a50",
    "fold": "#34558b",
    "accent": "#6e2a57",
    "rule": "#cfc5b2",
    "surface": "#ffffff",
    "look": "#8f6200",
    "stop": "#a6331f",
    "clear": "#4d6b2f",
    "accent-wash": "#ead9e3",
    "stop-wash": "#f3dcd7",
}
FONTS = {
    "body": ("Helvetica", 9),
    "small": ("Helvetica", 7.5),
    "strong": ("Helvetica-Bold", 9),
    "title": ("Helvetica-Bold", 12),
}
PROOF_PX = 900
"""Pictures stand in lists and proofs with so many pixels along their longer side."""
FINE_PT = 0.04
"""Places that move a line by less are left out of pictures; files of mats have them all."""
FEW_PLACES = 8
SCALE = 0.75
"""Sizes meant for screen pixels, in points."""


class PdfSink:
    """Draws display lists into a frame of a reportlab canvas. Frames are in points from the page's top left."""

    def __init__(self, canvas: Any, page_height: float) -> None:
        self.canvas = canvas
        self.page_height = page_height
        self._previews = Previews()

    def draw(self, display: Display, left: float, top: float, width: float, height: float) -> Viewport:
        """Fit the picture into a frame and draw it. Returns the viewport used."""
        room = tuple(each * SCALE for each in display.room_px)
        inner = fit_viewport(display.box, width, height, (room[0], room[1], room[2], room[3]))
        viewport = Viewport(inner.scale, inner.left_px + left, inner.top_px + top)
        for item in display.items:
            if isinstance(item, Shape):
                self._shape(item, viewport)
            elif isinstance(item, Label):
                self._label(item, viewport)
            elif isinstance(item, Dimension):
                self._dimension(item, viewport)
            else:
                self._arrow(item, viewport)
        return viewport

    def _colour(self, role: str) -> Any:
        from reportlab.lib.colors import HexColor

        return HexColor(role if role.startswith("#") else INK[role])

    def _at(self, px: Point) -> Point:
        return px[0], self.page_height - px[1]

    def _shape(self, item: Shape, viewport: Viewport) -> None:
        canvas = self.canvas
        path = _Trace()
        for points in item.paths:
            path.add([self._at(place) for place in _as_seen([viewport.to_px(point) for point in points])], item.closed)
        if item.fill:
            canvas.setFillColor(self._colour(item.fill))
        if item.form:
            form = FORMS[item.form]
            canvas.setStrokeColor(self._colour(item.role if item.form != "cut" else "ink"))
            canvas.setLineWidth(form.width * item.weight * SCALE)
            canvas.setDash([dash * SCALE for dash in form.dashes] if form.dashes else [])
        if item.raster is not None:
            self._pixels(item.raster, path, viewport)
        filled = bool(item.fill) and item.raster is None
        if filled or item.form:
            canvas.drawPath(path, stroke=int(bool(item.form)), fill=int(filled))
            canvas.setDash([])
        if item.form and FORMS[item.form].double:
            canvas.setStrokeColor(self._colour(item.on or "surface"))
            canvas.setLineWidth(FORMS[item.form].width * item.weight * SCALE / 3)
            canvas.drawPath(path, stroke=1, fill=0)
        if item.form and FORMS[item.form].dots:
            canvas.setFillColor(self._colour("#ffffff"))
            for points in item.paths:
                places = [viewport.to_px(point) for point in points]
                for place in dots_along(places, FORMS[item.form].dots * SCALE, closed=item.closed):
                    canvas.circle(*self._at(place), DOT_PX * SCALE, stroke=1, fill=1)

    def _pixels(self, raster: Raster, path: _Trace, viewport: Viewport) -> None:
        """The pixels of a picture within a path."""
        from reportlab.lib.utils import ImageReader

        image = self._previews.find(raster.pixels)
        if image is None:
            image = decode_small(raster.pixels, PROOF_PX)
            self._previews.keep(raster.pixels, image)
        to, scale, pixels = raster.to, viewport.scale, raster.pixels
        canvas = self.canvas
        canvas.saveState()
        canvas.clipPath(path, stroke=0, fill=0, fillMode=0)
        # PDF pictures fill the unit square from its lower left corner up.
        ax, ay = to.a * pixels.width * scale, to.b * pixels.width * scale
        cx, cy = to.c * pixels.height * scale, to.d * pixels.height * scale
        x, y = self._at(viewport.to_px((to.e, to.f)))
        canvas.transform(ax, -ay, -cx, cy, x + cx, y - cy)
        canvas.drawImage(ImageReader(image), 0, 0, 1, 1, mask="auto")
        canvas.restoreState()

    def _label(self, item: Label, viewport: Viewport) -> None:
        x, y = viewport.to_px(item.at)
        self._text(
            (x + item.shift_px[0] * SCALE, y + item.shift_px[1] * SCALE),
            item.text,
            item.style,
            item.role,
            item.anchor,
            item.turn_deg,
        )

    def _text(self, px: Point, text: str, style: str, role: str, anchor: str, turn_deg: float) -> None:
        name, size = FONTS[style]
        canvas = self.canvas
        canvas.saveState()
        canvas.translate(*self._at(px))
        canvas.rotate(-turn_deg)
        canvas.setFillColor(self._colour(role))
        canvas.setFont(name, size)
        draw = {"start": canvas.drawString, "middle": canvas.drawCentredString, "end": canvas.drawRightString}[anchor]
        draw(0, -size * 0.35, text)
        canvas.restoreState()

    def _dimension(self, item: Dimension, viewport: Viewport) -> None:
        name, size = FONTS["strong"]
        canvas = self.canvas
        shaped = shape_dimension(
            Dimension(item.start, item.end, item.shift_px * SCALE, item.text),
            viewport,
            canvas.stringWidth(item.text, name, size),
        )
        canvas.setStrokeColor(self._colour("soft"))
        canvas.setLineWidth(0.6)
        for a, b in (*shaped.strokes, *shaped.slashes):
            canvas.line(*self._at(a), *self._at(b))
        self._text(shaped.centre, item.text, "strong", "ink", "middle", shaped.turn_deg)

    def _arrow(self, item: Arrow, viewport: Viewport) -> None:
        canvas = self.canvas
        x, y = viewport.to_px(item.at)
        canvas.saveState()
        canvas.translate(*self._at((x + item.shift_px[0] * SCALE, y + item.shift_px[1] * SCALE)))
        canvas.rotate(-item.turn_deg)
        canvas.setFillColor(self._colour(item.role))
        path = canvas.beginPath()
        path.moveTo(8, 0)
        path.lineTo(-3, 5)
        path.lineTo(-3, -5)
        path.close()
        canvas.drawPath(path, stroke=0, fill=1)
        canvas.restoreState()


class _Trace:
    """A path as a canvas draws it; the canvas's own writes each number by itself, which takes twice as long."""

    def __init__(self) -> None:
        self._words: list[str] = []

    def add(self, places: list[Point], closed: bool) -> None:
        """One line more, in points."""
        (x, y), *rest = places
        self._words.append(f"{x:.3f} {y:.3f} m")
        self._words += [f"{x:.3f} {y:.3f} l" for x, y in rest]
        if closed:
            self._words.append("h")

    def getCode(self) -> str:
        """The path in PDF's words."""
        return " ".join(self._words)


def _as_seen(places: list[Point]) -> list[Point]:
    """A line in points without what is finer than can be seen."""
    if len(places) < FEW_PLACES:
        return places
    import shapely

    found: list[Point] = shapely.get_coordinates(
        shapely.LineString(places).simplify(FINE_PT, preserve_topology=False)
    ).tolist()
    return found
