"""Measuring from the page: a measurement is begun, looked at while it runs, taken back, and kept by the page that asked for it."""

import re
import secrets
import threading
from collections import OrderedDict
from contextlib import ExitStack
from datetime import datetime
from typing import Annotated, Literal

from fastapi import APIRouter, Request
from pydantic import AfterValidator, BaseModel, ConfigDict, Field
from starlette.exceptions import HTTPException

from humble_relay.core.frozen import Slug, Text
from humble_relay.core.plan import Stream
from humble_relay.core.plan.survey import Measurement
from humble_relay.meter.client import Cancelled, CannotMeasure, by_iperf3, measure
from humble_relay.meter.far_ends import NotToBeMeasured, far_end
from humble_relay.meter.lines import LINES, line_called
from humble_relay.meter.server import MeterServer
from humble_relay.web.off_loop import OffLoop
from humble_relay.web.plan_routes import Store, opened
from humble_relay.web.problems import documented
from humble_relay.web.request_patience import Pulsed

router = APIRouter(prefix="/api", tags=["meter"], route_class=OffLoop)
KEPT, AT_ONCE = 20, 2
"""Measurements that are remembered, and that run at once."""


def _host(text: str) -> str:
    if not re.fullmatch(r"[A-Za-z0-9.:-]{0,253}", text):
        raise ValueError("write a name or an address alone, such as meter.example or 203.0.113.7")
    return text


class SimulatedLineChoice(BaseModel):
    """A line that is only simulated, to learn the measuring on."""

    id: str
    name: str


class WantedMeasurement(BaseModel):
    """What to measure: an uplink of the plan, against a simulated line, or a meter or iperf3 server of one's own by its address."""

    model_config = ConfigDict(extra="forbid")
    uplink: Slug
    line: Slug | None = None
    """The simulated line; None: the address."""
    host: Annotated[Text, AfterValidator(_host)] = ""
    port: Annotated[int, Field(ge=1, le=65535)] = 8118
    by: Literal["meter", "iperf3"] = "meter"
    seconds: Annotated[float, Field(ge=1, le=30)] = 5


class MeasurementRun(BaseModel):
    """How a measurement stands: how much of it has passed (0 to 1), what went out so far, and what came of it."""

    id: str
    state: Literal["running", "done", "failed", "cancelled"]
    passed: float
    mbps: float
    wrong: str
    measurement: Measurement | None


class _Run:
    def __init__(
        self, wanted: WantedMeasurement, hour: int, from_here: bool, prove_mbps: float = 0.0
    ) -> None:
        self._prove = prove_mbps
        self.id, self.cancelled = secrets.token_hex(6), threading.Event()
        self._wanted, self._hour, self._from_here = wanted, hour, from_here
        self._now = MeasurementRun(id=self.id, state="running", passed=0, mbps=0, wrong="", measurement=None)
        self.thread = threading.Thread(target=self._work, daemon=True)
        self.thread.start()

    @property
    def now(self) -> MeasurementRun:
        return self._now

    def _told(self, passed: float, mbps: float) -> None:
        self._now = self._now.model_copy(update={"passed": passed, "mbps": round(mbps, 2)})

    def _work(self) -> None:
        try:
            found = self._measured()
            self._now = self._now.model_copy(
                update={"state": "done", "passed": 1.0, "measurement": found, "mbps": found.up_mbps}
            )
        except Cancelled:
            self._now = self._now.model_copy(update={"state": "cancelled"})
        except (CannotMeasure, NotToBeMeasured) as error:
            self._now = self._now.model_copy(update={"state": "failed", "wrong": str(error)})
        except Exception as error:
            wrong = (
                f"The measurement broke off, through a fault of the program's own ({type(error).__name__})."
            )
            self._now = self._now.model_copy(update={"state": "failed", "wrong": wrong})

    def _measured(self) -> Measurement:
        wanted = self._wanted
        with ExitStack() as stack:
            if wanted.line:
                line = line_called(wanted.line)
                far = stack.enter_context(MeterServer(line=line, hour=self._hour))
                how = f"meter, against a simulated line: {line.name}"
                return measure(
                    wanted.uplink, "127.0.0.1", far.port, wanted.seconds, self._told, self.cancelled, how
                )
            address = far_end(wanted.host, self._from_here)
            if wanted.by == "iperf3":
                return by_iperf3(wanted.uplink, address, wanted.port, wanted.seconds, self.cancelled)
            how = f"meter at {wanted.host}"
            return measure(
                wanted.uplink,
                address,
                wanted.port,
                wanted.seconds,
                self._told,
                self.cancelled,
                how,
                self._prove,
            )


_RUNS: OrderedDict[str, _Run] = OrderedDict()
_LOCK = threading.Lock()


@router.get("/meter/lines")
def simulated_lines() -> list[SimulatedLineChoice]:
    """The lines that are only simulated."""
    return [SimulatedLineChoice(id=line.id, name=line.name) for line in LINES]


@router.post("/plans/{id}/meter", status_code=202, responses=documented(404, 409, 422))
def begin_measurement(
    id: Slug, wanted: WantedMeasurement, store: Store, pulse: Pulsed, request: Request
) -> MeasurementRun:
    """Begins a measurement; nothing of it is kept until it is added."""
    plan = opened(store, id, pulse).plan
    if all(line.id != wanted.uplink for line in plan.uplinks):
        raise HTTPException(404, f"The plan has no line called {wanted.uplink}.")
    if wanted.line is not None and all(line.id != wanted.line for line in LINES):
        raise HTTPException(404, f"There is no simulated line called {wanted.line}.")
    if wanted.line is None and not wanted.host:
        raise HTTPException(
            422, "Write the address of the meter to measure against, or choose a simulated line."
        )
    with _LOCK:
        if sum(run.now.state == "running" for run in _RUNS.values()) >= AT_ONCE:
            raise HTTPException(
                409,
                "Measurements are running already, and would take upload from each other: wait, or cancel one.",
            )
        pushed = [
            s.video_mbps for s in plan.links if isinstance(s, Stream) and s.protocol in ("rtmp", "rtmps")
        ]
        run = _Run(wanted, datetime.now(plan.show.clock).hour, request.state.here, max(pushed, default=0.0))
        _RUNS[run.id] = run
        while len(_RUNS) > KEPT:
            _RUNS.popitem(last=False)
    return run.now


@router.get("/meter/{run}", responses=documented(404, 422))
def look_at_measurement(run: Slug) -> MeasurementRun:
    """How a measurement stands."""
    return _found(run).now


@router.delete("/meter/{run}", responses=documented(404, 422))
def cancel_measurement(run: Slug) -> MeasurementRun:
    """Takes a measurement back; nothing comes of it."""
    found = _found(run)
    found.cancelled.set()
    return found.now


def stop_all() -> None:
    """Takes back what is being measured: the server stops."""
    for run in _RUNS.values():
        run.cancelled.set()
    for run in _RUNS.values():
        run.thread.join(1)


def _found(run: str) -> _Run:
    found = _RUNS.get(run)
    if found is None:
        raise HTTPException(404, "There is no such measurement any more: begin another.")
    return found
