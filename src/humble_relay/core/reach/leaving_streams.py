"""Whether a push to a platform, and each side of a browser link, leaves its site at all."""

from humble_relay.core.egress.outbound import in_the_cloud, joined, sockets_out, stays
from humble_relay.core.judging.answer import HOLDS, Choice, Thing, Verdict, Want, Words, fails, wants
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.lan.sockets import picture_sockets
from humble_relay.core.lan.wired_paths import PASSES_ON
from humble_relay.core.plan import Device, Stream
from humble_relay.core.plan.vocabulary import is_lan_socket
from humble_relay.core.reach.trace.connection_trace import no_route

LEAVING: SubjectKind[tuple[Device, Stream]] = SubjectKind(
    "push to a platform at its sender, or browser link at each side",
    lambda case: (
        (Thing("device", end, s.id), (case.devices[end], s))
        for s in case.streams
        for end in ((s.from_device, s.to_device) if s.protocol == "web" else (s.from_device,))
        if s.protocol == "web"
        or (case.devices[s.to_device].ingest and not stays(case, s) and not joined(case, s))
    ),
)


@check(
    "no-way-out", LEAVING, "addresses",
    "Is it on a network with an uplink?", "common practice, no source", "plan",
)  # fmt: skip
def no_way_out(case: Case, what: tuple[Device, Stream]) -> Verdict:
    """Whether a push to a platform leaves its sender's site by some uplink, and each side of a browser link its own. A box with mobile data of its own that is on
    no network may leave by that: not known which line it is, and what it carries."""
    sender, stream = what
    if in_the_cloud(sender) or sockets_out(case, sender):
        lost = no_route(case, stream, sender)
        return fails(lambda: _lost(sender, stream, lost.says)) if lost else HOLDS
    mobile = next((p for p in sender.ports if "mobile" in p.types), None)
    if mobile and not any(p.network for p in picture_sockets(sender)):
        asked = f"By which line does {sender.name} send: whose mobile data, or which network?"
        there = tuple(Choice(value=n.id, words=n.name) for n in case.networks.values())
        return wants(Want(Thing("device", sender.id, mobile.id), "interface.network", asked, choices=there))
    if plugged := _plugged_somewhere(case, sender):
        asked = f"Which network is {sender.name} on? Its cable leads to several."
        there = tuple(Choice(value=n.id, words=n.name) for n in case.networks.values())
        return wants(Want(Thing("device", sender.id, plugged), "interface.network", asked, choices=there))

    def say() -> Words:
        on = [case.networks[p.network].name for p in picture_sockets(sender) if p.network]
        where = f"is on {', '.join(on)}, which has no uplink" if on else "is on no network"
        return Words(
            f"{sender.name} {where}: {stream.name} cannot {'leave' if sender.id == stream.from_device else 'come in'}.",
            "The encoder says it is streaming to nowhere, or that there is no internet.",
            "Put it on the network that has the line out, and say on the network which line that is.",
        )

    return fails(say)


def _plugged_somewhere(case: Case, sender: Device) -> str | None:
    """The socket by which a device on no network is plugged into a switch, router or injector, so that it is on one all the same; else
    None."""
    sockets = picture_sockets(sender)
    if any(p.network for p in sockets):
        return None
    led = ((p.id, case.other_end(f"{sender.id}/{p.id}")) for p in sockets if is_lan_socket(p))
    return next((id for id, there in led if there and case.device_of(there).kind in PASSES_ON), None)


def _lost(sender: Device, stream: Stream, where: str) -> Words:
    return Words(
        f"{sender.name} goes out towards nowhere: {where}. {stream.name} cannot leave.",
        "The encoder says that there is no internet, while the device beside it is online.",
        "Give that router an uplink, or make the socket on the network with the uplink its WAN port.",
    )


CHECKS = (no_way_out,)
