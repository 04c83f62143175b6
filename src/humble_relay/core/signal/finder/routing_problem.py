"""What the route finder stands on: the ends, the boxes at hand, the stock, and what each thing costs in effort."""

from typing import NamedTuple

from humble_relay.core.catalogue.cables import CABLE_WORDS
from humble_relay.core.catalogue.stock import StockCount, is_stocked, stock_counts
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.plan import Carries, Device, Kind, Port
from humble_relay.core.plan.video import VideoFormat
from humble_relay.core.plan.vocabulary import VIDEO
from humble_relay.core.signal.flow.delays import repeats
from humble_relay.core.signal.flow.propagation import network_inputs
from humble_relay.core.signal.ports.assignment import group_is_full

PASSING: tuple[Kind, ...] = ("converter", "distribution", "radio", "encoder", "decoder", "capture")
"""Boxes that hand a picture on and may stand between a source and its end."""
TURNING: tuple[Kind, ...] = tuple(k for k in PASSING if k != "distribution")
"""Boxes worth going through: a splitter only ever taps, and does nothing for a picture that goes one way."""
EFFORT = {
    "metre": 1.0,
    "idle box": 5.0,
    "box": 15.0,
    "to get": 400.0,
    "ms": 0.1,
    "joint": 3.0,
    "repeater": 75.0,
    "radio": 40.0,
    "wall": 20.0,
    "not known": 100.0,
    "may not reach": 1000.0,
    "network": 25.0,
    "no socket": 60.0,
    "unmeasured": 50.0,
    "far": 40.0,
    "mobile": 20.0,
    "change": 1.0,
    "other input": 5.0,
}
"""What each thing costs against a metre of cable (common practice, no source)."""
MOST_REPEATERS = 2
NEVER_M = 2000.0
LONG_M = 5.0
"""A run longer than a lead in the rack, in metres (common practice, no source)."""
NEAR_M = 2.0
"""Between two boxes of one place, in metres (common practice, no source)."""


class Unit(NamedTuple):
    """A device on the way: one of the plan, or a model that would be added at a place."""

    key: str
    device: Device
    place: str | None
    new: bool = False
    to_get: bool = False


class Outlet(NamedTuple):
    """A port a picture can leave from, or (with no port) a box that can send it as a stream."""

    box: Unit
    port: Port | None
    format: VideoFormat
    protected: bool
    held_ms: float = 0.0
    """What the streams before a server will have the picture wait where it is shown, in ms."""

    @property
    def spot(self) -> tuple[object, ...]:
        """What makes two exits the same state of the search."""
        return self.box.key, self.port.id if self.port else "", self.format, self.protected, self.held_ms


class Inlet(NamedTuple):
    """A port a picture can enter by, or (with no port) the network side of a box."""

    box: Unit
    port: Port | None


class Start(NamedTuple):
    """Where the search begins: an exit the picture already stands on, and what it takes to free it."""

    exit: Outlet
    cost: float = 0.0
    tapped: str | None = None
    """The link that a splitter is put into to get this exit."""
    retold: Carries | None = None
    """What the output must be told to carry."""


class Leg(NamedTuple):
    """One step: from an exit to an entry by a medium; lengths in metres, delay in ms."""

    exit: Outlet
    entry: Inlet
    medium: str
    length_m: float | None
    """None where nobody has measured it."""
    cost: float
    joints: int = 0
    repeaters: int = 0
    walls: int = 0
    delay_ms: float = 0.0
    sent: VideoFormat | None = None
    """The format set for what leaves the entered box, or sent as the stream."""
    network: str | None = None
    """Of a stream: the network its sender goes by; None: one in the cloud, or mobile data of its own."""
    theirs: str | None = None
    """Of a stream: the network its taker is on."""
    by: str = ""
    """Of a stream: what its sender goes out by, where that is not a network of its site."""

    @property
    def is_long(self) -> bool:
        """Whether it is more than a lead in the rack: what it goes by is what a technician calls the way."""
        return self.medium not in CABLE_WORDS or self.length_m is None or self.length_m > LONG_M


class Path(NamedTuple):
    """A whole way, and its effort."""

    start: Start
    hops: tuple[Leg, ...]
    cost: float


class RoutingProblem(NamedTuple):
    """What a search stands on: the plan, its ends, the boxes it may use, and what it must not."""

    case: Case
    ends: tuple[Inlet, ...]
    idle: tuple[Unit, ...]
    spare: dict[str, int]
    """How many more of each model can be added without getting any; empty where nobody keeps count."""
    lengths: dict[tuple[str | None, str | None], float]
    prefer: str | None
    """The input that was used so far, where there was one."""
    avoid: frozenset[tuple[str, str]]
    """(`run`: of a long run, `medium`: of a lead, `model`, `by` or `from`, which) that must not be used; (`hop`, `from>to by medium`) for one broken hop."""
    memo: dict[object, object]
    air: dict[tuple[str | None, str | None], float] | None = None
    """Distances through the air that were typed, in metres, both ways round."""
    to_get: bool = True
    """Whether boxes may be used that would have to be got first."""


def problem_of(
    case: Case,
    end: str,
    port: str | None = None,
    lengths: dict[tuple[str | None, str | None], float] | None = None,
    prefer: str | None = None,
) -> RoutingProblem:
    """The ground of a search for ways to a device, or to one port of it."""
    device = case.devices[end]
    box = Unit(end, device, device.place)
    ends = [Inlet(box, p) for p in device.ports if port in (None, p.id) and _is_free_input(case, device, p)]
    taking = device.ingest or (device.decoding and not network_inputs(device))
    if taking and port is None and _streams_left(case, device):
        ends.append(Inlet(box, None))
    seen: set[tuple[str, str | None]] = set()
    idle = []
    for other in case.devices.values():
        if other.id != end and hands_on(other) and _is_idle(case, other):
            if other.model and (other.model, other.place) in seen:
                continue  # one stands for all its like at the same place
            seen.add((other.model, other.place))
            idle.append(Unit(other.id, other, other.place))
    spare = {m: s.there - s.used for m, s in in_stock(case).items()} if case.stock.holdings else {}
    both = {**(lengths or {}), **{(b, a): m for (a, b), m in (lengths or {}).items()}}
    return RoutingProblem(case, tuple(ends), tuple(idle), spare, both, prefer, frozenset(), {})


def _is_free_input(case: Case, device: Device, port: Port) -> bool:
    if port.way != "in" or not VIDEO & set(port.types) or f"{device.id}/{port.id}" in case.join_at:
        return False
    if any(s.input == port.id for s in case.streams_to.get(device.id, [])):
        return False
    if port.assigned == "network" or port.types == ("network",):
        return _streams_left(case, device)
    return not group_is_full(case, device, port)


def _streams_left(case: Case, device: Device) -> bool:
    """Whether the device takes one more stream."""
    if device.ingest:
        return True
    return device.decoding is not None and len(case.streams_to.get(device.id, [])) < device.decoding.at_once


def hands_on(device: Device) -> bool:
    """Whether it is worth going through: it turns a picture into another form, or repeats a stream."""
    takes = device.ingest is not None or device.decoding is not None
    return device.kind in TURNING or (repeats(device) and takes)


def _is_idle(case: Case, device: Device) -> bool:
    """Whether no picture goes through the box yet."""
    ports = (f"{device.id}/{p.id}" for p in device.ports if VIDEO & set(p.types))
    busy = case.streams_from.get(device.id) or case.streams_to.get(device.id)
    return not busy and not any(ref in case.join_at for ref in ports)


def limits(on: RoutingProblem, box: Unit) -> tuple[str, ...]:
    """What using a box uses up: itself, and one of its model where the stock is counted."""
    model = box.device.model
    return (box.key, model) if box.new and not box.to_get and model in on.spare else (box.key,)


@analysis
def in_stock(case: Case) -> dict[str, StockCount]:
    """Where every model stands."""
    return stock_counts(case.plan, case.stock)


def to_get(case: Case, model: Device) -> bool:
    """Whether one more of the model would have to be got; never where nobody keeps count, nor of what is no box."""
    if not case.stock.holdings or not is_stocked(model):
        return False
    standing = in_stock(case).get(model.model)
    return standing is None or standing.there - standing.used < 1


def effort_of_entering(on: RoutingProblem, entry: Inlet) -> float:
    """What it takes to have the entered box there."""
    box = entry.box
    if box.key == on.ends[0].box.key:
        other = on.prefer is not None and entry.port is not None and entry.port.id != on.prefer
        return EFFORT["other input"] if other else 0.0
    if not box.new:
        return EFFORT["idle box"]
    return EFFORT["box"] + (EFFORT["to get"] if box.to_get else 0.0)
