"""A maker at her machine, simulated: how long each step really takes, which sheets are spoiled, where corners are cut.

The machine's times are those of its strokes, read from the files, by speeds of its own; the plan is not asked for them.
"""

from __future__ import annotations

import math
from collections.abc import Mapping

import numpy as np

from dechirer.core.brief.machine import Machine
from dechirer.core.card.mat import Mat
from dechirer.core.keep.entries import USUAL_CAUSES
from dechirer.core.run.steps import MachineStep
from dechirer.devices.cutter import Faults, draw_faults, run_place
from dechirer.devices.cutter_files import read_svg
from dechirer.devices.strokes import CutterFile, Stroke

SPREAD = 0.2
"""Speeds of a machine, and hands, differ from what is stated by so much, as a standard deviation of logarithms."""
JITTER_MACHINE, JITTER_HANDS = 0.02, 0.1
HANDS_S = {"prepare": 30.0, "hold": 20.0}
LOADING = {"load": 0.5, "read": 0.1, "look": 0.2, "unload": 0.2}
"""How long what no profile tells takes on the middle, and which share of a mat's loading each step of it has (from
memory)."""
CAUSES = (USUAL_CAUSES[0], USUAL_CAUSES[2])


class Shop:
    """One maker, one machine; the same work for the same seed."""

    def __init__(self, machine: Machine, seed: int, *, spoils: float = 0.1) -> None:
        """`spoils` is the share of sheets that are spoiled."""
        self.machine = machine
        self._random = np.random.default_rng(seed + 7_919)
        self.hands = math.exp(self._random.normal(0, SPREAD))
        self.quick = {name: math.exp(self._random.normal(0, SPREAD)) for name in ("cut", "score", "pen", "foil")}
        self._spoils = spoils
        right, down = self._random.normal((1.5, -1.0), 0.5)
        self.corner = float(right), float(down)

    def pass_seconds(self, file: CutterFile, operation: str) -> float:
        """How long the machine is at work on one operation of a file."""
        pace = self.machine.pace
        stated = pace.cut_mm_s if operation in ("cut", "kiss", "perforate", "pen") else pace.score_mm_s
        speed = stated * self.quick.get(operation, self.quick["cut"])
        seconds = sum(
            self._along(each, speed, pace.acceleration_mm_s2) + 2 * pace.lift_s
            for each in file.strokes
            if each.operation == operation
        )
        return float(seconds * math.exp(self._random.normal(0, JITTER_MACHINE)))

    def _along(self, stroke: Stroke, speed: float, acceleration: float) -> float:
        """Along one stroke: up to speed and down again at each corner."""
        points = np.asarray(stroke.points)
        if stroke.closed:
            points = np.vstack([points, points[:1]])
        steps = np.diff(points, axis=0)
        lengths = np.hypot(steps[:, 0], steps[:, 1])
        ways = np.arctan2(steps[:, 1], steps[:, 0])[lengths > 0]
        lengths = lengths[lengths > 0]
        if not len(lengths):
            return 0.0
        turns = np.abs((np.diff(ways) + math.pi) % (2 * math.pi) - math.pi)
        stops = np.concatenate([[True], turns > math.radians(self.machine.pace.corner_deg)])
        runs = np.add.reduceat(lengths, np.flatnonzero(stops))
        ramp = speed**2 / acceleration
        short = runs < ramp
        return float(np.sum(np.where(short, 2 * np.sqrt(runs / acceleration), runs / speed + speed / acceleration)))

    def step_seconds(self, step: MachineStep, files: Mapping[str, CutterFile]) -> float:
        """How long a step at the machine takes; `files` are those of the mats, by their ids."""
        if step.kind == "pass":
            return self.pass_seconds(files[step.mat], step.timed)
        if step.seconds:
            return step.seconds  # what is waited for takes as long for everybody
        pace = self.machine.pace
        if step.kind == "fit":
            return self.by_hand(pace.change_tool_s)
        if step.kind in LOADING:
            return self.by_hand(LOADING[step.kind] * pace.load_mat_s)
        return self.by_hand(HANDS_S[step.kind])

    def by_hand(self, usual: float) -> float:
        """How long something takes this maker that takes others so long (s)."""
        return float(usual * self.hands * math.exp(self._random.normal(0, JITTER_HANDS)))

    def spoils(self) -> str:
        """Why the sheet in front is spoiled; empty where it is not."""
        return str(self._random.choice(CAUSES)) if self._random.random() < self._spoils else ""

    def try_corner(self, trial: bytes, mat: Mat, load: int) -> tuple[float, float]:
        """Where the cross of a trial cut lies on the blank, from its left edge and its upper edge (mm)."""
        file = read_svg(trial.decode(), "trial.svg")
        drawn = draw_faults(self.machine, load)
        faults = Faults(self.corner[0] + 0.1 * drawn.right, self.corner[1] + 0.1 * drawn.down)
        points = np.vstack([np.asarray(each.points) for each in file.strokes])
        x, y = (points.min(axis=0) + points.max(axis=0)) / 2
        assert 0 <= x <= mat.width
        return run_place((float(x), float(y)), faults)
