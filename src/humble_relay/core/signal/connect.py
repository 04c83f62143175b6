"""Plain cables between two devices: sound, and network sockets. Pictures are for the route finder."""

from collections.abc import Iterator

from humble_relay.core.edits import AddLink, Edit, SetPort
from humble_relay.core.frozen import Frozen
from humble_relay.core.gear import free_id
from humble_relay.core.index import PlanIndex
from humble_relay.core.plan import Cable, Connector
from humble_relay.core.signal.reach import CABLE_FOR, CABLE_WORDS, run_length_m

_PLAIN: tuple[Connector, ...] = ("audio", "ethernet")


class Joint(Frozen):
    """One way to join two devices, as edits."""

    title: str
    edits: tuple[Edit, ...]


def plain_cables(
    plan: PlanIndex, from_device: str, to_device: str, length_m: float | None = None
) -> list[Joint]:
    """The sound and network cables that free ports of the two devices allow, one of each kind."""
    sender, taker = plan.devices[from_device], plan.devices[to_device]
    length = run_length_m(plan, sender.place, taker.place) if length_m is None else length_m
    found = []
    for kind in _PLAIN:
        outs, ins = list(_free(plan, sender.id, kind, "in")), list(_free(plan, taker.id, kind, "out"))
        if not outs or not ins:
            continue
        a, b = outs[0], ins[0]
        cable = Cable(
            id=free_id(f"{sender.id}-{taker.id}"[:55].strip("-"), plan.links),
            from_port=a, to_port=b, cable=CABLE_FOR[kind], length_m=length,
        )  # fmt: skip
        edits: list[Edit] = [AddLink(item=cable)]
        network = plan.ports[b].network or next((p.network for _, p in plan.network_ports(taker)), None)
        if kind == "ethernet" and network and not plan.ports[a].network and sender.kind not in _SOCKETS:
            edits.append(SetPort(port=a, field="network", value=network))
        words = f"{CABLE_WORDS[cable.cable]} {length:g} m: {plan.ports[a].name} to {plan.ports[b].name}"
        found.append(Joint(title=words, edits=tuple(edits)))
    return found


_SOCKETS = ("router", "network-switch", "injector")


def _free(plan: PlanIndex, device: str, kind: Connector, never: str) -> Iterator[str]:
    for port in plan.devices[device].ports:
        ref = f"{device}/{port.id}"
        if port.way != never and kind in port.types and ref not in plan.join_at and port.id != "wan":
            yield ref
