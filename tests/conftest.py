"""Shared fixtures: the demo job, quick jobs, and folders of their own for every test."""

from __future__ import annotations

import os

os.environ["QT_QPA_PLATFORM"] = "offscreen"

from pathlib import Path

import pytest
from hypothesis import HealthCheck, Phase, settings

from dechirer.core.job.model import Job
from dechirer.core.plan import Plan, make_plan
from dechirer.demo import load_demo_job
from tests.helpers import FUZZ

settings.register_profile(
    "here",
    deadline=None,
    max_examples=400 if FUZZ else 100,
    suppress_health_check=list(HealthCheck),
    derandomize=not FUZZ,  # the same examples at every run; bin/fuzz looks for new ones
    print_blob=FUZZ,
    # The smallest example is looked for by bin/fuzz: it may take minutes, and whoever runs bin/test wants an answer.
    phases=tuple(Phase) if FUZZ else (Phase.explicit, Phase.reuse, Phase.generate),
)
settings.load_profile("here")


@pytest.fixture(autouse=True)
def own_folders(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Settings, journals and locks of a test stay in the test."""
    for name in ("XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME", "XDG_DOCUMENTS_DIR"):
        monkeypatch.setenv(name, str(tmp_path / name.lower()))


@pytest.fixture
def demo() -> Job:
    return load_demo_job()


@pytest.fixture
def demo_plan(demo: Job) -> Plan:
    return make_plan(demo)
