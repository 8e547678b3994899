"""Looks for closer layouts in a process of its own, one paper after the other; stopping it ends the process."""

from __future__ import annotations

import json
import os
import sys
from pathlib import Path

from PyQt6.QtCore import QObject, QProcess, QProcessEnvironment, pyqtSignal

import dechirer
from dechirer.core.lay.closer import Ask, as_closer
from dechirer.core.lay.nesting.worker import write_ask

ROUNDS = 400
"""So many are tried for each paper: a few seconds for a dozen pieces, a minute or so for many odd ones."""


class Looker(QObject):
    """Looks for what is asked.

    Signals:
        better(ask, closer, needs): a layout that is better than those before it.
        moved(ask, needs): what is being looked at, and the least it needs up to now, in sheets.
        ended(why): all was looked at (`why` empty), or it cannot be.
    """

    better = pyqtSignal(object, object, float)
    moved = pyqtSignal(object, float)
    ended = pyqtSignal(str)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._asks: list[Ask] = []
        self._process: QProcess | None = None
        self._rest = b""

    @property
    def is_busy(self) -> bool:
        """Whether something is being looked for."""
        return self._process is not None

    @property
    def asked(self) -> Ask | None:
        """What is being looked at."""
        return self._asks[0] if self._asks else None

    def look(self, asks: list[Ask]) -> None:
        """Look for each of them in turn."""
        self.stop()
        self._asks = list(asks)
        self._next()

    def stop(self) -> None:
        """Stop; what was found up to now was told."""
        process, self._process, self._asks = self._process, None, []
        if process is not None:
            process.readyReadStandardOutput.disconnect()
            process.finished.disconnect()
            process.kill()
            process.waitForFinished(2000)
            process.deleteLater()

    def _next(self) -> None:
        if not self._asks:
            self._process = None
            self.ended.emit("")
            return
        process = self._process = QProcess(self)
        self._rest = b""
        environment = QProcessEnvironment.systemEnvironment()
        source = str(Path(dechirer.__file__).parents[1])
        environment.insert("PYTHONPATH", os.pathsep.join(filter(None, (source, environment.value("PYTHONPATH")))))
        process.setProcessEnvironment(environment)
        process.readyReadStandardOutput.connect(self._read)
        process.finished.connect(self._finished)
        process.errorOccurred.connect(self._failed)
        process.start(sys.executable, ["-W", "ignore", "-m", "dechirer.core.lay.nesting.worker"])
        process.write((write_ask(self._asks[0], ROUNDS) + "\n").encode())
        process.closeWriteChannel()

    def _read(self) -> None:
        if self._process is None:
            return
        *lines, self._rest = (self._rest + self._process.readAllStandardOutput().data()).split(b"\n")
        for line in lines:
            told = json.loads(line)
            if "needs" in told:
                ask = self._asks[0]
                sheets = tuple(tuple((k, t, x, y) for k, t, x, y in sheet) for sheet in told["sheets"])
                self.moved.emit(ask, told["needs"])
                self.better.emit(ask, as_closer(ask, sheets), told["needs"])
                if self._process is None:
                    return  # it was stopped by who was told

    def _finished(self, code: int) -> None:
        process, self._process = self._process, None
        if process is not None:
            process.deleteLater()
        if code:
            self._asks = []
            self.ended.emit("the search ended by itself")
            return
        self._asks = self._asks[1:]
        self._next()

    def _failed(self, error: QProcess.ProcessError) -> None:
        if error == QProcess.ProcessError.FailedToStart:
            self._process, self._asks = None, []
            self.ended.emit("the search could not be started")
