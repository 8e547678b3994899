"""The furnished window: stations, Working and Findings round the open job, and what each action does."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QMimeData, QObject, QTimer
from PyQt6.QtWidgets import QFrame, QMessageBox

from dechirer.core.decide.change import Change
from dechirer.core.finding import Finding
from dechirer.core.job.model import Job
from dechirer.core.memory import forget
from dechirer.desk.stations.base import Station
from dechirer.desk.views import make_view
from dechirer.desk.widgets.complaint import say_refusal
from dechirer.desk.widgets.findings import Findings
from dechirer.desk.widgets.working import Working
from dechirer.desk.window import MainWindow
from dechirer.desk.work.appearance import Appearance
from dechirer.desk.work.document import Document
from dechirer.desk.work.dropping import Drops
from dechirer.desk.work.exports import Exports
from dechirer.desk.work.fault_log import FaultLog
from dechirer.desk.work.files import Files
from dechirer.desk.work.first_steps import FirstSteps
from dechirer.desk.work.guard import Guard
from dechirer.desk.work.licensing import Licensing
from dechirer.desk.work.mending import Mending
from dechirer.desk.work.patience import Patience
from dechirer.desk.work.picturing import Picturing
from dechirer.desk.work.settings import Settings, state_folder
from dechirer.desk.work.shelving import Shelving
from dechirer.desk.work.telling import Telling

if TYPE_CHECKING:
    from dechirer.desk.boxes.find_box import FindBox
    from dechirer.desk.stations.dress import DressStation

IDLE_MS = 30


class Stations(dict[str, Station]):
    """The stations by name; one that is not there yet is made when it is asked for."""

    def __init__(self, make: Callable[[str], Station]) -> None:
        super().__init__()
        self._make = make

    def __missing__(self, name: str) -> Station:
        self[name] = self._make(name)
        return self[name]


def edit_machine(document: Document, window: MainWindow) -> None:
    """Open the machine's profile."""
    from dechirer.desk.boxes.machine_box import MachineBox

    MachineBox(document, window).show()


class Room(QObject):
    """Holds the parts together. Views get plans; edits go to the document."""

    def __init__(self, window: MainWindow, job: Job, settings: Settings, guard: Guard | None = None) -> None:
        super().__init__(window)
        self.guard = guard or Guard(FaultLog(state_folder() / "log"), self)
        window.complete()
        self.window, self.settings = window, settings
        self.appearance = Appearance(window, settings, self._dress_again)
        self.ids = tuple(window.strip.buttons)
        self.document = Document(job, self)
        self.files = Files(window, self.document, settings)
        self.exports = Exports(window, self.document, settings)
        self.picked = ""
        self.station = self.ids[0]
        self.stations = Stations(self._make_station)
        self.shelving = Shelving(window, self.document, self._dress)
        self.picturing = Picturing(window, self.document, settings, self.stations)
        self.working, self.findings = Working(), Findings()
        rule = QFrame()
        rule.setFrameShape(QFrame.Shape.HLine)
        rule.setFrameShadow(QFrame.Shadow.Plain)
        rule.setForegroundRole(rule.palette().ColorRole.Mid)
        window.side.addWidget(self.findings, 3)
        window.side.addWidget(rule)
        window.side.addWidget(self.working, 2)
        window.side.addStretch(0)
        self._find: FindBox | None = None
        self._stale: set[str] = set(self.ids)
        self._idle = QTimer(self)
        self._wire()
        self.show_station(self.station)
        self._show_job()
        FirstSteps(window, self.document, settings)

    def _wire(self) -> None:
        window = self.window
        self.document.changed.connect(self._show_job)
        Licensing(self.document, self)
        self.document.planned.connect(self._show_plan)
        self.document.refused.connect(lambda why: say_refusal(window, why))
        Telling(window, self.document, (self.files, self.exports), self.guard)
        window.top.recent.aboutToShow.connect(self._list_recent)
        self._patience = Patience(self.document, window.banners, self)
        window.strip.chosen.connect(self.show_station)
        window.consequences.picked.connect(self._pick_consequence)
        window.top.units_chosen.connect(lambda units: self.document.edit(f"Units {units}", [Change("units", units)]))
        self.picturing.failed.connect(self.guard.report)
        self.working.figure_picked.connect(self.pick_figure)
        self.working.closed.connect(lambda: self.pick_figure(""))
        mending = Mending(self.document, window.banners, self)
        self.findings.mended.connect(mending.mend)
        self.findings.all_mended.connect(mending.mend_all)
        mending.choice_wanted.connect(self.show_finding)
        self.findings.pointed.connect(self.show_finding)
        self._idle.timeout.connect(self._make_next_station)
        Drops(window, self.files.leave_and_open, self._bring_in)

    def _bring_in(self, mime: QMimeData | None) -> None:
        """What was dropped goes to the station that takes it."""
        for name in self.ids:
            if self.stations[name].takes_drops:
                self.show_station(name)  # where it is put is seen
                self.stations[name].take_drop(mime)

    def _dress(self) -> DressStation:
        """The station that takes what is dropped, brought in front."""
        name = next(name for name in self.ids if self.stations[name].takes_drops)
        self.show_station(name)
        return cast("DressStation", self.stations[name])

    def _make_station(self, name: str) -> Station:
        """Import and make a station: the first at once, the others when the window is idle or they are asked for."""
        station = make_view(name, self.document)
        station.id = name
        self.window.stack.addWidget(station)
        station.figure_picked.connect(self.pick_figure)
        station.action_wanted.connect(self.do)
        station.element_wanted.connect(self.go_to)
        station.refused.connect(lambda text: self.window.banners.say("station", "look", text, seconds=10))
        return station

    def _list_recent(self) -> None:
        self.window.top.show_recent(self.settings.recent, self.files.leave_and_open)

    def _make_next_station(self) -> None:
        missing = [name for name in self.ids if name not in self.stations]
        if missing:
            self.stations[missing[0]]
        else:
            self._idle.stop()

    # --- showing ---------------------------------------------------------------------------------------------

    def show_station(self, station: str) -> None:
        """Open a station; it is drawn now if a newer plan has come while it was away."""
        self.station = station
        self.window.strip.show_chosen(station)
        self.window.stack.setCurrentWidget(self.stations[station])
        self._draw_station()
        if self.document.plan is not None:
            self.findings.show_findings(self.document.plan.findings, station)

    def pick_figure(self, key: str) -> None:
        """Explain a figure in Working and mark it in the drawings."""
        self.picked = key
        plan = self.document.plan
        self.working.show_figure(plan.figures.get(key) if plan else None, self.document.job.units)
        for station in self.stations.values():
            station.set_picked(key)

    def show_finding(self, finding: Finding) -> None:
        """Go to the station of a finding and light up what it is about."""
        self.show_station(finding.station)
        self.stations[finding.station].point_at(finding.element)

    def _show_plan(self) -> None:
        plan = self.document.plan
        assert plan is not None
        for name, button in self.window.strip.buttons.items():
            button.show_state(plan.live(name), plan.verdict(name))
        self._stale = set(self.ids)
        self._draw_station()
        self.window.consequences.show_values(plan.costs(), self.document.last_edit, fresh=self.document.is_fresh)
        self.findings.show_findings(plan.findings, self.station)
        self.pick_figure(self.picked if self.picked in plan.figures else "")
        self.window.banners.drop("plan")
        self.document.is_fresh = False
        if len(self.stations) < len(self.ids):
            self._idle.start(IDLE_MS)

    def _draw_station(self) -> None:
        plan = self.document.plan
        if plan is not None and self.station in self._stale:
            self._stale.discard(self.station)
            self.stations[self.station].show_plan(plan)
            self.stations[self.station].set_picked(self.picked)

    def _show_job(self) -> None:
        document, window = self.document, self.window
        job = document.job
        name = f"{job.name} · {job.about}" if job.about else job.name
        window.top.show_job(name, self.files.state_words())
        window.setWindowTitle(f"{job.name} - Dechirer")
        window.top.units.show_chosen(job.units)
        history = document.history
        for id, label in (("undo", history.undo_label), ("redo", history.redo_label)):
            action = window.actions_by_id[id]
            action.setEnabled(bool(label))
            action.setToolTip(f"{action.text()}: {label}" if label else action.text())

    # --- doing -----------------------------------------------------------------------------------------------

    def do(self, id: str) -> None:
        """Carry out an action by its id."""
        self.guard.doing = id
        for station in self.stations.values():
            station.end_typing()
        deeds = {
            "new": self.files.new,
            "open": self.files.ask_open,
            "save": self.files.save,
            "save-as": self.files.save_as,
            "save-copy": self.files.save_copy,
            "undo": self.document.undo,
            "redo": self.document.redo,
            "export": self.exports.ask,
            "versions": self.files.show_versions,
            "picture": self.picturing.ask,
            "start": self.begin,
            "shelf": self.shelving.open,
            "find": self.find,
            "help": self.help,
            "theme": self.appearance.toggle,
            "theme-system": self.appearance.use_system,
            "machine": lambda: edit_machine(self.document, self.window),
            "screen": self.measure_screen,
            "quit": self.window.close,
        }
        if id.startswith("scale-"):
            self.appearance.scale(int(id.removeprefix("scale-")))
        elif id.startswith("export-mat-"):
            self.exports.export_mat(int(id.removeprefix("export-mat-")))
        elif id.startswith("demo-"):
            self.files.open_demo(id.removeprefix("demo-"))
        else:
            deeds[id]()

    def find(self) -> None:
        """Open the find box."""
        from dechirer.desk.boxes.find_box import FindBox, Ways, list_entries

        if self._find is None:
            self._find = FindBox(self.window)
        ways = Ways(self.go_to, self._go_to_figure, self.show_finding, self.do, self.help)
        self._find.ask(list_entries(self.document.plan, ways))

    def begin(self) -> None:
        """Open the page with jobs to begin with."""
        from dechirer.desk.boxes.start_box import StartBox

        StartBox(self.files, self.settings, self.window).show()

    def help(self, word: str = "") -> None:
        """Say what this screen does, or what a word of the trade means."""
        from dechirer.desk.boxes.help_box import HelpBox

        HelpBox(self.station, self.window, word).show()

    def measure_screen(self) -> None:
        """Open the box in which the screen is measured."""
        from dechirer.desk.boxes.screen_box import ScreenBox

        box = ScreenBox(self.settings, self.window)
        box.measured.connect(self._draw_again)
        box.show()

    def _draw_again(self) -> None:
        self._stale = set(self.ids)
        self._draw_station()

    def _dress_again(self) -> None:
        """What is painted in a theme's colours is painted anew."""
        plan = self.document.plan
        if plan is not None:
            self._draw_again()
            self.findings.show_findings(plan.findings, self.station)
            self.pick_figure(self.picked)

    def _pick_consequence(self, key: str, station: str) -> None:
        if key == "stops":
            plan = self.document.plan
            if plan is not None and plan.findings:
                self.show_finding(plan.findings[0])
            return
        self.show_station(station)
        self.pick_figure(key)

    def go_to(self, element: str) -> None:
        """Show a piece, an item or a mat where it is made."""
        plan = self.document.plan
        if plan is None:
            return
        for name in self.ids:
            self._bring_up(name)
            if self.stations[name].owns(element):
                self.show_station(name)
                self.stations[name].point_at(element)
                break
        key = f"{element}.width"
        if key in plan.figures:
            self.pick_figure(key)

    def _bring_up(self, name: str) -> None:
        """Let a station that is not in front see the newest plan."""
        plan = self.document.plan
        if plan is not None and name in self._stale:
            self.stations[name].show_plan(plan)
            self._stale.discard(name)

    def _go_to_figure(self, key: str) -> None:
        plan = self.document.plan
        if plan is None:
            return
        for name in self.ids:
            self._bring_up(name)
            if key in self.stations[name].figures():
                self.show_station(name)
                break
        self.pick_figure(key)

    # --- ending ----------------------------------------------------------------------------------------------

    def may_close(self) -> bool:
        """Ask about unsaved work; False keeps the window open."""
        if self.document.history.is_saved or not self.files.is_worth_saving:
            return True
        answer = QMessageBox.question(
            self.window,
            "Dechirer",
            f"Save the changes to {self.document.job.name}?",
            QMessageBox.StandardButton.Save | QMessageBox.StandardButton.Discard | QMessageBox.StandardButton.Cancel,
        )
        if answer == QMessageBox.StandardButton.Save:
            return self.files.save()
        return answer == QMessageBox.StandardButton.Discard

    def end(self) -> None:
        """Stop threads and timers, drop locks and the journal."""
        self._idle.stop()
        self._patience.end()
        for station in self.stations.values():
            station.end()
        self.window.banners.clear()
        self.picturing.end()
        self.exports.end()
        self.files.end()
        self.document.end()
        forget()
