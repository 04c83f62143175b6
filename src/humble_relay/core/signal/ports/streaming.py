"""Whether the two ends of a stream or radio link can talk, with the firmware and the channels they have."""

from collections.abc import Iterator

from humble_relay.core.catalogue.cables import PROTOCOL_WORDS
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.finding import Fault, Fix, rule
from humble_relay.core.judging.working import Step, Working
from humble_relay.core.plan import Device
from humble_relay.core.plan.edits import SetField
from humble_relay.core.signal.flow.canvases import turned
from humble_relay.core.signal.flow.firmware import lacks_firmware


@rule("families-differ", "signal")
def families_differ(case: Case) -> Iterator[Fault]:
    """Senders and takers of families that do not understand each other."""
    pairs = [(s.id, s.from_device, s.to_device) for s in case.streams if s.protocol == "paired"]
    pairs += [(r.id, case.device_of(r.from_port).id, case.device_of(r.to_port).id) for r in case.radios]
    for link, a, b in pairs:
        sender, taker = case.devices[a], case.devices[b]
        if sender.family and sender.family == taker.family:
            continue
        has = [f"{d.name} is {d.family or 'of no family'}" for d in (sender, taker)]
        yield Fault(
            severity="stops",
            noun="link",
            subject=link,
            wrong=f"{has[0]} and {has[1]}: they do not understand each other.",
            means="The decoder does not list the sender, however often both are restarted.",
            do="Use two boxes of one family, or a protocol that both speak, such as SRT.",
        )


@rule("radio-too-far", "signal")
def radio_too_far(case: Case) -> Iterator[Fault]:
    """Radio links longer than their makers quote for open air, or near it with a wall between."""
    for radio in case.radios:
        ends = [case.device_of(r) for r in (radio.from_port, radio.to_port)]
        quoted = [Step(name=d.name, value=d.range_m, unit="m", source=d.model) for d in ends if d.range_m]
        reach = min((s.value or 0 for s in quoted), default=case.figures["radio-range"])
        far = radio.distance_m > reach
        if not far and not (radio.walls > 1 and radio.distance_m > reach / 2):
            continue
        walls = f" through {radio.walls} wall{'s' if radio.walls > 1 else ''}" if radio.walls else ""
        yield Fault(
            severity="stops" if far else "risks",
            noun="link",
            subject=radio.id,
            wrong=f"{case.link_name(radio.id)} is {radio.distance_m:g} m{walls}; {reach:g} m is quoted for open air.",
            means="It holds while the place is empty, and breaks up when people and their phones come.",
            do="Put the receiver where it sees the transmitter, such as a window, or lay a cable. Local rules decide the power allowed.",
            working=Working(
                name="Range in the open",
                value=reach,
                unit="m",
                steps=tuple(quoted) or (case.figures.step("radio-range"),),
            ),
        )


@rule("protocol-not-taken", "signal")
def protocol_not_taken(case: Case) -> Iterator[Fault]:
    """Streams to a box that does not take that protocol, or not so many."""
    for id, streams in case.streams_to.items():
        taker = case.devices[id]
        if taker.ingest:
            continue
        takes = taker.decoding
        for stream in streams:
            if takes and stream.protocol in takes.protocols:
                continue
            can = (
                f"takes {', '.join(PROTOCOL_WORDS[p] for p in takes.protocols)}"
                if takes
                else "takes no streams"
            )
            both = [
                p
                for p in (takes.protocols if takes else ())
                if (e := case.devices[stream.from_device].encoding) and p in e.protocols and p != "paired"
            ]
            yield Fault(
                severity="stops",
                noun="link",
                subject=stream.id,
                wrong=f"{taker.name} {can}; {stream.name} is {PROTOCOL_WORDS[stream.protocol]}.",
                means="It never appears in the list of sources.",
                do="Send what the box takes, or put a decoder that takes it in between.",
                fixes=tuple(
                    Fix(
                        title=f"Send {PROTOCOL_WORDS[p]}",
                        edits=(SetField(noun="link", id=stream.id, field="protocol", value=p),),
                    )
                    for p in both
                ),
            )
        if takes and len(streams) > takes.at_once:
            yield Fault(
                severity="stops",
                noun="device",
                subject=id,
                wrong=f"{taker.name} takes {takes.at_once} stream{'s' if takes.at_once > 1 else ''} at once; the plan sends it {len(streams)}.",
                means="The last one to connect is refused, or throws out the first.",
                do="Take one out, or decode it in another box.",
            )


@rule("firmware-too-old", "gear")
def firmware_too_old(case: Case) -> Iterator[Fault]:
    """Features in use that need newer firmware than the box has."""
    for device in case.devices.values():
        for feature in sorted(_in_use(case, device)):
            needs = lacks_firmware(device, feature)
            if needs is None:
                continue
            edit = SetField(noun="device", id=device.id, field="firmware", value=needs)
            yield Fault(
                severity="stops",
                noun="device",
                subject=device.id,
                part=feature,
                wrong=f"{device.name} has firmware {device.firmware}; {_FEATURES.get(feature, feature.upper())} needs {needs}.",
                means="The setting is missing from the menu, and nobody remembers that it once had to be updated.",
                do="Update it at home, days before, and try the whole path again. Never on the day.",
                fixes=(Fix(title=f"It has been updated to {needs}", needs="an update", edits=(edit,)),),
            )


@rule("too-many-pictures", "gear")
def too_many_pictures(case: Case) -> Iterator[Fault]:
    """Encoders asked for more different pictures than they have channels, or for a canvas they cannot compose."""
    for id, streams in case.streams_from.items():
        device = case.devices[id]
        can = device.encoding
        if can is None:
            continue
        pictures = {(s.format, s.codec, s.video_mbps, s.layout) for s in streams}
        if len(pictures) > can.channels:
            first = streams[0]
            wanted: dict[str, object] = {"format": first.format.model_dump(mode="json"), "codec": first.codec}
            wanted |= {"video_mbps": first.video_mbps, "layout": first.layout}
            edits = tuple(
                SetField.model_validate({"noun": "link", "id": s.id, "field": f, "value": v})
                for s in streams[1:]
                for f, v in wanted.items()
            )
            yield Fault(
                severity="stops",
                noun="device",
                subject=id,
                part="channels",
                wrong=f"{device.name} encodes {can.channels} picture{'s' if can.channels > 1 else ''} at once; its streams ask for {len(pictures)} different ones.",
                means="Every destination gets the same picture, whatever was set for it.",
                do="Send the same raster, bitrate and codec to all, or use a second encoder.",
                fixes=(Fix(title=f"Send all the picture of {first.name}", edits=edits),),
            )
        for stream in streams:
            if turned(case, stream) and not can.vertical:
                yield Fault(
                    severity="stops",
                    noun="link",
                    subject=stream.id,
                    part="canvas",
                    wrong=f"{device.name} cannot compose an upright canvas; {stream.name} asks for {stream.format.label}.",
                    means="The platform crops the middle of the picture, or refuses it.",
                    do="Feed program to a second encoder that composes a vertical canvas.",
                )


_FEATURES = {"network-input": "an input from the network", "vertical": "a vertical canvas"}


def _in_use(case: Case, device: Device) -> set[str]:
    """The features of a device that the plan relies on."""
    used = {s.protocol for s in case.streams_from.get(device.id, [])}
    used |= {s.codec for s in case.streams_from.get(device.id, [])}  # type: ignore[misc]
    incoming = case.streams_to.get(device.id, [])
    found: set[str] = {*used, *(s.protocol for s in incoming)}
    if any(s.input for s in incoming):
        found.add("network-input")
    if any(turned(case, s) for s in case.streams_from.get(device.id, [])):
        found.add("vertical")
    return found
