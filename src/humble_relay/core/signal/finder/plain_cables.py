"""Plain cables between two devices: sound, and network sockets. Pictures are for the route finder."""

from collections.abc import Iterator

from humble_relay.core.catalogue.cables import CABLE_FOR, CABLE_WORDS
from humble_relay.core.frozen import Frozen, free_id
from humble_relay.core.judging.case import Case
from humble_relay.core.lan.wired_paths import PASSES_ON, network_at
from humble_relay.core.places.distances import run_length_m
from humble_relay.core.plan import Cable, Connector
from humble_relay.core.plan.edits import Edit, SetPort, added

_PLAIN: tuple[Connector, ...] = ("audio", "ethernet")


class Joint(Frozen):
    """One way to join two devices, as edits."""

    title: str
    edits: tuple[Edit, ...]


def plain_cables(case: Case, from_device: str, to_device: str, length_m: float | None = None) -> list[Joint]:
    """The sound and network cables that free ports of the two devices allow, one of each kind."""
    sender, taker = case.devices[from_device], case.devices[to_device]
    length = run_length_m(case, sender.place, taker.place) if length_m is None else length_m
    far = ", length to measure" if length is None else f" {length:g} m"
    found = []
    for kind in _PLAIN:
        outs, ins = list(_free(case, sender.id, kind, "in")), list(_free(case, taker.id, kind, "out"))
        if not outs or not ins:
            continue
        a, b = outs[0], ins[0]
        cable = Cable(
            id=free_id(f"{sender.id}-{taker.id}"[:55].strip("-"), case.links),
            from_port=a, to_port=b, cable=CABLE_FOR[kind], length_m=length,
        )  # fmt: skip
        edits: list[Edit] = [added(cable)]
        if kind == "ethernet":
            edits += [*_onto_its_network(case, a, b), *_onto_its_network(case, b, a)]
        words = f"{CABLE_WORDS[cable.cable]}{far}: {case.ports[a].name} to {case.ports[b].name}"
        found.append(Joint(title=words, edits=tuple(edits)))
    return found


def _onto_its_network(case: Case, plugged: str, into: str) -> Iterator[Edit]:
    """A box that is plugged into a socket comes onto the network there, where it is on none yet and that is known."""
    if case.device_of(plugged).kind in PASSES_ON or case.ports[plugged].network:
        return
    network = network_at(case, into)
    if network:
        yield SetPort(port=plugged, field="interface.network", value=network)


def _free(case: Case, device: str, kind: Connector, never: str) -> Iterator[str]:
    for port in case.devices[device].ports:
        ref = f"{device}/{port.id}"
        if port.way != never and kind in port.types and ref not in case.join_at and port.role != "uplink":
            yield ref
