"""Other ways to make one cable run: free ports of another kind, with converters where needed."""

from collections import ChainMap
from typing import NamedTuple

from humble_relay.core.catalogue.cables import CABLE_FOR
from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.frozen import free_id
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Cable, CableKind, Connector
from humble_relay.core.plan.edits import AddDevice, AddLink, Edit, Remove

_CONVERTERS: dict[tuple[Connector, Connector], str] = {
    ("hdmi", "sdi"): "converter-hdmi-sdi",
    ("sdi", "hdmi"): "converter-sdi-hdmi",
    ("hdmi", "fibre"): "converter-hdmi-fibre",
    ("fibre", "hdmi"): "converter-fibre-hdmi",
    ("sdi", "fibre"): "converter-sdi-fibre",
    ("fibre", "sdi"): "converter-fibre-sdi",
}
_TRUNKS: tuple[Connector, ...] = ("sdi", "hdmi", "fibre")
_LEAD_M = 1.0


class Way(NamedTuple):
    """One way to make the run: what it is, what it needs, the long cable's kind, and the edits."""

    title: str
    needs: str
    cable: CableKind
    delay_ms: float
    """What the boxes it needs add."""
    edits: tuple[Edit, ...]


def ways_to_replug(case: Case, cable: Cable) -> list[Way]:
    """Other ways between the same two devices, fewest boxes first. The old cable comes out."""
    found: list[tuple[int, Way]] = []
    for trunk in _TRUNKS:
        kind = CABLE_FOR[trunk]
        if (
            kind == cable.cable
            and _suits(case, cable.from_port, trunk)
            and _suits(case, cable.to_port, trunk)
        ):
            continue
        way = _through(case, cable, trunk)
        if way:
            found.append(way)
    return [way for _, way in sorted(found, key=lambda w: w[0])]


def _through(case: Case, cable: Cable, trunk: Connector) -> tuple[int, Way] | None:
    """The run made with `trunk` as its long cable, or None when no converter makes it."""
    edits: list[Edit] = [Remove(noun="link", id=cable.id)]
    names: list[str] = []
    start = _end(case, cable.from_port, trunk, "out", edits, names)
    stop = _end(case, cable.to_port, trunk, "in", edits, names)
    if start is None or stop is None:
        return None
    kind = CABLE_FOR[trunk]
    edits.append(
        AddLink(item=Cable(id=cable.id, from_port=start, to_port=stop, cable=kind, length_m=cable.length_m))
    )
    title = {"coax": "Run it as SDI on coax", "hdmi": "Run it as HDMI", "fibre": "Run it on fibre"}[kind]
    delay = sum(e.item.delay_ms or 0 for e in edits if isinstance(e, AddDevice))
    return len(names), Way(title, " and ".join(names), kind, delay, tuple(edits))


def _end(case: Case, ref: str, trunk: Connector, way: str, edits: list[Edit], names: list[str]) -> str | None:
    """The port the long cable starts or stops at: a free port of the device, or a converter's."""
    device = case.device_of(ref)
    for port in sorted(device.ports, key=lambda p: f"{device.id}/{p.id}" != ref):
        here = f"{device.id}/{port.id}"
        free = here == ref or here not in case.join_at
        if port.way == way and free and _suits(case, here, trunk):
            return here
    own = next((t for t in _TRUNKS if _suits(case, ref, t)), None)
    if own is None:
        return None
    model = _CONVERTERS.get((own, trunk) if way == "out" else (trunk, own))
    if model is None:
        return None
    added = {e.item.id: e.item for e in edits if isinstance(e, AddDevice)}
    box = from_library(model, free_id(model, ChainMap(added, case.devices)), device.place)
    edits.append(AddDevice(item=box))
    names.append(f"a {box.model} at {device.name}")
    near, far = (f"{box.id}/in", f"{box.id}/out") if way == "out" else (f"{box.id}/out", f"{box.id}/in")
    ends = (ref, near) if way == "out" else (near, ref)
    lead = Cable(
        id=free_id(f"{box.id}-lead", case.links),
        from_port=ends[0],
        to_port=ends[1],
        cable=CABLE_FOR[own],
        length_m=_LEAD_M,
    )
    edits.append(AddLink(item=lead))
    return far


def _suits(case: Case, ref: str, connector: str) -> bool:
    port = case.ports[ref]
    return connector in ({port.assigned} if port.assigned else set(port.types))
