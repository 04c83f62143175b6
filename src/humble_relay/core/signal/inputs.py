"""What each input takes, and whether what arrives at it will show."""

from collections import defaultdict
from collections.abc import Iterator

from humble_relay.core.edits import Edit, SetField, SetPort
from humble_relay.core.findings import Fault, Fix, rule
from humble_relay.core.index import PlanIndex
from humble_relay.core.picture.serial import serial_rate
from humble_relay.core.plan import Device, Port, Stream
from humble_relay.core.signal.follow import VIDEO, flow, formats, is_dark, network_inputs
from humble_relay.core.signal.reach import usb_load
from humble_relay.core.video import Accepts, Rate, VideoFormat, frames_per_second


def refusal(device: Device, port: Port, fmt: VideoFormat) -> str | None:
    """Why the input does not take the format, in words, or None when it does.

    A switcher input that does not scale takes the system format and no other: 59.94 is not 60.
    """
    if port.accepts and (reason := port.accepts.refusal(fmt)):
        return reason
    if device.kind == "switcher" and device.produces and not port.scales and fmt != device.produces:
        return f"does not scale and follows the system format, {device.produces.label}"
    return None


def conversion(device: Device, port: Port | None, fmt: VideoFormat | None) -> str:
    """What the box turns the format into, in words; empty when it passes on as it is."""
    to = device.produces
    if fmt is None or to is None or fmt == to or device.kind in ("camera", "phone"):
        return ""
    if port is not None and not port.scales:
        return ""
    words = []
    if (fmt.width, fmt.height) != (to.width, to.height):
        words.append("scaled")
    if fmt.scan != to.scan:
        words.append("deinterlaced" if to.scan == "p" else "interlaced")
    if fmt.rate != to.rate:
        words.append(f"{fmt.rate} made {to.rate} frames/s")
    return f"{', '.join(words)}: {fmt.label} becomes {to.label}"


def group_is_full(plan: PlanIndex, device: Device, port: Port) -> bool:
    """Whether the port belongs to a group of which as many are in use as work at once."""
    group = next((g for g in device.groups if g.id == port.group), None)
    if group is None:
        return False
    used = [p for p in device.ports if p.group == group.id and f"{device.id}/{p.id}" in plan.join_at]
    return len(used) >= group.at_once


@rule("format-refused", "signal")
def format_refused(plan: PlanIndex) -> Iterator[Fault]:
    """Inputs that do not take the raster, frame rate or scan that arrives."""
    found = plan.once(flow)
    for id, arriving in found.arriving.items():
        device = plan.devices[id]
        for port in device.ports:
            signal = arriving.get(port.id)
            if signal is None or signal.format is None:
                continue
            reason = refusal(device, port, signal.format)
            if not reason:
                continue
            ref = f"{id}/{port.id}"
            yield Fault(
                severity="stops",
                noun="device",
                subject=id,
                part=port.id,
                wrong=f"{plan.port_name(ref)} gets {signal.format.label}; it {reason}.",
                means="The input stays black, or the box shows 'no signal' while the camera is plainly on.",
                do="Set the source to a format the input takes, or put a scaler between them.",
                fixes=tuple(_other_format(plan, device, port, signal.format)),
            )


@rule("rate-converted", "signal")
def rate_converted(plan: PlanIndex) -> Iterator[Fault]:
    """Inputs that take another frame rate and convert it: 59.94 is not 60, and 30 is not 50."""
    for id, arriving in plan.once(flow).arriving.items():
        device = plan.devices[id]
        for port in device.ports:
            signal, made = arriving.get(port.id), device.produces
            if not signal or not signal.format or not made or not port.scales:
                continue
            if _divides(signal.format.rate, made.rate) or refusal(device, port, signal.format):
                continue
            source = _maker_of(plan, f"{id}/{port.id}")
            fixes = []
            if source:
                wanted = signal.format.model_copy(update={"rate": made.rate, "scan": made.scan})
                edit = SetField(
                    noun="device", id=source.id, field="produces", value=wanted.model_dump(mode="json")
                )
                fixes = [
                    Fix(
                        title=f"Set {source.name} to {wanted.label}",
                        needs="that setting in it",
                        edits=(edit,),
                    )
                ]
            yield Fault(
                severity="note",
                noun="device",
                subject=id,
                part=port.id,
                wrong=f"{plan.port_name(f'{id}/{port.id}')} gets {signal.format.rate} frames/s and makes {made.rate} of it.",
                means="Frames are doubled or dropped: pans judder, most of all where it is cut against the others.",
                do="Set the source to the system's frame rate where it can be.",
                fixes=tuple(fixes),
            )


@rule("serial-rate-too-high", "signal")
def serial_rate_too_high(plan: PlanIndex) -> Iterator[Fault]:
    """SDI ports asked for a faster serial link than they have."""
    on_port = plan.once(formats)
    for cable in plan.cables:
        fmt = on_port.get(cable.to_port)
        rate = serial_rate(fmt) if fmt and cable.cable == "coax" else None
        if rate is None or fmt is None:
            continue
        for ref in (cable.from_port, cable.to_port):
            limit = plan.ports[ref].max_gbps
            if limit is not None and rate.value > limit:
                yield Fault(
                    severity="stops",
                    noun="link",
                    subject=cable.id,
                    part=ref.replace("/", "-"),
                    wrong=f"{fmt.label} needs {rate.value:g} Gb/s; {plan.port_name(ref)} goes to {limit:g} Gb/s.",
                    means="The link does not lock: black, with no message.",
                    do="Choose a smaller raster or frame rate, or a faster port.",
                    working=rate,
                )


@rule("usb-too-much", "signal")
def usb_too_much(plan: PlanIndex) -> Iterator[Fault]:
    """USB inputs asked for more picture than the bus takes."""
    on_port = plan.once(formats)
    for cable in plan.cables:
        fmt = on_port.get(cable.to_port)
        if fmt is None or cable.cable not in ("usb2", "usb3"):
            continue
        figure = f"{cable.cable}-share"
        limit = min(plan.figures[figure], plan.ports[cable.to_port].max_gbps or 1e9)
        load = usb_load(fmt)
        if load.value <= limit:
            continue
        yield Fault(
            severity="stops",
            noun="link",
            subject=cable.id,
            wrong=f"{fmt.label} asks {load.value:g} Gb/s of {plan.port_name(cable.to_port)}; it takes {limit:g} Gb/s.",
            means="The picture stutters, drops to a smaller raster by itself, or the capture box is not found.",
            do="Capture a smaller raster or half the frame rate, or use a USB 3 cable and socket.",
            working=load.model_copy(update={"steps": (*load.steps, plan.figures.step(figure))}),
        )


@rule("protected-picture", "signal")
def protected_picture(plan: PlanIndex) -> Iterator[Fault]:
    """Content protection from a laptop into a box that refuses it."""
    for id, arriving in plan.once(flow).arriving.items():
        for port in plan.devices[id].ports:
            signal = arriving.get(port.id)
            if not signal or not signal.protected or not port.refuses_protected:
                continue
            yield Fault(
                severity="stops",
                noun="device",
                subject=id,
                part=port.id,
                wrong=f"{plan.port_name(signal.protected)} asks for content protection; {plan.port_name(f'{id}/{port.id}')} stays black on it.",
                means="Slides show on a monitor and are black here, the moment a protected film or page is opened.",
                do="Turn content protection off where the picture is made. It cannot be taken out on the way.",
                fixes=(
                    Fix(
                        title=f"Turn it off on {plan.port_name(signal.protected)}",
                        needs="a picture whose owner allows it",
                        edits=(SetPort(port=signal.protected, field="protected", value=False),),
                    ),
                ),
            )


@rule("levels-differ", "signal")
def levels_differ(plan: PlanIndex) -> Iterator[Fault]:
    """Full colour range into an input that expects limited."""
    for id, arriving in plan.once(flow).arriving.items():
        for port in plan.devices[id].ports:
            signal = arriving.get(port.id)
            if not signal or not signal.full_range or port.levels != "limited":
                continue
            yield Fault(
                severity="risks",
                noun="device",
                subject=id,
                part=port.id,
                wrong=f"{plan.port_name(signal.full_range)} sends full colour range; {plan.port_name(f'{id}/{port.id}')} expects limited.",
                means="Blacks crush and whites clip: text on slides loses its edges.",
                do="Set the laptop's output to limited range, or the input to full.",
                fixes=(
                    Fix(
                        title="Set the output to limited",
                        edits=(SetPort(port=signal.full_range, field="levels", value="limited"),),
                    ),
                    Fix(
                        title="Set the input to follow what comes",
                        needs="an input that can be told",
                        edits=(SetPort(port=f"{id}/{port.id}", field="levels", value=None),),
                    ),
                ),
            )


@rule("input-undecided", "signal")
def input_undecided(plan: PlanIndex) -> Iterator[Fault]:
    """Ports in use that could be one of several types and have not been told which."""
    for join in plan.joins:
        for ref in (join.from_port, join.to_port):
            port = plan.ports[ref]
            if port.type is None:
                yield Fault(
                    severity="stops",
                    noun="device",
                    subject=plan.device_of(ref).id,
                    part=port.id,
                    wrong=f"{plan.port_name(ref)} may be {' or '.join(port.types)} and is not assigned.",
                    means="The picture does not show until the input is told which socket to listen to.",
                    do="Assign the port.",
                    fixes=tuple(
                        Fix(title=f"Assign it to {t}", edits=(SetPort(port=ref, field="assigned", value=t),))
                        for t in port.types
                    ),
                )


@rule("input-contested", "signal")
def input_contested(plan: PlanIndex) -> Iterator[Fault]:
    """Two sources for one input: two streams, a stream and a cable, or more sockets of a group than work at once."""
    wants: dict[str, list[str]] = defaultdict(list)
    for join in plan.joins:
        if VIDEO & set(plan.ports[join.to_port].types):
            wants[join.to_port].append(join.id)
    for stream in plan.streams:
        if stream.input:
            wants[f"{stream.to_device}/{stream.input}"].append(stream.id)
    for ref, links in wants.items():
        if len(links) > 1:
            yield _contested(plan, ref, plan.port_name(ref), links)
    for device in plan.devices.values():
        for group in device.groups:
            refs = [f"{device.id}/{p.id}" for p in device.ports if p.group == group.id]
            used = {
                ref: wants[ref] or [plan.join_at[ref].id] for ref in refs if wants[ref] or ref in plan.join_at
            }
            if len(used) > group.at_once:
                links = [link for each in used.values() for link in each]
                yield _contested(plan, next(iter(used)), f"{device.name}, {group.name}", links, group.at_once)


@rule("network-input-dark", "signal")
def network_input_dark(plan: PlanIndex) -> Iterator[Fault]:
    """Streams that arrive at a box and show on no input, because none is assigned to them."""
    for stream in plan.streams:
        if stream.broken or not is_dark(plan, stream):
            continue
        taker = plan.devices[stream.to_device]
        taken = {s.input for s in plan.streams_to[taker.id] if s is not stream}
        free = [
            p for p in network_inputs(taker) if p.id not in taken and f"{taker.id}/{p.id}" not in plan.join_at
        ]
        if stream.input:
            told = plan.ports[f"{taker.id}/{stream.input}"]
            state = "not assigned" if told.type is None else f"set to {told.type.upper()}"
            wrong = f"{stream.name} is meant for {taker.name}, {told.name}, which is {state}."
            free = [told, *free]
        else:
            wrong = f"{stream.name} arrives at {taker.name} and is assigned to no input."
        yield Fault(
            severity="stops",
            noun="link",
            subject=stream.id,
            wrong=wrong,
            means="The stream is running and the input is black: nothing shows until the input is told.",
            do="Assign an input to the network source.",
            fixes=tuple(
                Fix(title=f"Show it on {p.name}", edits=_assign(taker, p, stream))
                for p in dict.fromkeys(free)
                if "network" in p.types
            ),
        )


def _assign(taker: Device, port: Port, stream: Stream) -> tuple[Edit, ...]:
    """The edits that put a stream on an input."""
    edits: list[Edit] = []
    if port.type != "network":
        edits.append(SetPort(port=f"{taker.id}/{port.id}", field="assigned", value="network"))
    if stream.input != port.id:
        edits.append(SetField(noun="link", id=stream.id, field="input", value=port.id))
    return tuple(edits)


def _contested(plan: PlanIndex, ref: str, name: str, links: list[str], at_once: int = 1) -> Fault:
    from_whom = " and ".join(plan.link_name(id) for id in links)
    return Fault(
        severity="stops",
        noun="device",
        subject=plan.device_of(ref).id,
        part=ref.split("/")[1],
        wrong=f"{name} takes {at_once} at once and the plan gives it {len(links)}: {from_whom}.",
        means="One of them shows, and it may be the wrong one.",
        do="Move one to another input, or switch between them by hand and say so in the notes.",
    )


def _other_format(plan: PlanIndex, taker: Device, port: Port, fmt: VideoFormat) -> Iterator[Fix]:
    source = _maker_of(plan, f"{taker.id}/{port.id}")
    nearest = (port.accepts or Accepts()).nearest(fmt)
    if taker.kind == "switcher" and taker.produces and not port.scales:
        nearest = taker.produces
    if source and nearest:
        edit = SetField(noun="device", id=source.id, field="produces", value=nearest.model_dump(mode="json"))
        yield Fix(title=f"Set {source.name} to {nearest.label}", edits=(edit,))


def _maker_of(plan: PlanIndex, ref: str) -> Device | None:
    """The device upstream of an input that decides the format there; None when a stream does, or nobody."""
    seen = set[str]()
    before: str | None = ref
    while before and before not in seen:
        seen.add(before)
        join = plan.join_at.get(before)
        if join is None:
            return None
        device = plan.device_of(join.from_port)
        if plan.ports[join.from_port].produces:
            return None
        if device.produces:
            return device
        before = next((f"{device.id}/{p.id}" for p in device.ports if _feeds(plan, device, p)), None)
    return None


def _divides(rate: Rate, made: Rate) -> bool:
    """Whether whole frames make the other rate: 25 makes 50 by showing each twice."""
    ratio = frames_per_second(made) / frames_per_second(rate)
    return ratio.denominator == 1 or ratio.numerator == 1


def _feeds(plan: PlanIndex, device: Device, port: Port) -> bool:
    return port.way == "in" and bool(VIDEO & set(port.types)) and f"{device.id}/{port.id}" in plan.join_at
