"""The first start, ended at any moment, with a stubbed installer: the next one starts well."""

from __future__ import annotations

import os
import shutil
import signal
import subprocess
import time
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[2]
STUB = """#!/bin/sh
# Stands for Python: makes an environment and installs into it in steps that can be ended in between.
case "$1 $2" in
"-c "*) exit 0 ;;
"-m venv")
    sleep "$STUB_SLEEP"; mkdir -p "$3/bin"
    sleep "$STUB_SLEEP"; cp "$STUB" "$3/bin/python"; chmod +x "$3/bin/python" ;;
"-m pip")
    here=$(dirname "$0")
    if [ "$3" = --version ]; then [ -e "$here/pip" ] && exit 0; exit 1; fi
    [ -z "${STUB_FAILS:-}" ] || { echo "no network" >&2; exit 1; }
    for part in one two three; do
        sleep "$STUB_SLEEP"; echo "#!$here/python" > "$here/$part"
    done
    echo "#!$here/python" > "$here/pip" ;;
"-m compileall") sleep "$STUB_SLEEP" ;;
esac
"""


@pytest.fixture
def checkout(tmp_path: Path) -> Path:
    """A checkout with what `bin/prepare` reads, and a stub for Python."""
    place = tmp_path / "checkout"
    (place / "bin").mkdir(parents=True)
    (place / "src").mkdir()
    shutil.copy(ROOT / "bin" / "prepare", place / "bin" / "prepare")
    for name in ("requirements.txt", "requirements-dev.txt", "pyproject.toml"):
        (place / name).write_text(f"{name}\n")
    (tmp_path / "python").write_text(STUB)
    (tmp_path / "python").chmod(0o755)
    return place


def start(checkout: Path, name: str = "requirements.txt", **more: str) -> subprocess.Popen[bytes]:
    stub = str(checkout.parent / "python")
    env = {**os.environ, "PYTHON": stub, "STUB": stub, "STUB_SLEEP": "0", **more}
    command = [str(checkout / "bin" / "prepare"), name]
    return subprocess.Popen(command, env=env, stderr=subprocess.PIPE, start_new_session=True)


def ended(process: subprocess.Popen[bytes]) -> tuple[int, str]:
    _, err = process.communicate(timeout=240)
    return process.returncode, err.decode()


def assert_ready(checkout: Path) -> None:
    scripts = checkout / ".venv" / "bin"
    assert {path.name for path in scripts.iterdir()} == {"python", "pip", "one", "two", "three"}
    assert ".venv-new" not in (scripts / "one").read_text()
    left = {path.name for path in checkout.iterdir() if path.name.startswith(".venv-")}
    assert left <= {".venv-lock"}


@pytest.mark.parametrize("how", [signal.SIGKILL, signal.SIGINT, signal.SIGTERM])
@pytest.mark.parametrize("moment", range(0, 10, 3))
def test_a_start_that_is_ended_is_followed_by_a_good_one(checkout: Path, moment: int, how: signal.Signals) -> None:
    first = start(checkout, STUB_SLEEP="0.05")
    time.sleep(0.06 * moment)
    os.killpg(first.pid, how)
    ended(first)
    code, said = ended(start(checkout))
    assert code == 0, said
    assert_ready(checkout)
    assert ended(start(checkout)) == (0, "")


def test_a_start_that_was_ended_between_the_renames_is_finished(checkout: Path) -> None:
    assert ended(start(checkout))[0] == 0
    (checkout / ".venv").rename(checkout / ".venv-new")
    (checkout / ".venv-new" / ".complete").touch()
    code, said = ended(start(checkout))
    assert (code, said) == (0, "")
    assert_ready(checkout)


def test_an_environment_whose_installer_is_missing_is_made_again(checkout: Path) -> None:
    """As an older start left it that was ended in its first seconds."""
    assert ended(start(checkout))[0] == 0
    (checkout / ".venv" / "bin" / "pip").unlink()
    (checkout / ".venv" / ".installed-requirements.txt").unlink()
    assert ended(start(checkout))[0] == 0
    assert_ready(checkout)


def test_a_failed_download_says_what_to_do_and_changes_nothing(checkout: Path) -> None:
    assert ended(start(checkout))[0] == 0
    code, said = ended(start(checkout, "requirements-dev.txt", STUB_FAILS="1"))
    assert code == 2
    assert "network connection" in said
    assert "then start again" in said
    assert ended(start(checkout)) == (0, "")  # what was there still starts
    assert ended(start(checkout, "requirements-dev.txt"))[0] == 0
    assert_ready(checkout)


def test_two_starts_at_once_install_once(checkout: Path) -> None:
    first = start(checkout, STUB_SLEEP="0.2")
    time.sleep(0.3)
    second = start(checkout)
    assert ended(first)[0] == 0
    code, said = ended(second)
    assert code == 0
    assert "waiting" in said
    assert "First start" not in said
    assert_ready(checkout)
