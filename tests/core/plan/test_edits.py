"""The one door: edits applied whole or refused whole, and said in words."""

import pickle

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.plan import Aim, Cable, Network, Plan, Router, Show, Span, Uplink
from humble_relay.core.plan.edits import (
    Edit,
    Remove,
    RemovePort,
    SetFigure,
    added,
)
from humble_relay.core.plan.edits.draft import EditRefused, apply, told
from humble_relay.core.plan.secrets import withheld
from humble_relay.core.views.command_bar import command_examples, read_command
from tests.build import base_edits, case_of, leave_by, put, put_port, report_of, small_show
from tests.generate import patched


@pytest.mark.parametrize(
    ("edit", "said"),
    [
        (Remove(noun="site", id="creek"), "points at site creek"),
        (Remove(noun="network", id="lan"), "points at network lan"),
        (Remove(noun="device", id="nobody"), "no device called nobody"),
        (RemovePort(port="encoder/sdi"), "ends at port encoder/sdi"),
        (put("device", "camera", "place", "moon"), "points at place moon"),
        (put("device", "camera", "colour", "red"), "no field called colour"),
        (put("device", "camera", "encoding.max_mbps", 4), "no encoding.max_mbps to set"),
        (put("device", "camera", "id", "other"), "id stays as it is"),
        (put("link", "run", "kind", "stream"), "kind stays as it is"),
        (put("link", "run", "length_m", -4), "greater than or equal to 0"),
        (put("link", "run", "length_m", "far"), "valid number"),
        (put("link", "feed", "format", {"width": 1920, "height": 1080, "rate": "51"}), "59.94"),
        (put("show", None, "starts_at", "31 Feb 2026, 19:30"), "there is no day 31 Feb 2026"),
        (put("show", None, "starts_at", "half past seven"), "write it as 19 Sep 2026, 19:30"),
        (added(from_library("camera-field", "camera", None)), "id camera is used twice"),
        (
            added(Cable(id="x", from_port="camera/sdi", to_port="encoder/hdmi", cable="coax", length_m=1)),
            "already has cable run",
        ),
    ],
)
def test_an_edit_that_would_break_the_plan_is_refused_with_the_reason(edit: Edit, said: str) -> None:
    plan = small_show()
    with pytest.raises(EditRefused, match=said.replace("(", r"\(")):
        apply(plan, [put("show", None, "name", "Changed"), edit])
    assert plan == small_show()


def test_a_device_takes_its_links_with_it() -> None:
    after = apply(small_show(), [Remove(noun="device", id="encoder")])
    assert after.links == () and len(after.devices) == 2


@pytest.mark.parametrize(
    ("edit", "said"),
    [
        (put("link", "feed", "video_mbps", 5.5), "video bitrate of Feed 8 → 5.5 Mb/s"),
        (put("link", "feed", "key", "hunter2"), "key of Feed set"),
        (put("link", "feed", "key", None), "key of Feed taken out"),
        (put("link", "feed", "stream_id", "#!::r=x"), "stream id of Feed set"),
        (put("link", "run", "length_m", 60), "length of cable run 40 → 60 m"),
        (put("show", None, "name", "Gala"), "name of show Regatta → Gala"),
        (put("settings", None, "headroom", "half"), "headroom of settings third-free → half"),
        (
            put("device", "alder", "ingest.host", "x.example"),
            "host of Alder ingest.alder.example → x.example",
        ),
        (
            put("link", "feed", "format", {"width": 1280, "height": 720, "rate": "25"}),
            "format of Feed 1080p50 → 720p25",
        ),
        (
            put_port("encoder/lan", "interface.address", "192.168.20.31"),
            "address of Encoder, LAN 192.168.20.30 → 192.168.20.31",
        ),
        (Remove(noun="device", id="camera"), "took out Camera"),
        (added(from_library("router", "router", None, "Router")), "added device Router"),
        (SetFigure(figure="coax-reach", value=70), "figure coax reach set to 70"),
    ],
)
def test_history_reads_like_a_note_and_never_shows_a_key(edit: Edit, said: str) -> None:
    assert told(small_show(), [edit], lambda thing: thing)[1] == [said]


def test_keys_are_taken_out_of_copies() -> None:
    copy = withheld(small_show())
    assert "paper-lantern" not in copy.model_dump_json()
    found = [f for f in report_of(copy).findings if f.rule == "key-missing"]
    assert found[0].severity == "risks" and "left out" in found[0].wrong
    assert "key-missing" not in {
        f.rule for f in report_of(apply(copy, [put("link", "feed", "key", "again")])).findings
    }


names = st.sampled_from(
    ["camera", "encoder", "alder", "run", "feed", "lan", "fibre", "creek", "boathouse", "ghost"]
)
nouns = st.sampled_from(["site", "place", "uplink", "network", "device", "link"])
values = st.one_of(st.none(), st.booleans(), st.floats(-5, 500), st.text(max_size=12), names)
fields = st.sampled_from(
    [
        "name",
        "place",
        "site",
        "uplink",
        "length_m",
        "video_mbps",
        "range",
        "gateway",
        "cable",
        "produces",
        "address",
        "protocol",
    ]
)
edits = st.one_of(
    st.builds(lambda n, i: Remove(noun=n, id=i), nouns, names),
    st.builds(put, nouns, names, fields, values),
    st.builds(
        lambda f, v: put_port("encoder/lan", f, v),
        st.sampled_from(["network", "address", "addressing", "types"]),
        values,
    ),
)


@pytest.mark.no_cover
@settings(max_examples=150, deadline=None)
@given(st.lists(edits, max_size=6))
def test_whatever_is_sent_the_plan_stays_well_formed_and_can_be_judged(changes: list[Edit]) -> None:
    plan = small_show()
    for change in changes:
        try:
            plan = apply(plan, [change])
        except EditRefused as refused:
            assert str(refused)
    assert Plan.model_validate_json(plan.model_dump_json()) == plan
    result = report_of(plan)
    assert len({f.id for f in result.findings}) == len(result.findings)


def test_edits_survive_the_wire() -> None:
    from humble_relay.store.revisions import _EDITS

    sent = base_edits()
    assert _EDITS.validate_python(_EDITS.dump_python(sent, mode="json")) == sent


@pytest.mark.parametrize(
    ("line", "first"),
    [
        ("go band", "Open Bandwidth"),
        ("sur", "Open Survey"),
        ("enc to alder", "Encoder to Alder: RTMPS stream, 0 ms"),
        ("cam to mon", "Camera to Monitor: HDMI 2 m to HDMI in, 0 ms"),
        ("get cam to monitor hdmi", "Camera to Monitor: HDMI 2 m to HDMI in, 0 ms"),
        ("cam to mon 6 m", "Camera to Monitor: HDMI 6 m to HDMI in, 0 ms"),
        ("desk to switcher", "Sound desk to Switcher: Audio 42 m: Line out to Sound in"),
        ("enc to router", "Encoder to Router: Ethernet 42 m: LAN to LAN 1"),
        ("patch all", "Patch to Switcher: Spare to Input 1, by SDI coax"),
        ("patch cameras to switcher", "Patch to Switcher: Spare to Input 1, by SDI coax"),
        ("re-route run", None),
        (
            "reroute camera",
            "Instead of Camera, SDI out to Encoder, SDI in: HDMI 2 m, HDMI to SDI converter, SDI coax 40 m to SDI in, 1 ms",
        ),
        ("feed 5.5 mb", "Feed: video bitrate 8 → 5.5 Mb/s"),
        ("bitrate 5,5 mb/s", "Feed: video bitrate 8 → 5.5 Mb/s"),
        ("feed 5500 kb", "Feed: video bitrate 8 → 5.5 Mb/s"),
        ("feed 5500 kbit/s", "Feed: video bitrate 8 → 5.5 Mb/s"),
        ("add dongle", "Add a Teasel HDMI capture box"),
        ("undo", "Undo the last change"),
        ("help", "Show the keys of the page, and what can be typed here"),
        ("add compact at boat", "Add a Teasel Compact camera at Boathouse"),
    ],
)
def test_short_lines_are_read_as_alternatives(line: str, first: str | None) -> None:
    plan = small_show(
        put("device", "encoder", "encoding.destinations", 2),
        added(from_library("monitor", "monitor", "slipway", "Monitor")),
        added(from_library("switcher-eight", "switcher", "boathouse", "Switcher")),
        added(from_library("sound-desk", "desk", "slipway", "Sound desk")),
        added(from_library("router", "router", "slipway", "Router")),
        added(from_library("camera-studio", "spare", "slipway", "Spare")),
    )
    found = read_command(case_of(plan), line)
    if first is None:
        assert not any(a.edits for a in found)
        return
    assert found[0].title == first
    assert found[0].go or found[0].do or apply(plan, found[0].edits) != plan


@pytest.mark.no_cover
@pytest.mark.parametrize("seed", range(400, 410))
def test_every_example_of_the_command_bar_means_something_for_the_plan_in_hand(seed: int) -> None:
    for plan in (patched(seed), Plan(show=Show(name="Empty"))):
        case = case_of(plan)
        examples = command_examples(case)
        assert "undo" in examples or len(examples) == 7
        for line in examples:
            first = read_command(case, line)[0]
            assert first.go or first.do or apply(plan, first.edits) != plan, line


@pytest.mark.parametrize(
    "line", ["", "   ", "make it work", "camera to", "to encoder", "0 mb", "add unicorn"]
)
def test_a_line_that_means_nothing_changes_nothing_and_says_why(line: str) -> None:
    found = read_command(case_of(small_show()), line)
    assert bool(found) == bool(line.strip()) and not any(a.edits for a in found)


def test_a_network_is_told_by_which_line_it_leaves_and_the_others_leave_as_they_did() -> None:
    two = small_show(
        added(Uplink(id="spare", name="Spare", site="creek")),
        added(Network(id="guests", name="Guests", site="creek")),
        leave_by("guests", "fibre"),
    )
    out = lambda plan: {n: case_of(plan).uplink_of(n) for n in ("lan", "guests")}  # noqa: E731
    assert out(two) == {"lan": "fibre", "guests": "fibre"} and len(two.routers) == 1
    split = apply(two, [leave_by("guests", "spare")])
    assert out(split) == {"lan": "fibre", "guests": "spare"} and len(split.routers) == 2
    assert out(apply(split, [leave_by("guests", None)])) == {"lan": "fibre", "guests": None}
    first = apply(split, [leave_by("lan", "spare")])
    assert out(first) == {"lan": "spare", "guests": "spare"}
    assert first.routers[0].uplinks == ("spare", "fibre")  # what it used before is what it falls back to
    gone = apply(first, [Remove(noun="uplink", id="spare")])
    assert out(gone) == {"lan": "fibre", "guests": None}


def test_what_goes_takes_along_what_only_makes_sense_with_it() -> None:
    span = Span(id="way", a="slipway", b="boathouse", distance_m=44)
    plan = small_show(
        added(span), added(Aim(id="a", end="alder")), added(from_library("router", "box", "boathouse")),
        put("router", "router", "device", "box"),
    )  # fmt: skip
    assert [r.device for r in apply(plan, [Remove(noun="device", id="box")]).routers] == [None]
    assert apply(plan, [Remove(noun="device", id="alder")]).aims == ()
    moved = apply(plan, [put("device", "camera", "place", None), Remove(noun="place", id="slipway")])
    assert moved.spans == ()
    for edit, said in (
        (added(span.model_copy(update={"id": "same"})), "no other span joins"),
        (added(Span(id="loop", a="slipway", b="slipway")), "two different places"),
        (
            added(Router(id="other", name="Other", site="creek", networks=("lan",))),
            "is on two routers",
        ),
        (added(Aim(id="b", end="ghost")), "points at device ghost"),
        (put("show", None, "zone", "Moon/Tycho"), "there is no time zone called Moon/Tycho"),
    ):
        with pytest.raises(EditRefused, match=said):
            apply(plan, [edit])


def test_every_edit_that_adds_something_goes_to_another_process_and_back() -> None:
    for edit in base_edits():
        assert pickle.loads(pickle.dumps(edit)) == edit
