"""What may mend the signal path: another setting, another assignment, or another way."""

import math
from collections.abc import Iterator

from humble_relay.core.catalogue.cables import PROTOCOL_WORDS
from humble_relay.core.cures.cure import Cure, Cures, set_link
from humble_relay.core.judging.answer import Thing
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.phrases import listed
from humble_relay.core.places.distances import distance_m, length_of, run_length_m
from humble_relay.core.places.spans import shorter_than_the_way
from humble_relay.core.plan import Cable, Device, Port, Stream
from humble_relay.core.plan.edits import Edit, SetField, SetPort
from humble_relay.core.plan.video import Accepts, VideoFormat
from humble_relay.core.plan.vocabulary import VIDEO
from humble_relay.core.radio.range_of_links import radio_too_far
from humble_relay.core.signal.cabling.port_speeds import (
    no_serial_format,
    port_too_slow,
    serial_rate_too_high,
    usb_too_much,
)
from humble_relay.core.signal.cabling.runs import (
    cable_too_long,
    connector_mismatch,
    couplers_in_the_run,
    couplers_lacking,
    run_broken,
)
from humble_relay.core.signal.finder.alternatives import reroute
from humble_relay.core.signal.flow.canvases import canvas_undecided, source_turned
from humble_relay.core.signal.flow.firmware import needed_for
from humble_relay.core.signal.flow.propagation import flow, network_inputs
from humble_relay.core.signal.flow.sound import microphone_open, mono_one_side
from humble_relay.core.signal.ports.assignment import input_undecided, network_input_dark
from humble_relay.core.signal.ports.coverage import overlay_left_on
from humble_relay.core.signal.ports.formats import (
    format_refused,
    levels_differ,
    protected_picture,
    rate_converted,
)
from humble_relay.core.signal.ports.streaming import (
    families_differ,
    firmware_too_old,
    protocol_not_taken,
    too_many_pictures,
)
from humble_relay.core.timing.lip_sync import lip_sync
from humble_relay.core.timing.together import way_into


def another_way(case: Case, thing: Thing) -> Iterator[Cure]:
    """The ways the finder knows to do without the link, those that need nothing got before others."""
    for route in reroute(case, thing.id).routes:
        adds = f", adds {route.delay_ms:g} ms" if route.delay_ms else ""
        needs = listed(f"a {model}" for model in (*route.to_get, *route.boxes))
        title = f"Run it another way, {route.short}"
        yield Cure(title=title, how=f"{route.title}{adds}", needs=needs, edits=route.edits)


def _long_enough(case: Case, thing: Thing) -> Iterator[Cure]:
    link = case.links[thing.id]
    if isinstance(link, Stream):
        return
    a, b = (case.device_of(ref).place for ref in (link.from_port, link.to_port))
    apart = distance_m(case, a, b)
    if apart is not None:
        field = "length_m" if isinstance(link, Cable) else "distance_m"
        run = run_length_m(case, a, b) if isinstance(link, Cable) else None
        metres = run or math.ceil(apart * 10) / 10
        yield Cure(title=f"Plan {metres:g} m", edits=(set_link(link.id, field, metres),))
    yield from another_way(case, thing)


def _mended(case: Case, thing: Thing) -> Iterator[Cure]:
    yield Cure(title="It is mended", edits=(set_link(thing.id, "broken", False),))
    yield from another_way(case, thing)


def _assigned(case: Case, thing: Thing) -> Iterator[Cure]:
    ref = f"{thing.id}/{thing.part}"
    for connector in case.ports[ref].types:
        edit = SetPort(port=ref, field="assigned", value=connector)
        yield Cure(title=f"Assign it to {connector}", edits=(edit,))


def _onto_an_input(case: Case, thing: Thing) -> Iterator[Cure]:
    stream = case.links[thing.id]
    assert isinstance(stream, Stream)
    taker = case.devices[stream.to_device]
    taken = {s.input for s in case.streams_to[taker.id] if s is not stream}
    free = [
        p for p in network_inputs(taker) if p.id not in taken and f"{taker.id}/{p.id}" not in case.join_at
    ]
    if stream.input:
        free = [case.ports[f"{taker.id}/{stream.input}"], *free]
    for port in dict.fromkeys(free):
        if "network" in port.types:
            yield Cure(title=f"Show it on {port.name}", edits=_to_input(taker, port, stream))


def _to_input(taker: Device, port: Port, stream: Stream) -> tuple[Edit, ...]:
    edits: list[Edit] = []
    if port.type != "network":
        edits.append(SetPort(port=f"{taker.id}/{port.id}", field="assigned", value="network"))
    if stream.input != port.id:
        edits.append(set_link(stream.id, "input", port.id))
    return tuple(edits)


def _taken_format(case: Case, thing: Thing) -> Iterator[Cure]:
    taker, port = case.devices[thing.id], case.ports[f"{thing.id}/{thing.part}"]
    fmt = flow(case).arriving[taker.id][port.id].format
    assert fmt
    nearest = (port.accepts or Accepts()).nearest(fmt)
    if taker.kind == "switcher" and taker.produces and not port.scales:
        nearest = taker.produces
    if nearest:
        yield from _source_set_to(case, thing, nearest)


def _system_rate(case: Case, thing: Thing) -> Iterator[Cure]:
    made = case.devices[thing.id].produces
    fmt = flow(case).arriving[thing.id][thing.part].format
    assert made and fmt
    wanted = fmt.model_copy(update={"rate": made.rate, "scan": made.scan})
    yield from _source_set_to(case, thing, wanted, "that setting in it")


def _source_set_to(case: Case, thing: Thing, wanted: VideoFormat, needs: str = "") -> Iterator[Cure]:
    """The box upstream that decides the format told to make another."""
    source = _maker_of(case, f"{thing.id}/{thing.part}")
    if source:
        edit = SetField(noun="device", id=source.id, field="produces", value=wanted.model_dump(mode="json"))
        yield Cure(title=f"Set {source.name} to {wanted.label}", needs=needs, edits=(edit,))


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


def _feeds(case: Case, device: Device, port: Port) -> bool:
    return port.way == "in" and bool(VIDEO & set(port.types)) and f"{device.id}/{port.id}" in case.join_at


def _unprotected(case: Case, thing: Thing) -> Iterator[Cure]:
    maker = flow(case).arriving[thing.id][thing.part].protected
    if maker:
        off = SetPort(port=maker, field="protected", value=False)
        title = f"Turn it off on {case.port_name(maker)}"
        yield Cure(title=title, needs="a picture whose owner allows it", edits=(off,))


def _one_range(case: Case, thing: Thing) -> Iterator[Cure]:
    sender = flow(case).arriving[thing.id][thing.part].full_range
    if sender:
        yield Cure(
            title="Set the output to limited", edits=(SetPort(port=sender, field="levels", value="limited"),)
        )
    follow = SetPort(port=f"{thing.id}/{thing.part}", field="levels", value=None)
    yield Cure(title="Set the input to follow what comes", needs="an input that can be told", edits=(follow,))


def _overlay_off(_: Case, thing: Thing) -> Iterator[Cure]:
    off = SetPort(port=f"{thing.id}/{thing.part}", field="overlay", value="off")
    yield Cure(title="The overlay is off", needs="a look at the output", edits=(off,))


def _muted(case: Case, thing: Thing) -> Iterator[Cure]:
    edit = SetField(noun="device", id=thing.id, field="microphone.muted", value=True)
    yield Cure(title=f"Mute {case.devices[thing.id].name}'s microphone", edits=(edit,))


def _on_both_sides(_: Case, thing: Thing) -> Iterator[Cure]:
    edit = SetPort(port=f"{thing.id}/{thing.part}", field="both_sides", value=True)
    yield Cure(title="Put it on both sides", edits=(edit,))


def _held_back(case: Case, thing: Thing) -> Iterator[Cure]:
    ways = (way_into(case, case.devices[thing.id], at) for at in flow(case).arriving[thing.id])
    late = min((way.delay_ms for way in ways if way), default=None)
    if late is not None:
        edit = SetPort(port=f"{thing.id}/{thing.part}", field="sound_delay_ms", value=round(late, 1))
        yield Cure(
            title=f"Hold the sound back by {late:.4g} ms", needs="setting it in the box", edits=(edit,)
        )


def _source_as_sent(case: Case, thing: Thing) -> Iterator[Cure]:
    stream = case.links[thing.id]
    assert isinstance(stream, Stream)
    if made := case.devices[stream.from_device].produces:
        phone = case.devices[stream.from_device]
        turned = made.model_copy(update={"width": made.height, "height": made.width})
        held = SetField(noun="device", id=phone.id, field="produces", value=turned.model_dump(mode="json"))
        yield Cure(title=f"Turn {phone.name}", needs="a word to the one who holds it", edits=(held,))
        as_sent = set_link(stream.id, "format", made.model_dump(mode="json"))
        yield Cure(title=f"Make the source {made.width} × {made.height}", edits=(as_sent,))


def _layout(_: Case, thing: Thing) -> Iterator[Cure]:
    yield Cure(title="Shrink it whole into the canvas", edits=(set_link(thing.id, "layout", "fit"),))
    yield Cure(title="Crop the middle", edits=(set_link(thing.id, "layout", "crop"),))


def _counted(case: Case, thing: Thing) -> Iterator[Cure]:
    cable = case.links[thing.id]
    assert isinstance(cable, Cable)
    needed = couplers_lacking(cable, length_of(case, cable) or 0)
    words = f"{needed} coupler{'s' if needed > 1 else ''}"
    yield Cure(title=f"Count {words}", needs=words, edits=(set_link(cable.id, "joints", needed),))


def _spoken_by_both(case: Case, thing: Thing) -> Iterator[Cure]:
    stream = case.links[thing.id]
    assert isinstance(stream, Stream)
    takes, sends = case.devices[stream.to_device].decoding, case.devices[stream.from_device].encoding
    for protocol in takes.protocols if takes else ():
        if sends and protocol in sends.protocols and protocol != "paired":
            title = f"Send {PROTOCOL_WORDS[protocol]}"
            yield Cure(title=title, edits=(set_link(stream.id, "protocol", protocol),))


def _updated(case: Case, thing: Thing) -> Iterator[Cure]:
    needs = needed_for(case.devices[thing.id], thing.part)
    edit = SetField(noun="device", id=thing.id, field="software.firmware", value=needs)
    yield Cure(title=f"It has been updated to {needs}", needs="an update", edits=(edit,))


def _one_picture(case: Case, thing: Thing) -> Iterator[Cure]:
    first, *others = case.streams_from[thing.id]
    wanted = {f: first.model_dump(mode="json")[f] for f in ("format", "codec", "video_mbps", "layout")}
    edits = tuple(set_link(s.id, f, v) for s in others for f, v in wanted.items())
    yield Cure(title=f"Send all the picture of {first.name}", edits=edits)


CURES: Cures = {
    shorter_than_the_way: _long_enough,
    cable_too_long: another_way,
    connector_mismatch: another_way,
    radio_too_far: another_way,
    families_differ: another_way,
    serial_rate_too_high: another_way,
    no_serial_format: another_way,
    port_too_slow: another_way,
    lip_sync: _held_back,
    usb_too_much: another_way,
    run_broken: _mended,
    couplers_in_the_run: _counted,
    input_undecided: _assigned,
    network_input_dark: _onto_an_input,
    format_refused: _taken_format,
    rate_converted: _system_rate,
    protected_picture: _unprotected,
    levels_differ: _one_range,
    overlay_left_on: _overlay_off,
    microphone_open: _muted,
    mono_one_side: _on_both_sides,
    canvas_undecided: _layout,
    source_turned: _source_as_sent,
    protocol_not_taken: _spoken_by_both,
    firmware_too_old: _updated,
    too_many_pictures: _one_picture,
}
