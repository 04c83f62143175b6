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
from humble_relay.core.uplinks.mobile_data import card_allows_mbps
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
        pictures = {(s.format, s.codec, s.video_mbps, s.layout) for s in fixed}
        can, taken = device.encoding, len(fixed) + sum(s.backup for s in fixed)
        senders[device.id] = SenderRoom(
            device.id, router.id, max(0, can.destinations - taken), max(0, can.channels - len(pictures))
        )
    relays = {
        d.id: RelayRoom(d.id, max(0, d.encoding.destinations - _others_from(case, d, going)), min(d.encoding.max_mbps, d.ingest.max_mbps or math.inf))
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
    """What a line can be asked for in all without a doubt, in Mb/s: a school's allowance (the chosen one's), what its card has data for,
    or the low end of the worst hour, whichever is least."""
    upload = uploads(case)[line]
    school = but.school or upload.chosen
    allowed = next((a.mbps.value for a in upload.allowances if a.school == school), 0.0)
    if (by_card := card_allows_mbps(case, case.uplinks[line])) is not None:
        allowed = min(allowed, by_card)
    sure = min(allowed, min((h.low_mbps or 0.0 for h in upload.measured), default=allowed))
    return sure + but.past_low_end * (allowed - sure)


def besides_mbps(case: Case, line: str) -> float:
    """What goes by a line besides the pictures that go to services, in Mb/s."""
    moving = {g.from_us.id for g in deliveries(case)}
    return sum(loads(case)[s.id].peak_mbps for s in demands(case)[line].streams if s.id not in moving)


def _besides(case: Case, router: Router) -> float:
    """The same, of what one router sends."""
    moving = {g.from_us.id for g in deliveries(case)}
    fixed = (s for line in router.uplinks for s in demands(case)[line].streams if s.id not in moving)
    return sum(
        loads(case)[s.id].peak_mbps for s in fixed if router_out(case, case.devices[s.from_device]) == router
    )


def _others_from(case: Case, relay: Device, going: tuple[Delivery, ...]) -> int:
    ours = {g.last.id for g in going}
    return sum(1 + s.backup for s in case.streams_from.get(relay.id, ()) if s.id not in ours)


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
        priority=aim.priority if aim else 50,
        choices=tuple(_choices(case, going, lowest, by, math.inf if end.id == but.any_bitrate_of else None)),
        relays=by,
        direct=direct,
        end=end.id,
        must=aim is None or aim.need != "wished",
        picture=going.from_us.layout,
        pushed_as=_carried(going),
        backup=last.backup,
        pushed_twice=frozenset(r for r in by if (push := push_there(case, going, r)) and push.backup),
    )


def _carried(going: Delivery) -> str:
    """What a push of the picture to a relay carries besides it: its sound, and how far its bitrate varies."""
    stream = going.from_us
    varies = f" {stream.peak_mbps / stream.video_mbps:.3f}" if stream.peak_mbps else ""
    return f"{stream.audio_kbps:g} kb/s{varies}"


def straight(case: Case, going: Delivery, choice: Encoded) -> Stream:
    """The stream that goes to the destination without a relay, in a picture."""
    sender, last = going.from_us.from_device, going.last
    ends = {"from_device": sender, "layout": going.from_us.layout}
    if last.from_device != sender:
        protocol = spoken(case, case.devices[sender], case.devices[last.to_device], last)
        ends["protocol"] = protocol or last.protocol
    return encoded(last.model_copy(update=ends), choice)


def pushed(case: Case, going: Delivery, relay: str, choice: Encoded) -> Stream:
    """The push to a relay that carries a picture, but for its id, name and line: as one that its sender makes already, else as the
    stream that goes out now, once, by the protocol that the relay takes first. Its key is still to be typed where it is new."""
    now, sender = going.from_us, case.devices[going.from_us.from_device]
    known = push_there(case, going, relay)
    carried: dict[str, object] = {
        "layout": now.layout,
        "audio_kbps": now.audio_kbps,
        "video_mbps": now.video_mbps,
        "peak_mbps": now.peak_mbps,
    }
    if known is None:
        protocol = spoken(case, sender, case.devices[relay], going.last) or going.last.protocol
        carried |= {"to_device": relay, "protocol": protocol, "backup": False}
        carried |= {"address": "", "key": None, "stream_id": ""}
    return encoded((known or now).model_copy(update=carried), choice)


def push_there(case: Case, going: Delivery, relay: str) -> Stream | None:
    """A push that the sender of a picture makes to a relay already: its own, else one of a picture that is composed alike, else any."""
    now = going.from_us
    if now.to_device == relay:
        return now
    there = [s for s in case.streams_from.get(now.from_device, ()) if s.to_device == relay]
    return next((s for s in there if s.layout == now.layout), next(iter(there), None))


def encoded(stream: Stream, choice: Encoded) -> Stream:
    """The stream in another picture; its peak bitrate goes along."""
    peak = stream.peak_mbps and round(choice.video_mbps * stream.peak_mbps / stream.video_mbps, 2)
    picture = {"format": choice.format, "codec": choice.codec, "video_mbps": choice.video_mbps}
    return stream.model_copy(update={**picture, "peak_mbps": peak and max(peak, choice.video_mbps)})


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
    case: Case,
    going: Delivery,
    lowest: VideoFormat | None,
    relays: tuple[str, ...],
    takes_mbps: float | None,
) -> Iterator[Encoded]:
    """The pictures that are no smaller than the lowest that will do and that both ends take, each at its least, its suggested
    and its most bitrate, which counts one more than the least."""
    sender = case.devices[going.from_us.from_device]
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
                bare = Encoded(fmt, codec, rate, 0.0, 20 + format_quality(fmt) + share)
                yield bare._replace(
                    load_mbps=load(straight(case, going, bare), case.figures).peak_mbps,
                    relayed_mbps=tuple((relay, _relayed(case, going, relay, bare)) for relay in relays),
                )


def _relayed(case: Case, going: Delivery, relay: str, choice: Encoded) -> float | None:
    """What a picture weighs as a push to a relay, in Mb/s; None where the relay does not take it, or does not hand it on."""
    device = case.devices[relay]
    assert device.ingest and device.encoding
    taken = choice.codec in device.ingest.codecs and choice.codec in device.encoding.codecs
    if not taken or device.ingest.accepts.refusal(choice.format):
        return None
    return load(pushed(case, going, relay, choice), case.figures).peak_mbps


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
