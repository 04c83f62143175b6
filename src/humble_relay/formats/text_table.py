"""A paper as plain text, to be put into a message."""

from humble_relay.core.papers.paper_tables import Table


def write_text(table: Table) -> str:
    """The table as paragraphs: each row under the name of its first column, a line for every further one that says anything."""
    lines = [table.title, "=" * len(table.title), ""]
    if not table.rows:
        return "\n".join([*lines, table.empty, ""])
    for row in table.rows:
        first, *rest = zip(table.columns, row, strict=True)
        lines.append(f"{first[0]}: {first[1]}")
        lines += [f"  {column}: {cell}" for column, cell in rest if cell]
        lines.append("")
    return "\n".join(lines)
