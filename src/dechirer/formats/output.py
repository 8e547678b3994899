"""What is written for a job: every output registers itself in its own file, once for the job or for each mat."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

from msgspec import Struct

from dechirer.core.plan import Plan
from dechirer.core.press.pages import walk_sides
from dechirer.core.press.station import PAGES
from dechirer.core.registry import Registry


class OutputError(OSError):
    """A file was not written, as it would not say what the plan says: a fault of ours."""


class OutputFile(Struct, frozen=True):
    """A file of an export.

    Attributes:
        path: its path in the folder, with forward slashes.
        write: makes its content.
        output: the id of the output it comes from.
        mat: the number of the mat it belongs to; 0 for a file of the whole job.
    """

    path: str
    write: Callable[[], bytes]
    output: str = ""
    mat: int = 0


class OutputSpec(Struct, frozen=True):
    """An output.

    Attributes:
        id: its path in the folder; `{mat}` stands for the name of what it is written for.
        run: its content as bytes, from the plan, or from what it is written for and the plan.
        about: what it is, in a few words.
        order: its place among the files.
        each: what there is one of it for: a key of `EACH`, or empty for one of the job.
        wanted: whether a job has it written.
        check: reads the content back and says why it is not what it should be, from the content, what it is written for
            (None for the job) and the plan; empty where it is.
    """

    id: str
    run: Callable[..., bytes]
    about: str
    order: int
    each: str = ""
    wanted: Callable[[Plan], bool] = lambda plan: True
    check: Callable[[bytes, Any, Plan], str] | None = None

    def files(self, plan: Plan) -> Iterator[OutputFile]:
        """Yield its files for a plan, in order."""
        if not self.each:
            yield OutputFile(self.id, lambda: self._checked(self.run(plan), None, plan), self.id)
            return
        for name, mat, thing in EACH[self.each](plan):
            path = self.id.format(**{self.each: name})
            yield OutputFile(path, lambda thing=thing: self._checked(self.run(thing, plan), thing, plan), self.id, mat)  # type: ignore[misc]

    def _checked(self, content: bytes, thing: Any, plan: Plan) -> bytes:
        why = self.check(content, thing, plan) if self.check is not None else ""
        if why:
            raise OutputError(0, f"what was to be written does not read back as it should: {why}", self.id)
        return content

    def pattern(self) -> str:
        """A pattern that its files match, those of an earlier export included."""
        return self.id.format(**{self.each: f"{self.each}-*"}) if self.each else self.id


EACH: dict[str, Callable[[Plan], Iterator[tuple[str, int, Any]]]] = {
    "mat": lambda plan: ((layout.id, layout.number, layout) for layout in plan.lay.layouts),
    "pass": lambda plan: (
        (f"pass-{mat.layout.number}-{number}", mat.layout.number, (mat, made))
        for mat in plan.run.mats
        for number, made in enumerate(mat.passes, start=1)
    ),
    "page": lambda plan: (
        (id, page.number, (page, side)) for page in plan.part(PAGES).pages for id, side in walk_sides(page)
    ),
}
"""What there may be one output for: the name of its file, the number of its mat, and what the file is of."""

OUTPUTS: Registry[OutputSpec] = Registry("output", OutputSpec, folders=("dechirer.formats.outputs",))


def unless_skipped(kind: str) -> Callable[[Plan], bool]:
    """Whether files of mats of a kind (`svg`, `dxf`, `plt`, `png`) are wanted."""
    return lambda plan: kind not in plan.job.run.skip
