"""Each rule on a plan that has its fault, and none of them on one that has none."""

import pytest

from humble_relay.core.edits import AddDevice, AddLink, AddNetwork, AddSite, Edit, MarkTask, Remove, apply
from humble_relay.core.findings import STAGES, rule_names
from humble_relay.core.gear import from_library, library
from humble_relay.core.plan import Cable, Network, Site
from humble_relay.core.survey import Survey
from humble_relay.demo import demo_plan
from tests.build import NOW, STEADY, hd, measured, put, put_port, report_of, rules_of, small_show

NEW_ACCOUNT = put("device", "alder", "ingest.new_account", True)
SOON = put("show", None, "judge_at", "2026-09-19T09:00:00+00:00")

FAULTS: dict[str, list[Edit]] = {
    "cable-too-long": [put("link", "run", "length_m", 120)],
    "connector-mismatch": [put("link", "run", "cable", "hdmi")],
    "cable-against-the-signal": [put_port("camera/sdi", "way", "in")],
    "format-refused": [put("device", "camera", "produces", hd("50", 2160).model_dump(mode="json"))],
    "serial-rate-too-high": [put_port("encoder/sdi", "max_gbps", 1.485)],
    "input-undecided": [put_port("encoder/sdi", "types", ["sdi", "hdmi"])],
    "source-goes-nowhere": [Remove(noun="link", id="run")],
    "network-range": [put("network", "lan", "range", "192.168.20.9/24")],
    "address-fault": [put_port("encoder/lan", "address", "127.0.0.1")],
    "address-missing": [put_port("encoder/lan", "address", "")],
    "address-twice": [
        put_port("camera/hdmi", "network", "lan"),
        put_port("camera/hdmi", "address", "192.168.20.30"),
    ],
    "stream-address": [put("device", "alder", "ingest.host", "")],
    "key-missing": [put("link", "feed", "key", None)],
    "no-way-out": [put("network", "lan", "uplink", None)],
    "network-elsewhere": [
        AddSite(item=Site(id="town", name="Town")),
        AddNetwork(item=Network(id="far", name="Far", site="town")),
        put_port("encoder/lan", "network", "far"),
    ],
    "platform-limit": [put("link", "feed", "video_mbps", 9.5)],
    "encoder-limit": [put("device", "encoder", "encoding.max_mbps", 4)],
    "bitrate-unsuited": [put("link", "feed", "video_mbps", 2)],
    "upload-too-small": [put("uplink", "fibre", "others_mbps", 12)],
    "lead-time-missed": [NEW_ACCOUNT, SOON],
    "no-start": [put("show", None, "starts_at", None)],
}
SURVEYS = {
    "no-measurement": Survey(),
    "thin-evidence": measured(21, 22),
    "upload-bad-hour": measured(22, 23, 21, 22, 6.1, 24, 22),
}


def test_a_sound_plan_has_no_findings() -> None:
    assert report_of(small_show()).findings == ()


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
    assert set(rule_names()) == {*FAULTS, *SURVEYS}


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


def test_the_demo_has_one_honest_fault_and_its_first_fix_ends_it() -> None:
    found = demo_plan()
    findings = report_of(found.plan, found.survey).findings
    assert [f.rule for f in findings] == ["upload-bad-hour"]
    ups = [m.up_mbps for m in found.survey.measurements]
    assert len(ups) == 14 and sum(ups) / len(ups) > 8.5 > min(ups)
    assert report_of(apply(found.plan, findings[0].fixes[0].edits), found.survey).findings == ()


def test_every_model_of_the_library_can_be_added_and_none_is_wrong_alone() -> None:
    plan = small_show(*(AddDevice(item=from_library(m, f"x-{m}", "boathouse")) for m in library()))
    assert not [f for f in report_of(plan).findings if f.severity == "stops"]


def test_a_second_camera_cannot_take_a_port_in_use_but_may_be_wrong_in_every_other_way() -> None:
    extra = AddDevice(item=from_library("camera-field", "second", "slipway"))
    far = AddLink(
        item=Cable(id="far", from_port="second/hdmi", to_port="encoder/hdmi", cable="coax", length_m=4000)
    )
    assert {"connector-mismatch", "cable-too-long"} <= rules_of(small_show(extra, far), STEADY, NOW)
