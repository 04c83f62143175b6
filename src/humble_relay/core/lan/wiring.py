"""Whether a box that is said to be on a network is plugged into it."""

from collections.abc import Iterator
from typing import NamedTuple

from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Want, Words, fails, wants
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.lan.sockets import has_sockets
from humble_relay.core.plan import Device, Port
from humble_relay.core.plan.vocabulary import is_lan_socket


class OnTheWire(NamedTuple):
    """A network socket of a box that sends or takes streams, at a site whose routers or switches are in the plan."""

    device: Device
    port: Port
    ref: str


def _on_the_wire(case: Case) -> Iterator[tuple[Thing, OnTheWire]]:
    for device in case.devices.values():
        used = case.streams_from.get(device.id) or case.streams_to.get(device.id)
        if not used or not has_sockets(case, device.place):
            continue
        for port in device.ports:
            if port.network and is_lan_socket(port) and "wifi" not in port.types:
                yield Thing("device", device.id, port.id), OnTheWire(device, port, f"{device.id}/{port.id}")


ON_THE_WIRE: SubjectKind[OnTheWire] = SubjectKind(
    "network socket of a box that sends or takes streams", _on_the_wire
)


@check(
    "not-plugged-in", ON_THE_WIRE, "addresses", "Is it plugged into the network that it is said to be on?",
    "common practice, no source", "plan",
)  # fmt: skip
def not_plugged_in(case: Case, what: OnTheWire) -> Verdict:
    """Whether a cable leads from the socket to a router or switch, through an injector or not. Without a cable it is not
    known what it is plugged into; an injector that leads nowhere leads nowhere."""
    there = case.other_end(what.ref)
    if there is None:
        network = case.networks[what.port.network or ""].name
        asked = f"What is {case.port_name(what.ref)} plugged into, to be on {network}?"
        return wants(Want(Thing("device", what.device.id, what.port.id), "cable", asked))
    box = case.device_of(there)
    if box.kind != "injector":
        return HOLDS
    if any(case.other_end(f"{box.id}/{p.id}") for p in box.ports if f"{box.id}/{p.id}" != there):
        return HOLDS
    return fails(
        lambda: Words(
            f"{what.device.name} is plugged into {box.name}, which leads nowhere.",
            "The camera has power and no network: its lamp is on, and nobody finds it.",
            f"Lay a cable from the other side of {box.name} to the router or a network switch.",
        )
    )


CHECKS = (not_plugged_in,)
