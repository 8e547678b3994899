"""Files of strangers, damaged at random: each is read or refused in one line; what is read is saved and opens again.

`python -m bench.mutated [how many] [seed]`; what it finds becomes a fixed example of the tests.
"""

from __future__ import annotations

import io
import random
import sys
import time
import traceback

import ezdxf
import numpy as np
from PIL import Image

from dechirer.core.decide.change import Change
from dechirer.core.dress.decisions import Dress
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import read_job_json, write_job_json
from dechirer.core.job.new import make_job
from dechirer.formats.art.collect import ArtError
from dechirer.formats.art.read import read_art
from dechirer.formats.copies_csv import TableError, read_copies

SVG = b"""<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"
 width="50mm" height="40mm" viewBox="0 0 50 40"><style>.a{fill:#c00;stroke:none}#b{stroke-dasharray:2 1}</style>
<defs><linearGradient id="g"><stop offset="0" stop-color="#fff"/><stop offset="1"/></linearGradient>
<symbol id="s" viewBox="0 0 10 10"><circle cx="5" cy="5" r="5"/></symbol><clipPath id="c"><rect width="9" height="9"/>
</clipPath><mask id="m"><rect width="30" height="30" fill="#fff"/></mask></defs>
<g id="cut" transform="translate(2 3) rotate(10)">
<path class="a" d="M0 0h10v10H0zM3 3A2 2 0 016 5q1 2 3 0t2 2s1 1-4-3z"/>
<path id="b" d="M1 1C2 3 4 5 6 7" fill="none" stroke="#00f" stroke-width=".3"/></g><use xlink:href="#s" x="20" y="5"
 width="8" height="8"/><rect x="4" y="20" width="20" height="9" rx="2" fill="url(#g)" clip-path="url(#c)"/>
<polygon points="30,20 40,20 35,30" mask="url(#m)" style="fill:rgb(10%,20%,30%);opacity:.5"/></svg>"""
CSV = 'Name;Ort;Tisch\nJörg;Köln;1\n"Anna; B.";Husum;2\n'.encode()
PIECES = (
    *(b"url(#", b"-1e9", b"NaN", b"&#0;", b"</g>", b"<g>", b"\x00", b"\xff\xfe", b"1e400", b'"'),
    b"matrix(0 0 0 0 0 0)",
)
"""What is put in: numbers that are none, ends that do not belong, bytes that are no letters."""


def seeds() -> dict[str, list[bytes]]:
    """Good files to begin with, by kind."""
    document = ezdxf.new(units=4)
    space = document.modelspace()
    space.add_lwpolyline([(0, 0, 0, 0, 0.3), (20, 0), (20, 10)], close=True)
    space.add_circle((5, 5), 2)
    space.add_spline([(0, 0), (3, 5), (9, 2)])
    document.blocks.new("b").add_line((0, 0), (5, 5))
    space.add_blockref("b", (3, 3), dxfattribs={"row_count": 2, "column_count": 2})
    out = io.StringIO()
    document.write(out)
    pixels = np.full((40, 60, 4), 0, np.uint8)
    pixels[8:30, 10:50] = (200, 30, 30, 255)
    png, jpeg = io.BytesIO(), io.BytesIO()
    Image.fromarray(pixels).save(png, "PNG", dpi=(200, 200))
    Image.fromarray(255 - pixels[:, :, 3]).save(jpeg, "JPEG")
    pictures = [png.getvalue(), jpeg.getvalue()]
    return {"svg": [SVG] * 6, "dxf": [out.getvalue().encode()], "picture": pictures, "csv": [CSV] * 2}


def mutate(data: bytes, rng: random.Random) -> bytes:
    """One to eight changes: bytes flipped, cut out, doubled, or something nasty put in."""
    found = bytearray(data)
    for _ in range(rng.randint(1, 8)):
        at = rng.randrange(max(1, len(found)))
        match rng.randrange(5):
            case 0:
                found[at : at + 1] = bytes([rng.randrange(256)])
            case 1:
                del found[at : at + rng.randint(1, 40)]
            case 2:
                found[at:at] = found[at : at + rng.randint(1, 200)]
            case 3:
                found[at:at] = rng.choice(PIECES)
            case _:
                digits = [place for place, byte in enumerate(found) if 48 <= byte <= 57]
                if digits:
                    found[rng.choice(digits)] = 48 + rng.randrange(10)
    return bytes(found)


def try_one(kind: str, data: bytes) -> str:
    """What is wrong with how a file is taken; empty for nothing."""
    try:
        if kind == "csv":
            read_copies(data, "names.csv")
            return ""
        art = read_art(data, f"a.{kind}", set())
    except (ArtError, TableError) as error:
        return "" if str(error) and "\n" not in str(error) else f"the message is not one line: {error!r}"
    except Exception:  # noqa: BLE001 - whatever comes out is what is looked for
        return traceback.format_exc(limit=4)
    job = apply_changes(make_job(), [Change("dress", Dress(art=(art,)))])
    try:
        return "" if read_job_json(write_job_json(job)) == job else "it opens as another"
    except Exception:  # noqa: BLE001 - as above
        return "it does not open again: " + traceback.format_exc(limit=2)


def main() -> None:
    """Try, and tell what went wrong."""
    asked = [int(each) for each in sys.argv[1:]]
    count, seed = (*asked, *(10_000, 1)[len(asked) :])
    rng = random.Random(seed)
    begin = seeds()
    kinds = [kind for kind, files in begin.items() for _ in files]
    wrong, slowest = 0, (0.0, b"")
    for number in range(count):
        kind = rng.choice(kinds)
        data = mutate(rng.choice(begin[kind]), rng)
        began = time.perf_counter()
        why = try_one(kind, data)
        took = time.perf_counter() - began
        slowest = max(slowest, (took, data))
        if why:
            wrong += 1
            print(f"{kind} {number}: {why}\n{data[:400]!r}\n")
    print(f"{count} damaged files, seed {seed}: {wrong} wrong; the slowest took {slowest[0]:.2f} s")
    sys.exit(bool(wrong))


if __name__ == "__main__":
    main()
