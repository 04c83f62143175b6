"""Whether serial, HDMI, VGA, optical and USB ports are as fast as the picture on them."""

import math
from collections.abc import Iterator
from dataclasses import replace
from typing import NamedTuple

from humble_relay.core.catalogue.cables import FITS
from humble_relay.core.judging.answer import (
    HOLDS,
    Choice,
    Numbers,
    Thing,
    Verdict,
    Want,
    Words,
    doubtful,
    wants,
    within,
)
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.things import end_of_link, port_of
from humble_relay.core.judging.working import Figures, Step, Working
from humble_relay.core.picture.serial import SDI_RATES, on_the_wire_bits, serial_bits, serial_rate
from humble_relay.core.plan import Cable, Connector, Port
from humble_relay.core.plan.video import VideoFormat
from humble_relay.core.signal.cabling.cable_reach import usb_load
from humble_relay.core.signal.flow.propagation import flow, formats

SerialEnd = tuple[Cable, str, VideoFormat, Working]


def _serial_ends(case: Case) -> Iterator[tuple[Thing, SerialEnd]]:
    on_port = formats(case)
    for cable in case.cables:
        fmt = on_port.get(cable.to_port)
        rate = serial_rate(fmt) if fmt and cable.cable == "coax" else None
        if fmt and rate:
            for ref in (cable.from_port, cable.to_port):
                yield end_of_link(cable, ref), (cable, ref, fmt, rate)


def _usb(case: Case) -> Iterator[tuple[Thing, tuple[Cable, VideoFormat]]]:
    on_port = formats(case)
    for cable in case.cables:
        if cable.cable in ("usb2", "usb3") and (fmt := on_port.get(cable.to_port)):
            yield Thing("link", cable.id), (cable, fmt)


SERIAL_ENDS: SubjectKind[SerialEnd] = SubjectKind("port with a serial picture on it", _serial_ends)
USB_CABLES: SubjectKind[tuple[Cable, VideoFormat]] = SubjectKind("USB cable with a picture on it", _usb)


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
    """Whether a picture (Gb/s), in the form in which its maker puts it out, fits what the bus gives one of them."""
    cable, fmt = what
    out, into = case.ports[cable.from_port], case.ports[cable.to_port]
    sent_as = out.sends or "raw"
    load = usb_load(fmt, sent_as, case.figures)
    share, most = f"{cable.cable}-share", f"{cable.cable}-most"
    relied, hopeless = (min(case.figures[f], into.max_gbps or 1e9) for f in (share, most))
    if load.value > relied and out.sends is None:
        device = case.device_of(cable.from_port)
        asked = f"How does {device.name} send {fmt.label} over USB: as it is, as motion JPEG, or as H.264?"
        return wants(Want(port_of(cable.from_port), "sends", asked, model=device.model, choices=SENT_AS))
    return within(
        Numbers(load.value, relied, hopeless, "Gb/s"),
        lambda: Words(
            f"{fmt.label} asks {load.value:g} Gb/s of {case.port_name(cable.to_port)}; it takes {relied:g} Gb/s.",
            "The picture stutters, drops to a smaller raster by itself, or the capture box is not found.",
            "Capture a smaller raster or half the frame rate, use a USB 3 cable and socket, or have it sent compressed.",
            replace(load, steps=(*load.steps, case.figures.step(share), case.figures.step(most))),
        ),
    )


SENT_AS = (
    Choice(value="raw", words="as it is"),
    Choice(value="mjpeg", words="motion JPEG"),
    Choice(value="h264", words="H.264"),
)


def _shared(case: Case) -> Iterator[tuple[Thing, list[tuple[Cable, VideoFormat]]]]:
    into: dict[str, list[tuple[Cable, VideoFormat]]] = {}
    for _, what in _usb(case):
        into.setdefault(case.device_of(what[0].to_port).id, []).append(what)
    return ((Thing("device", id, "usb"), whats) for id, whats in into.items())


BUSES: SubjectKind[list[tuple[Cable, VideoFormat]]] = SubjectKind("box that takes pictures over USB", _shared)


@check(
    "usb-bus-shared", BUSES, "signal", "Does its USB controller take all the pictures at once?",
    "common practice, no source (400 MB/s); USB Video Class", "practice", tried=True,
)  # fmt: skip
def usb_bus_shared(case: Case, whats: list[tuple[Cable, VideoFormat]]) -> Verdict:
    """Whether the pictures into one box (Gb/s together) fit one controller. Beyond that it is doubtful only: how many
    controllers stand behind its sockets is seldom known."""
    asked = [(c, usb_load(fmt, case.ports[c.from_port].sends or "raw", case.figures)) for c, fmt in whats]
    if len(whats) == 1:
        return HOLDS
    together = round(sum(load.value for _, load in asked), 3)
    most, box = case.figures["usb-controller"], case.device_of(whats[0][0].to_port)

    def say() -> Words:
        steps = [Step(name=case.device_of(c.from_port).name, value=w.value, unit="Gb/s") for c, w in asked]
        return Words(
            f"{box.name} takes {len(whats)} pictures over USB, {together:g} Gb/s together; one controller takes {most:g} Gb/s.",
            "Each works alone; with all of them plugged in one freezes or is not found.",
            "Plug them into sockets of different controllers and try them all at once, or capture smaller pictures.",
            Working(name="Over USB", value=together, unit="Gb/s", steps=(*steps, case.figures.step("usb-controller"))),
        )  # fmt: skip

    return within(Numbers(together, most, math.inf, "Gb/s"), say)


class SpeedEnd(NamedTuple):
    """One end of an HDMI, VGA or optical cable, the picture on it, and the box that made that picture."""

    cable: Cable
    ref: str
    format: VideoFormat
    origin: str


def _wired_pictures(case: Case) -> Iterator[tuple[Thing, SpeedEnd]]:
    on_port = flow(case).on_port
    for cable in case.cables:
        signal = on_port.get(cable.to_port)
        if signal and signal.format and FITS[cable.cable] in ("hdmi", "vga", "fibre"):
            for ref in (cable.from_port, cable.to_port):
                yield end_of_link(cable, ref), SpeedEnd(cable, ref, signal.format, signal.origin)


SPEED_ENDS: SubjectKind[SpeedEnd] = SubjectKind(
    "end of an HDMI, VGA or optical cable with a picture on it", _wired_pictures
)


@check(
    "port-too-slow", SPEED_ENDS, "signal", "Is the port fast enough for the picture on it?",
    "CTA-861; SMPTE ST 259 to 2082; the maker's data", "gear", tried=True,
)  # fmt: skip
def port_too_slow(case: Case, what: SpeedEnd) -> Verdict:
    """Whether an HDMI, VGA or optical port takes the rate of the picture on its cable.

    Every HDMI port takes 165 MHz. Beyond that its own figure (Gb/s) counts; up to twice that is doubtful, for 4:2:0 halves
    the rate. A port whose accepted rasters name the picture, and an output of the box that makes it, are fast enough.
    """
    cable, ref, fmt, origin = what
    port, kind = case.ports[ref], FITS[cable.cable]
    speed = port_speed(port, kind, fmt, case.figures)
    if speed is None:
        return HOLDS
    if not speed.relied:
        said = port.accepts and port.accepts.rasters and not port.accepts.refusal(fmt)
        device = case.device_of(ref)
        if said or (port.way == "out" and device.id == origin):
            return HOLDS
        asked = f"How fast is {port.name} of {device.model or device.name}? {fmt.label} needs {speed.value:g} Gb/s."
        return wants(Want(port_of(ref), "max_gbps", asked, "Gb/s", device.model))
    return within(speed, lambda: _slow(case, what, speed))


def port_speed(port: Port, kind: Connector, fmt: VideoFormat, figures: Figures) -> Numbers | None:
    """What a picture asks of an HDMI, VGA or optical port, and what it is relied on for: 0 where nobody said; None where any
    port of the kind takes it. In Gb/s, of VGA in MHz. A port that may be SDI too has the serial figure for both.
    """
    clock = float(on_the_wire_bits(fmt) / 30) / 1e6
    if kind == "vga":
        return Numbers(round(clock, 2), figures["vga-clock"], figures["vga-most"], "MHz")
    if kind == "hdmi" and clock <= figures["hdmi-every-port"]:
        return None
    serial = kind == "fibre" or len(port.types) > 1
    bits = (serial_bits(fmt) if serial else None) or on_the_wire_bits(fmt)
    limit = port.max_gbps or 0.0
    return Numbers(round(float(bits) / 1e9, 3), limit, limit * (2 if kind == "hdmi" else 1), "Gb/s")


def _slow(case: Case, what: SpeedEnd, speed: Numbers) -> Words:
    perhaps = speed.value <= speed.hopeless
    return Words(
        f"{what.format.label} needs {speed.value:g} {speed.unit}; {case.port_name(what.ref)} is relied on up to {speed.relied:g} {speed.unit}.",
        "The screen offers a smaller picture, or halves the colour to fit."
        if perhaps
        else "The picture does not come, or the source falls back to a smaller one.",
        "Choose a smaller raster or frame rate, or a faster port.",
    )


def _coax(case: Case) -> Iterator[tuple[Thing, tuple[Cable, VideoFormat]]]:
    on_port = formats(case)
    for cable in case.cables:
        if cable.cable == "coax" and (fmt := on_port.get(cable.to_port)):
            yield Thing("link", cable.id), (cable, fmt)


COAX: SubjectKind[tuple[Cable, VideoFormat]] = SubjectKind("coax with a picture on it", _coax)


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
            ),
            compared=(fmt.label,),
        )
    return within(
        Numbers(float(bits) / 1e9, fastest, fastest, "Gb/s"),
        lambda: Words(
            f"{fmt.label} needs {float(bits) / 1e9:.3g} Gb/s on {case.link_name(cable.id)}; the fastest SDI link has {fastest:g} Gb/s.",
            "One cable does not carry it: the picture is not sent at all.",
            "Send a smaller raster, or use the box's optical or network output.",
        ),
    )


CHECKS = (serial_rate_too_high, no_serial_format, port_too_slow, usb_too_much, usb_bus_shared)
