"""The best that fits: against every choice tried by brute force, the trade's rules, and the plan that it makes."""

from itertools import product
from random import Random

import pytest

from humble_relay.core.capacity.allocation.compare import comparisons
from humble_relay.core.capacity.allocation.outcome import allocation
from humble_relay.core.capacity.allocation.problem import Encoded, Outgoing, RelayRoom, SenderRoom, ToAllocate
from humble_relay.core.capacity.allocation.solve import DROPPED, MATTERS, solve
from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.judgement import findings
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Aim, Plan
from humble_relay.core.plan.edits import AddAim, AddDevice, AddLink
from humble_relay.core.plan.edits.draft import apply
from humble_relay.core.plan.survey import Survey
from humble_relay.demo import demo_plan
from tests.build import NOW, case_of, edit_of, hd, measured, put, small_show

CHOICES = [
    Encoded(hd("50"), "h264", 8, 8.4, 22),
    Encoded(hd("25"), "h264", 5, 5.3, 20),
    Encoded(hd("25", 720), "h264", 2.5, 2.7, 17),
]


def drawn(seed: int) -> ToAllocate:
    """A small problem: two or three pictures of two senders, two lines, one relay or none."""
    draw = Random(seed)
    relays = (
        (RelayRoom("relay", draw.choice([1, 2, 3]), draw.choice([6, 20])),) if draw.random() < 0.7 else ()
    )
    outgoing = tuple(
        Outgoing(
            f"o{n}", f"O{n}", draw.choice(["a", "b"]), draw.choice([1, 2, 3]), tuple(draw.sample(CHOICES, draw.randint(1, 3))),
            ("relay",) if relays and draw.random() < 0.8 else (), draw.random() < 0.9 or not relays,
        )
        for n in range(draw.randint(2, 3))
    )  # fmt: skip
    senders = tuple(
        SenderRoom(s, g, draw.randint(1, 3), draw.randint(1, 2))
        for s, g in (("a", "g"), ("b", draw.choice("gh")))
    )
    lines = {"x": draw.uniform(2, 20), "y": draw.uniform(2, 20)}
    groups = {s.group: tuple(draw.sample(["x", "y"], draw.randint(1, 2))) for s in senders}
    return ToAllocate(outgoing, senders, relays, lines, groups)


def by_brute_force(problem: ToAllocate) -> float:
    """The best value of all: every way of every picture, every line of every group."""
    ranks = {p: n for n, p in enumerate(sorted({o.priority for o in problem.outgoing}))}
    relays = {r.id: r for r in problem.relays}
    group_of = {s.id: s.group for s in problem.senders}
    best = -1e18
    groups = list(problem.groups)
    ways = [
        [None, *((c, "") for c in o.choices if o.direct), *((c, r) for c in o.choices for r in o.relays if c.video_mbps <= relays[r].max_mbps)]
        for o in problem.outgoing
    ]  # fmt: skip
    for lines in product(*(problem.groups[g] for g in groups)):
        line_of = dict(zip(groups, lines, strict=True))
        for chosen in product(*ways):
            load = dict.fromkeys(problem.lines, 0.0)
            pushes, made, repeated = (
                dict.fromkeys(group_of, 0),
                {s: set() for s in group_of},
                dict.fromkeys(relays, 0),
            )  # type: ignore[var-annotated]
            once, takers, value = set(), {}, 0.0  # type: ignore[var-annotated]
            for out, way in zip(problem.outgoing, chosen, strict=True):
                weight = MATTERS ** (5 - min(ranks[out.priority], 5))
                if way is None:
                    value -= weight * DROPPED
                    continue
                choice, relay = way
                made[out.sender].add(choice)
                value += weight * (choice.quality - (0.02 if relay else 0))
                if relay:
                    repeated[relay] += 1
                    takers.setdefault((out.sender, relay, choice), []).append(out.direct)
                if not relay or (out.sender, relay, choice) not in once:
                    once.add((out.sender, relay, choice))
                    pushes[out.sender] += 1
                    load[line_of[group_of[out.sender]]] += choice.load_mbps
            # A push that one picture alone is taken from, and that has a straight way, is not made.
            lonely = any(len(of) == 1 and _all_direct(problem, key) for key, of in takers.items())
            fits = all(load[line] <= room + 1e-9 for line, room in problem.lines.items())
            fits = fits and all(
                pushes[s.id] <= s.destinations and len(made[s.id]) <= s.channels for s in problem.senders
            )
            if fits and not lonely and all(n <= relays[r].destinations for r, n in repeated.items()):
                best = max(best, value)
    return best


def _all_direct(problem: ToAllocate, key: tuple[str, str, Encoded]) -> bool:
    sender, relay, choice = key
    return all(
        o.direct for o in problem.outgoing if o.sender == sender and relay in o.relays and choice in o.choices
    )


@pytest.mark.parametrize("seed", range(60))
def test_the_optimum_is_the_best_of_all_choices(seed: int) -> None:
    problem = drawn(seed)
    found = solve(problem)
    assert found and found.value == pytest.approx(by_brute_force(problem), abs=1e-6)
    second = solve(problem, [found.shape()])
    assert second is None or (second.value <= found.value + 1e-9 and second.shape() != found.shape())


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


def test_what_is_found_for_the_demo_is_made_and_leaves_no_doubt_about_the_line() -> None:
    found = demo_plan()
    case = Case(found.plan, found.survey, NOW)
    asked = allocation(case)
    assert asked.best and asked.runner_up and {line.by for line in asked.best.pictures} == {"Millrace", ""}
    after = case.after(
        [*asked.best.edits, put("link", "boathouse-encoder-to-millrace", "key", "gate-lantern")]
    )
    lost = {f.id for f in findings(case)} - {f.id for f in findings(after)}
    came = {f.id for f in findings(after) if not f.accepted} - {f.id for f in findings(case)}
    assert lost == {"upload-bad-hour:boathouse-fibre"} and came == set()
    assert allocation(after).best.edits == ()  # type: ignore[union-attr]
    room = asked.best.rooms[0]
    assert room.asked_mbps <= room.may_mbps


def test_a_little_more_is_priced_and_what_cannot_be_sent_is_said() -> None:
    """Two platforms on a line of 12 Mb/s: the more important one is the larger, and what more of the line would bring is told."""
    plan = two_platforms()
    case = case_of(plan, measured(*(12.0 + n / 100 for n in range(8))))
    found = allocation(case)
    assert found.best
    by_name = {line.name: line.then for line in found.best.pictures}
    assert by_name["Alder"].startswith("1080p50") and not by_name["Birch"].startswith("1080p50")
    assert any("more on Fibre, Birch could be" in price for price in found.prices)
    tiny = allocation(case_of(plan, measured(*(3.4 + n / 100 for n in range(8)))))
    assert tiny.best and "left out" in {line.then for line in tiny.best.pictures}
    assert allocation(case_of(plan, Survey())).nothing.startswith("No line was measured")


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
        AddDevice(item=from_library("platform-wide", "birch", None, "Birch")),
        put("device", "birch", "ingest.host", "ingest.birch.example"),
        AddLink.model_validate({"item": again}),
        put("device", "encoder", "encoding.destinations", 2),
        put("device", "encoder", "encoding.channels", 2),
        AddAim(item=Aim(id="a", end="alder", picture="source", priority=1)),
        AddAim(item=Aim(id="b", end="birch", picture="source", priority=2)),
    )
