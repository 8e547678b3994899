"""What the desk remembers between starts: the theme, the size, whether the hint was seen, the last folder."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from platformdirs import user_config_path, user_state_path

from dechirer.desk.actions import SCALES
from dechirer.formats.job.atomic import write_atomically

MOST_RECENT = 8
MOST_EXPORTS = 60


class Settings:
    """A small JSON file in the user's settings folder; a broken or read-only one is worked without."""

    def __init__(self) -> None:
        self._path = user_config_path("dechirer") / "desk.json"
        self._values: dict[str, Any] = {}
        try:
            read = json.loads(self._path.read_bytes())
            self._values = read if isinstance(read, dict) else {}
        except (OSError, ValueError):
            self._values = {}

    @property
    def theme(self) -> str:
        """`light` or `dark`; empty for as the system is."""
        value = self._values.get("theme")
        return value if value in ("light", "dark") else ""

    @theme.setter
    def theme(self, value: str) -> None:
        self._keep("theme", value)

    @property
    def scale(self) -> int:
        """How large everything is drawn, in percent."""
        value = self._values.get("scale")
        return value if isinstance(value, int) and value in SCALES else 100

    @scale.setter
    def scale(self, value: int) -> None:
        self._keep("scale", value)

    @property
    def hint_seen(self) -> bool:
        """Whether the first hint was dismissed."""
        return self._values.get("hint_seen") is True

    @hint_seen.setter
    def hint_seen(self, value: bool) -> None:
        self._keep("hint_seen", value)

    @property
    def start_page(self) -> bool:
        """Whether later starts begin with the page of jobs."""
        return self._values.get("start_page") is not False

    @start_page.setter
    def start_page(self, value: bool) -> None:
        self._keep("start_page", value)

    @property
    def looks(self) -> bool:
        """Whether Lay looks for a closer lay by itself."""
        return self._values.get("looks") is not False

    @looks.setter
    def looks(self, value: bool) -> None:
        self._keep("looks", value)

    @property
    def recent(self) -> list[Path]:
        """The job files opened or saved last, the newest first, as far as they are still there."""
        kept = self._values.get("recent")
        names = [each for each in kept if isinstance(each, str)] if isinstance(kept, list) else []
        return [Path(name) for name in names if Path(name).is_file()][:MOST_RECENT]

    def remember(self, path: Path) -> None:
        """A job file was opened or saved."""
        mine = str(path.absolute())
        before = [str(each) for each in self.recent if str(each) != mine]
        self._keep("recent", [mine, *before][:MOST_RECENT])

    @property
    def px_per_mm(self) -> float:
        """How many of the screen's own pixels make a mm, as the maker measured it; 0 before that."""
        value = self._values.get("px_per_mm")
        return float(value) if isinstance(value, int | float) and 0.5 <= value <= 60.0 else 0.0

    @px_per_mm.setter
    def px_per_mm(self, value: float) -> None:
        self._keep("px_per_mm", value)

    def export_folder(self, job_id: str) -> Path | None:
        """The folder a saved job was exported into last, where it is still there."""
        kept = self._values.get("exports")
        name = kept.get(job_id) if isinstance(kept, dict) and job_id else None
        return Path(name) if isinstance(name, str) and Path(name).is_dir() else None

    def remember_export(self, job_id: str, folder: Path) -> None:
        """Remember where a saved job was exported into."""
        if not job_id:
            return
        kept = self._values.get("exports")
        others = {id: each for id, each in kept.items() if id != job_id} if isinstance(kept, dict) else {}
        newest = list(others.items())[-MOST_EXPORTS:]
        self._keep("exports", {**dict(newest), job_id: str(folder)})

    @property
    def folder(self) -> str:
        """The folder used last."""
        value = self._values.get("folder")
        return value if isinstance(value, str) and Path(value).is_dir() else str(Path.home())

    @folder.setter
    def folder(self, value: str) -> None:
        self._keep("folder", value)

    def _keep(self, name: str, value: Any) -> None:
        self._values[name] = value
        try:
            self._path.parent.mkdir(parents=True, exist_ok=True)
            write_atomically(self._path, json.dumps(self._values).encode())
        except OSError:
            pass  # settings are a comfort; work goes on without them


def state_folder() -> Path:
    """Where journals and locks live."""
    return user_state_path("dechirer")
