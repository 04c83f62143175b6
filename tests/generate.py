"""Shows drawn at random, the same for the same seed: some boxes, some cables, a stock, a source and an end."""

import random
from typing import NamedTuple, get_args

from humble_relay.core.catalogue.gear import Model, from_library, library
from humble_relay.core.catalogue.stock import Holding, Stock
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import (
    Cable,
    CommsLink,
    Device,
    Link,
    Network,
    Place,
    Plan,
    Router,
    Show,
    Site,
    Uplink,
)
from humble_relay.core.plan.comms import CommsKind, CommsMeans
from humble_relay.core.plan.devices import Approval, DelayMode, EventKind, GoesLive, Privacy, Publication
from humble_relay.core.plan.edits.draft import EditRefused, apply
from humble_relay.core.signal.finder.alternatives import find_routes
from humble_relay.core.signal.finder.routing_problem import PASSING
from tests.build import NOW, START, STEADY, hd

SOURCES = ["camera-field", "camera-compact", "camera-uhd", "camera-studio", "camera-ip", "camera-ndi", "phone",
           "laptop-slides", "camera-tiny", "camera-network"]  # fmt: skip
ENDS = ["switcher-eight", "switcher-four", "switcher-all", "monitor", "projector", "recorder", "encoder-one",
        "encoder-tall", "screen-large", "computer-stream", "platform-wide"]  # fmt: skip
TURNERS = [
    "scaler",
    "converter-hdmi-sdi",
    "converter-sdi-hdmi",
    "ndi-sender",
    "decoder",
    "encoder-one",
    "radio-fast-tx",
    "radio-fast-rx",
]
"""Boxes that make ways; of some of them a way would like two."""
BETWEEN = sorted(m.id for m in library().values() if m.device.kind in PASSING)


class Drawn(NamedTuple):
    """A show, and what is asked of it."""

    case: Case
    sources: list[str]
    end: str


def drawn(seed: int, counted: bool = True, sources: int = 2, ends: list[str] = ENDS) -> Drawn:
    """The show of a seed; with a small stock, or with one that nobody counts."""
    rng = random.Random(seed)
    spots = [(0, 0), (rng.randint(3, 12), 0), (rng.randint(20, 80), 10), (60, rng.randint(70, 190))]
    places = tuple(
        Place(id=f"p{i}", name=f"Place {i}", site="site", x_m=x, y_m=y, indoor=rng.random() < 0.6)
        for i, (x, y) in enumerate(spots)
    )
    home = rng.choice(places).id  # where the end stands, and half of everything else
    place = lambda: home if rng.random() < 0.4 else rng.choice(places).id  # noqa: E731
    devices = [from_library(rng.choice(SOURCES), f"src-{i}", place(), f"Source {i}") for i in range(sources)]
    devices = [_odd(rng, d) for d in devices]
    end = from_library(rng.choice(ends), "end", home, "End")
    if end.ingest:
        ingest = end.ingest.model_copy(update={"host": "ingest.alder.example", "port": 443})
        end = end.model_copy(update={"place": None, "ingest": ingest})
    between = [
        from_library(rng.choice(BETWEEN), f"box-{i}", place(), f"Box {i}") for i in range(rng.randint(0, 3))
    ]
    net = [
        from_library("router", "router", "p0", "Router"),
        from_library("switch-poe", "switch", place(), "Switch"),
    ]
    networked = rng.random() < 0.7
    plan = Plan(
        show=Show(name="Drawn", starts_at=START, format=hd()),
        sites=(Site(id="site", name="Site"),),
        places=places,
        uplinks=(Uplink(id="fibre", name="Fibre", site="site"),) if networked else (),
        networks=(Network(id="lan", name="LAN", site="site", range="10.0.0.0/24"),) if networked else (),
        routers=(Router(id="way-out", name="Way out", site="site", networks=("lan",), uplinks=("fibre",)),)
        if networked
        else (),
        devices=(*devices, end, *between, *(net if networked else [])),
    )
    holdings = []
    if counted:
        spare = {*rng.sample(BETWEEN, 4), *rng.sample(TURNERS, 2)}
        count: dict[str, int] = {}
        for device in plan.devices:
            count[device.model] = count.get(device.model, 0) + 1
        for id in sorted(spare):
            model = library()[id].device.model
            count[model] = count.get(model, 0) + 1
        holdings = [Holding(id=f"h{i}", model=m, count=n) for i, (m, n) in enumerate(count.items()) if m]
    stock = Stock(holdings=tuple(holdings))
    plan = _with_something_in_the_way(rng, plan)
    return Drawn(Case(plan, STEADY, NOW, stock), [d.id for d in devices], "end")


def _odd(rng: random.Random, device: Device) -> Device:
    """The source, sometimes at another rate, or asking for content protection."""
    if rng.random() < 0.3 and device.produces:
        device = device.model_copy(update={"produces": hd(rng.choice(["25", "59.94", "50"]))})
    if rng.random() < 0.2:
        ports = tuple(p.model_copy(update={"protected": "hdmi" in p.types}) for p in device.ports)
        device = device.model_copy(update={"ports": ports})
    return device


def _with_something_in_the_way(rng: random.Random, plan: Plan) -> Plan:
    """The plan with a few cables already laid between ports that match."""
    for n in range(rng.choice([0, 0, 1, 2])):
        pairs = [
            (f"{a.id}/{p.id}", f"{b.id}/{q.id}", t)
            for a in plan.devices for p in a.ports if p.way == "out"
            for b in plan.devices for q in b.ports if q.way == "in" and a.id != b.id
            if b.id != "end" or len(b.ports) > 4
            for t in p.types if t in q.types and t in ("hdmi", "sdi") and len(q.types) == 1
        ]  # fmt: skip
        if not pairs:
            break
        out, into, kind = rng.choice(pairs)
        cable = "coax" if kind == "sdi" else "hdmi"
        link = Cable(id=f"laid-{n}", from_port=out, to_port=into, cable=cable, length_m=3)  # type: ignore[arg-type]
        plan = _adding(plan, link)
    return plan


def _adding(plan: Plan, link: Link) -> Plan:
    try:
        return Plan.model_validate(
            {**plan.model_dump(), "links": [*plan.model_dump()["links"], link.model_dump()]}
        )
    except ValueError:
        return plan


def patched(seed: int) -> Plan:
    """A drawn show with every source patched as the finder would: a plan with some of everything on it."""
    show = drawn(seed, counted=False, sources=4)
    plan = show.case.plan
    for source in show.sources:
        routes = find_routes(Case(plan, STEADY, NOW), source, "end").routes
        if routes:
            try:
                plan = apply(plan, routes[0].edits)
            except EditRefused:
                continue
    return _with_people(random.Random(f"people {seed}"), plan)


def _with_people(rng: random.Random, plan: Plan) -> Plan:
    """The plan with lines between people, boxes with labels, and destinations that say how they publish."""
    ends = [d.id for d in plan.devices]
    links = [None, *(x.id for x in plan.links)]
    comms = [
        CommsLink(
            id=f"line-{n}", kind=rng.choice(get_args(CommsKind)), from_device=rng.choice(ends), to_device=rng.choice(ends),
            means=rng.choice([None, *get_args(CommsMeans)]), link=rng.choice(links), minus=rng.choice([None, True, False]), who="somebody",
        )
        for n in range(rng.randint(0, 3))
    ]  # fmt: skip

    def published() -> Publication:
        values = {
            name: rng.choice([None, *get_args(of)])
            for name, of in (("event", EventKind), ("privacy", Privacy), ("starts", GoesLive), ("approval", Approval), ("delay_mode", DelayMode))
        }  # fmt: skip
        told = {name: rng.choice([None, True, False]) for name in ("links_out", "stops_on_drop")}
        return Publication.model_validate({**values, **told, "cap_h": rng.choice([None, 1, 12])})

    devices = tuple(
        d.model_copy(
            update={
                "item": rng.choice(["", "A1"]) if d.model else "",
                "ingest": d.ingest
                and d.ingest.model_copy(update={"publication": rng.choice([None, published()])}),
            }
        )
        for d in plan.devices
    )
    return plan.model_copy(update={"comms": tuple(comms), "devices": devices})


def scarce(seed: int) -> Drawn:
    """A long run between HDMI ends, and a few odd converters of which a way would often like more than there are."""
    rng = random.Random(seed)
    places = tuple(
        Place(id=f"p{i}", name=f"Place {i}", site="site", x_m=x, y_m=0)
        for i, x in enumerate((0, rng.randint(20, 80)))
    )
    models, holdings = [], []
    for n in range(3):
        kinds = ["hdmi", "sdi", "fibre"]
        ports = [{"id": "in", "name": "In", "way": "in", "types": rng.sample(kinds, 2)}]
        ports += [
            {"id": f"out-{k}", "name": f"Out {k}", "way": "out", "types": [k]} for k in rng.sample(kinds, 2)
        ]
        box = {"id": f"odd-{n}", "name": f"Odd {n}", "model": f"Odd {n}", "kind": "converter", "ports": ports}
        device = box | {"delay_ms": rng.choice([0, 1, 20, 300])}
        models.append(Model.model_validate({"id": f"odd-{n}", "about": "", "device": device}))
        holdings.append(Holding(id=f"odd-{n}", model=f"Odd {n}", count=rng.choice([1, 1, 1, 2])))
    source = from_library("camera-compact", "src-0", "p0", "Source")
    end = from_library("screen-large", "end", "p1", "End")
    holdings += [Holding(id=d.id, model=d.model, count=1) for d in (source, end)]
    plan = Plan(
        show=Show(name="Scarce", starts_at=START, format=hd()),
        sites=(Site(id="site", name="Site"),),
        places=places,
        devices=(source, end),
    )
    stock = Stock(holdings=tuple(holdings), models=tuple(models))
    return Drawn(Case(plan, STEADY, NOW, stock), ["src-0"], "end")
