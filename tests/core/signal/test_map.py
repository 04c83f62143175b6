"""The signal map: nothing lies on anything else, everything is on it, and it stays where it was."""

from collections import defaultdict
from itertools import pairwise

import pytest

from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.judging.answer import State
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Place, Plan
from humble_relay.core.plan.edits import Edit, Remove, added
from humble_relay.core.plan.edits.draft import apply
from humble_relay.core.signal.diagram.channels import Turn, overlapped, tracks
from humble_relay.core.signal.diagram.content import fitting, signal_map
from humble_relay.core.signal.diagram.model import Detail, DrawnHop, SignalMap
from humble_relay.core.signal.diagram.pixels import wrapped
from humble_relay.demo import demo_plan
from tests.build import case_of, put, small_show
from tests.generate import patched

DEMO = demo_plan().plan
SHOWS = ("small", "demo", *range(400, 420))


def show(name: str | int) -> Plan:
    return patched(name) if isinstance(name, int) else {"small": small_show(), "demo": DEMO}[name]


def segments(hop: DrawnHop) -> list[tuple[float, float, float, float]]:
    return [(a.x, a.y, b.x, b.y) for a, b in pairwise(hop.points)]


def along(a: tuple[float, float], b: tuple[float, float]) -> float:
    """How much two stretches of one axis have in common."""
    return min(max(a), max(b)) - max(min(a), min(b))


def on_each_other(map: SignalMap) -> list[str]:
    """Everything that lies on something else: boxes, labels, stretches of two lines, lines through boxes."""
    found = []
    for i, a in enumerate(map.boxes):
        for b in map.boxes[i + 1 :]:
            if (
                along((a.x, a.x + a.width), (b.x, b.x + b.width)) > 0
                and along((a.y, a.y + a.height), (b.y, b.y + b.height)) > 0
            ):
                found.append(f"box {a.device} on {b.device}")
    labels = []
    for h in map.hops:
        if h.label or h.detail:
            mark = 18 if h.mark else 0  # before the label
            wide = 6.2 * max(len(h.label), len(h.detail)) + mark
            labels.append((h, h.label_x - mark, h.label_y - 16, wide, 32))
    for i, (h, x, y, wide, tall) in enumerate(labels):
        for g, x2, y2, wide2, tall2 in labels[i + 1 :]:
            if along((x, x + wide), (x2, x2 + wide2)) > 0 and along((y, y + tall), (y2, y2 + tall2)) > 1:
                found.append(f"label {h.link} on {g.link}")
        for box in map.boxes:
            if (
                along((x, x + wide), (box.x, box.x + box.width)) > 0
                and along((y, y + tall), (box.y, box.y + box.height)) > 6
            ):
                found.append(f"label {h.link} on box {box.device}")
    level: dict[float, list[tuple[str, float, float]]] = defaultdict(list)
    upright: dict[float, list[tuple[str, float, float]]] = defaultdict(list)
    for h in map.hops:
        for x1, y1, x2, y2 in segments(h):
            assert x1 == x2 or y1 == y2, h.link
            if y1 == y2:
                level[y1].append((h.link, x1, x2))
            else:
                upright[x1].append((h.link, y1, y2))
            for box in map.boxes:
                inside = (
                    along((x1, x2), (box.x + 1, box.x + box.width - 1)) > 0
                    if y1 == y2
                    else box.x < x1 < box.x + box.width
                )
                if (
                    inside
                    and along((y1, y2), (box.y, box.y + box.height)) > (-1 if y1 == y2 else 0)
                    and box.y < max(y1, y2)
                    and min(y1, y2) < box.y + box.height
                ):
                    found.append(f"line {h.link} through {box.device}")
    for stretches in (level, upright):
        for lines in stretches.values():
            for i, (name, a, b) in enumerate(lines):
                found += [
                    f"line {name} on {other}"
                    for other, c, d in lines[i + 1 :]
                    if other != name and along((a, b), (c, d)) > 0
                ]
    return found


@pytest.mark.parametrize("name", SHOWS)
@pytest.mark.parametrize("network", [False, True])
@pytest.mark.parametrize("detail", ["full", "names"])
def test_nothing_lies_on_anything_else_and_everything_is_there(
    name: str, network: bool, detail: Detail
) -> None:
    plan = case_of(show(name))
    marks: dict[str, State] = dict.fromkeys(sorted(plan.links)[::3], "fails")
    map = signal_map(plan, detail, network, marks=marks)
    assert on_each_other(map) == [] and on_each_other(signal_map(plan, "places", network)) == []
    assert {h.link for h in map.hops if h.mark} == {h.link for h in map.hops} & set(marks)
    drawn = {b.device for b in map.boxes}
    aside = {n for band in map.bands for n in band.aside}
    assert all(d.id in drawn or d.name in aside for d in plan.devices.values())
    seen = {h.link for h in map.hops}
    assert seen == {x.id for x in plan.links.values() if network or getattr(x, "cable", "") != "ethernet"}
    assert all(0 <= p.x <= map.width and 0 <= p.y <= map.height for h in map.hops for p in h.points)
    bands = {b.place: (b.y, b.y + b.height) for b in map.bands}
    assert all(bands[b.band][0] <= b.y and b.y + b.height <= bands[b.band][1] for b in map.boxes)


def test_signal_runs_from_left_to_right_and_every_hop_joins_its_boxes() -> None:
    map = signal_map(case_of(DEMO))
    box = {b.device: b for b in map.boxes}
    for hop in map.hops:
        first, last = hop.points[0], hop.points[-1]
        a, b = box[hop.from_device], box[hop.to_device]
        assert (first.x, last.x) == pytest.approx((a.x + a.width, b.x)) and a.column < b.column
        assert a.y <= first.y <= a.y + a.height and b.y <= last.y <= b.y + b.height
    assert [b.name for b in map.bands] == [
        "Slipway",
        "Weir Tower",
        "Boathouse",
        "Net Loft",
        "Mudflat Hide",
        "Chandlery desk",
        "Judges' Punt",
        "Online",
    ]
    assert {b.column for b in map.boxes if b.band == "online"} == {max(b.column for b in map.boxes)}
    said = {h.link: (h.label, h.detail) for h in map.hops}
    assert said["slipway-run"] == ("SDI 40 m", "1080p50, Input 1")
    assert said["phone-link"] == ("Browser 4.11 Mb/s, 300 ms", "1080p25, Network source 1")
    assert said["multi-view"] == ("HDMI 5 m", "multi-view, 1080p50")


STILL: list[list[Edit]] = [
    [put("link", "slipway-run", "length_m", 55)],
    [put("device", "deck-cam", "name", "Balcony camera")],
    [added(from_library("camera-field", "extra", "slipway", "Extra"))],
    [added(from_library("monitor", "extra", "net-loft", "Extra"))],
    [put("link", "weir-run", "broken", True), put("link", "weir-run", "broken", False)],
    [put("link", "alder-feed", "video_mbps", 6)],
]


@pytest.mark.parametrize("edits", STILL)
def test_the_map_stays_where_it_was_under_small_edits(edits: list[Edit]) -> None:
    spots = {b.device: (b.band, b.column, b.row) for b in signal_map(case_of(DEMO)).boxes}
    after = {b.device: (b.band, b.column, b.row) for b in signal_map(case_of(apply(DEMO, edits))).boxes}
    assert {d: after[d] for d in spots} == spots


def test_a_broken_link_and_one_that_shows_nowhere_say_so() -> None:
    broken = signal_map(case_of(apply(DEMO, [put("link", "weir-run", "broken", True)])))
    state = {h.link: h.state for h in broken.hops}
    assert (state["weir-run"], state["weir-in"], state["slipway-run"]) == ("broken", "dark", "live")
    dark = signal_map(case_of(apply(DEMO, [put("link", "phone-link", "input", None)])))
    assert {h.link: h.state for h in dark.hops}["phone-link"] == "dark"


def test_a_place_drawn_as_one_box_takes_its_links_with_it() -> None:
    map = signal_map(case_of(DEMO), turned=["net-loft", "slipway"])
    assert on_each_other(map) == []
    loft = next(b for b in map.boxes if b.band == "net-loft")
    assert (loft.name, loft.notes) == ("3 devices", ("1 converter, 1 monit…",))
    into = [h for h in map.hops if h.to_device == loft.device]
    assert {h.from_device for h in into} == {"program-splitter", "boathouse-encoder"}
    from_slipway = {h.to_device: h.label for h in map.hops if h.from_device == "place:slipway"}
    assert set(from_slipway) == {"switcher", "browser-laptop"}
    everything = signal_map(case_of(DEMO), turned=[b.place for b in map.bands])
    assert len(everything.boxes) == len(everything.bands) == 8


def test_the_whole_demo_is_seen_at_once_and_a_picked_way_stays_in_full() -> None:
    case = case_of(DEMO)
    # What a window of 1280 by 800 px leaves beside the pane and under the stages.
    assert fitting(case, 790, 600) == "names" and fitting(case, 2000, 900) == "full"
    assert fitting(case, 700, 600) == "places" == fitting(case, 100, 100)
    far = signal_map(case, "names")
    assert not any(h.label or h.detail for h in far.hops) and not any(x.back for x in (*far.hops, *far.boxes))
    picked = signal_map(case, "names", picked="weir-cam")
    lit = {h.link for h in picked.hops if not h.back}
    assert {"weir-run", "alder-feed"} <= lit and "slipway-run" not in lit
    # Nothing moves for what is picked: every box and line stands where it stood.
    assert [(b.device, b.x, b.y) for b in picked.boxes] == [(b.device, b.x, b.y) for b in far.boxes]
    assert [(h.link, h.points) for h in picked.hops] == [(h.link, h.points) for h in far.hops]
    assert {b.device for b in picked.boxes if not b.back} >= {"weir-cam", "switcher", "alder"}
    # From far off, the boxes of the way come out of their places.
    places = signal_map(case, "places", picked="weir-cam", marks={"deck-cam": "fails"})
    assert {"weir-cam", "switcher", "place:slipway", "place:boathouse"} <= {b.device for b in places.boxes}
    assert {b.device: b.mark for b in places.boxes if b.mark} == {"place:boathouse": "fails"}
    alone = signal_map(case, "names", picked="quay-cam")
    assert not any(x.back for x in (*alone.hops, *alone.boxes))


def test_two_hundred_devices_are_still_a_picture_of_the_whole_by_places() -> None:
    halls = tuple(
        Place(id=f"hall-{n}", name=f"Hall {n}", site=DEMO.sites[0].id, x_m=50 * n, y_m=0) for n in range(9)
    )
    more = [added(from_library("camera-field", f"c-{n}", f"hall-{n % 9}", f"Camera {n}")) for n in range(180)]
    case = case_of(apply(DEMO.model_copy(update={"places": (*DEMO.places, *halls)}), more))
    map = signal_map(case, fitting(case, 910, 600))
    assert map.detail == "places" and map.width < 910 and on_each_other(map) == []
    assert sum(b.devices for b in map.bands) == len(case.devices)


def test_loops_and_an_empty_plan_are_drawn_too() -> None:
    assert (
        signal_map(Case(Plan(show=small_show().show), case_of(DEMO).survey, case_of(DEMO).as_of)).boxes == ()
    )
    alone = signal_map(case_of(apply(small_show(), [Remove(noun="device", id="encoder")])))
    assert {b.device for b in alone.boxes} == {"camera", "alder"} and alone.hops == ()


def test_turns_of_a_channel_share_no_track_and_keep_their_order() -> None:
    swap = [Turn("a", 0, 3), Turn("b", 3, 0)]
    given = tracks(swap)
    assert given["a"] != given["b"]
    assert len(overlapped(swap, given)) == 1  # a ring of two: one leaves its box lower
    chain = [Turn("a", 0, 1), Turn("b", 1, 2), Turn("c", 2, 3), Turn("d", 9, 9)]
    given = tracks(chain)
    assert given["c"] < given["b"] < given["a"] and "d" not in given and overlapped(chain, given) == set()


def test_names_are_wrapped_and_cut() -> None:
    assert wrapped("Weir Tower camera", 19, 1) == ("Weir Tower camera",)
    assert wrapped("The very long name of a box", 12, 2) == ("The very", "long name o…")
