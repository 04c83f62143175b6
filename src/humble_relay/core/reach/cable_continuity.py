"""Whether the network cables of the plan lead from the sender of a stream to where it goes."""

from collections.abc import Iterator
from typing import NamedTuple

from humble_relay.core.egress.outbound import stays
from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Want, Words, fails, wants
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.lan.sockets import picture_sockets, sockets_on_networks
from humble_relay.core.lan.wired_paths import alone_with, reached_from
from humble_relay.core.plan import Device, Stream
from humble_relay.core.plan.vocabulary import is_lan_socket


class WiredStream(NamedTuple):
    """A stream of which an end is plugged into the network, where that end's cables must lead to, and the router of its network."""

    stream: Stream
    sender: Device
    """The end in question: the receiver, of what comes in from elsewhere."""
    target: Device | None
    """None: out, by a router that is not among the devices."""
    router: str | None


def _wired(case: Case) -> Iterator[tuple[Thing, WiredStream]]:
    for stream in case.streams:
        sender, taker = case.devices[stream.from_device], case.devices[stream.to_device]
        routers = [
            case.router_of.get(p.network or "")
            for p in picture_sockets(sender)
            if _cabled(case, sender, p.id)
        ]
        router = next((r.device for r in routers if r and r.device), None)
        inside = stays(case, stream) and any(_cabled(case, taker, p.id) for p in picture_sockets(taker))
        target = taker if inside else None if stays(case, stream) else case.devices.get(router or "")
        leaves = not (inside or stays(case, stream) or router)
        if routers and (target or leaves) and target is not sender:
            yield Thing("link", stream.id, "wire"), WiredStream(stream, sender, target, router)
        gate = None if stays(case, stream) else _gate_of(case, taker)
        if gate and gate is not taker:
            yield Thing("link", stream.id, "wire-in"), WiredStream(stream, taker, gate, gate.id)


def _gate_of(case: Case, device: Device) -> Device | None:
    """The router, where it is a device of the plan, of the network that a device is plugged into."""
    plugged = (
        p.network for p in sockets_on_networks(case)[device.id] if p.network and _cabled(case, device, p.id)
    )
    routers = (case.router_of.get(network) for network in plugged)
    return next((case.devices[r.device] for r in routers if r and r.device), None)


def _cabled(case: Case, device: Device, port: str) -> bool:
    ref = f"{device.id}/{port}"
    return is_lan_socket(case.ports[ref]) and ref in case.join_at


WIRED: SubjectKind[WiredStream] = SubjectKind("stream whose sender is plugged into the network", _wired)


@check(
    "cut-off", WIRED, "addresses", "Do the network cables lead from its sender to where it goes?", "IEEE 802.3; arithmetic", "plan"
)  # fmt: skip
def cut_off(case: Case, what: WiredStream) -> Verdict:
    """Whether switches, injectors and routers join the sender of a stream to its taker, or to the router that leads out.

    Where the router of the network is a box of the plan with cables of its own, that one of the two reaches and the other
    does not, they are cut off; where nobody drew what it is plugged into, the two may meet in the wall, and what joins
    them is not known.
    """
    if what.target is None:  # a sender whose cables lead to one other device alone does not get out
        sockets = [f"{what.sender.id}/{p.id}" for p in sockets_on_networks(case)[what.sender.id]]
        alone = [alone_with(case, ref) for ref in sockets]
        return fails(lambda: _nothing_leads_out(what, alone[0])) if alone and all(alone) else HOLDS
    return _led_to(case, what, what.target)


def _led_to(case: Case, what: WiredStream, target: Device) -> Verdict:
    """Whether the cables lead from the sender to a device."""
    ours, theirs = reached_from(case, what.sender.id), reached_from(case, target.id)
    if target.id in ours:
        return HOLDS
    last = next((case.devices[d] for d in ours if case.devices[d].kind == "network-switch"), what.sender)
    drawn = what.router is not None and len(reached_from(case, what.router)) > 1
    if not drawn or what.router not in ours | theirs:
        asked = f"What is {last.name} plugged into, to reach {target.name}?"
        return wants(Want(Thing("device", last.id), "cable", asked))
    return fails(
        lambda: Words(
            f"{what.sender.name} is plugged into {last.name if last is not what.sender else 'the network'}, and no cable leads from there to {target.name}: {what.stream.name} does not get through.",
            "All lamps are green on the switch, and nothing beyond it answers.",
            f"Lay a network cable from {last.name} towards {target.name}.",
        )
    )


def _nothing_leads_out(what: WiredStream, other: Device | None) -> Words:
    return Words(
        f"{what.sender.name} is cabled to {other.name if other else 'one device'} alone, and {what.stream.name} leaves the site.",
        "The lamp of the socket is on, and there is no internet.",
        f"Plug {what.sender.name} into the network that has the uplink.",
    )


CHECKS = (cut_off,)
