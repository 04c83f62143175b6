"""What of the set-up was seen today, as lines of text: for a plan that is read from a file."""

from collections.abc import Iterable
from datetime import datetime
from typing import NamedTuple

from humble_relay.core.hidden_text import MARK
from humble_relay.core.judging.case import Case
from humble_relay.core.log.entries import AnyEntry, SeenEntry
from humble_relay.core.setup.day import day_of
from humble_relay.core.setup.numbered import numbered_confirmations
from humble_relay.core.setup.setup_list import setup_list


class DayWords(NamedTuple):
    """The day in lines, and whether all of it was seen."""

    lines: tuple[str, ...]
    all_seen: bool


_UNTOLD = " (a file cannot tell: which key was ticked is known in its folder alone)"


def day_in_words(case: Case, log: Iterable[AnyEntry], now: datetime) -> DayWords:
    """What was seen, and each line of the set-up list that is left."""
    log = list(log)
    day, lines = day_of(case, log, now), numbered_confirmations(case)
    untold = _ticked_with_secrets(case, log)
    said = []
    for line in lines:
        if line.picture:
            left = {line.id} if day.pictures[line.id].state == "open" else set()
        else:
            left = {id for id, _ in line.steps if day.steps[id].state == "open"}
        if left:
            said.append(f"NOT SEEN {line.number} {line.says}{_UNTOLD if left <= untold else ''}")
    count = f"Today: {len(lines) - len(said)} of {len(lines)} seen."
    return DayWords((count, *said), not said)


def _ticked_with_secrets(case: Case, log: list[AnyEntry]) -> set[str]:
    """The steps that were ticked, and whose values have a secret in them: a file does not say whether it is the same one."""
    secret = {
        s.id
        for s in setup_list(case)
        if any(MARK.search(v.value) or "left out of this copy" in v.value for v in s.values)
    }
    return {seen.step for e in log if isinstance(e, SeenEntry) for seen in e.body.steps} & secret
