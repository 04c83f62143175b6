"""How each stream gets through: the answers to every question of the way, and the journey of its call hop by hop."""

from typing import Literal

from humble_relay.core.frozen import Frozen
from humble_relay.core.judgement import answers
from humble_relay.core.judging.answer import WEAKEST, Answer, State
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Caller, Stream, Transport
from humble_relay.core.reach.exposure import open_ports
from humble_relay.core.reach.routing.call_hops import ConnectionTrace, WaypointKind
from humble_relay.core.reach.trace.connection_trace import connection_traces
from humble_relay.core.uplinks.failover_reach import changed_journeys

COLUMNS: tuple[tuple[str, tuple[str, ...]], ...] = (
    (
        "Address",
        ("stream-address", "local-address", "far-address", "links-mixed-up", "srt-settings", "key-missing"),
    ),
    ("Fixed", ("address-may-move",)),
    ("Route", ("networks-apart", "no-way-out", "far-way-out", "cut-off")),
    ("Outbound", ("not-let-out", "sign-in-page")),
    ("Passes", ("kept-apart", "packets-too-large")),
    ("Inbound", ("not-let-in", "sides-do-not-meet")),
    ("Device", ("firewall-in-the-box", "clock-not-set")),
    ("Failover", ("spare-does-not-reach",)),
)
"""The questions of a stream's way, by what they are about."""
_HEADING = {check: heading for heading, checks in COLUMNS for check in checks}
_PARTS = {
    "not-let-out": "out",
    "kept-apart": "apart",
    "not-let-in": "in",
    "firewall-in-the-box": "door",
    "sign-in-page": "sign-in",
}


class AnswerCell(Frozen):
    """What is answered under one heading about a stream: the weakest, and its finding; None where nothing is asked."""

    state: State | None
    finding: str = ""


_NOT_ASKED = AnswerCell(state=None)


class WaypointLine(Frozen):
    """One hop of a journey as it is drawn: what happens there, and what is said where it does not hold."""

    kind: WaypointKind
    says: str
    state: State
    why: str = ""
    finding: str = ""


class JourneyLine(Frozen):
    """A call from end to end: who calls whom for what, its hops, and the one at which it ends for sure."""

    title: str
    waypoints: tuple[WaypointLine, ...]
    ends_at: int | None


class StreamReach(Frozen):
    """A stream: its answers under each heading, and its journeys."""

    stream: str
    name: str
    calls: str
    may_choose: bool
    """Whether either end may call."""
    chosen: Caller | None
    listens_port: int | None
    """The port that its listener is set to, where it is called by an address; None: as the address and the forward say."""
    media_over: Transport | None
    asks_for_media: bool
    """Whether it is RTSP, whose media may come by TCP or UDP."""
    cells: tuple[AnswerCell, ...]
    journeys: tuple[JourneyLine, ...] | None
    """Its calls, hop by hop; None where they come when they are looked at."""
    spare: JourneyLine | None


class OpenLine(Frozen):
    """An exposed port, in words."""

    router: str
    opening: str
    to: str
    why: str
    key: Literal["asks for a key", "asks for none", "not needed"]
    finding: str


_AT_FULL_HEIGHT = 12
"""Streams whose calls are told at once: those that break first. Of a plan with more, the rest is told when it is looked at."""


def reach_of_streams(case: Case) -> tuple[StreamReach, ...]:
    """Every stream's reach, in the plan's order; with the calls of those that are looked at first."""
    cells = {s.id: _cells(case, s) for s in case.streams}
    breaks = [s.id for s in case.streams if any(c.state == "fails" for c in cells[s.id])]
    told = set([*breaks, *cells][:_AT_FULL_HEIGHT])
    return tuple(_reach(case, s, cells[s.id], s.id in told) for s in case.streams)


def reach_of(case: Case, stream: Stream) -> StreamReach:
    """The reach of a stream, with its calls."""
    return _reach(case, stream, _cells(case, stream), True)


def _reach(case: Case, stream: Stream, cells: tuple[AnswerCell, ...], told: bool) -> StreamReach:
    found = connection_traces(case).get(stream.id, ())
    spare = changed_journeys(case).get(stream.id) if told else None
    call = found[0].call if found else None
    return StreamReach.model_construct(
        stream=stream.id,
        name=stream.name,
        calls="both call a service" if stream.protocol == "web" else f"{call.caller.name} calls {call.listener.name}" if call else "between services",
        may_choose=stream.protocol == "srt" and bool(found),
        chosen=stream.caller,
        listens_port=stream.listens_port,
        media_over=stream.media_over,
        asks_for_media=stream.protocol == "rtsp",
        cells=cells,
        journeys=tuple(_line(j, stream.id) for j in found) if told else None,
        spare=_line(spare.then, "") if spare else None,
    )  # fmt: skip


def _cells(case: Case, stream: Stream) -> tuple[AnswerCell, ...]:
    by_thing = answers(case).by_thing
    about = [
        *by_thing.get(("link", stream.id), ()),
        *(a for d in (stream.from_device, stream.to_device) for a in by_thing.get(("device", d), ()) if a.thing.part == stream.id),
    ]  # fmt: skip
    under: dict[str, list[Answer]] = {heading: [] for heading, _ in COLUMNS}
    for answer in about:
        if answer.check in _HEADING:
            under[_HEADING[answer.check]].append(answer)
    cells = []
    for found in under.values():
        worst = min(found, key=lambda a: WEAKEST.index(a.state), default=None)
        cells.append(
            AnswerCell.model_construct(state=worst.state, finding=worst.id if worst.say else "")
            if worst
            else _NOT_ASKED
        )
    return tuple(cells)


def _line(journey: ConnectionTrace, stream: str) -> JourneyLine:
    call = journey.call
    lines = []
    for at in journey.waypoints:
        words = at.verdict.say() if at.verdict.say and at.verdict.state != "holds" else None
        want = at.verdict.want.question if at.verdict.want else ""
        part = _PARTS.get(at.question)
        told = stream and part and at.verdict.say and at.verdict.state in ("fails", "doubtful")
        lines.append(
            WaypointLine.model_construct(kind=at.kind, says=at.says, state=at.verdict.state, why=words.wrong if words else want,
                         finding=f"{at.question}:{stream}:{part}" if told else "")
        )  # fmt: skip
    to = "its service" if call.service else call.listener.name
    return JourneyLine.model_construct(
        title=f"{call.caller.name} calls {to}, {call.wants}", waypoints=tuple(lines), ends_at=journey.ends_at
    )


def opened_to_the_world(case: Case) -> tuple[OpenLine, ...]:
    """Every port that the internet reaches, in words."""
    return tuple(
        OpenLine(
            router=o.router.name,
            opening=f"{o.forward.transport.upper()} {o.forward.port}",
            to=f"{o.device.name}, {o.forward.to_address}" if o.device else f"nobody, {o.forward.to_address}",
            why=", ".join(dict.fromkeys(s.name for s in o.streams)) or "no stream needs it",
            key="asks for a key" if o.keyed else "asks for none" if o.streams else "not needed",
            finding=f"open-to-the-world:{o.router.id}:{o.forward.transport}-{o.forward.port}-{n}",
        )
        for n, o in enumerate(open_ports(case))
    )
