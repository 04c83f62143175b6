"""Small shows to test with, built through the same edits the interface sends."""

from datetime import UTC, datetime, timedelta
from types import SimpleNamespace
from typing import Any
from uuid import uuid4

from pydantic import TypeAdapter

from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.cures.cure import Cure
from humble_relay.core.cures.trial import cures_of
from humble_relay.core.judgement import findings
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Cable, Network, Place, Plan, Router, Show, Site, Stream, Uplink
from humble_relay.core.plan.edits import (
    Edit,
    LeaveBy,
    SetField,
    SetPort,
    added,
)
from humble_relay.core.plan.edits.draft import apply
from humble_relay.core.plan.survey import Measurement, Survey
from humble_relay.core.plan.video import Rate, VideoFormat
from humble_relay.core.show.go_live_order import order
from humble_relay.core.views.of_stage import VIEWS, view_of
from humble_relay.core.views.report import report_on

NOW = datetime(2026, 9, 14, 10, tzinfo=UTC)
START = datetime(2026, 9, 19, 19, 30, tzinfo=UTC)


def hd(rate: Rate = "50", height: int = 1080, scan: str = "p") -> VideoFormat:
    """A 16:9 format of that height."""
    return VideoFormat.model_validate(
        {"width": height * 16 // 9, "height": height, "rate": rate, "scan": scan}
    )


def base_edits() -> list[Edit]:
    """Camera at the Slipway, 40 m of SDI to an encoder at the Boathouse, fibre out, pushed to Alder."""
    encoder = from_library("encoder-one", "encoder", "boathouse", "Encoder")
    platform = from_library("platform-wide", "alder", None, "Alder")
    assert platform.ingest
    platform = platform.model_copy(
        update={"ingest": platform.ingest.model_copy(update={"host": "ingest.alder.example", "port": 443})}
    )
    return [
        added(Site(id="creek", name="Creek")),
        added(Place(id="slipway", name="Slipway", site="creek", x_m=38, y_m=0, mains=True)),
        added(Place(id="boathouse", name="Boathouse", site="creek", x_m=0, y_m=0, mains=True)),
        added(Uplink(id="fibre", name="Fibre", site="creek")),
        added(
            Network(
                id="lan",
                name="Show network",
                site="creek",
                range="192.168.20.0/24",
                gateway="192.168.20.1",
                pool_first="192.168.20.100",
                pool_last="192.168.20.199",
            )
        ),
        added(Router(id="router", name="Router", site="creek", networks=("lan",), uplinks=("fibre",))),
        added(from_library("camera-field", "camera", "slipway", "Camera")),
        added(encoder),
        added(platform),
        added(Cable(id="run", from_port="camera/sdi", to_port="encoder/sdi", cable="coax", length_m=40)),
        SetPort(port="encoder/lan", field="interface.network", value="lan"),
        SetPort(port="encoder/lan", field="interface.addressing", value="fixed"),
        SetPort(port="encoder/lan", field="interface.address", value="192.168.20.30"),
        added(
            Stream(
                id="feed",
                name="Feed",
                from_device="encoder",
                to_device="alder",
                protocol="rtmps",
                format=hd(),
                video_mbps=8,
                key="paper-lantern",
            )
        ),
    ]


def small_show(*more: Edit) -> Plan:
    """A plan nothing is wrong with, and then the further edits."""
    show = Show(name="Regatta", starts_at=START, ends_at=START + timedelta(hours=2), format=hd())
    return apply(Plan(show=show), [*base_edits(), *more])


def measured(
    *ups: float,
    conditions: str = "busy",
    days_before: float = 6,
    hour: int = 20,
    line: str = "fibre",
    one_evening: bool = False,
) -> Survey:
    """Measurements of a line at an hour of the show, ten minutes later each, on a Saturday or Sunday of their own unless told otherwise;
    the last so many days before the show."""
    last = (START - timedelta(days=days_before)).replace(hour=hour, minute=0)
    weekends = [timedelta(days=7 * (back // 2) + back % 2) for back in reversed(range(len(ups)))]
    return Survey(
        measurements=tuple(
            Measurement.model_validate(
                {
                    "at": last - (timedelta(0) if one_evening else weekends[i]) + timedelta(minutes=10 * i),
                    "uplink": line,
                    "up_mbps": up,
                    "conditions": conditions,
                    "connections": 1,
                    "rtt_ms": 20,
                    "loss_pct": 0,
                    "probes": 2000,
                }
            )
            for i, up in enumerate(ups)
        )
    )


STEADY = measured(21, 22, 20, 23, 22, 21, 24)
_FAR = [{"uplink": line, "at": START - timedelta(days=6), "up_mbps": 12, "down_mbps": 40} for line in ("line", "mast")]  # fmt: skip
EVERYWHERE = Survey(measurements=(*STEADY.measurements, *map(Measurement.model_validate, _FAR)))
"""Steady, and the lines of the far town measured once."""
WORKED = {"noun": "link", "quantity": "works", "value": True, "at": START - timedelta(days=6)}


def report_of(plan: Plan, survey: Survey = STEADY, as_of: datetime = NOW) -> Any:
    """The report, and beside it everything that the stages draw; with steady measurements unless others are given."""
    case = Case(plan, survey, as_of)
    views = [view_of(case, stage) for stage in VIEWS]
    assert not [v.unanswered for v in views if v.unanswered]
    drawn = {k: v for view in views for part in view if part[1] is not None for k, v in part[1]}
    drawn["giving"] = next(v.addresses_giving for v in views if v.addresses_giving)
    streams = {s.stream: s for v in views if v.bandwidth_bitrates for s in v.bandwidth_bitrates.streams}
    parts = SimpleNamespace(**drawn, order=order(case), weights=streams)
    parts.streams = next(v.addresses_typed.streams for v in views if v.addresses_typed)
    for name, value in report_on(case):
        setattr(parts, name, value)
    return parts


def case_of(plan: Plan, survey: Survey = EVERYWHERE) -> Case:
    """The look-ups the rules read."""
    return Case(plan, survey, NOW)


def rules_of(plan: Plan, survey: Survey = STEADY, as_of: datetime = NOW) -> set[str]:
    """The names of the rules that found something."""
    return {f.rule for f in report_of(plan, survey, as_of).findings}


def cures(plan: Plan, rule: str, survey: Survey = STEADY) -> list[Cure]:
    """What is offered for the first finding of that name."""
    case = case_of(plan, survey)
    found = next(f for f in findings(case) if f.rule == rule)
    return [tried.cure for tried in cures_of(case, found.id)]


def put(noun: str, id: str | None, field: str, value: object) -> Edit:
    """A set edit."""
    return SetField.model_validate({"noun": noun, "id": id, "field": field, "value": value})


_EDIT: TypeAdapter[Edit] = TypeAdapter(Edit)  # made once: making it takes milliseconds


def edit_of(doc: dict[str, Any]) -> Edit:
    """An edit as the interface sends it."""
    return _EDIT.validate_python(doc)


def leave_by(network: str, uplink: str | None) -> Edit:
    """By which line a network's traffic leaves."""
    return LeaveBy(network=network, uplink=uplink)


def put_port(port: str, field: str, value: object) -> Edit:
    """A set-port edit."""
    return SetPort.model_validate({"port": port, "field": field, "value": value})


def entry(body: dict[str, Any], id: str = "") -> dict[str, Any]:
    """An entry of the log as it is sent: by what its body says of which kind."""
    told = (
        ("up_mbps", "measurement"),
        ("quantity", "fact"),
        ("task", "task"),
        ("of", "withdrawal"),
        ("text", "line"),
        ("steps", "seen"),
        ("how", "lost"),
    )
    kind = next(kind for field, kind in told if field in body)
    return {"id": id or f"e-{uuid4().hex}", "kind": kind, "at": body.get("at"), "body": body}


def entered(client: Any, plan: str, *bodies: dict[str, Any], **more: Any) -> Any:
    """The plan as it stands once these bodies are entries of its log; each must be taken."""
    answer = client.post(f"{plan}/entries", json={"entries": [entry(b) for b in bodies]} | more)
    assert answer.status_code == 201, answer.text
    assert all(e["sequence"] for e in answer.json()["entries"]), answer.text
    return client.get(plan).json()
