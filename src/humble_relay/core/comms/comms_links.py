"""Whether the link that a comms line is said to go by carries it, and goes that way."""

from collections.abc import Iterator
from typing import Literal, NamedTuple

from humble_relay.core.catalogue.cables import CABLE_WORDS, PROTOCOL_WORDS
from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Words, doubtful, fails
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.plan import CommsLink, Link, Protocol
from humble_relay.core.plan.comms import COMMS_KIND, CommsKind
from humble_relay.core.plan.vocabulary import ends_of

Carried = Literal["both ways", "forth", "maybe", "no"]
_DATA: tuple[CommsKind, ...] = ("control", "tally", "camera-control")
_SOUND: tuple[CommsKind, ...] = ("talk-back", "cues", "return")
_STREAMS: dict[Protocol, dict[str, Carried]] = {
    "paired": {"data": "both ways", "sound": "forth", "picture": "forth"},
    "ndi": {"data": "both ways", "sound": "forth", "picture": "forth"},
    "web": {"data": "no", "sound": "maybe", "picture": "forth"},
}
"""What the protocols carry beside their picture (common practice, no source): tally and control come back over a maker's own link and over
NDI (metadata frames go both ways); the others are one picture with its sound."""
_ONE_PICTURE: dict[str, Carried] = {"data": "no", "sound": "forth", "picture": "forth"}


def _what(kind: CommsKind) -> str:
    return "data" if kind in _DATA else "sound" if kind in _SOUND else "picture"


def carried(kind: CommsKind, link: Link) -> Carried:
    """Whether a link carries a kind of comms, and which way (common practice, no source): a wireless video kit carries no control data;
    SDI takes tally and camera control along in its ancillary data, the way of the picture; of HDMI only few makers do; network and USB
    cables carry anything both ways; audio cables sound alone."""
    what = _what(kind)
    if link.kind == "stream":
        return _STREAMS.get(link.protocol, _ONE_PICTURE)[what]
    if link.kind == "radio":
        return _ONE_PICTURE[what]
    match link.cable:
        case "ethernet" | "usb2" | "usb3":
            return "both ways"
        case "audio":
            return "forth" if what == "sound" else "no"
        case "coax":
            return "no" if kind == "control" else "forth"
        case "hdmi" | "hdmi-active" | "hdmi-optical":
            return "forth" if what != "data" else "no" if kind == "control" else "maybe"
        case "vga":
            return "forth" if what == "picture" else "no"
    return "forth" if what != "data" else "maybe"


class CarriedBy(NamedTuple):
    """A comms line, and the link that is to carry it."""

    comms: CommsLink
    link: Link


def _by_links(case: Case) -> Iterator[tuple[Thing, CarriedBy]]:
    for comms in case.plan.comms:
        if comms.means in (None, "link") and comms.link in case.links:
            yield Thing("comms", comms.id), CarriedBy(comms, case.links[comms.link])


BY_LINKS: SubjectKind[CarriedBy] = SubjectKind("comms line by a link of the plan", _by_links)


@check(
    "comms-not-carried", BY_LINKS, "signal", "Does this link carry it, and that way?", "common practice, no source", "practice", tried=True,
)  # fmt: skip
def comms_not_carried(case: Case, what: CarriedBy) -> Verdict:
    """Whether the link is whole, carries that kind of comms, and runs from the one end to the other, in that direction where it has one."""
    comms, link = what
    ends, kind = ends_of(link), COMMS_KIND[comms.kind]
    carries = carried(comms.kind, link)
    name = case.link_name(link.id)
    by = PROTOCOL_WORDS[link.protocol] if link.kind == "stream" else "a wireless video link" if link.kind == "radio" else CABLE_WORDS[link.cable]  # fmt: skip
    to = case.devices[comms.to_device].name

    def say(wrong: str) -> Verdict:
        return fails(
            lambda: Words(wrong, _WITHOUT[comms.kind], "Take another link, a network, or a telephone.")
        )

    if link.broken:
        return say(f"{kind.capitalize()} to {to} goes by {name}, which is damaged.")
    if carries == "no":
        return say(f"{kind.capitalize()} to {to} is to go by {name}: {by} does not carry it.")
    if carries == "forth" and ends == (comms.to_device, comms.from_device):
        return say(f"{kind.capitalize()} to {to} is to go by {name}, which runs the other way.")
    if carries == "maybe" or set(ends) != {comms.from_device, comms.to_device}:
        why = (
            "whether a browser link carries sound back is the service's to say"
            if carries == "maybe" and link.kind == "stream"
            else f"{by} carries it with few makers' devices"
            if carries == "maybe"
            else "the link runs between other devices"
        )
        return doubtful(
            lambda: Words(
                f"{kind.capitalize()} to {to} is to go by {name}: {why}.",
                _WITHOUT[comms.kind],
                "Try it before the day, or take another link.",
            ),
            compared=(comms.link,),
        )
    return HOLDS


_WITHOUT: dict[CommsKind, str] = {
    "control": "Its page does not open, and nothing can be changed on the device.",
    "tally": "The one at the camera does not know that it is on air.",
    "camera-control": "Exposure and colour are set at the camera, by hand, or not at all.",
    "talk-back": "Nobody can tell the other end anything.",
    "cues": "The other end moves when it is on air, and stands when it is not.",
    "return": "The guest hears nothing of the show.",
    "inputs": "The operator cuts blind.",
}


def _by_network(case: Case) -> Iterator[tuple[Thing, CommsLink]]:
    return ((Thing("comms", c.id), c) for c in case.plan.comms if c.means == "network")


BY_NETWORK: SubjectKind[CommsLink] = SubjectKind("comms line over the network", _by_network)


@check(
    "comms-apart", BY_NETWORK, "addresses", "Are both ends on networks that reach each other?", "RFC 1812; common practice, no source", "plan", tried=True,
)  # fmt: skip
def comms_apart(case: Case, comms: CommsLink) -> Verdict:
    """Whether both ends have a socket on one network, whose Wi-Fi does not keep its clients apart, or on two of one router."""
    here, there = (
        {p.network for p in case.devices[d].ports if p.network} for d in (comms.from_device, comms.to_device)
    )
    shared = here & there
    open_ = {
        n for n in shared if not (case.networks[n].medium == "wifi" and case.networks[n].guest_isolation)
    }
    routers = [{r.id for n in of if (r := case.router_of.get(n))} for of in (here, there)]
    if open_ or (not shared and routers[0] & routers[1]):
        return HOLDS
    names = [case.devices[d].name for d in (comms.from_device, comms.to_device)]

    def say() -> Words:
        bare = [n for n, of in zip(names, (here, there), strict=True) if not of]
        why = (
            f"{bare[0]} is on no network" if bare
            else f"{case.networks[min(shared)].name} keeps its clients apart" if shared
            else "they are on networks that no router joins"
        )  # fmt: skip
        return Words(
            f"{COMMS_KIND[comms.kind].capitalize()} between {names[0]} and {names[1]} is to go over the network: {why}.",
            _WITHOUT[comms.kind],
            "Put both on one network, or take another way.",
        )

    return fails(say) if shared else doubtful(say, compared=(*sorted(here), *sorted(there)))


CHECKS = (comms_not_carried, comms_apart)
