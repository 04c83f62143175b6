"""The best that fits: against every choice tried by brute force, the trade's rules, and the plan that it makes."""

from itertools import product
from random import Random

import pytest

from humble_relay.core.allocation.allocation_problem import (
    Barred,
    Encoded,
    Outgoing,
    RelayRoom,
    SenderRoom,
    ToAllocate,
)
from humble_relay.core.allocation.compare import comparisons
from humble_relay.core.allocation.outcome import allocation
from humble_relay.core.allocation.solve import DROPPED, solve
from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.judgement import findings
from humble_relay.core.judging.case import Case
from humble_relay.core.papers.paper_tables import papers
from humble_relay.core.plan import Aim, Plan, Stream, Uplink
from humble_relay.core.plan.edits import Remove, added
from humble_relay.core.plan.edits.draft import apply
from humble_relay.core.plan.survey import Survey
from humble_relay.core.reach.stream_uplinks import uplink_crossed
from humble_relay.core.reach.trace.connection_trace import connection_traces
from humble_relay.demo import demo_plan
from tests.build import NOW, case_of, edit_of, hd, measured, put, small_show
from tests.soak import of_many

CHOICES = [
    Encoded(hd("50"), "h264", 8, 8.4, 22),
    Encoded(hd("50"), "hevc", 5, 5.4, 22.6),
    Encoded(hd("25"), "h264", 5, 5.3, 20),
    Encoded(hd("25", 720), "h264", 2.5, 2.7, 17),
]


def drawn(seed: int) -> ToAllocate:
    """A small problem: two or three unlike pictures of two senders, two lines, one relay or none."""
    draw = Random(seed)
    relays = (
        (RelayRoom("relay", draw.choice([1, 2, 3]), draw.choice([6, 20])),) if draw.random() < 0.7 else ()
    )
    senders = tuple(
        SenderRoom(s, g, draw.randint(1, 4), draw.randint(1, 2))
        for s, g in (("a", "g"), ("b", draw.choice("gh")))
    )
    lines = {"x": draw.uniform(2, 20), "y": draw.uniform(2, 20)}
    groups = {s.group: tuple(draw.sample(["x", "y"], draw.randint(1, 2))) for s in senders}
    steers = frozenset(g for g in groups if draw.random() < 0.5)
    besides = {g: draw.uniform(0.5, 4) for g in groups if g not in steers and draw.random() < 0.5}
    twice = draw.choice([frozenset[str](), frozenset(["relay"])])
    outgoing = tuple(_unlike(draw, n, relays, twice) for n in range(draw.randint(2, 3)))
    barred = frozenset(
        Barred(o.id, draw.choice(["", "relay"]), draw.choice("xy"), draw.choice([0, 5])) for o in outgoing if draw.random() < 0.2
    )  # fmt: skip
    return ToAllocate(outgoing, senders, relays, lines, groups, steers, besides, barred)


def _unlike(draw: Random, n: int, relays: tuple[RelayRoom, ...], twice: frozenset[str]) -> Outgoing:
    """A picture like the others or not: by its sound, its protocol, how it is composed, and whether it has a backup ingest."""
    by = ("relay",) if relays and draw.random() < 0.8 else ()
    louder, backup, composed = (
        draw.choice([0, 0, 0.3]),
        draw.random() < 0.25,
        draw.choice(["full", "full", "crop"]),
    )
    choices = tuple(
        c._replace(
            load_mbps=(c.load_mbps + louder) * (1 + backup) * draw.choice([1, 1.02]),
            relayed_mbps=tuple((r, None if draw.random() < 0.1 else (c.load_mbps + louder) * (1 + bool(twice))) for r in by),
        )
        for c in draw.sample(CHOICES, draw.randint(1, 3))
    )  # fmt: skip
    return Outgoing(
        f"o{n}", f"O{n}", draw.choice("ab"), draw.choice([1, 2, 3]), choices, by, draw.choice(["", "end"]), draw.random() < 0.7,
        draw.random() < 0.9 or not relays, composed, f"{composed} {louder}", backup, twice,
    )  # fmt: skip


def by_brute_force(problem: ToAllocate) -> tuple[tuple[int, ...], tuple[float, ...]]:
    """What must be left out at least of each rank, and the best of each rank with that, the first ones first: every way of every
    picture, every line of what leaves by one."""
    ranks = sorted({(not o.must, o.priority) for o in problem.outgoing})
    relays, senders = {r.id: r for r in problem.relays}, {s.id: s for s in problem.senders}
    ways = [
        [None, *((c, "") for c in o.choices if o.direct), *((c, r) for c in o.choices for r in o.relays if c.video_mbps <= relays[r].max_mbps and dict(c.relayed_mbps)[r] is not None)]
        for o in problem.outgoing
    ]  # fmt: skip
    tried = (
        (tuple(-n for n in left), best)
        for pushes, value, left in _chosen(problem, ways, ranks, relays, senders)
        if (best := _with_lines(problem, pushes, value))
    )
    left, value = max(tried)
    return tuple(-n for n in left), value


def _chosen(problem, ways, ranks, relays, senders):  # type: ignore[no-untyped-def]
    """Every choice that the boxes and relays can do: what is pushed (group, sender, service, Mb/s, rank, of whom), and its value by rank."""
    for chosen in product(*ways):
        made, repeated = {s: set() for s in senders}, dict.fromkeys(relays, 0)  # type: ignore[var-annotated]
        pushed, takers, count = {}, {}, dict.fromkeys(senders, 0)  # type: ignore[var-annotated]
        value, left = [0.0] * len(ranks), [0] * sum(not wished for wished, _ in ranks)
        for out, way in zip(problem.outgoing, chosen, strict=True):
            rank = ranks.index((not out.must, out.priority))
            if way is None:
                value[rank] -= DROPPED
                if out.must:
                    left[rank] += 1
                continue
            choice, relay = way
            picture = (choice.format, choice.codec, choice.video_mbps)
            made[out.sender].add((out.picture, *picture))
            value[rank] += choice.quality - (0.02 if relay else 0)
            if not relay:
                pushed[out.id] = [
                    senders[out.sender].group,
                    out.sender,
                    out.end or out.id,
                    choice.load_mbps,
                    rank,
                    [(out.id, "", choice.video_mbps)],
                ]
                count[out.sender] += 1 + out.backup
                continue
            key = (out.sender, relay, out.picture, out.pushed_as, picture)
            could = [o for o in problem.outgoing if (o.sender, o.picture, o.pushed_as) == (out.sender, out.picture, out.pushed_as) and relay in o.relays
                     and any((c.format, c.codec, c.video_mbps) == picture and dict(c.relayed_mbps)[relay] is not None for c in o.choices)]  # fmt: skip
            if key not in pushed:
                first = min(ranks.index((not o.must, o.priority)) for o in could)
                pushed[key] = [
                    senders[out.sender].group,
                    out.sender,
                    relay,
                    dict(choice.relayed_mbps)[relay],
                    first,
                    [],
                ]
                count[out.sender] += 1 + (relay in out.pushed_twice)
            pushed[key][5].append((out.id, relay, choice.video_mbps))
            repeated[relay] += 1 + out.backup
            takers.setdefault(key, []).append((out, all(o.direct for o in could)))
        # A push that one picture alone is taken from, and that has a straight way, is not made.
        lonely = any(len(of) == 1 and of[0][1] for of in takers.values())
        full = any(count[s.id] > s.destinations or len(made[s.id]) > s.channels for s in problem.senders)
        if not lonely and not full and all(n <= relays[r].destinations for r, n in repeated.items()):
            yield list(pushed.values()), value, left


def _with_lines(problem, pushes, value):  # type: ignore[no-untyped-def]
    """The best value by any lines: single streams by their own where the router steers; None where none has the room."""
    together = list(dict.fromkeys(tuple(p[:3]) if p[0] in problem.steers else (p[0],) for p in pushes))
    together += [(g,) for g in problem.besides if (g,) not in together]
    bars = {b[:3]: b.from_mbps for b in sorted(problem.barred, key=lambda b: -b.from_mbps)}
    best = None
    for lines in product(*(problem.groups[t[0]] for t in together)):
        by, load, now = (
            dict(zip(together, lines, strict=True)),
            dict.fromkeys(problem.lines, 0.0),
            list(value),
        )
        for group, mbps in problem.besides.items():
            load[by[(group,)]] += min(mbps, problem.lines[by[(group,)]] / sum(by[(group,)] in g for g in problem.groups.values()))  # fmt: skip
        barred = False
        for group, sender, service, mbps, rank, of in pushes:
            line = by[(group, sender, service) if group in problem.steers else (group,)]
            load[line] += mbps
            now[rank] -= 0.01 * (line != problem.groups[group][0])
            barred |= any(
                (id, relay, line) in bars and video >= bars[id, relay, line] for id, relay, video in of
            )
        if not barred and all(load[line] <= room + 1e-9 for line, room in problem.lines.items()):
            found = tuple(round(v, 9) for v in now)
            best = max(best or found, found)
    return best


@pytest.mark.parametrize("seed", range(of_many(60, 400)))
def test_the_optimum_is_the_best_of_all_choices(seed: int) -> None:
    """Rank by rank, against every choice tried: pictures whose sound, protocol, composition or backup ingest differ among them."""
    problem = drawn(seed)
    found, (left, best) = solve(problem), by_brute_force(problem)
    assert (
        found
        and (found.left_out or (0,) * len(left)) == left
        and found.value == pytest.approx(best, abs=1e-5)
    )
    wider = solve(problem._replace(lines={line: mbps + 3 for line, mbps in problem.lines.items()}))
    assert wider and wider.left_out <= found.left_out  # more of a line is never worth less: rank by rank
    if wider.left_out == found.left_out:
        assert [round(v, 5) for v in wider.value] >= [round(v, 5) for v in found.value]
    second = solve(problem, [found.shape()])
    if second:
        assert second.shape() != found.shape()
        assert second.left_out > found.left_out or [-v for v in second.value] >= [
            -v - 1e-5 for v in found.value
        ]


def demo_at(upload_mbps: float) -> Case:
    """The demo on a fibre that carries this, at every hour, and nothing worse."""
    found = demo_plan()
    seen = tuple(
        m.model_copy(update={"up_mbps": upload_mbps}) if m.uplink == "boathouse-fibre" else m
        for m in found.survey.measurements
    )
    return Case(found.plan, Survey(measurements=seen, facts=found.survey.facts), NOW)


@pytest.mark.parametrize("school", ["half", "third-free", "one-and-half"])
def test_push_against_relay_flips_where_the_school_says(school: str) -> None:
    """Common practice: the upload must be the sum of what is pushed, with the school's headroom; each further push adds its whole."""
    (found,) = comparisons(demo_at(50))
    each, once = (next(f for f in m.fits if f.school == school) for m in found.manners)
    assert each.fits_from_mbps and once.fits_from_mbps and once.fits_from_mbps < each.fits_from_mbps
    one = found.manners[0].asked_mbps - found.manners[1].asked_mbps
    assert one == pytest.approx(8.41, abs=0.05)  # the second program
    for manner, least in enumerate((each.fits_from_mbps, once.fits_from_mbps)):
        for upload, fits in ((least + 0.2, True), (least - 0.2, False)):
            (there,) = comparisons(demo_at(upload))
            assert next(f.fits for f in there.manners[manner].fits if f.school == school) == fits


@pytest.mark.parametrize(("upload", "platforms", "in_full"), [(20, 1, True), (20, 2, False), (100, 2, True)])
def test_the_trades_rule_of_pushes(upload: float, platforms: int, in_full: bool) -> None:
    """Common practice, no source: 20 Mb/s up carries one platform at 1080p50, 100 two with ease; without a relay."""
    plan, gone = (
        demo_at(upload).plan,
        ["millrace", "eelgrass", "cedar", "loft-decoder", "punt-decoder", "birch"],
    )
    ours = apply(
        plan, [edit_of({"kind": "remove", "noun": "device", "id": d}) for d in gone[: 7 - platforms]]
    )
    halves = ours.settings.model_copy(update={"headroom": "half"})
    best = allocation(Case(ours.model_copy(update={"settings": halves}), demo_at(upload).survey, NOW)).best
    assert best and len(best.pictures) == platforms
    assert (
        all("1080p50" in line.then and float(line.then.split()[1]) >= 8 for line in best.pictures) == in_full
    )


def test_what_is_found_for_the_demo_is_made_and_fits_the_low_end_of_the_line() -> None:
    found = demo_plan()
    case = Case(found.plan, found.survey, NOW)
    asked = allocation(case)
    assert asked.best and asked.runner_up and {line.by for line in asked.best.pictures} == {"Millrace", ""}
    after = case.after(
        [*asked.best.edits, put("link", "boathouse-encoder-to-millrace", "key", "gate-lantern")]
    )
    lost = {f.id for f in findings(case)} - {f.id for f in findings(after)}
    came = {f.id for f in findings(after) if not f.accepted} - {f.id for f in findings(case)}
    assert lost == {"upload-bad-hour:boathouse-fibre"}
    assert came == {"thin-evidence:boathouse-fibre"}  # three evenings are too few to rely on it
    assert allocation(after).best.edits == ()  # type: ignore[union-attr]
    room = asked.best.rooms[0]
    assert room.asked_mbps <= room.may_mbps


def test_a_little_more_is_priced_and_what_cannot_be_sent_is_said() -> None:
    """Two platforms on a line of 13 Mb/s: the more important one is the larger, and what more of the line would bring is told."""
    plan = two_platforms()
    case = case_of(plan, measured(*(12.6 + n / 100 for n in range(8))))
    found = allocation(case)
    assert found.best
    by_name = {line.name: line.then for line in found.best.pictures}
    assert by_name["Alder"].startswith("1080p50") and not by_name["Birch"].startswith("1080p50")
    assert any("more on Fibre, Birch could be" in price for price in found.prices)
    tiny = allocation(case_of(plan, measured(*(3.4 + n / 100 for n in range(8)))))
    assert tiny.best and "left out" in {line.then for line in tiny.best.pictures}
    assert allocation(case_of(plan, Survey())).nothing.startswith("No line was measured")


def test_a_router_that_steers_sends_each_picture_by_the_line_that_carries_it() -> None:
    """Two lines of 13 Mb/s, a platform in full on each: by rules of a router that can, else the price of one is told."""
    spare = added(Uplink(id="mast", name="Mast", site="creek", kind="mobile"))
    whole = apply(two_platforms(), [spare, put("router", "router", "uplinks", ["fibre", "mast"])])
    ups = [13.0 + n / 100 for n in range(8)]
    survey = Survey(measurements=(*measured(*ups).measurements, *measured(*ups, line="mast").measurements))
    fixed = allocation(case_of(whole, survey))
    assert fixed.best and {line.then[:7] for line in fixed.best.pictures} == {"1080p50", "720p25 "}
    assert any(
        "Were Router told to send single streams" in p and "Birch could be 1080p50" in p for p in fixed.prices
    )
    steering = case_of(apply(whole, [put("router", "router", "steers", True)]), survey)
    found = allocation(steering)
    assert found.best and {(line.then[:7], line.line) for line in found.best.pictures} == {
        ("1080p50", ""),
        ("1080p50", "Mast"),
    }
    after = steering.after(found.best.edits)
    assert {uplink_crossed(after, s) for s in after.streams} == {"fibre", "mast"} and not {
        "upload-too-small:mast",
        "headroom-used:mast",
    } & {f.id for f in findings(after)}
    ruled = next(s for s in after.streams if s.line)
    hops = [w.says for j in connection_traces(after)[ruled.id] for w in j.waypoints]
    assert "Router sends it out by Mast, under its own address" in hops
    sheet = next(t for t in papers(after) if t.id == "router").rows
    assert ("Router", "send by", "Mast: what 192.168.20.30 sends to ingest.birch.example", "Feed B") in sheet
    gone = apply(after.plan, [Remove(noun="uplink", id="mast")])
    assert all(s.line is None for s in case_of(gone).streams)


def test_what_must_arrive_is_sent_even_where_the_worst_hour_leaves_no_room_and_that_is_said() -> None:
    """One evening of four falls to 4 Mb/s: within that one picture goes; by the school both do, and the doubt is told."""
    survey = measured(20, 21, 20, 22, 21, 20, 4, 4.1)
    found = allocation(case_of(two_platforms(), survey))
    assert found.best and not any(line.left_out for line in found.best.pictures)
    assert "(4.04 Mb/s)" in found.doubt and "leaves that hour in doubt" in found.doubt
    (room,) = found.best.rooms
    assert (
        4.04 < room.asked_mbps <= room.may_mbps < 7
    )  # no more beyond it than it takes: twice the least picture
    assert "too little to rely on" in allocation(case_of(two_platforms(), measured(20, 21, 20))).doubt
    assert allocation(case_of(two_platforms(), measured(*[60] * 8))).doubt == ""


def two_platforms() -> Plan:
    """The small show to Alder first and Birch second."""
    again = {
        **small_show().links[-1].model_dump(mode="json"),
        "id": "feed-b",
        "name": "Feed B",
        "to_device": "birch",
        "key": "creek-lantern",
    }
    return small_show(
        added(from_library("platform-wide", "birch", None, "Birch")),
        put("device", "birch", "ingest.host", "ingest.birch.example"),
        added(Stream.model_validate(again)),
        put("device", "encoder", "encoding.destinations", 2),
        put("device", "encoder", "encoding.channels", 2),
        added(Aim(id="a", end="alder", picture="source", priority=1)),
        added(Aim(id="b", end="birch", picture="source", priority=2)),
    )
