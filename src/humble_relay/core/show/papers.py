"""The papers to take along: tables of the plan, ready to print or to save as CSV."""

from collections.abc import Sequence

from humble_relay.core.frozen import Frozen
from humble_relay.core.index import PlanIndex
from humble_relay.core.network.stream_address import typed_address
from humble_relay.core.plan import Stream
from humble_relay.core.show.order import order
from humble_relay.core.signal.cables import runs

MASK = "••••••••"


class Table(Frozen):
    """One paper: columns, and rows of text. Empty rows mean there is nothing of the kind."""

    id: str
    title: str
    columns: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    empty: str


def papers(plan: PlanIndex, show_keys: bool = False) -> tuple[Table, ...]:
    """Every paper of the plan. Keys are masked unless `show_keys`."""
    return (_order(plan), _streams(plan, show_keys), _addresses(plan), _cables(plan), _gear(plan))


def _order(plan: PlanIndex) -> Table:
    rows = [
        (
            t.at.strftime("%a %d %b %H:%M") if t.at else _relative(t.minutes),
            t.phase,
            t.what,
            "done" if t.done else "",
        )
        for t in plan.once(order)
    ]
    return _table("order", "Go-live order", ("When", "Phase", "What", "Done"), rows, "Nothing to do yet.")


def _streams(plan: PlanIndex, show_keys: bool) -> Table:
    rows = [
        (
            s.name,
            plan.devices[s.from_device].name,
            plan.devices[s.to_device].name,
            typed_address(plan, s) or "not known",
            _key(s, show_keys),
            s.format.label,
            f"{s.codec.upper()} {s.video_mbps:g} Mb/s + {s.audio_kbps:g} kb/s",
        )
        for s in plan.streams
    ]
    columns = ("Stream", "From", "To", "Address", "Key", "Picture", "Bitrate")
    return _table("streams", "Stream addresses", columns, rows, "No stream yet.")


def _addresses(plan: PlanIndex) -> Table:
    rows = []
    for device in plan.devices.values():
        for _, port in plan.network_ports(device):
            network = plan.networks[port.network or ""]
            rows.append(
                (
                    device.name,
                    port.name,
                    network.name,
                    port.address or "from DHCP",
                    port.addressing,
                    network.range,
                    network.gateway,
                )
            )
    columns = ("Device", "Port", "Network", "Address", "How", "Range", "Gateway")
    return _table("addresses", "Address list", columns, rows, "No device is on a network yet.")


def _cables(plan: PlanIndex) -> Table:
    rows = []
    for run in plan.once(runs):
        cable = run.cable
        places = [plan.places.get(plan.device_of(r).place or "") for r in (cable.from_port, cable.to_port)]
        where = [p.name if p else "" for p in places]
        rows.append(
            (
                plan.port_name(cable.from_port),
                where[0],
                plan.port_name(cable.to_port),
                where[1],
                cable.cable,
                f"{cable.length_m:g} m",
                run.format.label if run.format else "",
                f"{run.reach.value:g} m",
            )
        )
    columns = ("From", "At", "To", "At", "Cable", "Length", "Carries", "Reach")
    return _table("cables", "Cable list", columns, rows, "No cable yet.")


def _gear(plan: PlanIndex) -> Table:
    rows = []
    for device in plan.devices.values():
        place = plan.places.get(device.place or "")
        power = f"{device.power_w:g} W" if device.power_w is not None else ""
        if device.kind != "platform":
            rows.append((device.name, device.model, place.name if place else "", power))
    return _table("gear", "Gear list", ("Device", "Model", "At", "Power"), rows, "No gear yet.")


def _key(stream: Stream, show: bool) -> str:
    if not stream.key:
        return "left out" if stream.key_withheld else "none"
    return stream.key if show else MASK


def _relative(minutes: float) -> str:
    sign, minutes = ("−" if minutes < 0 else "+"), abs(minutes)
    return f"{sign}{minutes / 60:g} h" if minutes >= 120 else f"{sign}{minutes:.0f} min"


def _table(
    id: str, title: str, columns: tuple[str, ...], rows: Sequence[tuple[str, ...]], empty: str
) -> Table:
    return Table(id=id, title=title, columns=columns, rows=tuple(rows), empty=empty)
