"""`loft dark`: the weakest hop of the pictures that end there, or begin there."""

import re
from collections.abc import Iterator

from humble_relay.core.judgement import proven
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Aim
from humble_relay.core.plan.vocabulary import ends_of
from humble_relay.core.views.commands.line_meaning import Alternative
from humble_relay.core.views.commands.naming import named
from humble_relay.core.views.thing_pane import pane_of

_SIGNS = r"dark|black|dead|down|offline|frozen|freezes|stutters|gone|missing|no picture|no signal|no sound|no video|no source|no audio|broken|not appearing|does not appear|not working|not work|not appear|not come|lost|silent"
_MOST = 3


def troubled(case: Case, text: str) -> Iterator[Alternative]:
    """What the plan knows to be weak on the way to a device that is named, or about it; each a finding to open."""
    found = (
        re.fullmatch(rf"(?:why (?:is|does|no|has) )?(.+?) (?:is )?(?:{_SIGNS})", text)
        or re.fullmatch(rf"(?:why )?(?:{_SIGNS}) (?:at|on|in|from|to|of) (.+)", text)
        or re.fullmatch(r"why (?:is|does|has|not) (.+)", text)
    )
    if not found:
        return
    words = found.group(1)
    devices = [t.id for t in named(case, words, ("device",))]
    at = [t.id for t in named(case, words, ("place",))]
    devices += [d.id for d in case.devices.values() if d.place in at and d.id not in devices]
    shown = [d for d in devices if _aims(case, d)] or devices
    told = 0
    for device in shown:
        for alternative in _about(case, device):
            told += 1
            yield alternative
        if told >= _MOST:
            return


def _about(case: Case, device: str) -> Iterator[Alternative]:
    name = case.devices[device].name
    by_aim = {p.aim: p for p in proven(case).proofs}
    for aim in _aims(case, device):
        proof = by_aim[aim.id]
        hops = [h for part in proof.parts for h in part.hops if h.id == proof.opens_at and h.state != "holds"]
        for hop in hops[:1]:
            asked = next(q for q in hop.questions if q.state == hop.state)
            yield Alternative(
                title=f"{name}: look first at {hop.what}. {asked.words or asked.question}",
                pick=_pick_of(case, hop.id, device),
            )
        if not hops:
            yield Alternative(
                title=f"{name}: the plan finds nothing wrong on its way. Look at {_last_plug(case, device)}",
                pick=f"device:{device}",
            )
        return
    said = pane_of(case, "device", device, "signal")
    if said.state == "holds":
        yield Alternative(
            title=f"{name}: the plan finds nothing wrong with it. Look at {_last_plug(case, device)}",
            pick=f"device:{device}",
        )
        return
    yield Alternative(
        title=f"{name}: {said.said}", pick=f"finding:{said.finding}" if said.finding else f"device:{device}"
    )


def _pick_of(case: Case, hop: str, device: str) -> str:
    id = hop.split("/")[0].split(":")[-1]
    return f"link:{id}" if id in case.links else f"device:{id if id in case.devices else device}"


def _last_plug(case: Case, device: str) -> str:
    """What is plugged into it last, which is what is seen first on the spot."""
    ends = {id: ends_of(link) for id, link in case.links.items()}
    last = next((id for at in (1, 0) for id, both in ends.items() if both[at] == device), None)
    return case.link_name(last) if last else "its power and its input"


def _aims(case: Case, device: str) -> list[Aim]:
    return [aim for aim in case.plan.aims if aim.end == device]
