"""The report: every finding of a case, and what the stages draw of it."""

from collections.abc import Callable, Iterable
from datetime import datetime
from functools import partial
from typing import Any, Literal, TypeVar

from humble_relay.core.catalogue.stock import Stock
from humble_relay.core.cures.trial import difference
from humble_relay.core.frozen import Frozen
from humble_relay.core.judgement import findings
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.finding import Finding, Severity, unanswered, worst_first
from humble_relay.core.judging.stages import STAGES, Stage
from humble_relay.core.patience import Stopped
from humble_relay.core.plan import Plan
from humble_relay.core.plan.edits import Edit
from humble_relay.core.plan.survey import Survey
from humble_relay.core.show.order import Task, order
from humble_relay.core.show.packing import StockLine, stock_lines
from humble_relay.core.signal.diagram.content import signal_map
from humble_relay.core.signal.diagram.model import SignalMap
from humble_relay.core.signal.flow.canvases import StreamCanvas, canvases
from humble_relay.core.signal.flow.sound import SoundAtEnd, sounds
from humble_relay.core.views.address_strip import Strip, strips
from humble_relay.core.views.bandwidth import StreamReport, UplinkReport, stream_report, uplink_report
from humble_relay.core.views.cabling import CableReport, cable_reports

T = TypeVar("T")
EMPTY_MAP = SignalMap(width=0, height=0, bands=(), boxes=(), hops=())


class StageState(Frozen):
    """One stage of the work: whether anything is in it, and its worst finding."""

    stage: Stage
    state: Literal["empty", "begun"]
    worst: Severity | None
    findings: int


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
    sounds: tuple[SoundAtEnd, ...]
    stock: tuple[StockLine, ...]
    canvases: tuple[StreamCanvas, ...]


class Trial(Frozen):
    """What some edits would change: the findings that go, those that come, and the report after."""

    gone: tuple[Finding, ...]
    come: tuple[Finding, ...]
    report: Report


def report(plan: Plan, survey: Survey, as_of: datetime, stock: Stock | None = None) -> Report:
    """The report on a plan as of a moment. The same four always give the same report."""
    return report_on(Case(plan, survey, as_of, stock))


def report_on(case: Case) -> Report:
    """The report on an index already built. A part that cannot be worked out is empty, and a finding says so."""
    found = [*findings(case)]

    def part(stage: Stage, what: str, make: Callable[[], Any], otherwise: Any = ()) -> Any:
        case.pulse()
        try:
            return make()
        except Stopped:
            raise
        except Exception as error:
            found.append(unanswered(what.replace(" ", "-"), stage, what, error))
            return otherwise

    def each(stage: Stage, what: str, make: Callable[[str], T], ids: Iterable[str]) -> tuple[T, ...]:
        made = [part(stage, f"{what} {id}", partial(make, id), None) for id in ids]
        return tuple(x for x in made if x is not None)

    streams = {s.id: s for s in case.streams}
    parts: Any = {
        "uplinks": each("bandwidth", "uplink", lambda id: uplink_report(case, id), case.uplinks),
        "streams": each("bandwidth", "stream", lambda id: stream_report(case, streams[id]), streams),
        "cables": part("signal", "the cables", lambda: cable_reports(case)),
        "strips": part("addresses", "the address strips", lambda: strips(case)),
        "order": part("papers", "the go-live order", lambda: case.once(order)),
        "map": part("signal", "the signal map", lambda: signal_map(case), EMPTY_MAP),
        "sounds": part("signal", "the sound", lambda: sounds(case)),
        "stock": part("gear", "the stock", lambda: stock_lines(case)),
        "canvases": part("signal", "the canvases", lambda: case.once(canvases)),
    }
    found = worst_first(found)
    stages = tuple(_stage(case, stage, found) for stage in STAGES)
    return Report.model_construct(as_of=case.as_of, findings=tuple(found), stages=stages, **parts)


def try_edits(case: Case, edits: Iterable[Edit]) -> Trial:
    """What the edits would change, without keeping them. Raises EditRefused when they cannot be made."""
    return compared(case, case.after(edits))


def compared(before: Case, after: Case) -> Trial:
    """What is different in another plan, and its report."""
    result = report_on(after)
    gone, come = difference(findings(before), result.findings)
    return Trial(gone=gone, come=come, report=result)


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
