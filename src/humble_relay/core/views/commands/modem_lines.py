"""`add 3 modems of fenside and marram to field encoder`: mobile data put into a device, bonded to one line."""

import re
from collections.abc import Iterator

from humble_relay.core.bonding.modems import modem_port, with_modems
from humble_relay.core.judging.case import Case
from humble_relay.core.views.commands.line_meaning import Alternative
from humble_relay.core.views.commands.naming import devices_called

_MOST_MODEMS = 8
COUNTS = {"": 1, "a": 1, "one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6}


def modems_added(case: Case, text: str) -> Iterator[Alternative]:
    """`add 3 modems of fenside and marram to field encoder`: the lines, and the bond that joins them."""
    match = re.fullmatch(r"add (?:(\w+) )?modems?(?: (?:of|by|with) (.+?))? (?:to|in|into) (.+)", text)
    if not match:
        return
    typed = match.group(1) or ""
    count = int(typed) if typed.isdecimal() else COUNTS.get(typed, 0)
    carriers = [c.strip().title() for c in re.split(r",| and ", match.group(2) or "") if c.strip()] or [""]
    for device in devices_called(case, match.group(3)):
        if modem_port(device) and not 0 < count <= _MOST_MODEMS:
            yield Alternative(
                title=f"{device.name} takes 1 to {_MOST_MODEMS} modems, not {typed}", go="survey"
            )
            continue
        try:
            edits = with_modems(case, device, [carriers[n % len(carriers)] for n in range(count)])
        except ValueError as why:
            yield Alternative(title=f"{why}", go="gear")
            continue
        bond = any(
            getattr(e, "field", "") == "parts" or getattr(getattr(e, "item", None), "parts", ())
            for e in edits
        )
        what = f"{count} modem{'s' * (count > 1)}"
        cards = "and asks for the card of each" if count > 1 else "and asks for its card"
        yield Alternative(
            title=f"Put {what} into {device.name}{', bonded to one line' if bond else ''}, {cards}",
            edits=edits,
        )
