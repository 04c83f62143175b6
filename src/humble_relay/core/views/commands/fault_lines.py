"""`loft dark`, `input 3 frozen`: a fault to be found, at a picture that is named by where it is seen, what brings it, or where it comes from."""

import re
from collections.abc import Iterator

from humble_relay.core.faults.causes import path_of_picture
from humble_relay.core.judging.case import Case
from humble_relay.core.log.entries import FaultBegun
from humble_relay.core.log.fault_kinds import SYMPTOMS, Symptom
from humble_relay.core.setup.seen_pictures import SeenPicture, seen_pictures
from humble_relay.core.views.commands.line_meaning import Alternative
from humble_relay.core.views.commands.naming import named

_SIGNS: dict[str, Symptom] = {
    "no sound": "no-sound", "no audio": "no-sound", "silent": "no-sound", "hum": "hum", "hums": "hum", "echo": "echo", "echoes": "echo", "crackles": "crackle", "distorted": "distorted",
    "one side": "one-side", "out of sync": "late-sound", "out of step": "late-sound", "no source": "no-source", "no signal": "no-source", "frozen": "frozen", "freezes": "frozen",
    "wrong picture": "wrong-picture", "not supported": "not-supported", "sparkles": "sparkles", "flickers": "sparkles", "wrong shape": "wrong-shape", "stutters": "stutters", "drops": "drops",
    "refused": "refused", "times out": "times-out", "timed out": "times-out", "wrong password": "wrong-password", "already live": "already-live", "stopped": "stops-after",
    "dark": "black", "black": "black", "dead": "black", "down": "black", "offline": "black", "gone": "black", "missing": "no-source", "no picture": "black", "no video": "black",
    "not appearing": "black", "does not appear": "black", "not working": "black", "lost": "black",
}  # fmt: skip
_SIGN = "|".join(sorted(map(re.escape, _SIGNS), key=len, reverse=True))
_LINE = re.compile(rf"(?:why (?:is|does|has|no) )?(?P<what>.+?) (?:is |has )?(?P<sign>{_SIGN})")
_MOST = 4


def fault_begun(case: Case, text: str) -> Iterator[Alternative]:
    """The pictures that may be meant, each to find its fault."""
    found = _LINE.fullmatch(text)
    if not found:
        return
    symptom = _SIGNS[found["sign"]]
    for picture in _pictures_named(case, found["what"])[:_MOST]:
        yield Alternative(
            title=f"Find the fault: {picture.at} ({SYMPTOMS[symptom]})",
            fault=FaultBegun(picture=picture.id, symptom=symptom),
            go="set-up",
            page="faults",
        )


def _pictures_named(case: Case, words: str) -> list[SeenPicture]:
    """Those seen there first, then those that come by it, then those that begin there."""
    things = named(case, words, ("device", "place", "link"))
    ids = {t.id for t in things}
    port = re.fullmatch(r"(?:input|in) (\d+)", words)
    ranked: dict[str, tuple[int, SeenPicture]] = {}
    for picture in seen_pictures(case):
        place = case.devices[picture.device].place
        input_name = case.ports[picture.id].name.lower() if picture.id in case.ports else ""
        rank = (
            0 if port and input_name == f"input {port[1]}"
            else 1 if port and input_name.endswith(f" {port[1]}")
            else 1 if picture.device in ids or picture.hops[-1].link in ids
            else 2 if path_of_picture(picture)[0] in ids
            else 3 if place in ids or any(h.link in ids for h in picture.hops)
            else 9
        )  # fmt: skip
        if rank < 9:
            ranked[picture.id] = (rank, picture)
    return [picture for _, picture in sorted(ranked.values(), key=lambda each: each[0])]
