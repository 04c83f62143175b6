"""Exposed ports: every port that can be called from the internet, whose it is, why, and whether it asks for a key."""

from collections.abc import Iterator
from functools import partial
from typing import NamedTuple
from urllib.parse import urlsplit

from humble_relay.core.addressing.hosts import address_in
from humble_relay.core.addressing.subnets import addresses_of
from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Words, doubtful
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.lan.wired_paths import PASSES_ON
from humble_relay.core.plan import Device, Forward, Port, Router, Stream
from humble_relay.core.reach.routing.call_hops import ConnectionTrace
from humble_relay.core.reach.routing.public_address import outside_of
from humble_relay.core.reach.routing.routing_table import static_route
from humble_relay.core.reach.trace.connection_trace import connection_traces


class OpenPort(NamedTuple):
    """An exposed port: the router and its forward, the box and socket that it leads to, and the streams that need it."""

    router: Router
    forward: Forward
    device: Device | None
    port: Port | None
    streams: tuple[Stream, ...]

    @property
    def keyed(self) -> bool:
        """Whether every stream that is called there asks for a key or a password."""
        return bool(self.streams) and all(has_secret(s) for s in self.streams)


def has_secret(stream: Stream) -> bool:
    """Whether a stream has a key, passphrase or password, in its field or in its address."""
    try:
        parts = urlsplit(stream.address)
        typed = bool(parts.password) or "passphrase=" in parts.query
    except ValueError:
        typed = False
    return bool(stream.key) or stream.key_withheld or typed


@analysis
def open_ports(case: Case) -> tuple[OpenPort, ...]:
    """Every forward of a router that the internet reaches, in the plan's order; a router whose lines nobody can call opens
    nothing to the world, but by IPv6."""
    return tuple(_open_ports(case))


def _open_ports(case: Case) -> Iterator[OpenPort]:
    every = [j for found in connection_traces(case).values() for j in found if not j.call.service]
    calls = [j.call for j in every]
    for router in case.plan.routers:
        lines = [case.uplinks[up] for up in router.uplinks]
        callable_ = any(not u.behind and outside_of(u) not in ("shared", "private") for u in lines)
        for forward in router.forwards:
            if ":" not in forward.to_address and not callable_:
                continue
            wanted = address_in(forward.to_address)
            routed = wanted is not None and static_route(router, wanted) is not None
            ref = next(
                (
                    ref
                    for ref, p in case.ports.items()
                    if (p.network in router.networks or routed) and wanted in addresses_of(p)
                ),
                None,
            )
            device = case.device_of(ref) if ref else _passed_on(every, router, forward)
            meant = [
                c.stream
                for c in calls
                if device
                and c.listener is device
                and forward.transport in c.transports
                and c.port in (None, forward.port)
            ]
            yield OpenPort(router, forward, device, case.ports[ref] if ref else None, tuple(meant))


def _passed_on(every: list[ConnectionTrace], router: Router, forward: Forward) -> Device | None:
    """The box that a call gets to by a forward that another router passes on, or whose address DHCP has yet to say."""
    for journey in every:
        call = journey.call
        asked = call.port == forward.port and forward.transport in call.transports
        if (
            asked
            and journey.ends_at is None
            and any(at.thing == ("router", router.id, "") for at in journey.waypoints)
        ):
            return call.listener
    return None


OPEN_PORTS: SubjectKind[OpenPort] = SubjectKind(
    "exposed port",
    lambda case: (
        (Thing("router", o.router.id, f"{o.forward.transport}-{o.forward.port}-{n}"), o)
        for n, o in enumerate(open_ports(case))
    ),
)


@check(
    "open-to-the-world", OPEN_PORTS, "addresses", "Is each exposed port needed, locked, and on a network of its own where nobody watches it?",
    "common practice, no source", "plan",
)  # fmt: skip
def open_to_the_world(case: Case, what: OpenPort) -> Verdict:
    """Whether an open port leads to a box that a stream needs there, that stream has a key, and a camera that nobody attends
    shares its network with no other box."""
    if what.device is None:
        return doubtful(
            partial(
                _said,
                what,
                "leads to nobody in this plan",
                "The device that gets that address next is exposed to everybody.",
                "Close it.",
            ),
            compared=(what.forward.transport, what.forward.port, "nobody"),
        )
    if not what.streams:
        return doubtful(
            partial(
                _said,
                what,
                f"leads to {what.device.name}, and no stream needs it",
                "It stays open long after the show.",
                "Close it, or say in Signal which stream it is for.",
            ),
            compared=(what.forward.transport, what.forward.port, what.device.id),
        )
    if not what.keyed:
        return doubtful(
            partial(_said, what, f"leads to {what.device.name}, and {what.streams[0].name} has neither key nor password",
                    "Anyone who finds the port can watch, or send a picture of their own: ports are found within hours.",
                    "Set a passphrase or a password at both ends."), compared=(what.forward.transport, what.forward.port, what.device.id, what.streams[0].id))  # fmt: skip
    beside = _beside(case, what)
    if what.device.kind == "camera" and beside:
        return doubtful(
            partial(_said, what, f"leads to {what.device.name}, which shares its network with {beside}",
                    "An intruder in the camera is on the network of the show.",
                    "Put the camera on an isolated network, with a password of its own."), compared=(what.forward.transport, what.forward.port, what.device.id, beside))  # fmt: skip
    return HOLDS


def _beside(case: Case, what: OpenPort) -> str:
    """Another box on the network of an open one, which it can call."""
    own = [what.port] if what.port else list(what.device.ports if what.device else ())
    network = next((case.networks[p.network] for p in own if p.network), None)
    if network is None or network.guest_isolation:
        return ""
    others = (
        d.name
        for d in case.devices.values()
        if d is not what.device and d.kind not in PASSES_ON and any(p.network == network.id for p in d.ports)
    )
    return next(others, "")


def _said(what: OpenPort, leads: str, means: str, do: str) -> Words:
    return Words(
        f"{what.forward.transport.upper()} {what.forward.port} of {what.router.name} is exposed to the internet and {leads}.",
        means,
        do,
    )


CHECKS = (open_to_the_world,)
