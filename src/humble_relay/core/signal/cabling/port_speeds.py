"""Whether serial and USB ports are as fast as the picture on them."""

from collections.abc import Iterator

from humble_relay.core.judging.answer import Numbers, Thing, Verdict, Want, Words, doubtful, wants, within
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import Asked, check
from humble_relay.core.judging.things import end_of_link, port_of
from humble_relay.core.judging.working import Working
from humble_relay.core.picture.serial import SDI_RATES, serial_bits, serial_rate
from humble_relay.core.plan import Cable
from humble_relay.core.plan.video import VideoFormat
from humble_relay.core.signal.cabling.reach import usb_load
from humble_relay.core.signal.flow.propagation import formats

SerialEnd = tuple[Cable, str, VideoFormat, Working]


def _serial_ends(case: Case) -> Iterator[tuple[Thing, SerialEnd]]:
    on_port = case.once(formats)
    for cable in case.cables:
        fmt = on_port.get(cable.to_port)
        rate = serial_rate(fmt) if fmt and cable.cable == "coax" else None
        if fmt and rate:
            for ref in (cable.from_port, cable.to_port):
                yield end_of_link(cable, ref), (cable, ref, fmt, rate)


def _usb(case: Case) -> Iterator[tuple[Thing, tuple[Cable, VideoFormat]]]:
    on_port = case.once(formats)
    for cable in case.cables:
        if cable.cable in ("usb2", "usb3") and (fmt := on_port.get(cable.to_port)):
            yield Thing("link", cable.id), (cable, fmt)


SERIAL_ENDS: Asked[SerialEnd] = Asked("port with a serial picture on it", _serial_ends)
USB_CABLES: Asked[tuple[Cable, VideoFormat]] = Asked("USB cable with a picture on it", _usb)


@check(
    "serial-rate-too-high", SERIAL_ENDS, "signal", "Is the port as fast as the picture on it?",
    "SMPTE ST 259, 292-1, 424, 2081, 2082", "gear", tried=True,
)  # fmt: skip
def serial_rate_too_high(case: Case, what: SerialEnd) -> Verdict:
    """Whether an SDI port takes the serial rate (Gb/s) of the picture on its cable."""
    _cable, ref, fmt, rate = what
    port, limit = case.ports[ref], case.ports[ref].max_gbps
    if limit is None:
        device = case.device_of(ref)
        asked = f"How fast is {port.name} of {device.model or device.name}? {fmt.label} needs {rate.value:g} Gb/s."
        return wants(Want(port_of(ref), "max_gbps", asked, "Gb/s", device.model))
    return within(
        Numbers(rate.value, limit, limit, "Gb/s"),
        lambda: Words(
            f"{fmt.label} needs {rate.value:g} Gb/s; {case.port_name(ref)} goes to {limit:g} Gb/s.",
            "The link does not lock: black, with no message.",
            "Choose a smaller raster or frame rate, or a faster port.",
            rate,
        ),
    )


@check(
    "usb-too-much", USB_CABLES, "signal", "Does the bus take this picture?",
    "USB Video Class; USB 2.0 §5.6.3, §5.8.4; common practice", "practice", tried=True,
)  # fmt: skip
def usb_too_much(case: Case, what: tuple[Cable, VideoFormat]) -> Verdict:
    """Whether an uncompressed picture (Gb/s) fits the share of the USB bus that one picture may have."""
    cable, fmt = what
    figure = f"{cable.cable}-share"
    limit = min(case.figures[figure], case.ports[cable.to_port].max_gbps or 1e9)
    load = usb_load(fmt)
    return within(
        Numbers(load.value, limit, limit, "Gb/s"),
        lambda: Words(
            f"{fmt.label} asks {load.value:g} Gb/s of {case.port_name(cable.to_port)}; it takes {limit:g} Gb/s.",
            "The picture stutters, drops to a smaller raster by itself, or the capture box is not found.",
            "Capture a smaller raster or half the frame rate, or use a USB 3 cable and socket.",
            load.model_copy(update={"steps": (*load.steps, case.figures.step(figure))}),
        ),
    )


def _coax(case: Case) -> Iterator[tuple[Thing, tuple[Cable, VideoFormat]]]:
    on_port = case.once(formats)
    for cable in case.cables:
        if cable.cable == "coax" and (fmt := on_port.get(cable.to_port)):
            yield Thing("link", cable.id), (cable, fmt)


COAX: Asked[tuple[Cable, VideoFormat]] = Asked("coax with a picture on it", _coax)


@check(
    "no-serial-format", COAX, "signal", "Is there a serial link that carries this raster and rate?",
    "SMPTE ST 259, 292-1, 424, 2081, 2082; ST 274, 296, 2036-1, 2048-1", "standard", tried=True,
)  # fmt: skip
def no_serial_format(case: Case, what: tuple[Cable, VideoFormat]) -> Verdict:
    """Whether a picture fits one SDI link: more bits than the fastest of them has (Gb/s) fail; a raster that no serial
    standard describes is doubtful, since some boxes pass it to their own kind."""
    cable, fmt = what
    bits, fastest = serial_bits(fmt), float(SDI_RATES[-1][0]) / 1e9
    if bits is None:
        return doubtful(
            lambda: Words(
                f"{fmt.label} is on {case.link_name(cable.id)}, and no serial standard has that raster and rate.",
                "Most inputs stay black on it, whatever the cable.",
                "Set the source to a raster of the standards, or take it over HDMI or the network.",
            )
        )
    return within(
        Numbers(float(bits) / 1e9, fastest, fastest, "Gb/s"),
        lambda: Words(
            f"{fmt.label} needs {float(bits) / 1e9:.3g} Gb/s on {case.link_name(cable.id)}; the fastest SDI link has {fastest:g} Gb/s.",
            "One cable does not carry it: the picture is not sent at all.",
            "Send a smaller raster, or use the box's optical or network output.",
        ),
    )


CHECKS = (serial_rate_too_high, no_serial_format, usb_too_much)
