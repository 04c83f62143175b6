"""What the Gear stage draws: each box with how many of its ports are used, each model against what there is of it."""

from collections.abc import Iterator, Mapping

from pydantic import JsonValue

from humble_relay.core.catalogue.words import CONNECTOR_WORDS
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Device, Port
from humble_relay.core.plan.edits import SetPort
from humble_relay.core.show.pull_list import StockLine, stock_lines
from humble_relay.core.views.options import Option, Options

ONLINE, UNPLACED = "Online", "No place yet"


class DeviceLine(Frozen):
    """A box as the list of gear has it. `group` is the place it is listed under."""

    device: str
    group: str
    ports: int
    used: int


class PortView(Frozen):
    """A port: what it is, what is in it, and what it can be told."""

    port: str
    name: str
    what: str
    in_it: str
    settings: tuple[Options, ...]


class GearView(Frozen):
    """The boxes by place; every model used or held, those missing first."""

    devices: tuple[DeviceLine, ...]
    stock: tuple[StockLine, ...]


def gear_view(case: Case) -> GearView:
    """What the Gear stage draws."""
    groups = [*(p.name for p in case.places.values()), UNPLACED, ONLINE]
    lines = [_line(case, d) for d in case.devices.values()]
    return GearView(
        devices=tuple(sorted(lines, key=lambda x: groups.index(x.group))), stock=stock_lines(case)
    )


def device_ports(case: Case, id: str) -> tuple[PortView, ...]:
    """Every port of a device. Raises KeyError where the plan has no such device."""
    device = case.devices[id]
    return tuple(
        PortView(
            port=port.id,
            name=port.name,
            what=_what(port),
            in_it=_in_it(case, device, port),
            settings=tuple(_settings(device, port)),
        )
        for port in device.ports
    )


def _line(case: Case, device: Device) -> DeviceLine:
    online = device.kind == "platform"
    place = case.places.get(device.place or "")
    return DeviceLine(
        device=device.id,
        group=ONLINE if online else place.name if place else UNPLACED,
        ports=len(device.ports),
        used=sum(bool(_in_it(case, device, p)) for p in device.ports),
    )


def _what(port: Port) -> str:
    way = "both ways" if port.way == "both" else port.way
    types = " or ".join(CONNECTOR_WORDS[t] for t in port.types)
    return f"{way}, {types}{', scales' if port.scales else ''}"


def _in_it(case: Case, device: Device, port: Port) -> str:
    """The far end of what is plugged in, or the stream it shows; empty where it is free."""
    far = case.other_end(f"{device.id}/{port.id}")
    if far:
        return case.port_name(far)
    return next((s.name for s in case.streams_to.get(device.id, ()) if s.input == port.id), "")


def _settings(device: Device, port: Port) -> Iterator[Options]:
    """What the port can be told, where it is a question for such a port."""
    ref = f"{device.id}/{port.id}"

    def told(what: str, field: str, now: JsonValue, values: Mapping[JsonValue, str]) -> Options:
        choices = tuple(
            Option(
                key="" if value is None else str(value),
                words=words,
                edits=(SetPort(port=ref, field=field, value=value),),
            )
            for value, words in values.items()
        )
        return Options(
            what=f"{what} of {device.name}, {port.name}", now="" if now is None else str(now), choices=choices
        )

    hdmi_out = port.way == "out" and "hdmi" in port.types and device.kind == "computer"
    if len(port.types) > 1:
        types: dict[JsonValue, str] = {None: "not told", **{t: CONNECTOR_WORDS[t] for t in port.types}}
        yield told("Type", "assigned", port.assigned, types)
    if port.may_carry:
        yield told("Picture", "carries", port.carries, {c: c for c in port.may_carry})
    if port.overlay:
        overlay: dict[JsonValue, str] = {
            "on": "overlay on",
            "off": "overlay off",
            "not-known": "overlay not known",
        }
        yield told("Menu overlay", "overlay", port.overlay, overlay)
    if port.way == "in" and "hdmi" in port.types:
        takes: dict[JsonValue, str] = {None: "not told", True: "protected: yes", False: "protected: no"}
        yield told("A protected picture", "takes_protected", port.takes_protected, takes)
    if port.levels or hdmi_out:
        levels: dict[JsonValue, str] = {None: "not told", "full": "full range", "limited": "limited range"}
        yield told("Colour range", "levels", port.levels, levels)
    if hdmi_out:
        asks: dict[JsonValue, str] = {True: "protection on", False: "protection off"}
        yield told("Content protection", "protected", port.protected, asks)
    if port.way == "in" and "audio" in port.types:
        sides: dict[JsonValue, str] = {True: "on both sides", False: "on one side"}
        yield told("A mono line", "both_sides", port.both_sides, sides)
