"""Papers as CSV (RFC 4180)."""

import csv
import io

from humble_relay.core.show.papers import Table

_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def write_csv(table: Table) -> str:
    """The table as CSV with a header line. A cell that a spreadsheet would run is quoted with an apostrophe."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(table.columns)
    for row in table.rows:
        writer.writerow([guarded(cell) for cell in row])
    return out.getvalue()


def guarded(cell: str) -> str:
    """The cell, with an apostrophe before what a spreadsheet would run."""
    return f"'{cell}" if cell.startswith(_FORMULA) else cell


def unguarded(cell: str) -> str:
    """The cell as it was before it was guarded."""
    return cell[1:] if cell.startswith("'") and cell[1:].startswith(_FORMULA) else cell
