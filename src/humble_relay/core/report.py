"""The report: every analysis run once over a plan and its survey."""

from collections.abc import Iterable
from datetime import datetime
from typing import Literal

from humble_relay.core.capacity import fit, platform  # noqa: F401  (their rules register on import)
from humble_relay.core.capacity.fit import demands
from humble_relay.core.capacity.load import Load, loads
from humble_relay.core.capacity.upload import Upload, uploads
from humble_relay.core.edits import Edit, apply
from humble_relay.core.findings import STAGES, Finding, Severity, Stage, judge
from humble_relay.core.frozen import Frozen
from humble_relay.core.index import PlanIndex
from humble_relay.core.network import addresses  # noqa: F401
from humble_relay.core.network.stream_address import typed_address
from humble_relay.core.network.strip import Strip, strips
from humble_relay.core.picture.bitrate import suggested_bitrate
from humble_relay.core.plan import Plan, Stream
from humble_relay.core.show.bring import StockLine, stock_lines
from humble_relay.core.show.order import Task, order
from humble_relay.core.signal import assigned, ends, inputs, senders, speeds  # noqa: F401
from humble_relay.core.signal.cables import runs
from humble_relay.core.signal.canvases import StreamCanvas, canvases
from humble_relay.core.signal.chart import SignalMap
from humble_relay.core.signal.making import Route
from humble_relay.core.signal.map import signal_map
from humble_relay.core.signal.sound import Sound, sounds
from humble_relay.core.stock import Stock
from humble_relay.core.survey import Survey
from humble_relay.core.working import Working


class StageState(Frozen):
    """One stage of the work: whether anything is in it, and its worst finding."""

    stage: Stage
    state: Literal["empty", "begun"]
    worst: Severity | None
    findings: int


class UplinkReport(Frozen):
    """One uplink: what was measured, what is asked of it, what is left under the chosen school."""

    upload: Upload
    loads: tuple[Load, ...]
    asked: Working
    left_mbps: float | None


class CableReport(Frozen):
    """One cable: what it carries and how far it would."""

    cable: str
    name: str
    format: str | None
    rate: Working | None
    reach: Working


class StreamReport(Frozen):
    """A stream: where it goes, what it weighs, and the bitrate its picture deserves (Mb/s)."""

    stream: str
    address: str | None
    has_key: bool
    load: Load
    suggested: Working
    low_mbps: float
    high_mbps: float


class Report(Frozen):
    """All that can be said about a plan."""

    as_of: datetime
    findings: tuple[Finding, ...]
    stages: tuple[StageState, ...]
    uplinks: tuple[UplinkReport, ...]
    streams: tuple[StreamReport, ...]
    cables: tuple[CableReport, ...]
    strips: tuple[Strip, ...]
    order: tuple[Task, ...]
    map: SignalMap
    sounds: tuple[Sound, ...]
    stock: tuple[StockLine, ...]
    canvases: tuple[StreamCanvas, ...]


class Trial(Frozen):
    """What some edits would change: the findings that go, those that come, and the report after."""

    gone: tuple[Finding, ...]
    come: tuple[Finding, ...]
    report: Report


class JudgedRoute(Frozen):
    """A route of the finder, and what it would change among the findings."""

    route: Route
    gone: tuple[Finding, ...]
    come: tuple[Finding, ...]


def report(plan: Plan, survey: Survey, as_of: datetime, stock: Stock | None = None) -> Report:
    """The report on a plan as of a moment. The same four always give the same report."""
    return report_on(PlanIndex(plan, survey, as_of, stock))


def report_on(index: PlanIndex) -> Report:
    """The report on an index already built."""
    findings = judge(index)
    return Report(
        as_of=index.as_of,
        findings=tuple(findings),
        stages=tuple(_stage(index, stage, findings) for stage in STAGES),
        uplinks=tuple(_uplink(index, id) for id in index.uplinks),
        streams=tuple(_stream(index, s) for s in index.streams),
        cables=tuple(
            CableReport(
                cable=r.cable.id,
                name=index.link_name(r.cable.id),
                format=r.format.label if r.format else None,
                rate=r.rate,
                reach=r.reach,
            )
            for r in index.once(runs)
        ),
        strips=strips(index),
        order=index.once(order),
        map=signal_map(index),
        sounds=sounds(index),
        stock=stock_lines(index),
        canvases=canvases(index),
    )


def try_edits(
    plan: Plan, survey: Survey, edits: Iterable[Edit], as_of: datetime, stock: Stock | None = None
) -> Trial:
    """What the edits would change, without keeping them. Raises EditRefused when they cannot be made."""
    before = judge(PlanIndex(plan, survey, as_of, stock))
    after = report(apply(plan, edits), survey, as_of, stock)
    gone, come = _difference(before, after.findings)
    return Trial(gone=gone, come=come, report=after)


def judged(plan: PlanIndex, routes: Iterable[Route]) -> tuple[JudgedRoute, ...]:
    """The routes, each tried on a copy of the plan; those that stop nothing come first."""
    before, found = judge(plan), []
    for route in routes:
        after = judge(PlanIndex(apply(plan.plan, route.edits), plan.survey, plan.as_of, plan.stock))
        gone, come = _difference(before, after)
        found.append(JudgedRoute(route=route, gone=gone, come=come))
    return tuple(sorted(found, key=lambda r: sum(f.severity == "stops" for f in r.come)))


def _difference(
    before: Iterable[Finding], after: Iterable[Finding]
) -> tuple[tuple[Finding, ...], tuple[Finding, ...]]:
    """The findings that go, and those that come."""
    old, new = {f.id: f for f in before}, {f.id: f for f in after}
    return tuple(f for id, f in old.items() if id not in new), tuple(
        f for id, f in new.items() if id not in old
    )


def _stage(index: PlanIndex, stage: Stage, findings: list[Finding]) -> StageState:
    plan, here = index.plan, [f for f in findings if f.stage == stage]
    begun = {
        "brief": plan.show.starts_at is not None or plan.show.format is not None,
        "survey": bool(index.survey.measurements),
        "gear": bool(plan.devices),
        "signal": bool(plan.links),
        "addresses": bool(plan.networks),
        "bandwidth": bool(index.streams),
        "papers": bool(plan.links),
    }[stage]
    worst = here[0].severity if here else None
    return StageState(stage=stage, state="begun" if begun else "empty", worst=worst, findings=len(here))


def _uplink(index: PlanIndex, id: str) -> UplinkReport:
    upload, demand, each = index.once(uploads)[id], index.once(demands)[id], index.once(loads)
    allowed = upload.allowed
    return UplinkReport(
        upload=upload,
        loads=tuple(each[s.id] for s in demand.streams),
        asked=demand.total,
        left_mbps=None if allowed is None else round(allowed.value - demand.total.value, 2),
    )


def _stream(index: PlanIndex, stream: Stream) -> StreamReport:
    fit_ = suggested_bitrate(stream.format, stream.codec, index.plan.show.content, index.figures)
    return StreamReport(
        stream=stream.id,
        address=typed_address(index, stream),
        has_key=bool(stream.key),
        load=index.once(loads)[stream.id],
        suggested=fit_.suggested,
        low_mbps=fit_.low,
        high_mbps=fit_.high,
    )
