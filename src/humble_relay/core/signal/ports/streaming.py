"""Whether the two ends of a stream or radio link can talk, with the firmware and the channels they have."""

from collections.abc import Iterator

from humble_relay.core.catalogue.cables import PROTOCOL_WORDS
from humble_relay.core.judging.answer import (
    HOLDS,
    Numbers,
    Thing,
    Verdict,
    Want,
    Words,
    fails,
    wants,
    within,
)
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.plan import Decoding, Device, Encoding, Link, Stream
from humble_relay.core.signal.flow.canvases import TURNED, StreamCanvas, turned
from humble_relay.core.signal.flow.firmware import lacks_firmware, needed_for


def _families(case: Case) -> Iterator[tuple[Thing, tuple[Link, Device, Device]]]:
    for s in case.streams:
        if s.protocol == "paired":
            yield Thing("link", s.id), (s, case.devices[s.from_device], case.devices[s.to_device])
    for cable in case.cables:
        if cable.cable == "fibre" and case.brings_picture(cable):
            yield (
                Thing("link", cable.id),
                (cable, case.device_of(cable.from_port), case.device_of(cable.to_port)),
            )
    for r in case.radios:
        yield Thing("link", r.id), (r, case.device_of(r.from_port), case.device_of(r.to_port))


FAMILY_LINKS: SubjectKind[tuple[Link, Device, Device]] = SubjectKind(
    "radio, optical or paired link", _families
)


@check(
    "families-differ", FAMILY_LINKS, "signal", "Are both boxes of one family?", "common practice, no source", "gear",
    tried=True,
)  # fmt: skip
def families_differ(_: Case, what: tuple[Link, Device, Device]) -> Verdict:
    """Whether sender and taker of a maker's own link understand each other."""
    _link, sender, taker = what
    if sender.family and sender.family == taker.family:
        return HOLDS
    unsaid = next((d for d in (sender, taker) if not d.family), None)
    if unsaid:
        asked = f"Of which family is {unsaid.name}: whose boxes does it understand?"
        return wants(Want(Thing("device", unsaid.id), "pairing.family", asked, model=unsaid.model))

    def say() -> Words:
        has = [f"{d.name} is {d.family}" for d in (sender, taker)]
        return Words(
            f"{has[0]} and {has[1]}: they do not understand each other.",
            "The decoder does not list the sender, however often both are restarted.",
            "Use two boxes of one family, or a protocol that both speak, such as SRT.",
        )

    return fails(say)


LOCAL: SubjectKind[tuple[Stream, Device]] = SubjectKind(
    "stream to a box that is no platform",
    lambda case: (
        (Thing("link", s.id), (s, case.devices[s.to_device]))
        for s in case.streams
        if not case.devices[s.to_device].ingest
    ),
)
TAKERS: SubjectKind[tuple[Device, Decoding, list[Stream]]] = SubjectKind(
    "box that takes streams",
    lambda case: (
        (Thing("device", id), (case.devices[id], takes, streams))
        for id, streams in case.streams_to.items()
        if streams and (takes := case.devices[id].decoding) and not case.devices[id].ingest
    ),
)


@check(
    "protocol-not-taken",
    LOCAL,
    "signal",
    "Does the box take this protocol?",
    "the maker's data",
    "gear",
    tried=True,
)
def protocol_not_taken(_: Case, what: tuple[Stream, Device]) -> Verdict:
    """Whether the box at the stream's end takes its protocol."""
    stream, taker = what
    takes = taker.decoding
    if taker.kind == "platform":
        asked = f"Which protocols does {taker.name} take, and where? Its page for this event says."
        return wants(Want(Thing("device", taker.id), "ingest", asked))
    if takes and stream.protocol in takes.protocols:
        return HOLDS

    def say() -> Words:
        spoken = ", ".join(PROTOCOL_WORDS[p] for p in takes.protocols) if takes else ""
        can = f"takes {spoken}" if takes else "takes no streams"
        return Words(
            f"{taker.name} {can}; {stream.name} is {PROTOCOL_WORDS[stream.protocol]}.",
            "It never appears in the list of sources.",
            "Send what the box takes, or put a decoder that takes it in between.",
        )

    return fails(say)


@check(
    "too-many-decoded", TAKERS, "signal", "Does it take so many streams at once?", "the maker's data", "gear"
)
def too_many_decoded(_: Case, what: tuple[Device, Decoding, list[Stream]]) -> Verdict:
    """Whether a box is sent no more streams than it takes at once."""
    taker, takes, streams = what
    many = "s" if takes.at_once > 1 else ""
    return within(
        Numbers(len(streams), takes.at_once, takes.at_once, "streams"),
        lambda: Words(
            f"{taker.name} takes {takes.at_once} stream{many} at once; the plan sends it {len(streams)}.",
            "The last one to connect is refused, or throws out the first.",
            "Take one out, or decode it in another box.",
        ),
    )


def _needed(case: Case) -> Iterator[tuple[Thing, tuple[Device, str]]]:
    """The features in use that a box needs some firmware for."""
    for device in case.devices.values():
        if device.needs:
            for feature in sorted(_in_use(case, device)):
                if needed_for(device, feature):
                    yield Thing("device", device.id, feature), (device, feature)


FEATURES: SubjectKind[tuple[Device, str]] = SubjectKind("feature in use that needs some firmware", _needed)


@check(
    "firmware-too-old", FEATURES, "gear", "Has the box the firmware that this feature needs?", "the maker's data", "gear",
    tried=True,
)  # fmt: skip
def firmware_too_old(_: Case, what: tuple[Device, str]) -> Verdict:
    """Whether a box's firmware is new enough for a feature in use."""
    device, feature = what
    words = _FEATURES.get(feature, feature.upper())
    if device.firmware is None:
        asked = f"Which firmware has {device.name}? For {words} it needs {needed_for(device, feature)}."
        return wants(Want(Thing("device", device.id), "software.firmware", asked))
    needs = lacks_firmware(device, feature)
    if needs is None:
        return HOLDS
    return fails(
        lambda: Words(
            f"{device.name} has firmware {device.firmware}; {words} needs {needs}.",
            "The setting is missing from the menu, and nobody remembers that it once had to be updated.",
            "Update it at home, days before, and try the whole path again. Never on the day.",
        )
    )


ENCODERS: SubjectKind[tuple[Device, Encoding, list[Stream]]] = SubjectKind(
    "box that encodes",
    lambda case: (
        (Thing("device", id, "channels"), (case.devices[id], can, streams))
        for id, streams in case.streams_from.items()
        if streams and (can := case.devices[id].encoding)
    ),
)


@check(
    "too-many-pictures",
    ENCODERS,
    "gear",
    "Does it encode so many different pictures at once?",
    "the maker's data",
    "gear",
)
def too_many_pictures(_: Case, what: tuple[Device, Encoding, list[Stream]]) -> Verdict:
    """Whether an encoder is asked for no more different pictures than it has channels."""
    device, can, streams = what
    pictures = {(s.format, s.codec, s.video_mbps, s.layout) for s in streams}
    many = "s" if can.channels > 1 else ""
    return within(
        Numbers(len(pictures), can.channels, can.channels, "pictures"),
        lambda: Words(
            f"{device.name} encodes {can.channels} picture{many} at once; its streams ask for {len(pictures)} different ones.",
            "Every destination gets the same picture, whatever was set for it.",
            "Send the same raster, bitrate and codec to all, or use a second encoder.",
        ),
    )


@check(
    "canvas-not-composed",
    TURNED,
    "gear",
    "Can the encoder compose this canvas?",
    "the maker's data",
    "gear",
    tried=True,
)
def canvas_not_composed(_: Case, each: StreamCanvas) -> Verdict:
    """Whether the encoder composes a canvas that lies the other way from its picture."""
    if each.composes:
        return HOLDS
    return fails(
        lambda: Words(
            f"{each.encoder} cannot compose a vertical canvas; {each.name} asks for {each.canvas.canvas.label}.",
            "The platform crops the middle of the picture, or refuses it.",
            "Feed program to a second encoder that composes a vertical canvas.",
        )
    )


_FEATURES = {
    "network-input": "an input from the network", "vertical": "a vertical canvas", "failover": "failover to a backup uplink",
    "bonding": "sending over several lines at once",
}  # fmt: skip


def _in_use(case: Case, device: Device) -> set[str]:
    """The features of a device that the plan relies on."""
    sent, incoming = case.streams_from.get(device.id, []), case.streams_to.get(device.id, [])
    found: set[str] = {*(s.protocol for s in (*sent, *incoming)), *(s.codec for s in sent)}
    if any(s.input for s in incoming):
        found.add("network-input")
    if any(turned(case, s) for s in sent):
        found.add("vertical")
    if any(r.device == device.id and len(r.uplinks) > 1 for r in case.plan.routers):
        found.add("failover")
    lines = (case.uplink_of(p.network) for p in device.ports if p.network) if sent else ()
    if any(line and case.uplinks[line].parts for line in lines):
        found.add("bonding")
    return found


CHECKS = (
    families_differ, protocol_not_taken, too_many_decoded, firmware_too_old, too_many_pictures,
    canvas_not_composed,
)  # fmt: skip
