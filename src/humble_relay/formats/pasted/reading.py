"""What a pasted text may mean for a plan: alternatives to choose from, and the lines that were not understood."""

import csv

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.views.commands.line_meaning import Alternative
from humble_relay.formats.pasted.device_list import devices_in
from humble_relay.formats.pasted.interface_list import interfaces_in
from humble_relay.formats.pasted.platform_page import page_in

MOST_TEXT = 200_000


class PasteReading(Frozen):
    """What a text may mean, likeliest first, each with the edits that would make it; and its lines that mean nothing here."""

    alternatives: tuple[Alternative, ...]
    not_understood: tuple[str, ...]


def read_pasted(case: Case, text: str) -> PasteReading:
    """The text read in each way that fits it; nothing of it is kept, and no secret of it is in a title."""
    for read in (interfaces_in, page_in, devices_in):
        try:
            found, left = read(case, text)
        except (ValueError, csv.Error):  # looks like it and is not: an address of 999, a cell without end
            continue
        if found:
            return PasteReading(alternatives=tuple(found), not_understood=tuple(left))
    return PasteReading(
        alternatives=(), not_understood=tuple(line for line in text.splitlines() if line.strip())[:50]
    )
