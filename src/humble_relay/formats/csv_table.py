"""Papers as CSV (RFC 4180)."""

import csv
import io
import unicodedata

from humble_relay.core.papers.paper_tables import Table


def write_csv(table: Table) -> str:
    """The table as CSV with a header line. A cell that a spreadsheet would run is quoted with an apostrophe."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(table.columns)
    for row in table.rows:
        writer.writerow([guarded(cell) for cell in row])
    return out.getvalue()


def guarded(cell: str) -> str:
    """The cell, with an apostrophe before what a spreadsheet would run: also behind blanks, and in the full-width
    forms that some spreadsheets take for the plain ones (OWASP, CSV injection)."""
    return f"'{cell}" if _runs(cell) else cell


def unguarded(cell: str) -> str:
    """The cell as it was before it was guarded."""
    return cell[1:] if cell.startswith("'") and _runs(cell[1:]) else cell


def _runs(cell: str) -> bool:
    for c in unicodedata.normalize("NFKC", cell):
        if not (c.isspace() or c in "'\"" or unicodedata.category(c) == "Cf"):
            return c in "=+-@"
    return cell.startswith(("\t", "\r", "\n"))
