"""The kit list: what is needed for one card and for all, as CSV that any spreadsheet opens."""

from __future__ import annotations

import csv
import io

from dechirer.core.plan import Plan
from dechirer.formats.output import OUTPUTS
from dechirer.formats.outputs.cut_list import safe_cell
from dechirer.formats.read_back import check_kit_list

HEADINGS = ("kind", "what", "size", "each card", "in all", "unit", "spares", "count into a tray", "there", "lacking")


@OUTPUTS.add(
    "kit-list.csv",
    order=21,
    check=check_kit_list,
    about="what is needed to make the cards up, for one and for all",
)
def write_kit_list(plan: Plan) -> bytes:
    """The kit list as CSV in UTF-8 (RFC 4180: CRLF line ends); cells are made safe as in the cut list."""
    out = io.StringIO()
    rows = csv.writer(out)
    rows.writerow(HEADINGS)
    for row in plan.making_up.kit:
        cells = (
            row.kind,
            row.name,
            row.size,
            f"{row.each:g}",
            f"{row.total:g}",
            row.unit,
            row.spare or "",
            "yes" if row.tiny else "",
            "" if row.there is None else row.there,
            f"{row.lacking:g}" if row.lacking else "",
        )
        rows.writerow(safe_cell(cell) for cell in cells)
    return out.getvalue().encode()
