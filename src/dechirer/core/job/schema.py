"""Prints the JSON Schema of the job file: `python -m dechirer.core.job.schema > docs/job.schema.json`."""

from __future__ import annotations

import json

from dechirer.core.job.model import make_schema


def schema_text() -> str:
    """The schema as indented JSON, ending with a line end."""
    return json.dumps(make_schema(), indent=2, sort_keys=True) + "\n"


if __name__ == "__main__":
    print(schema_text(), end="")
