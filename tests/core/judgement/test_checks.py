"""Twins: the smallest plan where a question is answered well, and the same plan with one thing changed so that it is not.

Each row names every finding that comes, so that a check that says too much is caught like one that says nothing.
"""

import re
from collections import Counter
from datetime import date
from pathlib import Path
from typing import Any, get_args

import pytest

from humble_relay.core.catalogue.gear import from_library, library
from humble_relay.core.catalogue.stock import Holding, Stock, Taken
from humble_relay.core.catalogue.words import VOCABULARY
from humble_relay.core.cures.trial import CURES, cures_of
from humble_relay.core.judgement import BY_NAME, CHECKS, answers, findings, proven
from humble_relay.core.judgement.questions import OF_NO_HOP, QUESTIONS
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.concerns import CONCERNS, SCOPES, HopKind
from humble_relay.core.plan import CableKind, Kind, Network, Place, Protocol, Site, Span, Stream
from humble_relay.core.plan.edits import (
    Edit,
    Remove,
    SetFigure,
    added,
)
from humble_relay.core.plan.edits.draft import apply
from humble_relay.core.plan.survey import Fact, Survey
from humble_relay.core.signal.finder.alternatives import find_routes
from humble_relay.core.views.matrix import arrival_matrix
from humble_relay.demo import demo_plan, demo_stock
from tests.build import (
    EVERYWHERE,
    NOW,
    STEADY,
    WORKED,
    case_of,
    edit_of,
    hd,
    leave_by,
    measured,
    put,
    put_port,
    small_show,
)
from tests.core.addressing import test_addressing_twins
from tests.core.brief import test_brief_twins
from tests.core.comms import test_comms_twins
from tests.core.egress import test_egress_twins
from tests.core.endpoints import test_endpoints_twins, test_publication
from tests.core.lan import test_lan_twins
from tests.core.load import test_load_twins
from tests.core.places import test_places_twins
from tests.core.power import test_power_twins
from tests.core.radio import test_radio_twins
from tests.core.reach import test_reach_twins
from tests.core.show import test_show_twins
from tests.core.signal import test_signal_twins
from tests.core.timing import test_timing_twins
from tests.core.twins import (
    BY_NAME_FOUND,
    EACH,
    GATE,
    NORTH,
    OPEN,
    OPEN_AIR,
    SECOND,
    SOUTH,
    TWICE,
    TWO_PATHS,
    ZONES,
    fmt,
    ids,
)
from tests.core.uplinks import test_uplinks_twins
from tests.core.uplinks.test_uplinks import CROSSING_TWINS, LINE_TWINS
from tests.core.upload import test_upload_twins
from tests.generate import patched
from tests.shows import SHOWS, recabled, wire

STOPS, RISKS, NOTE = "stops", "risks", "note"


def lossy(
    loss: float | None, rtt: float | None = 80, probes: int | None = None, alone: int | None = None
) -> Survey:
    """Steady measurements with a loss in percent over so many packets, and a round trip in ms."""
    more = {"loss_pct": loss, "rtt_ms": rtt, "probes": probes, "connections": alone}
    seen = [m.model_copy(update=more) for m in STEADY.measurements]
    return Survey(measurements=tuple(seen))


TRIED, BAD_AIR = (
    Survey(measurements=EVERYWHERE.measurements, facts=tuple(Fact.model_validate({**WORKED, "thing": id, "value": value}) for id in ("air", "call", "in")))
    for value in (True, False)
)  # fmt: skip
SURVEYS = {
    "thin-evidence": (measured(21, 22), "thin-evidence:fibre risks", "fits them, but they are of 2 evenings, and it holds with a probability of"),
    # A push of 8.4 Mb/s at 80 ms holds to 0.0452 % (Mathis et al. 1997, turned round by hand: p = 1.5 (8 · 1460 ÷ (R · B))²).
    "tcp-under-loss": (lossy(0.05), "tcp-under-loss:feed risks", "TCP settles at about 8 Mb/s"),
    "upload-bad-hour": (measured(22, 23, 6.2, 22, 6.1, 24, 22), "upload-bad-hour:fibre risks", "6.1 Mb/s Sun 6 Sep 2026, 20:40"),
}  # fmt: skip


@pytest.mark.parametrize("name", SHOWS)
def test_on_a_sound_show_every_answer_is_that_it_holds(name: str) -> None:
    """The shows that the faults below are put into: what is found there is the fault, and not the show."""
    assert [
        a.id for a in answers(case_of(small_show(*SHOWS[name]), TRIED)).every if a.state != "holds" or a.say
    ] == []


def test_what_did_not_work_when_it_was_tried_in_the_air_is_a_doubt() -> None:
    case = case_of(small_show(*SHOWS["air"]), BAD_AIR)
    assert ids(case) == {"not-tried-in-the-air:air:air risks"} and "did not work" in findings(case)[0].wrong


@pytest.mark.parametrize("name", SURVEYS)
def test_what_the_survey_says_of_the_line_is_judged(name: str) -> None:
    survey, comes, said = SURVEYS[name]
    case = case_of(small_show(), survey)
    assert ids(case) == {comes} and said in findings(case)[0].wrong


TWINS = [
    test_brief_twins.TWINS,
    test_comms_twins.TWINS,
    test_publication.TWINS,
    test_signal_twins.TWINS,
    test_places_twins.TWINS,
    test_radio_twins.TWINS,
    test_endpoints_twins.TWINS,
    test_upload_twins.TWINS,
    test_addressing_twins.TWINS,
    test_egress_twins.TWINS,
    test_reach_twins.TWINS,
    test_lan_twins.TWINS,
    test_timing_twins.TWINS,
    test_power_twins.TWINS,
    test_uplinks_twins.TWINS,
    test_load_twins.TWINS,
    test_show_twins.TWINS,
]


def test_every_check_has_a_twin_and_every_cure_a_check() -> None:
    shown = {id.split(":")[0] for room in TWINS for t in room for id in t.comes.split(", ")}
    assert shown | SURVEYS.keys() | {
        "gear-missing",
        "no-cues",
        "end-not-known",
        "no-system-format",
        "no-measurement",
        "not-tried-in-the-air",
        "gateway-missing",
        "path-missing",
        "others-not-known",
        "pushes-share-line",
        *(comes.split(":")[0] for _, _, _, comes, _ in CROSSING_TWINS if comes),
        *(rule for _, _, comes, _, _ in LINE_TWINS for rule in re.findall(r"(?:^|, )([a-z-]+):", comes)),
    } == BY_NAME.keys() and len(CHECKS) == len(BY_NAME)
    assert CURES.keys() <= set(CHECKS)


NOT_KNOWN = [
    ("paired", [added(from_library("switch-plain", "net", "slipway", "Net")), wire("decoder/lan", "net/lan-1", "ethernet", 2),
                wire("encoder/lan", "net/lan-2", "ethernet", 50), wire("sender/lan", "net/lan-3", "ethernet", 50),
                put_port("decoder/lan", "interface.network", None), added(Network(id="guests", name="Guests", site="creek", range="10.9.0.0/24", vlan=7)), leave_by("guests", "fibre"),
                put_port("encoder/lan", "interface", {"network": "guests"})], "networks-apart:feed-2", "interface.network", "Which network is Decoder on?"),
    ("pole", [put("device", "hide", "encoding.login", None)], "login-missing:watch:request", "encoding.login", "want a user and a password"),
    ("pole", [put("device", "hide", "encoding.main_path", "")], "path-missing:watch:request", "encoding.main_path", "such as /main"),
    ("pole", [put("link", "watch", "format", fmt("25", 2160)), put("link", "watch", "video_mbps", 12), put("device", "hide", "produces", fmt("25", 2160)), put_port("screen/hdmi", "accepts", None), *(put_port(ref, "max_gbps", 18) for ref in ("decoder/hdmi", "screen/hdmi"))],
     "not-decoded:watch:decoded", "decoding.accepts", "It is sent 2160p25"),
    ("far", [put("link", "feed-2", "address", "")], "far-address:feed-2", "address", "the public one of its site"),
    ("pole", [added(from_library("switch-poe", "far-net", "slipway", "Far net")), Remove(noun="link", id="hide-lan-net-lan-1"), wire("hide/lan", "far-net/lan-1", "ethernet", 2)],
     "cut-off:watch:wire", "cable", "What is Far net plugged into, to reach Decoder"),
    ("pole", [added(from_library("router", "gate", "boathouse", "Gate")), put("router", "router", "device", "gate")],
     "cut-off:feed:wire", "cable", "What is Net plugged into, to reach Gate"),
    ("pole", [Remove(noun="link", id="decoder-lan-net-lan-2")], "not-plugged-in:decoder:lan", "cable", "What is Decoder, LAN plugged into"),
    ("laptop", [put("device", "switcher", "produces", None), put("device", "slides", "produces", hd("59.94").model_dump(mode="json"))],
     "no-system-format:switcher:system", "produces", "Which system format is Switcher set to"),
    ("plain", [put("device", "alder", "ingest.host", "")], "stream-address:feed", "ingest.host", "At which host does Alder take Feed"),
    ("plain", [put("network", "lan", "range", "")], "address-fault:encoder:lan", "range", "Which range has Show network"),
    ("plain", [put("network", "lan", "pool_last", "")], "network-range:lan", "pool_last", "does the DHCP pool of Show network end"),
    ("plain", [put("show", None, "ends_at", None)], "end-not-known:show", "ends_at", "When does Regatta end"),
    ("air", [put("span", "gap", "between", [{"kind": "wall", "material": "unknown"}])], "radio-too-far:air", "between", "What stands between Slipway and Boathouse"),
    ("air", [put("span", "gap", "between", []), put("link", "air", "walls", 0)], "radio-too-far:air", "between", "What stands between Slipway and Boathouse"),
    ("air", [put("device", "tx", "pairing.family", "")], "families-differ:air", "pairing.family", "Of which family is Sender"),
    ("plain", [put_port("encoder/sdi", "max_gbps", None)], "serial-rate-too-high:run:encoder-sdi", "max_gbps", "needs 2.97 Gb/s"),
    ("plain", [added(Site(id="town", name="Town")), added(Place(id="quay", name="Quay", site="town", x_m=40, y_m=0)),
               put("device", "camera", "place", "quay")], "shorter-than-the-way:run", "distance_m", "How far is it from Quay to Boathouse"),
    ("plain", [put("link", "run", "length_m", None), put("place", "slipway", "x_m", None)], "shorter-than-the-way:run", "distance_m", "How far is it from Slipway to Boathouse"),
    ("plain", [put("link", "run", "length_m", None), put("device", "camera", "place", None)], "cable-too-long:run", "length_m", "How long is it from Camera, SDI out"),
    ("air", [put("link", "air", "distance_m", None), put("place", "slipway", "x_m", None)], "shorter-than-the-way:air", "distance_m", "How far is it from Slipway to Boathouse"),
    ("networked", [put("device", "switcher", "software.firmware", None)], "firmware-too-old:switcher:network-input", "software.firmware", "it needs 2.8"),
    ("plain", [put("device", "camera", "place", "boathouse"), *recabled("encoder/hdmi", out="camera/hdmi", cable="hdmi", length=5), put_port("camera/hdmi", "overlay", "not-known")],
     "overlay-left-on:camera:hdmi", "overlay", "Are the menus off the picture of Camera, HDMI out"),
    ("laptop", [put_port("slides/hdmi", "protected", True), put_port("switcher/in-8", "takes_protected", None)],
     "protected-picture:switcher:in-8", "takes_protected", "or stay black"),
    ("plain", [put("device", "camera", "produces", None)], "format-refused:encoder:sdi", "produces", "What picture does Camera send"),
    ("asked", [put("place", "boathouse", "mains", None)], "nothing-feeds-it:encoder:feed", "mains", "Is there mains power at Boathouse"),
    ("asked", [put("place", "slipway", "mains", False), put("device", "camera", "power.battery_h", None)], "nothing-feeds-it:camera:feed", "power.battery_h", "How long does one charge of Teasel Field camera last"),
    ("asked", [put("device", "camera", "power", None)], "nothing-feeds-it:camera:feed", "power.by", "What can Teasel Field camera be fed by"),
    ("asked", [*SHOWS["mixed"], put("aim", "alder", "picture", "program"), put("aim", "alder", "of", None)], "sound-not-there:alder:sound", "sound", "Is the program at Alder to have sound"),
    ("plain", [put("site", "creek", "run_by", "venue")], "not-let-out:feed:out", "lets_out", "What does Fibre let out"),
    ("far", [put("uplink", "line", "address", "")], "not-let-in:feed-2:in", "outside", "Has Line a public address of its own"),
    ("far", [put("site", "town", "run_by", "venue"), put("router", "town-router", "forwards", [])], "not-let-in:feed-2:in", "forwards", "forward UDP 9000 to Decoder"),
    ("call-apart", [put("router", "router", "mapping", EACH), put("router", "town-router", "mapping", EACH), put("router", "router", "filtering", EACH),
                    put("router", "town-router", "filtering", EACH)], "sides-do-not-meet:call:meet", "relayed", "Has the service of Call a relay"),
    ("plain", [put("network", "lan", "gateway", "")], "gateway-missing:encoder:lan", "gateway", "Which address has the gateway of Show network"),
    ("plain", [put("network", "lan", "admission", "registered")], "not-admitted:encoder:lan", "interface.admitted", "Has Encoder, LAN its hardware address registered"),
    ("call", [SetFigure(figure="wifi-share", value=0.05)], "air-overfull:lan:air", "max_gbps", "At which rate is Phone connected by Wi-Fi"),
    ("call", [put("link", "call", "view_address", "")], "links-mixed-up:call:links", "view_address", "Which link does the viewing side"),
    ("usb", [put_port("capture/usb", "sends", None), put("link", "capture-usb-laptop-usb-1", "cable", "usb2")], "usb-too-much:capture-usb-laptop-usb-1", "sends", "as motion JPEG, or as H.264"),
    ("plain", [put("device", "camera", "place", "boathouse"), *recabled("encoder/hdmi", out="camera/hdmi", cable="hdmi-active", length=16)], "cable-too-long:run", "rated_m", "How long does the maker promise"),
    ("pole", [put_port("hide/lan", "interface.address", ""), put_port("hide/lan", "interface.addressing", "dhcp")], "local-address:watch", "interface.address", "Which address has Hide"),
]  # fmt: skip


@pytest.mark.parametrize(("show", "edits", "id", "field", "asked"), NOT_KNOWN)
def test_what_is_not_known_is_wanted_once_and_is_neither_good_nor_bad(
    show: str, edits: list[Edit], id: str, field: str, asked: str
) -> None:
    case = case_of(small_show(*SHOWS[show], *SHOWS["asked"][: show == "plain"], *edits))
    unknown = [a for a in answers(case).every if a.state == "not known" and a.check != "not-tried-in-the-air"]
    assert [a.id for a in unknown if a.want] == [id] and ids(case) == set()
    assert {on.check.name for a in unknown for on in a.waits} <= {id.split(":")[0]}
    (want,) = (w for w in proven(case).wanted if w.field != "works")
    assert (want.field, asked in want.question) == (field, True)
    if want.typed != "elsewhere":  # written down with a good value, nothing is wanted any more
        value = {
            "max_gbps": 2.97,
            "software.firmware": "9.0",
            "pairing.family": "Teasel Clear air",
            "distance_m": 38,
            "length_m": 44,
            "overlay": "off",
            "encoding.login": False,
            "encoding.main_path": "/main",
            "decoding.accepts": {},
            "ingest.host": "ingest.alder.example",
            "takes_protected": True,
            "mains": True,
            "power.battery_h": 3,
            "power.by": ["mains"],
            "sound": False,
            "lets_out": "everything",
            "view_address": "https://calls.birch.example/view",
            "address": "srt://203.0.113.20:9000",
            "outside": "public",
            "relayed": True,
            "gateway": "192.168.20.1",
            "interface.admitted": True,
            "sends": "mjpeg",
            "rated_m": 20,
            "interface.address": "192.168.20.120",
            "interface.network": "lan",
            "pool_last": "192.168.20.199",
            "range": "192.168.20.0/24",
            "produces": fmt(),
        }[want.field]
        known = case.after(
            [
                edit_of(e.model_dump() | ({"value": value} if "value" in type(e).model_fields else {}))
                for e in want.edits
            ]
        )
        assert [a.check for a in answers(known).every if a.state != "holds"] in ([], ["not-tried-in-the-air"])
    in_the_proof = show in ("plain", "asked") and want.things[0].noun not in ("show", "aim")
    assert want.aims == (("alder",) if in_the_proof else ())
    if in_the_proof:
        assert [p.state for p in proven(case).proofs] == ["not known"]


def test_a_wait_names_its_root_and_makes_no_finding_of_its_own() -> None:
    case = case_of(small_show(put("device", "encoder", "encoding", None)))
    waiting = {
        a.id: [f"{on.check.name}:{on.thing.id}" for on in a.waits] for a in answers(case).every if a.waits
    }
    assert waiting == {
        "encoder-codec:feed": ["encoder-sends:feed"],
        "encoder-bitrate:feed": ["encoder-sends:feed"],
    }
    unsaid = put("device", "camera", "produces", None)
    # Coax from an output of 2.97 Gb/s, its picture not told: 91 m whatever it sends; of 270 Mb/s 0.8 · 91 · 1.5 · √11, and
    # half as much again is hopeless.
    for length, state in ((91, "holds"), (92, "not known"), (543, "not known"), (544, "fails")):
        case = case_of(small_show(unsaid, put("link", "run", "length_m", length)))
        found = next(a for a in answers(case).every if a.id == "cable-too-long:run")
        assert (found.state, [on.check.name for on in found.waits]) == (
            state,
            ["format-refused"] * (state == "not known"),
        )
    thirsty = case_of(small_show(), Survey())
    assert [(w.field, w.typed, w.edits) for w in proven(thirsty).wanted] == [
        ("measurements", "elsewhere", ())
    ]
    assert {a.id for a in answers(thirsty).every if a.waits} == {
        f"{c}:fibre"
        for c in ("thin-evidence", "upload-too-small", "upload-bad-hour", "headroom-used", "others-not-known")
    }


def test_what_was_seen_working_settles_a_doubt_and_never_a_failing() -> None:
    def seen(thing: str, value: bool, at: int = 13) -> Fact:
        return Fact.model_validate({"at": f"2026-09-{at}T12:00:00Z", "noun": "link", "thing": thing, "quantity": "works",
                                    "value": value, "by": "camera operator", "conditions": "with people there"})  # fmt: skip

    def air(*edits: Edit, facts: tuple[Fact, ...] = ()) -> set[str]:
        plan = small_show(*SHOWS["air"], *edits)
        return ids(case_of(plan, Survey(measurements=STEADY.measurements, facts=facts)))

    far, beyond = put("link", "air", "distance_m", 60), put("link", "air", "distance_m", 110)
    assert air(far) == {"radio-too-far:air risks"} and air(far, facts=(seen("air", True),)) == set()
    both = {"radio-too-far:air risks", "not-tried-in-the-air:air:air risks"}
    assert air(far, facts=(seen("air", True), seen("air", False, 14))) == both
    assert air(beyond, facts=(seen("air", True),)) == {"radio-too-far:air stops"}


def test_measured_beats_planned_and_the_newest_measurement_the_older_ones() -> None:
    def run(*values: float) -> set[str]:
        facts = [{"at": f"2026-09-1{n}T12:00:00Z", "noun": "link", "thing": "run", "quantity": "length_m", "value": v}
                 for n, v in enumerate(values)]  # fmt: skip
        survey = Survey(measurements=STEADY.measurements, facts=tuple(Fact.model_validate(f) for f in facts))
        return ids(case_of(small_show(), survey))

    assert run(140) == {"cable-too-long:run stops", "couplers-in-the-run:run note"}
    assert run(140, 60) == set()
    assert run(-5) == set()  # a value that no cable can have is noted, and not judged by


def taken_on(case: Case, doubt: str) -> Case:
    """The case with that doubt accepted, as the page accepts it."""
    found = next(f for f in findings(case) if f.id == doubt)
    item = {"finding": doubt, "compared": found.compared.model_dump(mode="json"), "reason": "A talking head."}
    return case.after([edit_of({"kind": "accept", "item": item})])


def test_an_accepted_doubt_stays_listed_and_counts_as_proven() -> None:
    case = case_of(small_show(*SHOWS["asked"], put("link", "feed", "video_mbps", 3)))
    taken = taken_on(case, "bitrate-unsuited:feed")
    assert findings(taken)[0].accepted == "A talking head." and proven(case).proofs[0].state == "doubtful"
    assert proven(taken).proofs[0].state == "proven"
    assert (
        findings(taken.after([edit_of({"kind": "reopen", "finding": "bitrate-unsuited:feed"})]))[0].accepted
        is None
    )


BETTER_LINE, A_BIT_WORSE, MUCH_WORSE = measured(22, 23, 6.6, 22, 6.5, 24, 22), measured(22, 23, 6.1, 22, 6, 24, 22), measured(22, 23, 3, 22, 3, 24, 22)  # fmt: skip


@pytest.mark.parametrize(
    ("doubt", "edits", "then", "survey", "stands"),
    [
        # A field that was compared, for the worse; for the better; another name in the sentence; another thing altogether.
        ("cable-too-long:run", [put("link", "run", "length_m", 100)], [put("link", "run", "length_m", 101)], None, False),
        ("cable-too-long:run", [put("link", "run", "length_m", 100)], [put("link", "run", "length_m", 95)], None, True),
        ("cable-too-long:run", [put("link", "run", "length_m", 100)], [put("device", "camera", "name", "Slip camera")], None, True),
        ("cable-too-long:run", [put("link", "run", "length_m", 100)], [put("link", "feed", "video_mbps", 7)], None, True),
        # A limit, for the worse and for the better.
        ("cable-too-long:run", [put("link", "run", "length_m", 100)], [SetFigure(figure="coax-reach", value=88)], None, False),
        ("cable-too-long:run", [put("link", "run", "length_m", 100)], [SetFigure(figure="coax-reach", value=95)], None, True),
        # What was measured: a better evening, one a little worse, one worse by more than a tenth.
        ("upload-bad-hour:fibre", [], [], BETTER_LINE, True),
        ("upload-bad-hour:fibre", [], [], A_BIT_WORSE, True),
        ("upload-bad-hour:fibre", [], [], MUCH_WORSE, False),
        # What the sentence leaves out, and the doubt was about: which box shows the menus.
        ("overlay-left-on:camera:hdmi", [put("device", "camera", "place", "boathouse"), *recabled("encoder/hdmi", out="camera/hdmi", cable="hdmi", length=5),
          put_port("camera/hdmi", "overlay", "on")], [put("link", "feed", "video_mbps", 7)], None, True),
        ("network-range:lan", [put("network", "lan", "pool_first", "192.168.20.1")], [put("network", "lan", "pool_last", "192.168.20.180")], None, False),
    ],
)  # fmt: skip
def test_an_accepted_doubt_opens_again_by_what_it_compared_and_by_nothing_else(
    doubt: str, edits: list[Edit], then: list[Edit], survey: Survey | None, stands: bool
) -> None:
    before = SURVEYS["upload-bad-hour"][0] if survey else STEADY
    taken = taken_on(case_of(small_show(*edits), before), doubt)
    assert next(f for f in findings(taken) if f.id == doubt).accepted
    after = case_of(taken.after(then).plan, survey or before)
    assert bool(next(f for f in findings(after) if f.id == doubt).accepted) is stands


# What must be asked.


def test_the_table_of_questions_covers_every_kind_of_hop_and_every_concern() -> None:
    kinds = [
        *(HopKind("cable", k) for k in get_args(CableKind)), HopKind("radio", "radio"),
        *(HopKind("stream", p, where) for p in get_args(Protocol) for where in SCOPES), *(HopKind("box", k) for k in get_args(Kind)),
    ]  # fmt: skip
    assert set(QUESTIONS) == set(kinds)
    named = set(OF_NO_HOP)
    for hop, row in QUESTIONS.items():
        assert set(row) == set(CONCERNS), hop
        for concern, cell in row.items():
            assert cell.checks or cell.unless or cell.yet, (hop, concern)
            named |= set(cell.checks)
    assert named == set(CHECKS)


def test_every_value_that_may_be_chosen_has_a_word() -> None:
    for name, (values, said) in VOCABULARY.items():
        assert values is None or {*get_args(values)} == {*said}, name


@pytest.mark.parametrize("seed", [None, *range(900, 920)])
def test_each_check_gives_one_answer_wherever_it_applies(seed: int | None) -> None:
    """Counted from the plan's own document, for the checks whose things can be counted there without the checks."""
    plan = demo_plan().plan if seed is None else patched(seed)
    case = case_of(plan)
    found = answers(case).every
    assert len({(a.check, a.thing) for a in found}) == len(found)
    assert all(
        (a.state == "not known") == (bool(a.waits) != bool(a.want)) for a in found
    )  # one of the two, then only
    cables = [x for x in plan.links if x.kind == "cable"]
    streams = [x for x in plan.links if isinstance(x, Stream)]
    pushes = [s for s in streams if case.devices[s.to_device].ingest]
    joined = len(cables) + sum(x.kind == "radio" for x in plan.links)
    on_network = [p for d in plan.devices for p in d.ports if p.network]
    count = {
        "cable-too-long": len(cables), "cable-against-the-signal": joined, "connector-mismatch": 2 * len(cables),
        "run-broken": len(plan.links), "input-undecided": 2 * joined, "bitrate-unsuited": len(streams),
        "couplers-in-the-run": sum(c.cable != "ethernet" for c in cables), "encoder-sends": len(streams),
        "encoder-codec": len(streams), "platform-bitrate": len(pushes), "platform-protocol": len(pushes),
        "stream-address": len(pushes), "no-way-out": len({*pushes}) + 2 * sum(s.protocol == "web" for s in streams), "network-elsewhere": len(on_network),
        "address-fault": sum(bool(p.address) for p in on_network), "aim-not-met": len(plan.aims), "no-start": 1,
        "encoder-destinations": len({s.from_device for s in streams if case.devices[s.from_device].encoding}),
        "radio-too-far": sum(x.kind == "radio" for x in plan.links),
    }  # fmt: skip
    assert count == {check: sum(a.check == check for a in found) for check in count}


def test_a_check_that_breaks_is_not_known_there_and_takes_no_other_answer_with_it(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    from humble_relay.core import judgement
    from humble_relay.core.judging.check import judged

    def broken(_: Case, cable: Any) -> Any:
        raise ZeroDivisionError if cable.cable.id == "run" else AssertionError

    case = case_of(small_show(*SHOWS["mixed"]))
    before = judged(case, judgement.CHECKS)
    checks = [c._replace(answer=broken) if c.name == "cable-too-long" else c for c in judgement.CHECKS]
    after = judged(case, checks)
    assert len(after.every) == len(before.every)
    lost = [a for a in after.every if a.check == "unanswered"]
    assert {a.thing.id for a in lost} == {"run", "switcher-program-encoder-sdi"} and all(
        a.state == "not known" for a in lost
    )
    assert [a[:4] for a in after.every if a.check != "unanswered"] == [
        a[:4] for a in before.every if a.check != "cable-too-long"
    ]


# Proofs.


def test_the_demo_proves_what_it_can_and_says_what_it_cannot() -> None:
    found, stock = demo_plan(), Stock(holdings=demo_stock())
    case = Case(found.plan, found.survey, NOW, stock)
    proofs = {p.aim: p for p in proven(case).proofs}
    assert {aim: p.state for aim, p in proofs.items()} == {
        **dict.fromkeys(("alder", "birch", "cedar"), "doubtful"),
        **dict.fromkeys(("card-recorder", "sound-screen", "loft-screen"), "proven"),
    }
    (wanted,) = proven(case).wanted  # once more, where it would tell most
    assert "Once more on Saturday or Sunday, 20 to 21 h" in wanted.question
    assert [f.id for f in findings(case)] == [
        "local-address:loft-feed",
        "not-let-in:punt-feed:in",
        "source-goes-nowhere:quay-cam",
        "sources-apart:switcher:together",
        "address-may-move:hide-feed:stays",
        "spare-does-not-reach:hide-feed:spare",
        "bond-shares-fate:punt-bond",
        "spare-too-small:boathouse-fibre:spare-boathouse-phone",
        "upload-bad-hour:boathouse-fibre",
        "switch-not-tried:boathouse-fibre:spare-boathouse-phone",
        "thin-evidence:punt-bond",
        "loss-not-mended:hide-feed:loss",
    ]
    alder = proofs["alder"]
    parts = {part.title: part for part in alder.parts}
    # One trunk from the switcher on, one branch for each source that is patched; each hop once, the failing one first.
    assert set(parts) == {"What was asked for", "To Alder", "From Slipway camera", "From Weir Tower camera", "From Deck camera",
                          "From Commentary laptop", "From Slipway phone", "From Commentator phone"}  # fmt: skip
    assert (
        alder.parts[0].title == "To Alder"
        and alder.parts[0].hops[0].id == alder.opens_at == "link:alder-feed"
    )
    hops = [hop.id for part in alder.parts for hop in part.hops if part.title != "What was asked for"]
    assert len(hops) == len(set(hops)) and {
        "link:weir-lead",
        "device:weir-fibre-tx",
        "link:weir-run",
        "device:weir-fibre-rx",
        "link:weir-in",
    } <= set(hops)
    assert "29.3 Mb/s fits Boathouse fibre mostly" in alder.parts[0].hops[0].questions[0].words
    assert alder.not_asked == () and alder.evidence == "practice"
    # Each camera that is patched arrives at every end; the one that nobody plugged in arrives nowhere.
    matrix = arrival_matrix(case)
    states = {(a.source, a.aim): a.state for a in matrix.arrivals}
    assert (
        len(matrix.sources) == 9
        and len(states) == 36
        and {s for s, _ in states} == {*matrix.sources} - {"quay-cam", "hide-cam", "punt-cam"}
    )
    assert states["weir-cam", "alder"] == "doubtful" and states["weir-cam", "loft-screen"] == "proven"
    mended = case.after(cures_of(case, "upload-bad-hour:boathouse-fibre")[0].cure.edits)
    # Three evenings are too few to rely on it. The phone is late: that was taken on. So was the small spare, for more than is sent now: a better figure opens nothing.
    assert {q.words[:20] for p in proven(mended).proofs for part in p.parts for hop in part.hops for q in hop.questions
            if q.state not in ("holds", None) and not q.accepted} == {"The measurements of "}  # fmt: skip
    way = find_routes(mended, "quay-cam", "switcher").routes[0]
    assert [
        (f.rule, bool(f.accepted))
        for f in findings(mended.after(way.edits))
        if f.stage == "signal" and f.severity != "note"
    ] == [("sources-apart", False)]


def test_a_proof_never_claims_what_was_not_asked(monkeypatch: pytest.MonkeyPatch) -> None:
    """A feed to another town by a maker's own link, of which the table says that something is not asked yet."""
    aim = edit_of({"kind": "add-aim", "item": {"id": "a", "end": "screen", "picture": "source"}})
    (far,) = proven(case_of(small_show(*SHOWS["far"], aim))).proofs
    assert far.state == "proven"
    paired = [put("link", "feed-2", "protocol", "paired"), put("link", "feed-2", "key", None)]
    hop = HopKind("stream", "paired", "between sites")
    capacity = QUESTIONS[hop]["capacity"]._replace(yet="loss and round trip")
    monkeypatch.setitem(QUESTIONS, hop, {**QUESTIONS[hop], "capacity": capacity})
    (far,) = proven(case_of(small_show(*SHOWS["far"], *paired, aim))).proofs
    assert "paired, capacity: loss and round trip" in far.not_asked
    case = case_of(small_show(*SHOWS["paired"], aim))
    (shown,) = proven(case).proofs
    assert shown.state == "proven"
    # A link and a box of one id are two hops all the same.
    twin = case.after(
        [
            Remove(noun="link", id="decoder-hdmi-screen-hdmi"),
            wire("decoder/hdmi", "screen/hdmi", "hdmi", 2, "screen"),
        ]
    )
    assert {"link:screen", "device:screen"} <= {
        h.id for part in proven(twin).proofs[0].parts for h in part.hops
    }
    nothing = case.after([Remove(noun="link", id="feed-2")])
    assert proven(nothing).proofs[0].state == "fails"


def test_a_proof_follows_the_picture_that_was_asked_for_and_not_another_input_of_the_same_screen() -> None:
    """Multi-view by HDMI and program by SDI on one monitor: each aim is proven over its own cable."""
    monitor = [added(from_library("monitor", "screen", "boathouse", "Screen")), Remove(noun="link", id="switcher-program-encoder-sdi"),
               wire("switcher/program", "screen/sdi", "coax", 3, "own"), wire("switcher/multi", "screen/hdmi", "hdmi", 4, "all")]  # fmt: skip
    aims = [
        edit_of({"kind": "add-aim", "item": {"id": f"a-{p}", "end": "screen", "picture": p}})
        for p in ("program", "multi-view")
    ]
    proofs = {p.aim: p for p in proven(case_of(small_show(*SHOWS["mixed"], *monitor, *aims))).proofs}
    hops = {
        aim: {h.id for part in p.parts for h in part.hops} & {"link:own", "link:all"}
        for aim, p in proofs.items()
    }
    assert hops == {"a-program": {"link:own"}, "a-multi-view": {"link:all"}}
    assert all(
        {"link:run", "device:camera", "device:switcher"} <= {h.id for part in p.parts for h in part.hops}
        for p in proofs.values()
    )


def test_every_type_and_module_has_a_name_of_its_own_and_no_code_knows_a_makers_name() -> None:
    sources = {f: f.read_text() for f in Path("src/humble_relay").rglob("*.py")}
    types = r"^(?:class (\w+)|([A-Z]\w*[a-z]\w*)(?:: \w+)? = )"
    names = Counter(a or b for text in sources.values() for a, b in re.findall(types, text, re.M))
    names += Counter(f.stem for f in sources if not f.stem.startswith("__"))
    assert [name for name, n in names.items() if n > 1] == []
    makers = {m.device.maker for m in library().values()} - {""}
    assert makers and not [f for f, text in sources.items() if any(maker in text for maker in makers)]


def test_a_shared_fact_of_a_model_is_wanted_once_for_all_of_them() -> None:
    edits: list[Edit] = [added(from_library("encoder-one", "spare", "boathouse", "Spare")), SECOND,
                         added(from_library("converter-hdmi-sdi", "box", "boathouse", "Box")), wire("second/hdmi", "box/in", "hdmi", 2),
                         wire("box/out", "spare/sdi", "coax", 2), put_port("box/out", "max_gbps", 2.97)]  # fmt: skip
    unknown = [put_port(f"{d}/sdi", "max_gbps", None) for d in ("encoder", "spare")]
    (want,) = proven(case_of(small_show(*SHOWS["asked"], *edits, *unknown))).wanted
    assert (
        {t.id for t in want.things} == {"encoder", "spare"} and want.answers == 2 and want.aims == ("alder",)
    )


def test_gear_is_missing_when_more_is_used_than_is_there_on_the_day() -> None:
    plan = small_show()
    models = {d.model: 1 for d in plan.devices if d.ingest is None}
    own = [Holding(id=f"h{i}", model=m, count=n) for i, (m, n) in enumerate(models.items())]

    def missing(*holdings: Holding, taken: tuple[Taken, ...] = ()) -> list[str]:
        stock = Stock(holdings=holdings, taken=taken)
        return [f.wrong for f in findings(Case(plan, STEADY, NOW, stock)) if f.rule == "gear-missing"]

    assert missing() == []  # nobody keeps count
    assert missing(*own) == []
    assert "uses 1, and 0 are there" in missing(*own[1:])[0]
    back = Holding(id="b", model=own[0].model, count=1, lender="a school", until=date(2026, 9, 18))
    assert "go back before the show" in missing(*own[1:], back)[0]
    assert missing(*own[1:], back.model_copy(update={"until": date(2026, 9, 19)})) == []
    taken = Taken(plan="Harbour Talk", model=own[0].model, count=1)
    assert "taken by Harbour Talk" in missing(*own, taken=(taken,))[0]


NEAR: dict[str, tuple[str, list[Edit]]] = {
    "couplers counted": ("plain", [put("link", "run", "length_m", 91)]),
    "25 goes into 50": ("mixed", [put("device", "camera", "produces", fmt("25"))]),
    "menus on an output nothing is plugged into": ("plain", [put_port("camera/hdmi", "overlay", "on")]),
    "no desk: the microphone is the sound": ("mixed", [put("device", "camera", "microphone.muted", False)]),
    "an input that takes protection": ("laptop", [put_port("slides/hdmi", "protected", True), put_port("switcher/in-8", "takes_protected", True)]),
    "an input that follows the range": ("laptop", [put_port("slides/hdmi", "levels", "full"), put_port("switcher/in-8", "levels", None)]),
    "a single stream into a decoder that takes one": ("paired", [put("device", "decoder", "decoding.at_once", 1)]),
    "too old for what is not used": ("paired", [put("device", "decoder", "software.firmware", "6.9")]),
    "2.8.0 is 2.8": ("networked", [put("device", "switcher", "software.firmware", "2.8.0")]),
    "indoors, and each end sees the other": ("air", [put("span", "gap", "between", [{"kind": "open-air"}]), put("link", "air", "distance_m", 149)]),
    "within range to the metre": ("air", [OPEN_AIR, put("link", "air", "distance_m", 150)]),
    "a range typed with host bits": ("plain", [put("network", "lan", "range", "192.168.20.9/24")]),
    "a router that has its own gateway's address": ("plain", GATE),
    "networks side by side on one router": ("plain", [added(Network(id="far", name="Far", site="creek", range="192.168.21.0/24")), leave_by("far", "fibre")]),
    "the same range behind another router": ("plain", [added(Network(id="far", name="Far", site="creek", range="192.168.20.0/24"))]),
    "SRT across the two networks of a router": ("paired", [
        added(Network(id="far", name="Guests", site="creek")), leave_by("far", "fibre"), put_port("decoder/lan", "interface.network", "far"),
        put("link", "feed-2", "protocol", "srt"), put("device", "sender", "encoding.protocols", ["srt"])]),
    "a cable of just the way": ("plain", [put("link", "run", "length_m", 39.9)]),
    "a way between two sites that was measured": ("plain", [
        added(Site(id="town", name="Town")), added(Place(id="quay", name="Quay", site="town")), put("device", "camera", "place", "quay"),
        added(Span(id="way", a="quay", b="boathouse", distance_m=38, cable=True))]),
    "a server on the network as ingest": ("plain", [put("device", "alder", "place", "boathouse"), put("device", "alder", "ingest.host", "192.168.20.8"),
        leave_by("lan", None), put("uplink", "fibre", "others_mbps", 40)]),
    "a channel of four connections": ("plain", [added(from_library("switch-plain", "net", "boathouse", "Net")),
        wire("encoder/lan", "net/lan-1", "ethernet", 20, "lead"), put("link", "lead", "joints", 4)]),
    "an address typed as the decoder has it": ("paired", [put_port("decoder/lan", "interface.address", "192.168.20.40"), put_port("decoder/lan", "interface.addressing", "fixed"),
        put("link", "feed-2", "address", "192.168.20.40:5000")]),
    "a name of the house": ("paired", [put("link", "feed-2", "address", "decoder.lan:5000")]),
    "slides from the laptop that also streams the program": ("mixed", [added(from_library("computer-stream", "laptop", "boathouse", "Laptop")),
        added(from_library("capture-hdmi", "box", "boathouse", "Box")), wire("switcher/program-hdmi", "box/hdmi", "hdmi", 2), wire("box/usb", "laptop/usb-1", "usb3", 1),
        wire("laptop/hdmi", "switcher/in-8", "hdmi", 2), put_port("switcher/in-8", "assigned", "hdmi"), put("device", "switcher", "produces", fmt("25")),
        put("device", "camera", "produces", fmt("25")), put("device", "laptop", "produces", fmt("25")), put("link", "feed", "format", fmt("25"))]),
    "a phone on a power bank": ("call", [put("place", "slipway", "mains", False), put("device", "phone", "power.battery_h", 1), added(from_library("power-bank", "bank", "slipway", "Bank"))]),
    "a film on a laptop has sound of its own": ("laptop", [*SHOWS["asked"], put("aim", "alder", "picture", "program"), put("aim", "alder", "of", None), put("aim", "alder", "sound", True)]),
    "a key within the address": ("plain", [put("link", "feed", "key", None), put("link", "feed", "address", "rtmps://ingest.alder.example:443/live/tide-table")]),
    "the mask of its network": ("plain", [put_port("encoder/lan", "interface.mask_bits", 24)]),
    "a service as near as another, within 500 km": ("plain", [*ZONES, put("site", "creek", "latitude", 55.5), put("site", "creek", "longitude", 15)]),
    "the farther zone, and the shorter round trip": ("plain", [*ZONES, put("device", "alder", "ingest.zones", [NORTH | {"round_trip_ms": 14}, SOUTH | {"round_trip_ms": 12}])]),
    "one group of several, in another case": ("pole", [*BY_NAME_FOUND, put("device", "hide", "groups_seen", ["Studio", "Public"])]),
    "two sites that one router joins, and a line that is full already": ("far", [put("router", "router", "networks", ["lan", "hall-lan"]), put("router", "town-router", "networks", []), put("link", "feed-2", "address", "srt://10.4.0.20:9000"), put("router", "town-router", "forwards", []), put("uplink", "fibre", "others_mbps", 9)]),
    "the small stream, and its address": ("pole", [*TWO_PATHS, put("link", "watch", "small", True), put("link", "watch", "address", "rtsp://192.168.20.41/sub?n=2")]),
    "two calls to one port told apart by their ids": ("far", [*TWICE, put("link", "again", "stream_id", "again")]),
    "two calls to two ports": ("far", [*TWICE, put("link", "again", "address", "srt://203.0.113.20:9001"),
        put("router", "town-router", "forwards", [OPEN, OPEN | {"port": 9001}])]),
    "groups on a network that knows who listens": ("pole", [put("link", "watch", "multicast", True), put("network", "lan", "snoops", True)]),
    "few Mb/s to everybody": ("pole", [put("link", "watch", "multicast", True), put("network", "lan", "snoops", False)]),
    "a bitrate of just what is taken": ("plain", [put("link", "feed", "video_mbps", 9)]),
}  # fmt: skip


@pytest.mark.parametrize(
    ("survey", "state"),
    # 8.4 Mb/s at 80 ms holds to 0.0452 %: none lost of 3 ÷ 0.000452 = 6637 packets (rule of three); seven measurements.
    [(lossy(0.045), "holds"), (lossy(0, probes=980), "holds"), (lossy(0, probes=910), "not known"), (lossy(0), "not known"),
     (lossy(None), "not known"), (lossy(1, None), "not known"), (lossy(5, alone=1), "holds"), (lossy(5, alone=8), "doubtful")],
)  # fmt: skip
def test_what_one_connection_carries_is_measured_or_reckoned_from_enough_packets(
    survey: Survey, state: str
) -> None:
    found = next(a for a in answers(case_of(small_show(), survey)).every if a.check == "tcp-under-loss")
    assert found.state == state
    assert ids(case_of(small_show(put("link", "feed", "protocol", "srt")), lossy(1))) == {
        "platform-protocol:feed stops",
        "srt-latency:feed:latency risks",
    }


@pytest.mark.parametrize("name", NEAR)
def test_what_is_near_a_fault_and_none_is_left_alone(name: str) -> None:
    show, edits = NEAR[name]
    full = {"thin-evidence:fibre risks"}  # two streams are more than the line surely carries: another matter
    assert ids(case_of(small_show(*SHOWS[show], *edits))) - full == set()


def test_every_model_of_the_library_can_be_added_and_none_is_wrong_alone() -> None:
    plan = small_show(*(added(from_library(m, f"x-{m}", "boathouse")) for m in library() if m != "recorder"))
    assert not [a.id for a in answers(case_of(plan)).every if a.state == "fails"]


def test_worst_comes_first_and_the_same_case_is_judged_the_same() -> None:
    edits = [
        Remove(noun="link", id="run"),
        put("link", "feed", "key", None),
        put("link", "feed", "video_mbps", 2),
    ]
    plan = small_show(*edits)
    severities = [f.severity for f in findings(case_of(plan))]
    assert severities == sorted(severities, key=["stops", "risks", "note"].index)
    assert [a[:4] for a in answers(case_of(plan)).every] == [
        a[:4] for a in answers(case_of(apply(plan, []))).every
    ]
