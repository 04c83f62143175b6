"""Each rule on a plan that has its fault, and none of them on one that has none."""

from datetime import date

import pytest

from humble_relay.core.catalogue.gear import from_library, library
from humble_relay.core.catalogue.stock import Holding, Stock, Taken
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.finding import STAGES, rule_names
from humble_relay.core.plan import Cable, Network, Radio, Site, Stream
from humble_relay.core.plan.draft import apply
from humble_relay.core.plan.edits import AddDevice, AddLink, AddNetwork, AddSite, Edit, MarkTask, Remove
from humble_relay.core.plan.survey import Survey
from humble_relay.core.signal.finder.alternatives import find_routes
from humble_relay.core.views.report import report
from humble_relay.demo import demo_plan, demo_stock
from tests.build import NOW, STEADY, hd, leave_by, measured, put, put_port, report_of, rules_of, small_show

NEW_ACCOUNT = put("device", "alder", "ingest.new_account", True)
SOON = put("show", None, "judge_at", "2026-09-19T09:00:00+00:00")


def wire(a: str, b: str, cable: str, length: float, id: str = "") -> Edit:
    """A cable between two ports."""
    link = {
        "id": id or f"{a}-{b}".replace("/", "-"),
        "from_port": a,
        "to_port": b,
        "cable": cable,
        "length_m": length,
    }
    return AddLink(item=Cable.model_validate(link))


def recabled(into: str, out: str = "camera/sdi", cable: str = "coax", length: float = 40) -> list[Edit]:
    """The camera's run brought to another input."""
    return [Remove(noun="link", id="run"), wire(out, into, cable, length, "run")]


MIXED: list[Edit] = [
    AddDevice(item=from_library("switcher-eight", "switcher", "boathouse", "Switcher")),
    *recabled("switcher/in-3"),
    put_port("switcher/in-3", "assigned", "sdi"),
    wire("switcher/program", "encoder/sdi", "coax", 2),
]
"""The camera through a switcher: a scaling input at the system's 1080p50."""
LAPTOP: list[Edit] = [
    *MIXED,
    AddDevice(item=from_library("laptop-slides", "slides", "boathouse", "Slides")),
    put("device", "slides", "produces", hd().model_dump(mode="json")),
    put_port("slides/hdmi", "levels", "limited"),
    wire("slides/hdmi", "switcher/in-8", "hdmi", 2),
    put_port("switcher/in-8", "assigned", "hdmi"),
]
DESK: list[Edit] = [
    *MIXED,
    AddDevice(item=from_library("sound-desk", "desk", "boathouse", "Desk")),
    wire("desk/out", "switcher/sound", "audio", 10),
    put_port("switcher/sound", "both_sides", True),
]
PAIRED: list[Edit] = [
    AddDevice(item=from_library("encoder-paired", "sender", "boathouse", "Sender")),
    AddDevice(item=from_library("camera-studio", "studio", "boathouse", "Studio")),
    wire("studio/sdi", "sender/in", "coax", 2),
    put_port("sender/in", "assigned", "sdi"),
    AddDevice(item=from_library("decoder", "decoder", "slipway", "Decoder")),
    AddDevice(item=from_library("screen-large", "screen", "slipway", "Screen")),
    wire("decoder/hdmi", "screen/hdmi", "hdmi", 2),
    AddLink(
        item=Stream(
            id="feed-2",
            name="Feed 2",
            from_device="sender",
            to_device="decoder",
            protocol="paired",
            format=hd(),
            video_mbps=8,
        )
    ),
]
"""A second path: a camera to a screen over the network, sender and decoder of one family."""
NETWORKED: list[Edit] = [
    *MIXED,
    AddDevice(item=from_library("camera-network", "roving", "slipway", "Roving")),
    AddLink(
        item=Stream(
            id="wire-free",
            name="Roving feed",
            from_device="roving",
            to_device="switcher",
            protocol="paired",
            format=hd(),
            video_mbps=8,
            input="in-7",
        )
    ),
    put_port("switcher/in-7", "assigned", "network"),
]
AIR: list[Edit] = [
    AddDevice(item=from_library("radio-fast-tx", "tx", "slipway", "Sender")),
    AddDevice(item=from_library("radio-fast-rx", "rx", "boathouse", "Receiver")),
    *recabled("tx/sdi", length=2),
    AddLink(item=Radio(id="air", from_port="tx/air", to_port="rx/air", distance_m=40, walls=1)),
    wire("rx/sdi", "encoder/sdi", "coax", 2),
]
"""The camera over a radio pair to the encoder."""
SOUND = {"AIR": AIR, "MIXED": MIXED, "LAPTOP": LAPTOP, "DESK": DESK, "PAIRED": PAIRED, "NETWORKED": NETWORKED}

FAULTS: dict[str, list[Edit]] = {
    "cable-too-long": [put("link", "run", "length_m", 120)],
    "connector-mismatch": [put("link", "run", "cable", "hdmi")],
    "cable-against-the-signal": [put_port("camera/sdi", "way", "in")],
    "format-refused": [put("device", "camera", "produces", hd("50", 2160).model_dump(mode="json"))],
    "serial-rate-too-high": [put_port("encoder/sdi", "max_gbps", 1.485)],
    "input-undecided": [put_port("encoder/sdi", "types", ["sdi", "hdmi"])],
    "source-goes-nowhere": [Remove(noun="link", id="run")],
    "network-range": [put("network", "lan", "range", "192.168.20.9/24")],
    "address-fault": [put_port("encoder/lan", "interface.address", "127.0.0.1")],
    "address-missing": [put_port("encoder/lan", "interface.address", "")],
    "address-twice": [
        put_port("camera/hdmi", "interface.network", "lan"),
        put_port("camera/hdmi", "interface.address", "192.168.20.30"),
    ],
    "stream-address": [put("device", "alder", "ingest.host", "")],
    "key-missing": [put("link", "feed", "key", None)],
    "no-way-out": [leave_by("lan", None)],
    "network-elsewhere": [
        AddSite(item=Site(id="town", name="Town")),
        AddNetwork(item=Network(id="far", name="Far", site="town")),
        put_port("encoder/lan", "interface.network", "far"),
    ],
    "platform-limit": [put("link", "feed", "video_mbps", 9.5)],
    "encoder-limit": [put("device", "encoder", "encoding.max_mbps", 4)],
    "bitrate-unsuited": [put("link", "feed", "video_mbps", 2)],
    "upload-too-small": [put("uplink", "fibre", "others_mbps", 12)],
    "lead-time-missed": [NEW_ACCOUNT, SOON],
    # The signal path.
    "run-broken": [put("link", "run", "broken", True)],
    "couplers-in-the-run": [put("link", "run", "cable", "fibre"), put("link", "run", "length_m", 400)],
    "rate-converted": [*MIXED, put("device", "camera", "produces", hd("59.94").model_dump(mode="json"))],
    "usb-too-much": [
        AddDevice(item=from_library("capture-sdi", "capture", "boathouse", "Capture")),
        AddDevice(item=from_library("computer-stream", "laptop", "boathouse", "Laptop")),
        wire("capture/usb", "laptop/usb-1", "usb2", 2),
        *recabled("capture/sdi"),
    ],
    "protected-picture": [*LAPTOP, put_port("slides/hdmi", "protected", True)],
    "levels-differ": [*LAPTOP, put_port("slides/hdmi", "levels", "full")],
    "input-contested": [
        AddDevice(item=from_library("camera-compact", "second", "boathouse", "Second")),
        wire("second/hdmi", "encoder/hdmi", "hdmi", 2),
    ],
    "network-input-dark": [*NETWORKED, put("link", "wire-free", "input", None)],
    "screen-gets-nothing": [AddDevice(item=from_library("monitor", "screen", "boathouse", "Screen"))],
    "overlay-left-on": [
        *recabled("encoder/hdmi", out="camera/hdmi", cable="hdmi", length=5),
        put_port("camera/hdmi", "overlay", True),
    ],
    "microphone-open": [*DESK, put("device", "camera", "microphone", "open")],
    "mono-one-side": [*DESK, put_port("switcher/sound", "both_sides", False)],
    "families-differ": [*PAIRED, put("device", "decoder", "family", "Teasel Burr")],
    "radio-too-far": [*AIR, put("link", "air", "distance_m", 151)],
    "protocol-not-taken": [*PAIRED, put("link", "feed-2", "protocol", "ndi")],
    "firmware-too-old": [
        *PAIRED,
        put("device", "decoder", "firmware", "6.9"),
        put("link", "feed-2", "protocol", "srt"),
    ],
    "too-many-pictures": [
        put("device", "encoder", "encoding.destinations", 2),
        put("link", "feed", "format", {"width": 1080, "height": 1920, "rate": "25", "scan": "p"}),
    ],
    "canvas-undecided": [
        put("device", "encoder", "encoding.vertical", True),
        put("link", "feed", "format", {"width": 1080, "height": 1920, "rate": "25", "scan": "p"}),
    ],
    "no-start": [put("show", None, "starts_at", None)],
}
SURVEYS = {
    "no-measurement": Survey(),
    "thin-evidence": measured(21, 22),
    "upload-bad-hour": measured(22, 23, 21, 22, 6.1, 24, 22),
}


def test_a_sound_plan_has_no_findings() -> None:
    assert report_of(small_show()).findings == ()


@pytest.mark.parametrize("name", SOUND)
def test_a_sound_plan_with_a_switcher_or_a_second_path_has_none_either(name: str) -> None:
    """The same paths that carry the faults below, without them: what is found there is the fault, not the path."""
    assert report_of(small_show(*SOUND[name])).findings == ()


@pytest.mark.parametrize("rule", FAULTS)
def test_each_fault_is_found_by_its_rule_and_said_in_full(rule: str) -> None:
    found = [f for f in report_of(small_show(*FAULTS[rule])).findings if f.rule == rule]
    assert found, rule
    for finding in found:
        assert finding.stage in STAGES and finding.wrong.endswith(".") and finding.means and finding.do
        assert "!" not in finding.wrong + finding.means + finding.do


@pytest.mark.parametrize("rule", SURVEYS)
def test_each_fault_of_the_survey_is_found(rule: str) -> None:
    assert rule in rules_of(small_show(), SURVEYS[rule])


def test_every_rule_has_a_fault_in_these_tables() -> None:
    assert set(rule_names()) == {*FAULTS, *SURVEYS, "gear-missing"}


def test_gear_is_missing_when_more_is_used_than_is_there_on_the_day() -> None:
    plan = small_show()
    models = {d.model: 1 for d in plan.devices if d.ingest is None}
    own = [Holding(id=f"h{i}", model=m, count=n) for i, (m, n) in enumerate(models.items())]

    def missing(*holdings: Holding, taken: tuple[Taken, ...] = ()) -> list[str]:
        stock = Stock(holdings=holdings, taken=taken)
        return [f.wrong for f in report(plan, STEADY, NOW, stock).findings if f.rule == "gear-missing"]

    assert missing() == []  # nobody keeps count
    assert missing(*own) == []
    assert "uses 1, and 0 are there" in missing(*own[1:])[0]
    back = Holding(id="b", model=own[0].model, count=1, lender="a school", until=date(2026, 9, 18))
    assert "go back before the show" in missing(*own[1:], back)[0]
    assert missing(*own[1:], back.model_copy(update={"until": date(2026, 9, 19)})) == []
    taken = Taken(plan="Harbour Talk", model=own[0].model, count=1)
    assert "taken by Harbour Talk" in missing(*own, taken=(taken,))[0]


@pytest.mark.parametrize("rule", FAULTS)
def test_every_fix_offered_can_be_applied_and_ends_its_finding(rule: str) -> None:
    plan = small_show(*FAULTS[rule])
    for finding in report_of(plan).findings:
        for fix in finding.fixes:
            after = report_of(apply(plan, fix.edits))
            if finding.rule != "input-undecided":
                assert finding.id not in {f.id for f in after.findings}, (finding.id, fix.title)


@pytest.mark.parametrize(
    ("edits", "said"),
    [
        ([put("link", "feed", "video_mbps", 9.5)], "takes 9 Mb/s"),
        ([put("link", "feed", "format", hd("50", 2160).model_dump(mode="json"))], "not 3840x2160"),
        ([put("link", "feed", "protocol", "srt")], "takes RTMPS, RTMP"),
        ([put("link", "feed", "codec", "hevc")], "takes h264"),
    ],
)
def test_each_platform_limit_is_named(edits: list[Edit], said: str) -> None:
    found = [f for f in report_of(small_show(*edits)).findings if f.rule == "platform-limit"]
    assert len(found) == 1 and said in found[0].wrong and found[0].fixes


def test_lead_times_count_back_from_the_start_and_can_be_ticked_off() -> None:
    plan = small_show(NEW_ACCOUNT, put("site", "creek", "run_by", "venue"))
    tasks = {t.id: t for t in report_of(plan).order}
    # Common practice, no source: up to 24 h for a first live stream; days for a network department.
    assert tasks["open-account:alder"].minutes == -24 * 60
    assert tasks["ask-network:creek"].minutes == -(72 + 24) * 60
    assert "lead-time-missed" not in rules_of(plan)
    late = apply(plan, [SOON])
    missed = [f for f in report_of(late).findings if f.rule == "lead-time-missed"]
    assert len(missed) == 2
    ticked = apply(
        late, [MarkTask(task="open-account:alder", done=True), MarkTask(task="ask-network:creek", done=True)]
    )
    assert "lead-time-missed" not in rules_of(ticked)


def test_the_order_feeds_before_it_looks_before_it_publishes_and_ends_in_reverse() -> None:
    order = [t.id for t in report_of(small_show()).order]
    steps = [
        "power-on",
        "start-feed:feed",
        "preview:feed",
        "publish:feed",
        "start",
        "over",
        "end-platform:feed",
        "stop-feed:feed",
    ]
    assert [s for s in order if s in steps] == steps


def test_worst_comes_first_and_the_same_plan_gives_the_same_report() -> None:
    plan = small_show(
        *FAULTS["source-goes-nowhere"], *FAULTS["key-missing"], put("link", "feed", "video_mbps", 2)
    )
    severities = [f.severity for f in report_of(plan).findings]
    assert severities == sorted(severities, key=["stops", "risks", "note"].index)
    assert report_of(plan).model_dump_json() == report_of(plan).model_dump_json()


def test_every_stage_says_its_worst() -> None:
    states = {s.stage: s for s in report_of(small_show(*FAULTS["key-missing"])).stages}
    assert states["addresses"].worst == "stops" and states["addresses"].findings == 1
    assert states["signal"].worst is None and states["signal"].state == "begun"


def test_the_demo_has_two_honest_faults_and_each_can_be_mended() -> None:
    found, stock = demo_plan(), Stock(holdings=demo_stock())
    findings = report(found.plan, found.survey, NOW, stock).findings
    assert [f.rule for f in findings] == ["upload-bad-hour", "source-goes-nowhere"]
    ups = [m.up_mbps for m in found.survey.measurements]
    assert len(ups) == 14 and sum(ups) / len(ups) > 22.7 > min(ups)
    plan = apply(found.plan, findings[0].fixes[0].edits)
    route = find_routes(Case(plan, found.survey, NOW, stock), "quay-cam", "switcher").routes[0]
    assert report(apply(plan, route.edits), found.survey, NOW, stock).findings == ()


def test_every_model_of_the_library_can_be_added_and_none_is_wrong_alone() -> None:
    plan = small_show(*(AddDevice(item=from_library(m, f"x-{m}", "boathouse")) for m in library()))
    assert not [f for f in report_of(plan).findings if f.severity == "stops"]


def test_a_second_camera_cannot_take_a_port_in_use_but_may_be_wrong_in_every_other_way() -> None:
    extra = AddDevice(item=from_library("camera-field", "second", "slipway"))
    far = AddLink(
        item=Cable(id="far", from_port="second/hdmi", to_port="encoder/hdmi", cable="coax", length_m=4000)
    )
    assert {"connector-mismatch", "cable-too-long"} <= rules_of(small_show(extra, far), STEADY, NOW)


def two_streams() -> list[Edit]:
    more = Stream(
        id="again", name="Again", from_device="roving", to_device="switcher", protocol="paired",
        format=hd(), video_mbps=8, input="in-7",
    )  # fmt: skip
    return [*NETWORKED, put("device", "roving", "encoding.destinations", 2), AddLink(item=more)]


FURTHER: list[tuple[str, list[Edit], str]] = [
    # An input set to the wrong type: told HDMI, and SDI goes into it.
    ("connector-mismatch", [*MIXED, put_port("switcher/in-3", "assigned", "hdmi")], "SDI coax cable does not go in"),
    # An input told to listen to its socket, and a network source meant for it.
    ("network-input-dark", [*NETWORKED, put_port("switcher/in-7", "assigned", "hdmi")], "which is set to HDMI"),
    ("network-input-dark", [*NETWORKED, put_port("switcher/in-7", "assigned", None)], "which is not assigned"),
    ("input-contested", two_streams(), "gives it 2: Roving feed and Again"),
    ("protocol-not-taken", [*two_streams(), put("device", "switcher", "decoding.at_once", 1)], "takes 1 stream at once"),
    ("protocol-not-taken", [*PAIRED, put("device", "decoder", "decoding", None)], "takes no streams"),
    # 59.94 is not 60 and not 50: an input that follows the system format stays black.
    (
        "format-refused",
        [*MIXED, *recabled("switcher/in-1"), put("device", "camera", "produces", hd("59.94").model_dump(mode="json"))],
        "follows the system format, 1080p50",
    ),
    (
        "format-refused",
        [*MIXED, *recabled("switcher/in-1"), put("device", "camera", "produces", hd("25", scan="i").model_dump(mode="json"))],
        "gets 1080i50",
    ),
    (
        "too-many-pictures",
        [put("link", "feed", "format", {"width": 1080, "height": 1920, "rate": "25", "scan": "p"})],
        "cannot compose an upright canvas",
    ),
    (
        "too-many-pictures",
        [
            put("device", "encoder", "encoding.destinations", 2),
            AddLink(
                item=Stream(
                    id="other", name="Other", from_device="encoder", to_device="alder", protocol="rtmps",
                    format=hd("50", 720), video_mbps=5, key="ebb",
                )
            ),
        ],
        "encodes 1 picture at once; its streams ask for 2",
    ),
    ("radio-too-far", [*AIR, put("link", "air", "distance_m", 90), put("link", "air", "walls", 2)], "through 2 walls"),
    ("families-differ", [*AIR, put("device", "rx", "family", "Teasel Hop")], "do not understand each other"),
    # Outputs of which only one works at a time.
    (
        "input-contested",
        [
            put("device", "camera", "groups", [{"id": "out", "name": "Output", "at_once": 1}]),
            put_port("camera/sdi", "group", "out"),
            put_port("camera/hdmi", "group", "out"),
            AddDevice(item=from_library("screen-large", "screen", "slipway", "Screen")),
            wire("camera/hdmi", "screen/hdmi", "hdmi", 2),
        ],
        "Camera, Output takes 1 at once",
    ),
    ("families-differ", [*PAIRED, put("device", "sender", "family", "")], "Sender is of no family"),
    ("firmware-too-old", [*NETWORKED, put("device", "switcher", "firmware", "2.7")], "an input from the network needs 2.8"),
    ("usb-too-much", [*FAULTS["usb-too-much"], put("link", "capture-usb-laptop-usb-1", "cable", "usb2")], "it takes 0.3 Gb/s"),
    ("source-goes-nowhere", [Remove(noun="link", id="feed")], "platform: it stops at Encoder."),
    ("source-goes-nowhere", [AddDevice(item=from_library("laptop-slides", "slides", "boathouse", "Slides"))], "Slides reaches"),
    ("screen-gets-nothing", [Remove(noun="link", id="feed")], "Alder gets no picture"),
    ("cable-too-long", [put("link", "run", "length_m", 85), put("link", "run", "joints", 3)], "carries 82 m"),
]  # fmt: skip


@pytest.mark.parametrize(("rule", "edits", "said"), FURTHER)
def test_the_other_shapes_a_fault_takes_are_found_too(rule: str, edits: list[Edit], said: str) -> None:
    found = [f.wrong for f in report_of(small_show(*edits)).findings if f.rule == rule]
    assert any(said in wrong for wrong in found), found


def test_what_is_near_a_fault_and_none_is_left_alone() -> None:
    near: dict[str, list[Edit]] = {
        "rate-converted": [*MIXED, put("device", "camera", "produces", hd("25").model_dump(mode="json"))],
        "overlay-left-on": [put_port("camera/hdmi", "overlay", True)],  # on an output nothing is plugged into
        "microphone-open": [*MIXED, put("device", "camera", "microphone", "open")],  # no desk: it is the sound
        "protected-picture": [*LAPTOP, put_port("slides/hdmi", "protected", True), put_port("switcher/in-8", "refuses_protected", False)],
        "levels-differ": [*LAPTOP, put_port("slides/hdmi", "levels", "full"), put_port("switcher/in-8", "levels", None)],
        "input-contested": [*PAIRED, put("device", "decoder", "decoding.at_once", 1)],
        "canvas-undecided": [*FAULTS["canvas-undecided"], put("link", "feed", "layout", "crop")],
        "firmware-too-old": [*PAIRED, put("device", "decoder", "firmware", "6.9")],  # too old for what is not used
        "couplers-in-the-run": [*FAULTS["couplers-in-the-run"], put("link", "run", "joints", 1)],
    }  # fmt: skip
    for rule, edits in near.items():
        assert rule not in rules_of(small_show(*edits)), rule
