"""Which network a socket of a managed switch is on, against what is plugged into it."""

from collections.abc import Iterator
from typing import NamedTuple

from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Words, doubtful, fails
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check


class SwitchSocket(NamedTuple):
    """A socket of a switch that was set to a network, and the socket that is plugged into it."""

    ref: str
    network: str
    plugged: str


def _sockets(case: Case) -> Iterator[tuple[Thing, SwitchSocket]]:
    for ref, port in case.ports.items():
        device = case.device_of(ref)
        there = case.other_end(ref) if device.kind == "network-switch" and port.network else None
        if there and case.ports[there].network and case.device_of(there).kind != "network-switch":
            yield Thing("device", device.id, port.id), SwitchSocket(ref, port.network or "", there)


SWITCH_SOCKETS: SubjectKind[SwitchSocket] = SubjectKind(
    "socket of a managed switch that is set to a network", _sockets
)


@check(
    "wrong-socket", SWITCH_SOCKETS, "addresses", "Is what is plugged into it meant for its network?", "IEEE 802.1Q", "plan"
)  # fmt: skip
def wrong_socket(case: Case, what: SwitchSocket) -> Verdict:
    """Whether a device stands, by its own data, on the network that the socket of the switch it is plugged into is set to. A router may
    have the other one on the same lead, tagged: that is a doubt."""
    own = case.ports[what.plugged].network or ""
    if own == what.network:
        return HOLDS
    may_be_tagged = case.device_of(what.plugged).kind == "router"
    return (doubtful if may_be_tagged else fails)(
        lambda: Words(
            f"{case.port_name(what.plugged)} is to be on {case.networks[own].name}, and {case.port_name(what.ref)} is set to {case.networks[what.network].name}.",
            "It gets an address of the other network, or none, and what looks for it does not find it.",
            f"Plug it into a socket of {case.networks[own].name}, or set this one to it.",
        )
    )


CHECKS = (wrong_socket,)
