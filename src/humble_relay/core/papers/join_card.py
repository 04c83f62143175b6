"""The join card: what the other side of a stream enters where, what it checks, what it should see, and whom it calls."""

from typing import Literal

from humble_relay.core.catalogue.cables import PROTOCOL_WORDS
from humble_relay.core.egress.outbound import stays
from humble_relay.core.endpoints.calls import call_of
from humble_relay.core.endpoints.endpoint_settings import settings_of_each_side
from humble_relay.core.endpoints.stream_limits import USUAL_KEYFRAME_S
from humble_relay.core.endpoints.stream_urls import typed_address
from humble_relay.core.frozen import Frozen
from humble_relay.core.hidden_text import left_out
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Device, Site, Stream
from humble_relay.core.reach.exposure import has_secret


class CardLine(Frozen):
    """One thing to enter: where, and what."""

    where: str
    what: str


class JoinCard(Frozen):
    """A card for one box of a stream. `code` is what its QR code says; empty where there is nothing to be scanned."""

    stream: str
    device: str
    title: str
    at: str
    enters: tuple[CardLine, ...]
    checks: tuple[str, ...]
    sees: str
    calls: str
    code: str
    secret: Literal["none", "left out", "in clear"]


def other_sides(case: Case) -> tuple[tuple[Stream, Device], ...]:
    """The boxes that others set up from a card: those at another site than most of the gear, those who send by a browser
    link, and what shows a stream in another room."""
    home = main_site(case)
    found: list[tuple[Stream, Device]] = []
    for stream in case.streams:
        sender, taker = case.devices[stream.from_device], case.devices[stream.to_device]
        far = [d for d in (sender, taker) if (site := case.site_of(d)) is not None and site is not home]
        if stream.protocol == "web":
            far = far or [sender]
        if far and stream.protocol == "paired" and not taker.ingest and sender not in far:
            far = [sender, *far]  # the end that imports the file is the one that reads it
        if not far and taker.place and taker.place != sender.place and taker.decoding and not taker.ingest:
            far = [taker]
        found += [(stream, d) for d in far]
    return tuple(found)


def main_site(case: Case) -> Site | None:
    """The site where most boxes stand: ours, to those elsewhere."""
    counts = dict.fromkeys(case.sites, 0)
    for device in case.devices.values():
        if site := case.site_of(device):
            counts[site.id] += 1
    most = max(counts, key=lambda id: counts[id], default=None)
    return case.sites[most] if most else None


def join_card(case: Case, stream: Stream, device: Device, clear: bool) -> JoinCard:
    """The card of one box of a stream; its secrets only where `clear` says so."""
    side = next((s for s in settings_of_each_side(case, stream) if s.device == device.id), None)
    sends = device.id == stream.from_device
    place = case.places.get(device.place or "")
    secret = has_secret(stream) or stream.protocol == "web"

    def told(text: str) -> str:
        return text if clear else left_out(text)

    types = told(side.types) if side and side.types else ""
    enters = [CardLine(where=_field(stream, device), what=types)] if types else []
    if side and side.sets:
        enters.append(CardLine(where="Set", what=side.sets))
    if stream.key:
        enters.append(
            CardLine(
                where="Passphrase" if stream.protocol == "srt" else "Key",
                what=stream.key if clear else "told by telephone",
            )
        )
    if stream.stream_id:
        enters.append(CardLine(where="Stream id", what=stream.stream_id if clear else "told by telephone"))
    if sends and stream.protocol != "web":
        enters.append(
            CardLine(
                where="Picture",
                what=f"{stream.format.label}, {stream.codec.upper()}, {stream.video_mbps:g} Mb/s, keyframe interval {stream.keyframe_s or USUAL_KEYFRAME_S:g} s, sound {stream.audio_kbps:g} kb/s",
            )
        )
    return JoinCard(
        stream=stream.id,
        device=device.id,
        title=f"{device.name}: {'send' if sends else 'take'} {stream.name} by {PROTOCOL_WORDS[stream.protocol]}",
        at=place.name if place else "",
        enters=tuple(enters),
        checks=_checks(case, stream, device, sends),
        sees=_sees(stream, sends),
        calls=case.plan.show.call
        or f"the crew of {case.plan.show.name}, by telephone: a picture that does not come cannot tell why",
        code=types if "://" in types and "‹" not in types else "",
        secret="none" if not secret else "in clear" if clear else "left out",
    )


def _field(stream: Stream, device: Device) -> str:
    if stream.protocol == "web":
        return "In the browser's address line"
    if stream.protocol == "rtsp" or (stream.protocol == "srt" and device.id == stream.to_device):
        return "Source address"
    return "Server, or destination"


def _checks(case: Case, stream: Stream, device: Device, sends: bool) -> tuple[str, ...]:
    checks = []
    if stream.protocol == "web":
        checks += ["Battery charged, and on a charger", "Caller and messages silenced", "Camera and microphone allowed when the browser asks",
                   "Held sideways, unless the show is vertical", "On Wi-Fi that holds, or on mobile data with enough left"]  # fmt: skip
    else:
        checks += ["Newest firmware, then switched off and on once", "Date and time are right"]
        if any("ethernet" in p.types for p in device.ports):
            checks.append("By cable to the router, not by Wi-Fi")
    if call_of(case, stream).listener is device and stream.protocol != "web" and not stays(case, stream):
        checks.append("The router forwards the port to this box, and the box keeps its address")
    checks.append(
        "Tried a day before, for ten minutes" if sends else "Sound up, and in step with the picture"
    )
    return tuple(checks)


def _sees(stream: Stream, sends: bool) -> str:
    if stream.protocol == "web":
        return "your own picture, and after a moment the director's voice or a message"
    if sends:
        return "the box says that it is connected or on air, and its data rate settles"
    return f"{stream.format.label} within a few seconds; until then black, or the box's own page"


def typed_for(case: Case, stream: Stream) -> str:
    """The address of a stream as the end that calls types it; empty where none is known."""
    return typed_address(case, stream) or next(
        (s.types for s in settings_of_each_side(case, stream) if "://" in s.types and "‹" not in s.types), ""
    )
