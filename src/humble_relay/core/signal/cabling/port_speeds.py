"""Whether serial and USB ports are as fast as the picture on them."""

from collections.abc import Iterator

from humble_relay.core.judging.case import Case
from humble_relay.core.judging.finding import Fault, rule
from humble_relay.core.picture.serial import serial_rate
from humble_relay.core.signal.cabling.reach import usb_load
from humble_relay.core.signal.flow.propagation import formats


@rule("serial-rate-too-high", "signal")
def serial_rate_too_high(case: Case) -> Iterator[Fault]:
    """SDI ports asked for a faster serial link than they have."""
    on_port = case.once(formats)
    for cable in case.cables:
        fmt = on_port.get(cable.to_port)
        rate = serial_rate(fmt) if fmt and cable.cable == "coax" else None
        if rate is None or fmt is None:
            continue
        for ref in (cable.from_port, cable.to_port):
            limit = case.ports[ref].max_gbps
            if limit is not None and rate.value > limit:
                yield Fault(
                    severity="stops",
                    noun="link",
                    subject=cable.id,
                    part=ref.replace("/", "-"),
                    wrong=f"{fmt.label} needs {rate.value:g} Gb/s; {case.port_name(ref)} goes to {limit:g} Gb/s.",
                    means="The link does not lock: black, with no message.",
                    do="Choose a smaller raster or frame rate, or a faster port.",
                    working=rate,
                )


@rule("usb-too-much", "signal")
def usb_too_much(case: Case) -> Iterator[Fault]:
    """USB inputs asked for more picture than the bus takes."""
    on_port = case.once(formats)
    for cable in case.cables:
        fmt = on_port.get(cable.to_port)
        if fmt is None or cable.cable not in ("usb2", "usb3"):
            continue
        figure = f"{cable.cable}-share"
        limit = min(case.figures[figure], case.ports[cable.to_port].max_gbps or 1e9)
        load = usb_load(fmt)
        if load.value <= limit:
            continue
        yield Fault(
            severity="stops",
            noun="link",
            subject=cable.id,
            wrong=f"{fmt.label} asks {load.value:g} Gb/s of {case.port_name(cable.to_port)}; it takes {limit:g} Gb/s.",
            means="The picture stutters, drops to a smaller raster by itself, or the capture box is not found.",
            do="Capture a smaller raster or half the frame rate, or use a USB 3 cable and socket.",
            working=load.model_copy(update={"steps": (*load.steps, case.figures.step(figure))}),
        )
