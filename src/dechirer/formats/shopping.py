"""What is to be bought for some jobs, as CSV that any spreadsheet opens."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable

from dechirer.core.keep.stock import Wanted
from dechirer.formats.outputs.cut_list import safe_cell

HEADINGS = ("what", "needed", "there", "to buy", "price of one", "costs", "for")


def write_shopping_list(rows: Iterable[Wanted]) -> bytes:
    """The list as CSV in UTF-8 (RFC 4180); what nobody has counted has an empty cell under `there`."""
    out = io.StringIO()
    table = csv.writer(out)
    table.writerow(HEADINGS)
    for row in rows:
        cells = (
            row.item,
            f"{row.needed:g}",
            "" if row.there is None else f"{row.there:g}",
            f"{row.buy:g}",
            f"{row.price:g}" if row.price else "",
            f"{row.costs:.2f}" if row.price else "",
            "; ".join(row.jobs),
        )
        table.writerow(safe_cell(cell) for cell in cells)
    return out.getvalue().encode()
