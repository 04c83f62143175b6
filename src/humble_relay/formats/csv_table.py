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
        writer.writerow([f"'{cell}" if cell.startswith(_FORMULA) else cell for cell in row])
    return out.getvalue()
