"""The report: every analysis run once over a plan and its survey."""

from collections.abc import Callable, Iterable
from datetime import datetime
from functools import partial
from typing import Any, Literal, TypeVar

from humble_relay.core.capacity import fit, limits  # noqa: F401  (their rules register on import)
from humble_relay.core.capacity.fit import demands
from humble_relay.core.capacity.load import Load, loads
from humble_relay.core.capacity.upload import Upload, uploads
from humble_relay.core.catalogue.stock import Stock
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.finding import STAGES, Finding, Severity, Stage, judge, unanswered, worst_first
from humble_relay.core.judging.working import Working
from humble_relay.core.network import subnets  # noqa: F401
from humble_relay.core.network.stream_addresses import typed_address
from humble_relay.core.patience import Stopped
from humble_relay.core.picture.bitrate import suggested_bitrate
from humble_relay.core.plan import Plan, Stream
from humble_relay.core.plan.edits import Edit
from humble_relay.core.plan.survey import Survey
from humble_relay.core.show.order import Task, order
from humble_relay.core.show.packing import StockLine, stock_lines
from humble_relay.core.signal.cabling import port_speeds  # noqa: F401
from humble_relay.core.signal.cabling.runs import runs
from humble_relay.core.signal.diagram.content import signal_map
from humble_relay.core.signal.diagram.model import SignalMap
from humble_relay.core.signal.finder.as_edits import Route
from humble_relay.core.signal.flow.canvases import StreamCanvas, canvases
from humble_relay.core.signal.flow.sound import Sound, sounds
from humble_relay.core.signal.ports import assignment, coverage, formats, streaming  # noqa: F401
from humble_relay.core.views.address_strip import Strip, strips

T = TypeVar("T")
EMPTY_MAP = SignalMap(width=0, height=0, bands=(), boxes=(), hops=())


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
    return report_on(Case(plan, survey, as_of, stock))


def report_on(case: Case) -> Report:
    """The report on an index already built. A part that cannot be worked out is empty, and a finding says so."""
    findings = judge(case)

    def part(stage: Stage, what: str, make: Callable[[], Any], otherwise: Any = ()) -> Any:
        case.pulse()
        try:
            return make()
        except Stopped:
            raise
        except Exception as error:
            findings.append(unanswered(what.replace(" ", "-"), stage, what, error))
            return otherwise

    def each(stage: Stage, what: str, make: Callable[[str], T], ids: Iterable[str]) -> tuple[T, ...]:
        found = [part(stage, f"{what} {id}", partial(make, id), None) for id in ids]
        return tuple(x for x in found if x is not None)

    streams = {s.id: s for s in case.streams}
    parts: Any = {
        "uplinks": each("bandwidth", "uplink", lambda id: _uplink(case, id), case.uplinks),
        "streams": each("bandwidth", "stream", lambda id: _stream(case, streams[id]), streams),
        "cables": part("signal", "the cables", lambda: _cables(case)),
        "strips": part("addresses", "the address strips", lambda: strips(case)),
        "order": part("papers", "the go-live order", lambda: case.once(order)),
        "map": part("signal", "the signal map", lambda: signal_map(case), EMPTY_MAP),
        "sounds": part("signal", "the sound", lambda: sounds(case)),
        "stock": part("gear", "the stock", lambda: stock_lines(case)),
        "canvases": part("signal", "the canvases", lambda: canvases(case)),
    }
    found = worst_first(findings)
    stages = tuple(_stage(case, stage, found) for stage in STAGES)
    return Report.model_construct(as_of=case.as_of, findings=tuple(found), stages=stages, **parts)


def _cables(case: Case) -> tuple[CableReport, ...]:
    return tuple(
        CableReport(
            cable=r.cable.id,
            name=case.link_name(r.cable.id),
            format=r.format.label if r.format else None,
            rate=r.rate,
            reach=r.reach,
        )
        for r in case.once(runs)
    )


def try_edits(case: Case, edits: Iterable[Edit]) -> Trial:
    """What the edits would change, without keeping them. Raises EditRefused when they cannot be made."""
    return compared(case, case.after(edits))


def compared(before: Case, after: Case) -> Trial:
    """What is different in another plan, and its report."""
    result = report_on(after)
    gone, come = _difference(judge(before), result.findings)
    return Trial(gone=gone, come=come, report=result)


def judged(case: Case, routes: Iterable[Route]) -> tuple[JudgedRoute, ...]:
    """The routes, each tried on a copy of the plan; those that stop nothing come first."""
    before, found = judge(case), []
    for route in routes:
        gone, come = _difference(before, judge(case.after(route.edits)))
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


def _stage(case: Case, stage: Stage, findings: list[Finding]) -> StageState:
    plan, here = case.plan, [f for f in findings if f.stage == stage]
    begun = {
        "brief": plan.show.starts_at is not None or plan.show.format is not None,
        "survey": bool(case.survey.measurements),
        "gear": bool(plan.devices),
        "signal": bool(plan.links),
        "addresses": bool(plan.networks),
        "bandwidth": bool(case.streams),
        "papers": bool(plan.links),
    }[stage]
    worst = here[0].severity if here else None
    return StageState(stage=stage, state="begun" if begun else "empty", worst=worst, findings=len(here))


def _uplink(case: Case, id: str) -> UplinkReport:
    upload, demand, each = case.once(uploads)[id], case.once(demands)[id], case.once(loads)
    allowed = upload.allowed
    return UplinkReport(
        upload=upload,
        loads=tuple(each[s.id] for s in demand.streams),
        asked=demand.total,
        left_mbps=None if allowed is None else round(allowed.value - demand.total.value, 2),
    )


def _stream(case: Case, stream: Stream) -> StreamReport:
    fit_ = suggested_bitrate(stream.format, stream.codec, case.plan.show.content, case.figures)
    return StreamReport(
        stream=stream.id,
        address=typed_address(case, stream),
        has_key=bool(stream.key),
        load=case.once(loads)[stream.id],
        suggested=fit_.suggested,
        low_mbps=fit_.low,
        high_mbps=fit_.high,
    )
