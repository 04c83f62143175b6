"""What the core costs: judging, finding ways, drawing the map, keeping."""

import statistics
import tempfile
import time
from collections import Counter
from datetime import UTC, datetime
from itertools import count
from pathlib import Path

from measured import grows, spread
from shows import asked, busy, chain, generated, loose, renamed, stock_of

from humble_relay.core import addressing, egress, endpoints, lan, reach
from humble_relay.core.allocation.allocation_problem import (
    Encoded,
    Outgoing,
    RelayRoom,
    SenderRoom,
    ToAllocate,
)
from humble_relay.core.allocation.outcome import allocation
from humble_relay.core.allocation.solve import solve
from humble_relay.core.bonding.simulation import Part, bonded
from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.catalogue.stock import Stock
from humble_relay.core.cures.trial import cures_of
from humble_relay.core.judgement import answers, findings, proven
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import judged
from humble_relay.core.plan.edits import SetField, added
from humble_relay.core.plan.edits.draft import apply, told
from humble_relay.core.plan.survey import Survey
from humble_relay.core.plan.video import VideoFormat
from humble_relay.core.reach.trace.connection_trace import connection_traces
from humble_relay.core.signal.diagram.content import signal_map
from humble_relay.core.signal.finder.alternatives import find_routes, reroute
from humble_relay.core.signal.finder.whole_show import patch_all
from humble_relay.core.signal.flow.propagation import flow
from humble_relay.core.signal.flow.tracing import trace
from humble_relay.core.views.report import report, try_edits
from humble_relay.core.views.run_sheet_view import run_sheet_view
from humble_relay.core.views.setup_view import setup_view
from humble_relay.demo import demo_plan
from humble_relay.formats.plan_file import read_plan, write_plan
from humble_relay.store.changes import Edited
from humble_relay.store.database import open_database
from humble_relay.store.plans import Plans
from tests.generate_networks import networked

NOW = datetime(2026, 9, 14, 10, tzinfo=UTC)

NETWORK_CHECKS = tuple(c for room in (lan, egress, addressing, endpoints, reach) for c in room.CHECKS)


def judging() -> None:
    """How many answers there are and of which states, and what judging and proving them costs."""
    demo, large = demo_plan(), asked(busy(25))
    for name, plan, survey, target in (
        ("the demo", demo.plan, demo.survey, "15 ms"),
        (f"{len(large.devices)} devices", large, Survey(), "100 ms"),
        ("1000 devices", generated(1000), Survey(), "350 ms"),
    ):
        states = Counter(a.state for a in answers(Case(plan, survey, NOW)).every)
        said = ", ".join(f"{n} {state}" for state, n in states.most_common())
        print(f"answers on {name}: {sum(states.values())} ({said})")
        spread(f"judging {name}", target, lambda p=plan, s=survey: answers(Case(p, s, NOW)), 15)
        spread(f"findings of {name} in words", "", lambda p=plan, s=survey: findings(Case(p, s, NOW)), 15)
        spread(
            f"proofs of {name} ({len(plan.aims)} aims)",
            "",
            lambda p=plan, s=survey: proven(Case(p, s, NOW)),
            9,
        )
    late = apply(large, [SetField(noun="link", id="l0", field="length_m", value=140)])
    case = Case(late, Survey(), NOW)
    findings(case)
    spread(
        "cures of a cable too long on 301 devices", "500 ms", lambda: cures_of(case, "cable-too-long:l0"), 5
    )


def reach() -> None:
    """What it costs to judge whether 1000 streams get through, over the networks of three sites."""
    plan = networked(5)
    links = (
        plan.links[n % len(plan.links)].model_copy(update={"id": f"s{n}", "name": f"Stream {n}"})
        for n in range(1000)
    )
    plan = plan.model_copy(update={"links": tuple(links)})
    spread("journeys of 1000 streams", "", lambda: connection_traces(Case(plan, Survey(), NOW)), 15)
    spread(
        "every question about the networks of 1000 streams",
        "200 ms",
        lambda: judged(Case(plan, Survey(), NOW), NETWORK_CHECKS),
        15,
    )


def lines() -> None:
    """What a bonded show of two hours, and the best that fits, cost."""
    parts = tuple(Part(f"p{n}", 6 + n, 0.35, 7, carrier="ab"[n % 2], mast="m", rtt_ms=60) for n in range(3))
    fresh = count()
    spread(
        "two hours of a bond of three, simulated",
        "500 ms",
        lambda: bonded(parts, 120, 0.85, str(next(fresh))),
        9,
    )
    demo = demo_plan()
    spread("the best that fits the demo", "300 ms", lambda: allocation(Case(demo.plan, demo.survey, NOW)), 9)
    shared = twenty()
    own = shared._replace(steers=frozenset(shared.groups))
    spread("20 pictures over 6 lines, by rules of their routers", "5000 ms", lambda: solve(own), 5)
    spread("20 pictures over 6 lines, a router by one", "5000 ms", lambda: solve(shared), 3)


def twenty() -> ToAllocate:
    """Twenty pictures of five senders, each behind a router with six lines to choose from, and a relay."""
    formats = [VideoFormat(width=w, height=w * 9 // 16, rate=r) for w in (1920, 1280) for r in ("50", "25")]  # type: ignore[arg-type]
    choices = tuple(
        Encoded(fmt, "h264", 2.0 + n * 0.5, (2.0 + n * 0.5) * 1.05, 20 + n * 0.4)
        for n, fmt in enumerate(formats * 3)
    )
    outgoing = tuple(
        Outgoing(f"o{n}", f"O{n}", f"s{n % 5}", n % 4 + 1, choices, ("relay",)) for n in range(20)
    )
    senders = tuple(SenderRoom(f"s{n}", f"g{n}", 6, 3) for n in range(5))
    rooms = {f"l{n}": 9.0 + 3 * n for n in range(6)}
    return ToAllocate(
        outgoing, senders, (RelayRoom("relay", 12, 20),), rooms, {f"g{n}": tuple(rooms) for n in range(5)}
    )


def plain() -> None:
    demo = demo_plan()
    spread("report on the demo plan", "20 ms", lambda: report(demo.plan, demo.survey, NOW), 40)
    costs = {}
    for size in (100, 300, 1000):
        plan = generated(size)
        target = "1000 ms" if size == 1000 else "close to linear"
        costs[size] = spread(f"report on {size} devices", target, lambda p=plan: report(p, Survey(), NOW), 9)
    print(f"{'cost a device, 1000 against 100 devices':<44} {costs[1000] / costs[100] / 10:8.2f} times")
    edit = SetField(noun="link", id="alder-feed", field="video_mbps", value=5.5)
    spread(
        "try one edit on the demo plan",
        "",
        lambda: try_edits(Case(demo.plan, demo.survey, NOW), [edit]),
        40,
    )


def day() -> None:
    """The set-up list and the run sheet of a large show, from a plan whose pictures are known."""
    plan = busy(25)

    def fresh() -> Case:
        case = Case(plan, Survey(), NOW)
        flow(case)
        return case

    size = f"{len(plan.devices)} devices"
    cases = [fresh() for _ in range(18)]
    spread(f"set-up of {size}", "150 ms", lambda: setup_view(cases.pop(), [], NOW), 8)
    spread(f"run sheet of {size}", "150 ms", lambda: run_sheet_view(cases.pop(), [], NOW), 8)
    known = fresh()
    setup_view(known, [], NOW)
    spread(f"set-up of {size}, after a tick", "50 ms", lambda: setup_view(known, [], NOW), 8)


def paths() -> None:
    plan = busy(25)
    size = f"{len(plan.devices)} devices, {len(plan.links)} links"
    spread(f"report on {size}", "300 ms (1000 devices: 1 s)", lambda: report(plan, Survey(), NOW), 9)
    alone = apply(plan, [added(from_library("camera-compact", "loose", "place-4", "Loose camera"))])
    for name, stock in (("nobody counts the stock", Stock()), ("counted stock", stock_of(alone))):
        index = Case(alone, Survey(), NOW, stock)
        flow(index)
        spread(f"one route over it, {name}", "200 ms", lambda i=index: find_routes(i, "loose", "sw-3"), 9)
        spread(f"one re-route over it, {name}", "200 ms", lambda i=index: reroute(i, "l0"), 9)
    spread(
        "a whole patch of it to one switcher",
        "",
        lambda: patch_all(Case(alone, Survey(), NOW), "sw-3"),
        5,
    )
    edits = renamed(plan, 50)
    spread(f"preview of 50 edits on {size}", "300 ms", lambda: try_edits(Case(plan, Survey(), NOW), edits), 9)
    map_plan = busy(17)
    spread(
        f"signal map of {len(map_plan.devices)} devices laid out", "1000 ms with the drawing",
        lambda: signal_map(Case(map_plan, Survey(), NOW)), 9,
    )  # fmt: skip


def costs() -> None:
    """How the cost of what one request may ask for grows with its size: the exponent of a power of the size."""
    grows("trace from the head of a chain, boxes", (200, 400, 800), chain, lambda p: trace(Case(p, Survey(), NOW), "cam"))  # fmt: skip
    grows("trace in the middle of a chain, boxes", (200, 400, 800), chain, lambda p: trace(Case(p, Survey(), NOW), "box-90"))  # fmt: skip
    grows("patch all, cameras (60 at a time)", (100, 200, 400), loose, lambda i: patch_all(i, "switcher"))
    large = generated(999)
    grows("edits made and told on 1000 devices", (100, 400, 1600), lambda n: renamed(large, n), lambda e: told(large, e, lambda thing: thing))  # fmt: skip
    grows(
        "plan file read, devices", (300, 900, 2700), lambda n: write_plan(generated(n), Survey()), read_plan
    )
    grows("report, devices", (300, 900, 2700), generated, lambda p: report(p, Survey(), NOW))


def kept() -> None:
    """What a plan of 300 devices costs to keep: its edits, its history, its room on the disk."""
    with tempfile.TemporaryDirectory() as folder:
        plans, plan = Plans(open_database(Path(folder))), busy(25)
        plans.create(plan, Survey(), "busy", "began")
        version = 1
        took = []
        for n in range(500):
            device = plan.devices[n % len(plan.devices)].id
            edit = SetField(noun="device", id=device, field="delay_ms", value=n)
            start = time.perf_counter()
            version = plans.make("busy", version, Edited([edit])).version
            took.append((time.perf_counter() - start) * 1000)
        low, middle, high = statistics.quantiles(took, n=4)
        size = sum(f.stat().st_size for f in Path(folder).glob("*.sqlite")) / 1e6
        print(f"{'edit kept on ' + str(len(plan.devices)) + ' devices, not judged':<44} {middle:8.1f} ms   (quartiles {low:.1f} to {high:.1f})")  # fmt: skip
        spread("history of 500 revisions listed", "100 ms", lambda: plans.history("busy"), 9)
        print(f"{'500 revisions of it on the disk':<44} {size:8.1f} MB   (target 30 MB)")
