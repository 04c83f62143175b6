"""What each input takes, and whether what arrives at it will show."""

from collections.abc import Iterable, Iterator

from humble_relay.core.judging.case import Case
from humble_relay.core.judging.finding import Fault, Fix, Severity, rule
from humble_relay.core.plan import Device, Port
from humble_relay.core.plan.edits import SetField, SetPort
from humble_relay.core.plan.video import Accepts, Rate, VideoFormat, frames_per_second
from humble_relay.core.signal.flow.conversion import refusal
from humble_relay.core.signal.flow.propagation import VIDEO, arrivals


def group_is_full(case: Case, device: Device, port: Port) -> bool:
    """Whether the port belongs to a group of which as many are in use as work at once."""
    group = next((g for g in device.groups if g.id == port.group), None)
    if group is None:
        return False
    used = [p for p in device.ports if p.group == group.id and f"{device.id}/{p.id}" in case.join_at]
    return len(used) >= group.at_once


@rule("format-refused", "signal")
def format_refused(case: Case) -> Iterator[Fault]:
    """Inputs that do not take the raster, frame rate or scan that arrives."""
    for device, port, signal in arrivals(case):
        reason = refusal(device, port, signal.format) if signal.format else None
        if signal.format and reason:
            yield _fault(
                "stops",
                device,
                port,
                wrong=f"{_name(case, device, port)} gets {signal.format.label}; it {reason}.",
                means="The input stays black, or the box shows 'no signal' while the camera is plainly on.",
                do="Set the source to a format the input takes, or put a scaler between them.",
                fixes=_other_format(case, device, port, signal.format),
            )


@rule("rate-converted", "signal")
def rate_converted(case: Case) -> Iterator[Fault]:
    """Inputs that take another frame rate and convert it: 59.94 is not 60, and 30 is not 50."""
    for device, port, signal in arrivals(case):
        made, fmt = device.produces, signal.format
        if not fmt or not made or not port.scales or refusal(device, port, fmt):
            continue
        if _divides(fmt.rate, made.rate):
            continue
        wanted = fmt.model_copy(update={"rate": made.rate, "scan": made.scan})
        yield _fault(
            "note",
            device,
            port,
            wrong=f"{_name(case, device, port)} gets {fmt.rate} frames/s and makes {made.rate} of it.",
            means="Frames are doubled or dropped: pans judder, most of all where it is cut against the others.",
            do="Set the source to the system's frame rate where it can be.",
            fixes=_set_source(case, device, port, wanted, "that setting in it"),
        )


@rule("protected-picture", "signal")
def protected_picture(case: Case) -> Iterator[Fault]:
    """Content protection from a laptop into a box that refuses it."""
    for device, port, signal in arrivals(case):
        if not signal.protected or not port.refuses_protected:
            continue
        maker = case.port_name(signal.protected)
        off = SetPort(port=signal.protected, field="protected", value=False)
        yield _fault(
            "stops",
            device,
            port,
            wrong=f"{maker} asks for content protection; {_name(case, device, port)} stays black on it.",
            means="Slides show on a monitor and are black here, the moment a protected film or page is opened.",
            do="Turn content protection off where the picture is made. It cannot be taken out on the way.",
            fixes=[
                Fix(title=f"Turn it off on {maker}", needs="a picture whose owner allows it", edits=(off,))
            ],
        )


@rule("levels-differ", "signal")
def levels_differ(case: Case) -> Iterator[Fault]:
    """Full colour range into an input that expects limited."""
    for device, port, signal in arrivals(case):
        if not signal.full_range or port.levels != "limited":
            continue
        limited = SetPort(port=signal.full_range, field="levels", value="limited")
        follow = SetPort(port=f"{device.id}/{port.id}", field="levels", value=None)
        yield _fault(
            "risks",
            device,
            port,
            wrong=f"{case.port_name(signal.full_range)} sends full colour range; {_name(case, device, port)} expects limited.",
            means="Blacks crush and whites clip: text on slides loses its edges.",
            do="Set the laptop's output to limited range, or the input to full.",
            fixes=[
                Fix(title="Set the output to limited", edits=(limited,)),
                Fix(
                    title="Set the input to follow what comes",
                    needs="an input that can be told",
                    edits=(follow,),
                ),
            ],
        )


def _name(case: Case, device: Device, port: Port) -> str:
    return case.port_name(f"{device.id}/{port.id}")


def _fault(
    severity: Severity,
    device: Device,
    port: Port,
    wrong: str,
    means: str,
    do: str,
    fixes: Iterable[Fix],
) -> Fault:
    """A fault of one input."""
    return Fault(
        severity=severity,
        noun="device",
        subject=device.id,
        part=port.id,
        wrong=wrong,
        means=means,
        do=do,
        fixes=tuple(fixes),
    )


def _other_format(case: Case, taker: Device, port: Port, fmt: VideoFormat) -> Iterator[Fix]:
    nearest = (port.accepts or Accepts()).nearest(fmt)
    if taker.kind == "switcher" and taker.produces and not port.scales:
        nearest = taker.produces
    if nearest:
        yield from _set_source(case, taker, port, nearest)


def _set_source(case: Case, taker: Device, port: Port, wanted: VideoFormat, needs: str = "") -> Iterator[Fix]:
    """The box upstream that decides the format told to make another."""
    source = _maker_of(case, f"{taker.id}/{port.id}")
    if source:
        edit = SetField(noun="device", id=source.id, field="produces", value=wanted.model_dump(mode="json"))
        yield Fix(title=f"Set {source.name} to {wanted.label}", needs=needs, edits=(edit,))


def _maker_of(case: Case, ref: str) -> Device | None:
    """The device upstream of an input that decides the format there; None when a stream does, or nobody."""
    seen = set[str]()
    before: str | None = ref
    while before and before not in seen:
        seen.add(before)
        join = case.join_at.get(before)
        if join is None:
            return None
        device = case.device_of(join.from_port)
        if case.ports[join.from_port].produces:
            return None
        if device.produces:
            return device
        before = next((f"{device.id}/{p.id}" for p in device.ports if _feeds(case, device, p)), None)
    return None


def _divides(rate: Rate, made: Rate) -> bool:
    """Whether whole frames make the other rate: 25 makes 50 by showing each twice."""
    ratio = frames_per_second(made) / frames_per_second(rate)
    return ratio.denominator == 1 or ratio.numerator == 1


def _feeds(case: Case, device: Device, port: Port) -> bool:
    return port.way == "in" and bool(VIDEO & set(port.types)) and f"{device.id}/{port.id}" in case.join_at
