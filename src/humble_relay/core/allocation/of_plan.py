"""The choice that a plan leaves: what goes out to services, as it is and as it might be."""

import math
from collections.abc import Iterator
from typing import NamedTuple

from humble_relay.core.allocation.allocation_problem import (
    Encoded,
    Outgoing,
    RelayRoom,
    SenderRoom,
    ToAllocate,
)
from humble_relay.core.egress.outbound import in_the_cloud, on_the_internet, router_out, uplink_out
from humble_relay.core.endpoints.calls import called
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.load.stream_load import load, loads
from humble_relay.core.load.uplink_demand import demands
from humble_relay.core.picture.bitrate import suggested_bitrate
from humble_relay.core.picture.shrinks import smaller_formats
from humble_relay.core.plan import Device, HeadroomRule, Protocol, Router, Stream
from humble_relay.core.plan.video import Codec, VideoFormat, frames_per_second
from humble_relay.core.reach.hop_answers.hop_verdicts import let_out
from humble_relay.core.uplinks.policy_routes import line_rules
from humble_relay.core.upload.headroom import uploads

STEP_MBPS = 0.5
LEAST_MBPS = 0.5


class Delivery(NamedTuple):
    """A picture that goes to a destination now: the stream that ends there, and the push to a relay that feeds it, if one does."""

    last: Stream
    push: Stream | None

    @property
    def from_us(self) -> Stream:
        """The stream that leaves the sender."""
        return self.push or self.last


@analysis
def deliveries(case: Case) -> tuple[Delivery, ...]:
    """Every picture that goes from a box of ours to a service where it ends, straight or by one relay."""
    return tuple(_each(case))


def _each(case: Case) -> Iterator[Delivery]:
    for stream in case.streams:
        sender, taker = case.devices[stream.from_device], case.devices[stream.to_device]
        ends = on_the_internet(taker) and taker.ingest and not case.streams_from.get(taker.id)
        if not ends or stream.protocol == "web" or (in_the_cloud(taker) and taker.encoding):
            continue
        if not in_the_cloud(sender):
            yield Delivery(stream, None)
            continue
        feeds = [
            s for s in case.streams_to.get(sender.id, ()) if not in_the_cloud(case.devices[s.from_device])
        ]
        alike = [s for s in feeds if s.format == stream.format] or feeds
        if alike:
            yield Delivery(stream, alike[0])


class WhatIf(NamedTuple):
    """One thing of a plan taken for another than it is, to see what it costs."""

    any_picture_of: str = ""
    """The service whose lowest picture that will do is not asked for."""
    any_bitrate_of: str = ""
    """The service that takes every bitrate."""
    school: HeadroomRule | None = None
    past_low_end: float = 0.0
    """By how much of the way from the low end of its worst hour to the school's allowance a line may be asked for more, 0 to 1."""


AS_IT_IS = WhatIf()


def problem_of(case: Case, but: WhatIf = AS_IT_IS) -> ToAllocate:
    """What the optimum is sought of: the upload that the headroom rule allows of each line, less what goes by it besides."""
    going = deliveries(case)
    moving = {g.from_us.id for g in going}
    routers: dict[str, Router] = {}
    senders: dict[str, SenderRoom] = {}
    for g in going:
        device = case.devices[g.from_us.from_device]
        router = router_out(case, device)
        if router is None or not router.uplinks or device.encoding is None:
            continue
        routers[router.id] = router
        fixed = [s for s in case.streams_from.get(device.id, ()) if s.id not in moving]
        pictures = {(s.format, s.video_mbps) for s in fixed}
        can = device.encoding
        senders[device.id] = SenderRoom(
            device.id, router.id, max(0, can.destinations - len(fixed)), max(1, can.channels - len(pictures))
        )
    relays = {
        d.id: RelayRoom(d.id, max(0, (d.encoding.destinations if d.encoding else 0) - _others_from(case, d, going)), min(d.encoding.max_mbps, d.ingest.max_mbps or math.inf))
        for d in case.devices.values()
        if in_the_cloud(d) and d.encoding and d.ingest
    }  # fmt: skip
    outgoing = tuple(_outgoing(case, g, relays, but) for g in going if g.from_us.from_device in senders)
    steering = frozenset(id for id, router in routers.items() if steers(case, router))
    rooms = {
        line: max(0.0, may_mbps(case, line, but) - besides_mbps(case, line))
        for line in sorted({line for router in routers.values() for line in router.uplinks})
    }
    besides: dict[str, float] = {}
    for id, router in routers.items():
        if (
            id not in steering and len(router.uplinks) > 1
        ):  # what else it sends goes by whichever line is first
            besides[id] = _besides(case, router)
            first = router.uplinks[0]
            rooms[first] = min(rooms[first] + besides[id], may_mbps(case, first, but))
    return ToAllocate(
        outgoing,
        tuple(senders.values()),
        tuple(relays.values()),
        rooms,
        {id: router.uplinks for id, router in routers.items()},
        steering,
        besides,
    )


def steers(case: Case, router: Router) -> bool:
    """Whether its router can send single streams by a line of their own; where nobody looked, whether the plan has it do so."""
    if router.steers is not None:
        return router.steers
    return any(rule.router == router for rule in line_rules(case))


def may_mbps(case: Case, line: str, but: WhatIf = AS_IT_IS) -> float:
    """What a line can be asked for in all without a doubt, in Mb/s: a school's allowance (the chosen one's), or the low end of
    the worst hour where that is less."""
    upload = uploads(case)[line]
    school = but.school or upload.chosen
    allowed = next((a.mbps.value for a in upload.allowances if a.school == school), 0.0)
    sure = min(allowed, min((h.low_mbps or 0.0 for h in upload.measured), default=allowed))
    return sure + but.past_low_end * (allowed - sure)


def besides_mbps(case: Case, line: str) -> float:
    """What goes by a line besides the pictures that go to services, in Mb/s."""
    moving = {g.from_us.id for g in deliveries(case)}
    return sum(loads(case)[s.id].total.value for s in demands(case)[line].streams if s.id not in moving)


def _besides(case: Case, router: Router) -> float:
    """The same, of what one router sends."""
    moving = {g.from_us.id for g in deliveries(case)}
    fixed = (s for line in router.uplinks for s in demands(case)[line].streams if s.id not in moving)
    return sum(
        loads(case)[s.id].total.value
        for s in fixed
        if router_out(case, case.devices[s.from_device]) == router
    )


def _others_from(case: Case, relay: Device, going: tuple[Delivery, ...]) -> int:
    ours = {g.last.id for g in going}
    return sum(s.id not in ours for s in case.streams_from.get(relay.id, ()))


def _outgoing(case: Case, going: Delivery, relays: dict[str, RelayRoom], but: WhatIf) -> Outgoing:
    last, sender = going.last, case.devices[going.from_us.from_device]
    end = case.devices[last.to_device]
    aim = next((a for a in case.plan.aims if a.end == end.id), None)
    lowest = aim.lowest if aim and end.id != but.any_picture_of else None
    by = tuple(r for r in relays if repeats(case, going, case.devices[r]))
    direct = spoken(case, sender, end, last) is not None
    return Outgoing(
        id=last.id,
        name=end.name,
        sender=sender.id,
        priority=(aim.priority if aim else 50) + (100 if aim and aim.need == "wished" else 0),
        choices=tuple(_choices(case, going, lowest, math.inf if end.id == but.any_bitrate_of else None)),
        relays=by,
        direct=direct,
        end=end.id,
        must=aim is None or aim.need != "wished",
    )


def spoken(case: Case, sender: Device, taker: Device, like: Stream) -> Protocol | None:
    """The protocol by which one sends to the other: the first that the receiver takes, the sender speaks, and the line that it
    leaves by is not known to stop. `like` is a stream of the picture."""
    takes = taker.ingest.protocols if taker.ingest else ()
    line = uplink_out(case, sender, like)
    for protocol in takes:
        if (
            not sender.encoding
            or protocol not in sender.encoding.protocols
            or protocol in ("rtsp", "ndi", "web")
        ):
            continue
        ends = {
            "from_device": sender.id,
            "to_device": taker.id,
            "protocol": protocol,
            "address": "",
            "caller": None,
        }
        call = called(case, like.model_copy(update=ends))
        if line is None or let_out(case, call, case.uplinks[line]).state != "fails":
            return protocol
    return None


def repeats(case: Case, going: Delivery, relay: Device) -> bool:
    """Whether a relay can be sent the picture and hand it on to where it goes."""
    sender, end = case.devices[going.from_us.from_device], case.devices[going.last.to_device]
    return (
        relay.id != end.id
        and spoken(case, sender, relay, going.last) is not None
        and spoken(case, relay, end, going.last) is not None
    )


def _choices(
    case: Case, going: Delivery, lowest: VideoFormat | None, takes_mbps: float | None
) -> Iterator[Encoded]:
    """The pictures that are no smaller than the lowest that will do and that both ends take, each at its least, its suggested
    and its most bitrate, which counts one more than the least."""
    stream, sender = going.from_us, case.devices[going.from_us.from_device]
    ingest = case.devices[going.last.to_device].ingest
    assert ingest and sender.encoding
    wanted = _wanted(case, going)
    most = min(sender.encoding.max_mbps, takes_mbps or ingest.max_mbps or math.inf)
    codecs: list[Codec] = [c for c in sender.encoding.codecs if c in ingest.codecs] or [going.last.codec]
    seen = set()
    for fmt in (wanted, *smaller_formats(wanted)):
        if ingest.accepts.refusal(fmt) or (lowest and _less(fmt, lowest)):
            continue
        for codec in codecs:
            fit = suggested_bitrate(fmt, codec, case.plan.show.content, case.figures)
            for mbps, share in ((fit.low, 0.0), (fit.suggested.value, 0.6), (fit.high, 1.0)):
                rate = math.floor(min(mbps, most) / STEP_MBPS + 1e-9) * STEP_MBPS
                if rate < fit.low - 1e-9:
                    rate = round(math.ceil(fit.low * 10) / 10, 1)
                if rate > most or rate < LEAST_MBPS or (fmt, codec, rate) in seen:
                    continue
                seen.add((fmt, codec, rate))
                made = stream.model_copy(update={"format": fmt, "codec": codec, "video_mbps": rate})
                yield Encoded(
                    fmt, codec, rate, load(made, case.figures).total.value, 20 + format_quality(fmt) + share
                )


def _wanted(case: Case, going: Delivery) -> VideoFormat:
    """The largest picture that is asked for: the brief's, where the stream has its shape, else the stream's own."""
    own, brief = going.last.format, case.plan.show.format
    if brief and brief.width * own.height == own.width * brief.height and not _less(brief, own):
        return brief
    if brief and brief.width * own.width == brief.height * own.height and going.last.layout != "full":
        turned = own.model_copy(update={"width": brief.height, "height": brief.width})
        return turned if not _less(turned, own) else own
    return own


def _less(a: VideoFormat, b: VideoFormat) -> bool:
    return a.width * a.height < b.width * b.height or frames_per_second(a.rate) < frames_per_second(b.rate)


def format_quality(fmt: VideoFormat) -> float:
    """How good a format looks: a doubling of pixels or of frames counts one and a half, against 720p25 (common practice, no
    source)."""
    return 1.5 * math.log2(fmt.width * fmt.height / 921_600) + 1.5 * math.log2(
        float(frames_per_second(fmt.rate)) / 25
    )
