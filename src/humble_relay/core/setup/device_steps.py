"""What is to be set on a device as a whole: clock, card, charge, firmware, account, password, system format."""

from collections.abc import Iterator
from typing import NamedTuple

from humble_relay.core.egress.outbound import on_the_internet
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.plan import Device, Stream
from humble_relay.core.plan.setup_kinds import SetupKind
from humble_relay.core.plan.vocabulary import MIXERS, is_public
from humble_relay.core.setup.step import SetupStep, differences, step
from humble_relay.core.signal.flow.firmware import needed_for
from humble_relay.core.signal.flow.propagation import flow

_KEEPS_TIME = ("switcher", "recorder")
"""Devices whose clock is set by hand: timecode and names of files go by it. Computers and phones ask the network."""
_ENCRYPTED = ("rtmps", "hls", "web")
"""Streams whose certificates are looked at by the clock (RFC 5280 §4.1.2.5)."""
_ASKED_FOR = ("rtsp", "ndi", "hls")
"""Streams that a camera holds ready for all who ask."""
_HAS_A_PAGE = ("switcher", "recorder", "encoder", "decoder", "camera")


class InUse(NamedTuple):
    """A device of this plan with the streams that leave and reach it."""

    device: Device
    sends: list[Stream]
    takes: list[Stream]


def device_steps(case: Case, use: InUse) -> Iterator[SetupStep | None]:
    """What is to be set on the device itself, as far as it matters to this plan."""
    device, sends, takes = use
    if on_the_internet(device):
        yield from _service(case, use)
        return
    by = device.power.by if device.power else ()
    place = case.places.get(device.place or "")
    if "battery" in by and not ("mains" in by and place and place.mains):
        hours = device.power.battery_h if device.power else None
        yield step(case, device, "charged", (("One charge", f"{hours:g} h" if hours else ""),))
    checks_certificates = device.kind in ("encoder", "camera") and any(
        s.protocol in _ENCRYPTED for s in sends
    )
    if device.kind in _KEEPS_TIME or checks_certificates:
        yield step(case, device, "clock", (("Time zone", case.plan.show.zone),))
    if _records(case, device):
        yield step(case, device, "card")
    needed = [
        (feature, version) for feature in sorted(_features(use)) if (version := needed_for(device, feature))
    ]
    if needed:
        yield step(case, device, "firmware", tuple((f.upper(), f"{v} or newer") for f, v in needed))
    on_network = [p for p in device.ports if p.network]
    asked_for = [s for s in sends if s.protocol in _ASKED_FOR]
    if on_network and device.kind in _HAS_A_PAGE and (device.kind != "camera" or asked_for):
        yield step(case, device, "password")
    own = {p.address for p in device.ports if p.address}
    exposed = any(f.to_address in own for r in case.plan.routers for f in r.forwards)
    if on_network and (device.kind == "decoder" or exposed):
        yield step(case, device, "remote-admin")
    if device.kind == "decoder" and takes:
        yield step(case, device, "named", (("Name", device.name),))
    if device.kind in MIXERS and flow(case).arriving[device.id]:
        made = device.produces or case.plan.show.format
        yield step(case, device, "system-format", (("System format", made.label if made else ""),))
    if device.microphone and device.microphone.muted and device.id in _heard_elsewhere(case):
        yield step(case, device, "muted")
    for kind in _only_of_its_model(case, device):
        yield step(case, device, kind)


def _service(case: Case, use: InUse) -> Iterator[SetupStep | None]:
    device, _, takes = use
    if not takes:
        return
    yield step(case, device, "login")
    if is_public(device):
        yield step(case, device, "event")
        if any(_is_vertical(s) for s in case.streams):
            held = "vertical" if any(_is_vertical(s) for s in takes) else "horizontal"
            yield step(case, device, "orientation", (("Orientation", held),))


def _is_vertical(stream: Stream) -> bool:
    return stream.format.height > stream.format.width


def _records(case: Case, device: Device) -> bool:
    records = device.kind == "recorder" or (device.recording is not None and device.recording.records)
    return records and (bool(flow(case).arriving[device.id]) or device.kind in MIXERS)


def _features(use: InUse) -> set[str]:
    """What this plan uses of a device that some firmware may lack."""
    found: set[str] = {s.protocol for s in (*use.sends, *use.takes)} | {s.codec for s in use.sends}
    if any(_is_vertical(s) for s in use.sends):
        found.add("vertical")
    if any(s.input for s in use.takes):
        found.add("network-input")
    return found


@analysis
def _heard_elsewhere(case: Case) -> set[str]:
    """The sources that come to a mixer into which a sound desk is plugged: their own microphones are not to be heard."""
    desks = {
        case.device_of(c.to_port).id
        for c in case.cables
        if c.cable == "audio" and case.device_of(c.from_port).kind == "sound-desk"
    }
    return {source for d in desks for s in flow(case).arriving[d].values() for source in s.sources}


_ONLY_SAID: tuple[SetupKind, ...] = ("bluetooth-off", "stabilisation", "comes-back")
"""Kinds that no port or protocol tells: a model says that it has them."""


def _only_of_its_model(case: Case, device: Device) -> list[SetupKind]:
    said = differences(case, device)
    return [kind for kind in _ONLY_SAID if kind in said]
