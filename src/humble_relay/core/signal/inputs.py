"""Whether each input takes the picture that arrives, and whether each source goes anywhere."""

from collections.abc import Iterator

from humble_relay.core.edits import SetField, SetPort
from humble_relay.core.findings import Fault, Fix, rule
from humble_relay.core.index import PlanIndex
from humble_relay.core.picture.serial import serial_rate
from humble_relay.core.plan import Device
from humble_relay.core.signal.follow import feeds, formats
from humble_relay.core.video import Accepts, VideoFormat


@rule("format-refused", "signal")
def format_refused(plan: PlanIndex) -> Iterator[Fault]:
    """Inputs that do not take the raster, frame rate or scan that arrives."""
    on_port = plan.once(formats)
    for cable in plan.cables:
        port, fmt = plan.ports[cable.to_port], on_port.get(cable.to_port)
        if fmt is None or port.accepts is None or not (reason := port.accepts.refusal(fmt)):
            continue
        yield Fault(
            severity="stops",
            noun="link",
            subject=cable.id,
            wrong=f"{plan.port_name(cable.to_port)} gets {fmt.label}; it {reason}.",
            means="The input stays black, or the box shows 'no signal' while the camera is plainly on.",
            do="Set the source to a format the input takes, or put a scaler between them.",
            fixes=tuple(_other_format(plan, cable.from_port, port.accepts, fmt)),
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


@rule("input-undecided", "signal")
def input_undecided(plan: PlanIndex) -> Iterator[Fault]:
    """Ports in use that could be one of several types and have not been told which."""
    for cable in plan.cables:
        for ref in (cable.from_port, cable.to_port):
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


@rule("source-goes-nowhere", "signal")
def source_goes_nowhere(plan: PlanIndex) -> Iterator[Fault]:
    """Cameras and phones whose picture reaches no screen, recorder or platform."""
    onward = plan.once(feeds)
    ends = {d.id for d in plan.devices.values() if d.kind in ("platform", "monitor", "recorder")}
    for device in plan.devices.values():
        if device.kind not in ("camera", "phone"):
            continue
        seen, todo = {device.id}, [device.id]
        while todo:
            for after in onward[todo.pop()] - seen:
                seen.add(after)
                todo.append(after)
        if not seen & ends:
            last = [plan.devices[d].name for d in seen if not onward[d] - seen or not onward[d]]
            stuck = (
                f"it stops at {', '.join(sorted(last))}" if len(seen) > 1 else "nothing is plugged into it"
            )
            yield Fault(
                severity="risks",
                noun="device",
                subject=device.id,
                wrong=f"{device.name} reaches no screen, recorder or platform: {stuck}.",
                means="The camera is carried, powered and manned for nobody.",
                do="Connect it onward, or leave it at home.",
            )


def _other_format(plan: PlanIndex, ref: str, accepts: Accepts, fmt: VideoFormat) -> Iterator[Fix]:
    source = _maker_of(plan, ref)
    nearest = accepts.nearest(fmt)
    if source and nearest:
        edit = SetField(noun="device", id=source.id, field="produces", value=nearest.model_dump(mode="json"))
        yield Fix(title=f"Set {source.name} to {nearest.label}", edits=(edit,))


def _maker_of(plan: PlanIndex, ref: str) -> Device | None:
    """The device upstream of a port that decides the format there."""
    device, seen = plan.device_of(ref), set[str]()
    while device.produces is None and device.id not in seen:
        seen.add(device.id)
        before = [plan.other_end(f"{device.id}/{p.id}") for p in device.ports if p.way == "in"]
        found = next((b for b in before if b), None)
        if found is None:
            return None
        device = plan.device_of(found)
    return device if device.produces else None
