"""The hops of a call: where each is, what happens there, and the answer of the question that is asked there."""

from ipaddress import IPv4Address, IPv6Address
from typing import Literal, NamedTuple

from humble_relay.core.endpoints.calls import (
    Call,
)
from humble_relay.core.judging.answer import HOLDS, Thing, Verdict
from humble_relay.core.plan import Network, Port
from humble_relay.core.reach.routing.nat_traversal import NatSide

WaypointKind = Literal["socket", "network", "router", "line", "internet", "nowhere"]


HopQuestion = Literal["", "no-route", "not-let-out", "sign-in-page", "kept-apart", "not-let-in", "firewall-in-the-box"]  # fmt: skip
"""Which check answers at a step; `no-route`: the checks that ask for a way at all."""


class CallHop(NamedTuple):
    """One point of a journey: where it is, what happens there, and the answer of the question that is asked there."""

    kind: WaypointKind
    thing: Thing
    says: str
    question: HopQuestion = ""
    verdict: Verdict = HOLDS
    translates: bool = False
    """Whether the caller goes on under the address of a router (NAT)."""
    other_way: bool | None = None
    """Of two that call each other at once: whether the other's call passes here; None: as this one does."""


class ConnectionTrace(NamedTuple):
    """A call and the hops it takes, the caller's socket first."""

    call: Call
    waypoints: tuple[CallHop, ...]

    @property
    def ends_at(self) -> int | None:
        """The step at which it ends for sure; None where none does."""
        return next((i for i, s in enumerate(self.waypoints) if s.verdict.state == "fails"), None)

    @property
    def outcome(self) -> str:
        """`fails`, `holds`, or what of it is not known or doubtful."""
        return "fails" if self.ends_at is not None else "holds" if self.arrives else str(self.waypoints)

    @property
    def arrives(self) -> bool:
        """Whether every step holds."""
        return all(s.verdict.state == "holds" for s in self.waypoints)


class CallPacket(NamedTuple):
    """What of a call changes on its way: the address that it comes from, and the routers that it has passed."""

    network: str | None
    """The network that its source address is on; None: the internet."""
    address: IPv4Address | IPv6Address | None
    passed: frozenset[str] = frozenset()
    sides: tuple[NatSide, ...] = ()
    """How those that translated it map and filter."""

    def by(self, router: str) -> "CallPacket":
        """The same after one more router."""
        return self._replace(passed=self.passed | {router})


INTERNET = CallPacket(None, None)


HAIRPIN = "hairpin"
"""The source of what a router turned round: its own address on the network that it leads to."""


def network_words(network: Network) -> str:
    """A network with its range."""
    return f"{network.name}, {network.range}" if network.range else network.name


def addressed(port: Port) -> str:
    how = {"dhcp": "by DHCP", "reserved": "reserved", "fixed": "fixed"}[port.addressing]
    return f"{port.address} ({how})" if port.address else f"({how})"
