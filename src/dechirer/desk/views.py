"""The view of each station: the one in its own file, or a plain one made of its fields and figures."""

from __future__ import annotations

import importlib
from html import escape

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from dechirer.core.stations import STATIONS
from dechirer.desk.panels.field_panel import FieldPanel
from dechirer.desk.stations.base import Station
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.work.document import Document


def make_view(station: str, document: Document) -> Station:
    """Import and make the view of a station; a plain one for a station without a file of its own."""
    name = f"dechirer.desk.stations.{station}"
    try:
        module = importlib.import_module(name)
    except ModuleNotFoundError as error:
        if error.name != name:
            raise
        return PlainStation(document, station)
    view: Station = module.VIEW(document)
    return view


class PlainStation(Station):
    """A station's decisions as fields, and its figures with their values."""

    def __init__(self, document: Document, station: str, parent: QWidget | None = None) -> None:
        super().__init__(document, parent)
        self.spec = STATIONS[station]
        self.panel = FieldPanel(document, station, shape="column")
        self.figures_shown = QVBoxLayout()
        line = QHBoxLayout(self)
        line.setContentsMargins(14, 12, 14, 12)
        left = QVBoxLayout()
        left.addWidget(heading(self.spec.title))
        about = small(self.spec.about)
        left.addWidget(about)
        left.addWidget(self.panel)
        left.addStretch(1)
        line.addLayout(left, 40)
        right = QVBoxLayout()
        right.addWidget(heading("What follows"))
        self.words = small()
        self.words.setObjectName(f"figures-{station}")
        self.words.setTextFormat(Qt.TextFormat.RichText)
        self.words.linkActivated.connect(self.figure_picked.emit)
        right.addWidget(self.words)
        right.addStretch(1)
        line.addLayout(right, 60)

    def refresh(self) -> None:
        if self.plan is None:
            return
        self.panel.show_job()
        units = self.plan.job.units
        found = [figure for part in self.spec.parts for figure in self.plan.part(part).figures()]
        self.words.setText(
            "<br>".join(f'<a href="{escape(each.key)}">{escape(each.name)}: {each.text(units)}</a>' for each in found)
        )
