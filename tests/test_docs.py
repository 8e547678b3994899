"""What the documents say is true of the tree."""

from __future__ import annotations

import ast
import re
import tomllib
from pathlib import Path

import pytest

from dechirer.core.job.schema import schema_text

ROOT = Path(__file__).parent.parent
SOURCES = sorted((ROOT / "src" / "dechirer").rglob("*.py"))


def test_the_published_schema_is_the_models() -> None:
    assert (ROOT / "docs" / "job.schema.json").read_text() == schema_text()


def test_screenshots_are_few_and_linked() -> None:
    pictures = list((ROOT / "docs" / "screenshots").glob("*.png"))
    readme = (ROOT / "README.md").read_text()
    assert 5 <= len(pictures) < 20
    for picture in pictures:
        assert f"docs/screenshots/{picture.name}" in readme


@pytest.mark.parametrize(
    "name", ["README.md", "CONTRIBUTING.md", "docs/architecture.md", "docs/job-format.md", "docs/promises.md"]
)
def test_links_and_paths_lead_somewhere(name: str) -> None:
    page = ROOT / name
    for target in re.findall(r"\]\(([^)#:]+)\)", page.read_text()):
        assert (page.parent / target).exists(), target


def test_pins_have_no_urls_and_cover_what_is_imported() -> None:
    pins = (ROOT / "requirements.txt").read_text() + (ROOT / "requirements-dev.txt").read_text()
    assert "://" not in pins
    wanted = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]["dependencies"]
    for requirement in wanted:
        assert re.match(r"[\w-]+", requirement)[0].lower() in pins.lower()  # type: ignore[index]


def test_no_literal_colours_in_widgets() -> None:
    for source in (ROOT / "src" / "dechirer" / "desk").rglob("*.py"):
        if source.name != "tokens.py":
            found = set(re.findall(r'"(#[0-9a-fA-F]{6})"', source.read_text())) - {"#ffffff"}
            assert not found, f"{source}: {found}"


def test_every_promise_names_a_test_that_is_there() -> None:
    text = (ROOT / "docs" / "promises.md").read_text()
    named = re.findall(r"`(tests/[\w/]+\.py)(?:::(\w+))?`", text)
    assert len(named) > 20
    for file, test in named:
        assert (ROOT / file).exists(), file
        assert not test or f"def {test}(" in (ROOT / file).read_text(), f"{file}::{test}"
    for tool in re.findall(r"`bin/(\w+)", text):
        assert (ROOT / "bin" / tool).exists(), tool
    rows = [
        line for line in text.splitlines() if line.startswith("| ") and not line.startswith(("| Promise", "| What"))
    ]
    assert all("tests/" in row or "bin/" in row for row in rows)


def test_nothing_in_the_program_can_open_a_connection() -> None:
    banned = {"socket", "ssl", "http", "http.client", "urllib.request", "ftplib", "smtplib", "requests", "httpx"}
    for source in SOURCES:
        for node in ast.walk(ast.parse(source.read_text())):
            names = [each.name for each in node.names] if isinstance(node, ast.Import) else []
            names += [node.module or ""] if isinstance(node, ast.ImportFrom) else []
            assert not banned & set(names), source
            assert not any("QtNetwork" in name for name in names), source
