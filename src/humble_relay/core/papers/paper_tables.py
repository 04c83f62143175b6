"""The papers to take along: tables of the plan, ready to print or to save as CSV."""

from collections.abc import Sequence
from typing import Literal

from pydantic import computed_field

from humble_relay.core.addressing.hosts import host_of
from humble_relay.core.catalogue.cables import CABLE_WORDS, Lay
from humble_relay.core.endpoints.endpoint_settings import settings_of_each_side
from humble_relay.core.endpoints.stream_urls import typed_address
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.phrases import listed, said_moment
from humble_relay.core.lan.sockets import picture_sockets
from humble_relay.core.papers.call_sheet import CALL_COLUMNS, call_lines
from humble_relay.core.papers.network_requests import port_requests, request_window
from humble_relay.core.places.distances import length_of, length_words
from humble_relay.core.plan import Cable, CableKind, Stream
from humble_relay.core.show.go_live_order import order
from humble_relay.core.show.pull_list import lay_of, pieces, stock_lines
from humble_relay.core.signal.cabling.runs import runs
from humble_relay.core.signal.flow.propagation import flow
from humble_relay.core.signal.flow.sound import sounds
from humble_relay.core.uplinks.policy_routes import line_rules

MASK = "••••••••"


ColumnStyle = Literal["text", "short", "figure", "address"]
_LOOKS: dict[str, ColumnStyle] = {
    "Address": "address", "Types": "address", "Key": "address", "Cable": "short", "Made of": "short", "When": "short", "Needed from": "short", "Needed until": "short", "Telephone": "short", "Phase": "short",
    **dict.fromkeys(("No.", "Range", "Gateway", "Length", "Reach", "Bring"), "figure"),
}  # fmt: skip
"""Columns that are no plain text, by their names: kept on a line, in figures, or broken anywhere."""


class Table(Frozen):
    """One paper: columns, and rows of text. Empty rows mean there is nothing of the kind."""

    id: str
    title: str
    columns: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    empty: str
    layout: Literal["rows", "labels"] = "rows"
    """`labels` are cut out and stuck on: one row a label."""

    @computed_field  # type: ignore[prop-decorator]
    @property
    def looks(self) -> tuple[ColumnStyle, ...]:
        """How each column is set."""
        return tuple(_LOOKS.get(column, "text") for column in self.columns)


def papers(case: Case, show_keys: bool = False) -> tuple[Table, ...]:
    """Every paper of the plan. Keys are masked unless `show_keys`."""
    made = (
        _order,
        _call_sheet,
        lambda p: _streams(p, show_keys),
        _sides,
        _addresses,
        _request,
        _router_sheet,
        _cables,
        _labels,
        _patch,
        _pull,
        _sound,
        _gear,
    )
    return tuple(make(case) for make in made)


def _order(case: Case) -> Table:
    rows = [
        (
            said_moment(t.at) if t.at else _relative(t.minutes),
            t.phase,
            case.places[t.place].name if t.place in case.places else "",
            f"{t.takes:.0f}" if t.takes else "",
            t.what,
            t.seen,
            "done" if t.done else "",
        )
        for t in order(case)
    ]
    return _table(
        "order",
        "Run sheet",
        ("When", "Phase", "At", "Min", "What", "Then seen", "Done"),
        rows,
        "Nothing to do yet.",
    )


def _call_sheet(case: Case) -> Table:
    return _table("call", "Call sheet", CALL_COLUMNS, list(call_lines(case)), "Nobody is called yet.")


def _streams(case: Case, show_keys: bool) -> Table:
    rows = [
        (
            s.name,
            case.devices[s.from_device].name,
            case.devices[s.to_device].name,
            typed_address(case, s) or "not known",
            _key(s, show_keys),
            s.format.label,
            f"{s.codec.upper()} {s.video_mbps:g} Mb/s + {s.audio_kbps:g} kb/s",
        )
        for s in case.streams
    ]
    columns = ("Stream", "From", "To", "Address", "Key", "Picture", "Bitrate")
    return _table("streams", "Stream addresses", columns, rows, "No stream yet.")


def _sides(case: Case) -> Table:
    """What is typed and set at each end of each stream."""
    rows = [
        (s.name, side.name, side.does, side.types, side.sets)
        for s in case.streams
        for side in settings_of_each_side(case, s)
    ]
    columns = ("Stream", "At", "Does", "Types", "And sets")
    return _table("sides", "What each side types", columns, rows, "No stream yet.")


def _request(case: Case) -> Table:
    """What to ask of the people who run the network of a site."""
    window = request_window(case)
    rows = [
        (
            case.site_of(r.device).name,  # type: ignore[union-attr]
            r.device.name,
            r.address,
            "in, forwarded" if r.inward else "out",
            r.ports,
            r.to,
            r.why,
            window,
            r.if_refused,
        )
        for r in port_requests(case)
    ]
    columns = ("Site", "Device", "Address", "Way", "Ports", "To", "For", "From, until", "If refused")
    empty = "No site whose network others run."
    return _table("request", "Request to the network department", columns, rows, empty)


def _addresses(case: Case) -> Table:
    rows = []
    for device in case.devices.values():
        for _, port in case.network_ports(device):
            network = case.networks[port.network or ""]
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


@analysis
def cable_numbers(case: Case) -> dict[str, str]:
    """The number on both ends of every cable: a letter for its kind, then counting in the plan's order."""
    count: dict[str, int] = {}
    found = {}
    for cable in case.cables:
        letter = _LETTERS[cable.cable]
        count[letter] = count.get(letter, 0) + 1
        found[cable.id] = f"{letter}{count[letter]:02d}"
    return found


_LETTERS: dict[CableKind, str] = {
    "hdmi": "H", "hdmi-active": "H", "hdmi-optical": "H", "coax": "S", "vga": "V", "ethernet": "E", "usb2": "U", "usb3": "U", "fibre": "F", "audio": "A",
}  # fmt: skip


def _place(case: Case, ref: str) -> str:
    place = case.places.get(case.device_of(ref).place or "")
    return place.name if place else ""


def _made_of(cable: Cable, lay: Lay) -> str:
    boxes = ((lay.joints - cable.repeaters, "coupler"), (cable.repeaters, "repeater"))
    words = [f"{n} {word}{'s' if n > 1 else ''}" for n, word in boxes if n]
    return ", ".join([" + ".join(f"{x:g}" for x in lay.lengths) + " m", *words])


def _router_sheet(case: Case) -> Table:
    """What is set in each router: the addresses it reserves, the ports it forwards, and what it lets pass."""
    rows: list[tuple[str, str, str, str]] = []
    for router in case.plan.routers:
        for ref, port in case.ports.items():
            if port.network in router.networks and port.addressing == "reserved":
                mac = port.interface.hardware_address if port.interface else ""
                rows.append(
                    (
                        router.name,
                        "reserve",
                        f"{port.address or 'an address'} for {case.port_name(ref)}",
                        mac or "hardware address: read it off the box",
                    )
                )
        for f in router.forwards:
            ref = next(
                (
                    r
                    for r, p in case.ports.items()
                    if p.network in router.networks and p.address == f.to_address
                ),
                "",
            )
            inner = f", port {f.to_port}" if f.to_port and f.to_port != f.port else ""
            rows.append(
                (
                    router.name,
                    "forward",
                    f"{f.transport.upper()} {f.port} to {f.to_address}{inner}",
                    case.port_name(ref) if ref else "nobody in this plan",
                )
            )
        for r in router.rules:
            here, to = (case.networks[n].name if n else "outside" for n in (r.from_network, r.to_network))
            ports = (
                f" {r.ports[0]}" + (f" to {r.ports[1]}" if r.ports[1] > r.ports[0] else "") if r.ports else ""
            )
            what = f"{r.transport.upper() if r.transport else 'TCP and UDP'}{ports}"
            rows.append(
                (
                    router.name,
                    "let pass" if r.lets else "stop",
                    f"{what} from {here} to {to}",
                    "",
                )
            )
        for route in router.routes or ():
            rows.append((router.name, "route", f"{route.to_range} via {route.via}", ""))
    for rule in line_rules(case):
        sender = case.devices[rule.stream.from_device]
        at = next((p.address for p in picture_sockets(sender) if p.address), "")
        to = host_of(typed_address(case, rule.stream) or "") or case.devices[rule.stream.to_device].name
        rows.append((rule.router.name, "send by", f"{case.uplinks[rule.line].name}: what {at or sender.name} sends to {to}", rule.stream.name))  # fmt: skip
    columns = ("Router", "Set", "What", "Of")
    return _table("router", "Router sheet", columns, rows, "Nothing is to be set in a router.")


def _cables(case: Case) -> Table:
    rows, numbers = [], cable_numbers(case)
    for run in runs(case):
        cable = run.cable
        length = length_of(case, cable)
        made = "measure" if length is None else _made_of(cable, lay_of(cable, length))
        rows.append(
            (
                numbers[cable.id],
                case.port_name(cable.from_port),
                _place(case, cable.from_port),
                case.port_name(cable.to_port),
                _place(case, cable.to_port),
                CABLE_WORDS[cable.cable],
                length_words(case, cable),
                made,
                run.format.label if run.format else "",
                f"{run.reach.value:g} m" if run.reach.value else "not known",
            )
        )
    columns = ("No.", "From", "At", "To", "At", "Cable", "Length", "Made of", "Carries", "Reach")
    return _table("cables", "Cable schedule", columns, rows, "No cable yet.")


def _labels(case: Case) -> Table:
    """Two labels a cable: each says which end it is on, and where the other end goes."""
    numbers = cable_numbers(case)
    rows = []
    for cable in case.cables:
        ends = (cable.from_port, cable.to_port)
        for here, there in (ends, ends[::-1]):
            words = f"{CABLE_WORDS[cable.cable]} {length_words(case, cable)}"
            rows.append(
                (numbers[cable.id], case.port_name(here), case.port_name(there), _place(case, there), words)
            )
    columns = ("No.", "This end", "Other end", "Other end at", "Cable")
    return _table("labels", "Cable labels", columns, rows, "No cable yet.").model_copy(
        update={"layout": "labels"}
    )


def _patch(case: Case) -> Table:
    """What is in every port that is used, device by device."""
    numbers, rows = cable_numbers(case), []
    on_port = flow(case).on_port
    for device in case.devices.values():
        for port in device.ports:
            ref = f"{device.id}/{port.id}"
            other, join = case.other_end(ref), case.join_at.get(ref)
            shows = [s for s in case.streams_to.get(device.id, []) if s.input == port.id]
            if not other and not shows:
                continue
            signal = on_port.get(ref)
            far = case.port_name(other) if other else listed(s.name for s in shows)
            rows.append(
                (
                    device.name,
                    port.name,
                    port.assigned.upper() if port.assigned else "",
                    "from" if shows or (join and join.to_port == ref) else "to",
                    far,
                    numbers.get(join.id, "radio") if join else "stream",
                    signal.format.label if signal and signal.format else "",
                )
            )
    columns = ("Device", "Port", "Set to", "", "Other end", "Cable", "Picture")
    return _table("patch", "Patch list", columns, rows, "Nothing is plugged in yet.")


def _pull(case: Case) -> Table:
    """What to bring: every model, every box of none, and every cable by length, with how many."""
    rows = [
        (f"{line.used}", line.model, ", ".join(line.notes), f"{line.missing} missing" if line.missing else "")
        for line in stock_lines(case)
        if line.used
    ]
    rows += [("1", d.name, "of no model", "") for d in case.devices.values() if not d.model and not d.ingest]
    rows += [(f"{piece.number}", piece.what, "", "") for piece in pieces(case)]
    return _table("pull", "Pull list", ("Bring", "What", "From", "Missing"), rows, "Nothing to bring yet.")


def _sound(case: Case) -> Table:
    rows = [(s.name, s.source, s.channels, ", ".join(s.open), s.delay) for s in sounds(case)]
    columns = ("At", "Sound from", "Channels", "Also open", "Delay")
    return _table("sound", "Where the sound comes from", columns, rows, "No picture reaches an end yet.")


def _gear(case: Case) -> Table:
    rows = []
    for device in case.devices.values():
        place = case.places.get(device.place or "")
        power = f"{device.power.draw_w:g} W" if device.power and device.power.draw_w is not None else ""
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
