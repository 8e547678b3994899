"""The demo: invitations for Saltmarsh Kite Day, a made-up spring kite festival on a tidal marsh."""

from __future__ import annotations

from pathlib import Path

from dechirer.core.job.model import Job, read_job_json


def load_demo_job() -> Job:
    """The job the window opens on at first start."""
    return read_job_json(Path(__file__).with_name("invitations.json").read_bytes())
