"""Every output of the dressed demo, the making up it needs, and a rehearsal of its files.

The yardstick of an output is reading it once by a library of others (ElementTree, pypdf, ezdxf, Pillow, csv, json);
that of the making up is the plan it is part of.

bin/bench outputs            # the dressed demo
bin/bench outputs gate       # another one
"""

from __future__ import annotations

import csv
import io
import json
import sys
import time
import xml.etree.ElementTree as ET
from collections import defaultdict
from collections.abc import Callable
from pathlib import PurePosixPath

import ezdxf
import pypdf
from msgspec import structs
from PIL import Image

from dechirer.core.plan import Planner
from dechirer.demo import load_demo_job
from dechirer.devices.cut_rehearsal import rehearse
from dechirer.formats.output import OUTPUTS

READERS: dict[str, Callable[[bytes], object]] = {
    ".svg": lambda data: ET.fromstring(data),
    ".pdf": lambda data: [page.get_contents() for page in pypdf.PdfReader(io.BytesIO(data)).pages],
    ".dxf": lambda data: ezdxf.read(io.StringIO(data.decode())),
    ".png": lambda data: Image.open(io.BytesIO(data)).load(),
    ".csv": lambda data: list(csv.reader(io.StringIO(data.decode()))),
    ".json": lambda data: json.loads(data),
}


def timed(work: Callable[[], object]) -> tuple[object, float]:
    """What it gives, and how many milliseconds it took."""
    began = time.perf_counter()
    found = work()
    return found, 1000 * (time.perf_counter() - began)


def main() -> None:
    """Measure and print."""
    demo = sys.argv[1] if len(sys.argv) > 1 else "kites"
    planner, job = Planner(), load_demo_job(demo)
    plan, cold = timed(lambda: planner.plan(job))
    again, warm = timed(lambda: planner.plan(structs.replace(job, fold=structs.replace(job.fold, hands=2))))
    print(f"{demo}: planned from nothing in {cold:.0f} ms; its making up for two hands, warm, in {warm:.0f} ms")
    assert again != plan
    written: dict[str, float] = defaultdict(float)
    read: dict[str, float] = defaultdict(float)
    sizes: dict[str, int] = defaultdict(int)
    for spec in OUTPUTS:
        for file in spec.files(plan):  # type: ignore[arg-type]
            content, took = timed(file.write)
            assert isinstance(content, bytes)
            written[spec.id] += took
            sizes[spec.id] += len(content)
            reader = READERS.get(PurePosixPath(file.path).suffix)
            if reader is not None:
                read[spec.id] += timed(lambda content=content, reader=reader: reader(content))[1]  # type: ignore[misc]
    for id in sorted(written, key=lambda each: -written[each]):
        beside = f"{read[id]:7.0f} ms to read by others" if id in read else ""
        print(f"  {id:<28} {written[id]:7.0f} ms {sizes[id] / 1000:8.0f} kB {beside}")
    print(f"  {'all outputs':<28} {sum(written.values()):7.0f} ms, one after the other")
    for number in ("first", "second"):
        found, took = timed(lambda: rehearse(plan))  # type: ignore[arg-type]
        print(f"  rehearsal, {number} time {took:14.0f} ms")
        assert found is not None


if __name__ == "__main__":
    main()
