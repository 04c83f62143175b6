"""The signal map: places as bands, signal running left to right, laid out from the plan alone."""

from humble_relay.core.capacity.load import loads
from humble_relay.core.frozen import Frozen
from humble_relay.core.index import PlanIndex
from humble_relay.core.picture.serial import serial_rate
from humble_relay.core.signal.cables import runs
from humble_relay.core.signal.follow import feeds


class Box(Frozen):
    """A device on the map: its column from the left, its row within its band."""

    device: str
    name: str
    kind: str
    band: str
    column: int
    row: int


class Band(Frozen):
    """A place, drawn as a horizontal band `rows` tall."""

    place: str
    name: str
    rows: int


class Hop(Frozen):
    """A link on the map, with what matters on it in words."""

    link: str
    from_device: str
    to_device: str
    pattern: str
    label: str
    detail: str


class SignalMap(Frozen):
    """Bands from the top, boxes in them, hops between boxes."""

    bands: tuple[Band, ...]
    columns: int
    boxes: tuple[Box, ...]
    hops: tuple[Hop, ...]


def signal_map(plan: PlanIndex) -> SignalMap:
    """The map of the whole plan. Column: the longest way from a source. Row: first free one in the band.

    Devices keep the plan's order within a column, so adding one moves only those after it.
    """
    column = _columns(plan)
    filled: dict[tuple[str, int], int] = {}
    boxes, rows = [], dict[str, int]()
    for device in plan.devices.values():
        band = "online" if device.kind == "platform" else device.place or "unplaced"
        row = filled.get((band, column[device.id]), 0)
        filled[band, column[device.id]] = row + 1
        rows[band] = max(rows.get(band, 0), row + 1)
        boxes.append(
            Box(
                device=device.id,
                name=device.name,
                kind=device.kind,
                band=band,
                column=column[device.id],
                row=row,
            )
        )
    names = {"unplaced": "No place yet"} | {p.id: p.name for p in plan.places.values()} | {"online": "Online"}
    bands = tuple(Band(place=id, name=name, rows=rows[id]) for id, name in names.items() if id in rows)
    return SignalMap(
        bands=bands, columns=max(column.values(), default=-1) + 1, boxes=tuple(boxes), hops=tuple(_hops(plan))
    )


def _columns(plan: PlanIndex) -> dict[str, int]:
    """Longest distance from a source for every device; a loop is cut where it closes."""
    onward, column = {id: set(after) for id, after in plan.once(feeds).items()}, dict[str, int]()
    for cable in plan.cables:  # a network socket stands right of what is plugged into it
        if cable.cable == "ethernet":
            onward[plan.device_of(cable.from_port).id].add(plan.device_of(cable.to_port).id)
    before: dict[str, set[str]] = {id: set() for id in onward}
    for id, after in onward.items():
        for next_id in after:
            before[next_id].add(id)
    for start in plan.devices:
        stack = [(start, False)]
        open_: set[str] = set()
        while stack:
            id, finished = stack.pop()
            if id in column:
                continue
            if finished:
                column[id] = max((column[b] + 1 for b in before[id] if b in column), default=0)
                open_.discard(id)
            elif id not in open_:
                open_.add(id)
                stack.append((id, True))
                stack.extend((b, False) for b in sorted(before[id]) if b not in column and b not in open_)
    last = max(column.values(), default=0)
    return {id: last if plan.devices[id].kind == "platform" else c for id, c in column.items()}


def _hops(plan: PlanIndex) -> list[Hop]:
    hops, each = [], plan.once(loads)
    for run in plan.once(runs):
        cable = run.cable
        rate = serial_rate(run.format) if run.format and cable.cable == "coax" else None
        detail = [run.format.label if run.format else "", f"{rate.value:g} Gb/s" if rate else ""]
        hops.append(
            Hop(
                link=cable.id,
                from_device=plan.device_of(cable.from_port).id,
                to_device=plan.device_of(cable.to_port).id,
                pattern="network" if cable.cable == "ethernet" else "cable",
                label=f"{CABLE_WORDS[cable.cable]} {cable.length_m:g} m",
                detail=", ".join(filter(None, detail)),
            )
        )
    for stream in plan.streams:
        hops.append(
            Hop(
                link=stream.id,
                from_device=stream.from_device,
                to_device=stream.to_device,
                pattern="stream",
                label=f"{stream.protocol.upper()} {each[stream.id].total.value:.3g} Mb/s",
                detail=f"{stream.format.label} {stream.codec.upper()}",
            )
        )
    return hops


CABLE_WORDS = {
    "hdmi": "HDMI",
    "coax": "SDI",
    "ethernet": "Ethernet",
    "usb2": "USB 2",
    "usb3": "USB 3",
    "fibre": "Fibre",
    "audio": "Audio",
}
