"""Why the job is modelled with msgspec: import and reading against attrs with cattrs and against pydantic.

The other two are not dependencies; where one is not installed its rows are left out.
"""

from __future__ import annotations

import statistics
import subprocess
import sys
import time

from bench.table import show

SHAPE = "name: str, width: float, height: float, count: int"
CODE = {
    "msgspec": """
import msgspec
class Paper(msgspec.Struct, frozen=True):
    name: str; width: float; height: float; count: int
read = msgspec.json.Decoder(list[Paper]).decode
""",
    "attrs + cattrs": """
import json, attrs, cattrs
@attrs.frozen
class Paper:
    name: str; width: float; height: float; count: int
converter = cattrs.Converter()
read = lambda text: converter.structure(json.loads(text), list[Paper])
""",
    "pydantic": """
import pydantic
class Paper(pydantic.BaseModel, frozen=True):
    name: str; width: float; height: float; count: int
read = pydantic.TypeAdapter(list[Paper]).validate_json
""",
}
TAIL = """
ready = time.perf_counter()
text = b"[" + b",".join(b'{"name": "sea", "width": 12.5, "height": 7.25, "count": %d}' % n for n in range(2000)) + b"]"
read(text)
began = time.perf_counter()
for _ in range(20): read(text)
print(1000 * (ready - start), 1000 * (time.perf_counter() - began) / 20)
"""


def main(runs: int = 7) -> None:
    """Measure and print."""
    rows = []
    for name, code in CODE.items():
        imports, reads = [], []
        for _ in range(runs):
            script = "import time; start = time.perf_counter()\n" + code + TAIL
            done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=False)
            if done.returncode:
                break
            first, second = done.stdout.split()
            imports.append(float(first))
            reads.append(float(second))
        if imports:
            rows.append(
                (
                    name,
                    f"import {statistics.median(imports):.0f} ms",
                    f"2,000 records {statistics.median(reads):.2f} ms",
                    "",
                )
            )
    show(f"Job models ({SHAPE})", rows)


if __name__ == "__main__":
    began = time.perf_counter()
    main()
