"""Panels built from fields: every decision of every demo is shown, typed, chosen, switched and refused alike."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QComboBox, QLineEdit, QPushButton, QWidget
from pytestqt.qtbot import QtBot

from dechirer.core.decide.change import Change, value_at
from dechirer.core.job.edit import choices_of, has_effect
from dechirer.core.length import parse_length
from dechirer.core.stations import STATIONS
from dechirer.demo import DEMOS, load_demo_job
from dechirer.desk.panels.extras import Extras
from dechirer.desk.panels.field_panel import FieldPanel, rows_of
from dechirer.desk.work.document import Document
from tests.dressing import dressed, item, step
from tests.helpers import attached, quick_job


@pytest.fixture
def document(qtbot: QtBot, own_folders: None) -> Iterator[Document]:
    document = Document(load_demo_job("kites"))
    yield document
    document.end()


def panel_of(qtbot: QtBot, document: Document, path: str, **more: object) -> FieldPanel:
    panel = FieldPanel(document, path, **more)  # type: ignore[arg-type]
    qtbot.addWidget(panel)
    panel.show()
    return panel


def find(panel: QWidget, name: str, kind: type = QWidget) -> QWidget:
    found = panel.findChild(kind, name)
    assert found is not None, name
    return found  # type: ignore[no-any-return]


@pytest.mark.parametrize("demo", list(DEMOS))
def test_every_decision_of_a_demo_stands_in_a_panel_as_the_job_has_it(
    qtbot: QtBot, document: Document, demo: str
) -> None:
    document.open_job(load_demo_job(demo), None, saved=True)
    shown = 0
    for spec in STATIONS:
        panel = panel_of(qtbot, document, spec.id)
        for row in rows_of(document.job, spec.id):
            widget = panel.widgets[row.path]
            shown += 1
            assert widget.isHidden() is not has_effect(document.job, row.path)
            if row.slot.is_typed and row.slot.kind not in ("choice", "paper"):
                line = find(widget, f"line-{row.path}", QLineEdit)
                assert line.text() == document.field_text(row.path)  # type: ignore[attr-defined]
                assert line.accessibleName() == row.slot.field.title
            elif choices_of(document.job, row.path):
                box = find(widget, f"choice-{row.path}", QComboBox)
                assert box.currentData() == value_at(document.job, row.path)  # type: ignore[attr-defined]
                assert box.accessibleName() == row.slot.field.title
            elif row.slot.kind == "switch":
                assert widget.isChecked() is value_at(document.job, row.path)  # type: ignore[attr-defined]
    assert shown > 10


def test_a_panel_follows_the_job_and_undo(qtbot: QtBot, document: Document) -> None:
    panel = panel_of(qtbot, document, "lay")
    line = find(panel, "line-lay.margin", QLineEdit)
    line.setFocus()
    line.setText("9 mm")  # type: ignore[attr-defined]
    qtbot.keyClick(line, Qt.Key.Key_Return)
    assert document.job.lay.margin == parse_length("9 mm")
    assert "9 mm" in (document.history.undo_label or "")
    document.undo()
    panel.show_job()
    assert line.text() == document.field_text("lay.margin") != "9 mm"  # type: ignore[attr-defined]
    box = find(panel, "switch-lay.may_turn", QCheckBox)
    box.click()  # type: ignore[attr-defined]
    assert document.job.lay.may_turn is False
    assert document.history.undo_label == "Not pieces may be turned"


def test_widgets_are_kept_while_the_same_fields_are_shown(qtbot: QtBot, document: Document) -> None:
    panel = panel_of(qtbot, document, "run")
    before = dict(panel.widgets)
    document.edit("Twice", [Change("run.score_passes", 2)])
    panel.show_job()
    assert panel.widgets == before
    assert find(panel, "line-run.score_passes", QLineEdit).text() == "2"  # type: ignore[attr-defined]


def test_a_panel_turns_to_another_thing_and_outlives_its_own(qtbot: QtBot, document: Document) -> None:
    panel = panel_of(qtbot, document, "brief.papers.sea-grey", shape="grid")
    assert find(panel, "line-brief.papers.sea-grey.name", QLineEdit).text() == "sea grey"  # type: ignore[attr-defined]
    panel.set_path("brief.papers.chalk")
    assert find(panel, "line-brief.papers.chalk.name", QLineEdit).text() == "chalk white"  # type: ignore[attr-defined]
    panel.set_path("brief.papers.nowhere")
    assert not panel.widgets
    panel.set_path("brief.papers.chalk")
    assert panel.widgets


def test_entries_of_a_list_are_added_and_taken_off_one_by_one(qtbot: QtBot, document: Document) -> None:
    document.open_job(load_demo_job("topper"), None, saved=True)
    panel = panel_of(qtbot, document, "construct.flap_row")
    ids = [motif.id for motif in document.job.construct.flap_row.motifs]
    find(panel, "add-construct.flap_row.motifs", QPushButton).click()  # type: ignore[attr-defined]
    panel.show_job()
    assert [motif.id for motif in document.job.construct.flap_row.motifs] == [*ids, f"motif-{len(ids) + 1}"]
    for id in ids:
        find(panel, f"take-off-construct.flap_row.motifs.{id}", QPushButton).click()  # type: ignore[attr-defined]
        panel.show_job()
    assert [motif.id for motif in document.job.construct.flap_row.motifs] == [f"motif-{len(ids) + 1}"]


def test_a_step_offers_the_other_items_of_its_face(qtbot: QtBot, document: Document) -> None:
    job = dressed(item(steps=(step("join"),), paper="liner-paper"), item(id="other", paper="liner-paper"))
    document.open_job(job, None, saved=True)
    panel = panel_of(
        qtbot, document, "dress.items.thing.steps.join-1", items=lambda: (("other", "The other"),), draggable=True
    )
    box = find(panel, "choice-dress.items.thing.steps.join-1.of", QComboBox)
    assert [box.itemData(row) for row in range(box.count())] == [None, "other"]  # type: ignore[attr-defined]
    box.setCurrentIndex(1)  # type: ignore[attr-defined]
    box.activated.emit(1)  # type: ignore[attr-defined]
    assert document.job.dress.items[0].steps[0].of == "other"


def test_what_is_glued_on_has_a_row_each_that_can_be_taken_off(qtbot: QtBot, document: Document) -> None:
    job = attached(quick_job("5x7in", liner="1/16"), "layers", "layers", "window", "envelope")
    document.open_job(job, None, saved=True)
    qtbot.waitUntil(lambda: document.is_current, timeout=10_000)
    extras = Extras(document)
    qtbot.addWidget(extras)
    assert document.plan is not None
    extras.show_plan(document.plan)
    extras.show()
    for path in ("construct.window", "construct.envelope", "construct.liner", "construct.layers.layer-2"):
        find(extras, f"take-off-{path}", QPushButton).click()  # type: ignore[attr-defined]
    for path in ("construct.window", "construct.envelope", "construct.liner"):
        assert value_at(document.job, path) is None
    assert [layer.id for layer in document.job.construct.layers] == ["layer-1"]
    assert extras.findChild(QPushButton, "take-off-construct.fold") is None  # the base is always there
