"""Drawn plans whose pictures go out unlike each other: what is proposed for them breaks nothing, and nothing better there is.

300 plans under `make soak`, 30 in `make test`.
"""

from datetime import timedelta
from math import prod
from random import Random

import pytest

from humble_relay.core.allocation.of_plan import may_mbps, problem_of
from humble_relay.core.allocation.outcome import allocation
from humble_relay.core.allocation.solve import solve
from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.judgement import answers
from humble_relay.core.judging.case import Case
from humble_relay.core.load.uplink_demand import demands
from humble_relay.core.plan import Aim, Stream, Uplink
from humble_relay.core.plan.edits import Edit, added
from humble_relay.core.plan.survey import Measurement, Survey
from humble_relay.core.plan.video import VideoFormat
from tests.build import NOW, START, hd, put, small_show
from tests.core.allocation.test_allocation import by_brute_force
from tests.soak import of_many

PLATFORMS = ("alder", "birch", "cedar", "rowan")
TALL = VideoFormat(width=720, height=1280, rate="30")


def unlike(seed: int) -> Case:
    """One encoder that sends to two to four services, straight or by a relay, over one line or two: sound, protocol, composition, backup
    ingest, peaks, needs and priorities drawn; more than fits, as often as not."""
    draw = Random(seed)
    relay = draw.random() < 0.5
    edits: list[Edit] = [
        put("device", "encoder", "encoding.destinations", draw.randint(2, 6)),
        put("device", "encoder", "encoding.channels", draw.randint(1, 3)),
        put("device", "encoder", "encoding.protocols", ["rtmps", "rtmp", "srt"]),
        put("device", "encoder", "encoding.vertical", True),
        put("device", "encoder", "encoding.codecs", draw.choice([["h264"], ["h264", "hevc"]])),
        put("device", "encoder", "encoding.congestion", draw.choice(["loss", "model", None])),
    ]
    if relay:
        edits += [added(from_library("relay-cloud", "millrace", None, "Millrace")), put("device", "millrace", "ingest.host", "in.millrace.example")]  # fmt: skip
        if draw.random() < 0.5:
            edits.append(added(_stream(draw, "feed-relay", "millrace", hd(), "rtmps")))
    for n, id in enumerate(PLATFORMS[: draw.randint(2, 4)]):
        tall = n == 2 and draw.random() < 0.5
        if n:
            edits += [added(from_library("platform-tall" if tall else "platform-wide", id, None, id.capitalize())), put("device", id, "ingest.host", f"in.{id}.example")]  # fmt: skip
            fmt, layout = (TALL, "crop") if tall else (draw.choice([hd(), hd("25"), hd("50", 720)]), "full")
            sent = _stream(draw, f"feed-{id}", id, fmt, draw.choice(["rtmps", "rtmps", "rtmp"]), layout)
            by_relay = relay and len(edits) > 10 and edits[8].kind == "add-link" and draw.random() < 0.5
            edits.append(added(sent.model_copy(update={"from_device": "millrace", "layout": "full"}) if by_relay else sent))  # fmt: skip
        lowest = draw.choice([None, hd("25"), hd("25", 720)]) if not tall else None
        aim = Aim(id=f"at-{id}", end=id, picture="source", of="camera", priority=draw.randint(1, 3), need=draw.choice(["needed", "needed", "wished"]), lowest=lowest)  # fmt: skip
        edits.append(added(aim))
    lines = ["fibre"]
    if draw.random() < 0.5:
        lines.append("mast")
        card = {"cap_gb": draw.choice([5, 12, 200]), "used_gb": 1}
        edits += [
            added(Uplink(id="mast", name="Mast", site="creek", kind="mobile")),
            put("uplink", "mast", "mobile", card),
        ]
        order = draw.choice([["fibre", "mast"], ["mast", "fibre"]])
        edits += [put("router", "router", "uplinks", order), put("router", "router", "steers", draw.choice([True, False]))]  # fmt: skip
    found = [
        Measurement(at=START + timedelta(days=-6 - 7 * (n % 6 // 2) - n % 2, minutes=-30 + 15 * n), uplink=line, up_mbps=middle * draw.uniform(0.9, 1.1),
                    rtt_ms=rtt, loss_pct=loss, probes=4000, conditions="busy", connections=1)
        for line in lines
        for middle, rtt, loss in [(draw.choice([6, 14, 30, 80]), draw.choice([15, 60]), draw.choice([0, 0, 0.5]))]
        for n in range(10)
    ]  # fmt: skip
    return Case(small_show(*edits), Survey(measurements=tuple(found)), NOW)


def _stream(draw: Random, id: str, to: str, fmt: VideoFormat, protocol: str, layout: str = "full") -> Stream:
    mbps = draw.choice([3, 6, 8])
    return Stream.model_validate(
        {
            "id": id, "name": id.capitalize(), "from_device": "encoder", "to_device": to, "protocol": protocol, "format": fmt, "video_mbps": mbps,
            "audio_kbps": draw.choice([96, 160, 160, 320]), "backup": draw.random() < 0.2, "key": f"{id}-lantern", "layout": layout,
            "peak_mbps": draw.choice([None, None, mbps * 1.4]),
        }
    )  # fmt: skip


@pytest.mark.no_cover
@pytest.mark.parametrize("seed", range(of_many(18, 300)))
def test_what_is_proposed_breaks_nothing_and_fits(seed: int) -> None:
    case = unlike(seed)
    found, before = allocation(case), failing(case)
    if not any(problem_of(case).lines.values()):
        assert found.nothing.startswith("What goes out besides takes all that may be asked of Fibre")
        return
    assert found.best, found.nothing
    for choice in filter(None, (found.best, found.runner_up)):
        after = case.after(choice.edits)
        told = {p.stream for p in choice.pictures if p.left_out}
        ends = {s.to_device for s in case.streams if s.id in told}
        new = {
            (check, id)
            for check, id in failing(after) - before
            if id not in {*ends, *(f"at-{e}" for e in ends)}
        }
        assert all(check == "key-missing" and id not in case.links for check, id in new), new
        for line in case.uplinks if not found.doubt else ():
            moved = {s.id for s in demands(after)[line].streams} - {s.id for s in demands(case)[line].streams}
            assert not moved or demands(after)[line].total.value <= may_mbps(after, line) + 0.01, line


@pytest.mark.no_cover
@pytest.mark.parametrize("seed", range(of_many(18, 300)))
def test_nothing_better_fits(seed: int) -> None:
    """Against every choice tried, where these are few enough: the same left out of each rank, and each rank as good."""
    problem = problem_of(unlike(seed))
    few = tuple(o._replace(choices=o.choices[:: max(1, len(o.choices) // 5)]) for o in problem.outgoing)
    problem = problem._replace(outgoing=few)
    if prod(1 + len(o.choices) * (o.direct + len(o.relays)) for o in few) > 15_000:
        problem = problem._replace(outgoing=few[:2])
    found, (left, best) = solve(problem), by_brute_force(problem)
    assert (
        found
        and (found.left_out or (0,) * len(left)) == left
        and found.value == pytest.approx(best, abs=1e-5)
    )


def failing(case: Case) -> set[tuple[str, str]]:
    return {(a.check, a.thing.id) for a in answers(case).every if a.state == "fails"}
