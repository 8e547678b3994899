"""Folding and building: the pose of the largest demo construction, its picture, and every builder together.

The yardstick of a pose is the same chain of turns by scipy.spatial.transform in the same run.
"""

from __future__ import annotations

import time

import numpy as np
from scipy.spatial.transform import Rotation

from bench.table import show, spread, verdict
from dechirer.core.brief.brief import make_brief
from dechirer.core.card.folding import fold, hinge_axis
from dechirer.core.construct.card import make_card
from dechirer.core.construct.construct import make_bare
from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.plan import make_plan
from dechirer.demo import load_demo_job
from dechirer.drawing.scenes.solid import make_folded_scene

RUNS = 200


def timed(work) -> list[float]:  # type: ignore[no-untyped-def]
    """Milliseconds of each of many calls."""
    taken = []
    for number in range(RUNS):
        began = time.perf_counter()
        work(number / RUNS)
        taken.append(1000 * (time.perf_counter() - began))
    return taken


def main() -> None:
    """Measure and print."""
    plan = make_plan(load_demo_job("topper"))
    tree = plan.construct.tree

    def scipy_chain(closed: float) -> None:
        points = {panel.id: np.array([(*point, 0.0) for point in panel.outline]) for panel in tree.panels}
        above = {hinge.child: hinge for hinge in tree.hinges}
        for panel in tree.panels:
            here = panel.id
            while here in above:
                hinge = above[here]
                through = np.array([*hinge.start, hinge.axis_z])
                turn = Rotation.from_rotvec(np.radians(hinge.closed_deg * closed) * np.array(hinge_axis(tree, hinge)))
                points[panel.id] = turn.apply(points[panel.id] - through) + through
                here = hinge.parent

    pose, other = timed(lambda closed: fold(tree, closed)), timed(scipy_chain)
    scene = timed(lambda closed: make_folded_scene(plan, closed))
    job = load_demo_job()
    facts = make_brief(job.brief)
    card = make_card(job.brief, job.construct.fold, facts, job.units, job.lay.margin.mm)

    def build_all(_: float) -> None:
        for kind in CONSTRUCTIONS.ids():
            make_bare(kind, job.construct, card)

    build_all(0.0)

    every = timed(build_all)
    show(
        f"Folding and building (yardstick of a pose: scipy's rotations, {spread(other)})",
        [
            ("pose of the topper, 9 panels", spread(pose), "wanted under 4 ms", verdict(sorted(pose)[RUNS // 2] < 4)),
            ("their folded picture", spread(scene), "16.7 ms is 60 a second", verdict(sorted(scene)[RUNS // 2] < 16.7)),
            ("every construction built", spread(every), "wanted under 60 ms", verdict(sorted(every)[RUNS // 2] < 60)),
        ],
    )


if __name__ == "__main__":
    main()
