"""The JSON Schema of the job file: `python -m dechirer.core.job.schema > docs/job.schema.json`."""

from __future__ import annotations

import json
from typing import Any, get_args

import msgspec

from dechirer.core.construct.specs import CONSTRUCTIONS, ENVELOPES
from dechirer.core.decide.decisions import Decisions, slots_of
from dechirer.core.decide.field import Slot
from dechirer.core.job.model import Job
from dechirer.core.length import Length


def make_schema() -> dict[str, Any]:
    """The JSON Schema of the job file, from the models: their fields give titles and bounds.

    Raises:
        TypeError: a model has a type the schema does not know; a fault of ours.
    """

    def schema_hook(kind: type) -> dict[str, Any]:
        if kind is Length:
            return {"type": "string", "maxLength": 120, "description": "A length with its unit: 5 1/4 in, 133 mm"}
        raise TypeError(f"no schema for a {kind.__name__}")

    schema: dict[str, Any] = msgspec.json.schema(Job, schema_hook=schema_hook)
    for kind in _all_decisions(Job, set()):
        properties = schema["$defs"].get(kind.__name__, {}).get("properties", {})
        for name, slot in slots_of(kind).items():
            if name in properties:
                properties[name] = {**_describe(slot), **properties[name]}
    schema["$defs"]["Brief"]["properties"]["construction"]["enum"] = list(CONSTRUCTIONS.ids())
    schema["$defs"]["Envelope"]["properties"]["style"]["enum"] = list(ENVELOPES.ids())
    return schema


def _all_decisions(kind: Any, seen: set[Any]) -> set[Any]:
    """Decisions and all decisions below them."""
    if isinstance(kind, type) and kind in seen:
        return seen
    if isinstance(kind, type) and issubclass(kind, Decisions):
        seen.add(kind)
        for field in msgspec.structs.fields(kind):
            _all_decisions(field.type, seen)
        return seen
    for inner in get_args(kind):
        if isinstance(inner, type) or get_args(inner):
            _all_decisions(inner, seen)
    return seen


def _describe(slot: Slot) -> dict[str, Any]:
    """Title and bounds of a field; bounds of lengths in words, as they are written with a unit."""
    found: dict[str, Any] = {"title": slot.field.title}
    least, most = slot.field.least, slot.field.most
    if least is None or most is None:
        return found
    if slot.kind in ("count", "number"):
        found |= {"minimum": least, "maximum": most}
    elif slot.kind in ("length", "lengths", "size", "note"):
        found["description"] = f"From {least:g} to {most:g} mm."
    return found


def schema_text() -> str:
    """The schema as indented JSON, ending with a line end."""
    return json.dumps(make_schema(), indent=2, sort_keys=True) + "\n"


if __name__ == "__main__":
    print(schema_text(), end="")
