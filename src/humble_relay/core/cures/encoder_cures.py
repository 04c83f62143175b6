"""What may mend a stream that its encoder cannot send, or whose ends are set apart."""

from collections.abc import Iterator

from humble_relay.core.catalogue.cables import PROTOCOL_WORDS
from humble_relay.core.cures.cure import Cure, Cures, set_link, stream_of
from humble_relay.core.endpoints.calls import call_of
from humble_relay.core.endpoints.other_ends import ends_differ
from humble_relay.core.endpoints.stream_limits import (
    encoder_bitrate,
    encoder_codec,
    encoder_destinations,
    encoder_sends,
)
from humble_relay.core.judging.answer import Thing
from humble_relay.core.judging.case import Case


def _spoken(case: Case, thing: Thing) -> Iterator[Cure]:
    """What both ends speak, at an address that the plan builds where the typed one is of another protocol."""
    stream = stream_of(case, thing)
    can, taker = case.devices[stream.from_device].encoding, case.devices[stream.to_device]
    taken = taker.ingest.protocols if taker.ingest else taker.decoding.protocols if taker.decoding else ()
    for protocol in can.protocols if can else ():
        if protocol in taken and protocol != "paired":
            title, speak = f"Send {PROTOCOL_WORDS[protocol]}", set_link(stream.id, "protocol", protocol)
            yield Cure(title=title, edits=(speak,))
            if stream.address:
                how = "The typed address goes: it is of the other protocol."
                yield Cure(title=title, how=how, edits=(speak, set_link(stream.id, "address", "")))


def _encoded(case: Case, thing: Thing) -> Iterator[Cure]:
    stream = stream_of(case, thing)
    can = case.devices[stream.from_device].encoding
    for codec in can.codecs if can else ():
        yield Cure(title=f"Send {codec}", edits=(set_link(stream.id, "codec", codec),))


def _at_its_most(case: Case, thing: Thing) -> Iterator[Cure]:
    stream = stream_of(case, thing)
    can = case.devices[stream.from_device].encoding
    if can:
        yield Cure(
            title=f"Send {can.max_mbps:g} Mb/s", edits=(set_link(stream.id, "video_mbps", can.max_mbps),)
        )


def _fewer_pushes(case: Case, thing: Thing) -> Iterator[Cure]:
    """Without backup ingests; or the last streams sent by an encoder that has room for them."""
    streams, can = case.streams_from[thing.id], case.devices[thing.id].encoding
    if can is None:
        return
    backed = tuple(set_link(s.id, "backup", False) for s in streams if s.backup)
    if backed and len(streams) <= can.destinations:
        yield Cure(title="Send to no backup ingest", edits=backed)
    over = streams[can.destinations :]
    for device in case.devices.values():
        room = (
            device.encoding.destinations - len(case.streams_from.get(device.id, ())) if device.encoding else 0
        )
        if device.id != thing.id and over and room >= len(over):
            moved = tuple(set_link(s.id, "from_device", device.id) for s in over)
            yield Cure(title=f"Send {len(over)} of them from {device.name}", edits=moved)


def _set_alike(case: Case, thing: Thing) -> Iterator[Cure]:
    listener = call_of(case, stream_of(case, thing)).listener.name
    edit = set_link(thing.id, "set_there", None)
    yield Cure(title=f"{listener} is set to what the plan has", needs=f"typing it in at {listener}", edits=(edit,))  # fmt: skip


CURES: Cures = {
    encoder_sends: _spoken,
    encoder_codec: _encoded,
    encoder_bitrate: _at_its_most,
    encoder_destinations: _fewer_pushes,
    ends_differ: _set_alike,
}
