"""Other jobs laid with this one: chosen by their files, listed, taken off again."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QPushButton, QVBoxLayout, QWidget

from dechirer.core.job.model import Job
from dechirer.core.lay.decisions import Guest
from dechirer.core.lay.guests import Other
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.widgets.taken_off import Row, TakeOffList
from dechirer.desk.work.beside import Beside
from dechirer.desk.work.document import Document


class GuestsPanel(QWidget):
    """Reads and plans a job beside the window, then lays it with the open one."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self._shown: tuple[Guest, ...] | None = None
        self.beside = Beside(self)
        self.beside.done.connect(self._take)
        self.beside.refused.connect(self._say)
        self.beside.failed.connect(lambda error: self._say(f"It could not be read ({type(error).__name__})."))
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(heading("Laid together"))
        self._list = TakeOffList()
        column.addLayout(self._list)
        self.ask = QPushButton("Lay with another job…")
        self.ask.setObjectName("lay-with")
        self.ask.setToolTip("Its pieces share the mats of this job, in one run")
        self.ask.clicked.connect(self._ask_file)
        column.addWidget(self.ask)
        self.said = small()
        self.said.setObjectName("lay-with-said")
        column.addWidget(self.said)
        self.said.hide()

    def show_job(self, job: Job) -> None:
        """List the jobs that are laid with this one."""
        if job.lay.guests == self._shown:
            return
        self._shown = job.lay.guests
        self._list.show_rows(
            [
                Row(
                    f"guest-off-{guest.id}",
                    f"{guest.letter}  {guest.name}",
                    f"Take {guest.name} off the mats",
                    partial(self._send_away, guest),
                )
                for guest in job.lay.guests
            ]
        )

    def _ask_file(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Lay with", "", "Jobs (*.dechirer);;All files (*)")
        if name:
            self.lay_with(Path(name))

    def lay_with(self, path: Path) -> None:
        """Read the job of a file and lay it with the open one."""
        self._say(f"Reading {path.name}…")

        def work() -> tuple[Job, Other]:
            from dechirer.core.laying_together import plan_other
            from dechirer.formats.job.archive import read_archive

            job = read_archive(path)
            return job, plan_other(job)

        self.beside.run(work)

    def _take(self, found: tuple[Job, Other]) -> None:
        from dechirer.core.laying_together import TogetherError, invite

        other, brings = found
        try:
            changes = invite(self.document.job, other, brings)
        except TogetherError as error:
            self._say(f"{error}.")
            return
        self._say("")
        self.document.edit(f"Laid with {other.name}", changes)

    def _send_away(self, guest: Guest) -> None:
        from dechirer.core.laying_together import send_away

        self.document.edit(f"Without {guest.name}", lambda job: (send_away(job, guest.id),))

    def _say(self, words: str) -> None:
        self.said.setText(words)
        self.said.setVisible(bool(words))

    def end(self) -> None:
        """What is being read is given up."""
        self.beside.stop()
