"""Twins of comms: each row a sound show, what breaks it, and every finding that comes."""
# fmt: off

from typing import Any

import pytest

from humble_relay.core.judgement import findings, proven
from humble_relay.core.plan.edits import Edit
from tests.build import case_of, edit_of, put, small_show
from tests.core.twins import SECOND, Twin, hold, named
from tests.shows import SHOWS, wire


def comms(kind: str, a: str, b: str, **more: Any) -> Edit:
    return edit_of({"kind": "add-comms", "item": {"id": f"{kind}-line", "kind": kind, "from_device": a, "to_device": b, **more}})


TALK = edit_of({"kind": "add-aim", "item": {"id": "talk", "of": "phone", "end": "screen", "picture": "source", "liveness": "talked-back", "longest_delay_ms": 5000}})
TWINS = [
    # A wireless video kit carries no control data (common practice, no source).
    Twin("air", [comms("tally", "encoder", "camera", link="air")],
         "comms-not-carried:tally-line stops", "Tally to Camera is to go by Sender, Air to Receiver, Air: a wireless video link does not carry it", "Use a telephone"),
    # SDI takes tally along in its ancillary data, the way of the picture.
    Twin("plain", [comms("tally", "encoder", "camera", link="run")], "comms-not-carried:tally-line stops", "which runs the other way", "Use a telephone"),
    Twin("pole", [comms("camera-control", "decoder", "hide", link="watch")], "comms-not-carried:camera-control-line stops", "does not carry it", "Use a telephone"),
    Twin("desk", [comms("tally", "desk", "switcher", link="desk-out-switcher-sound")], "comms-not-carried:tally-line stops", "does not carry it", "Use a telephone"),
    Twin("laptop", [comms("camera-control", "slides", "switcher", link="slides-hdmi-switcher-in-8")],
         "comms-not-carried:camera-control-line risks", "few makers' devices", "Use a telephone"),
    Twin("plain", [comms("control", "camera", "encoder", means="network")], "comms-apart:control-line risks", "Camera is on no network", "Use a telephone"),
    Twin("call-apart", [comms("talk-back", "laptop", "phone", link="call")], "comms-not-carried:talk-back-line risks", "the service's to say", "Use a telephone"),
    Twin("call-apart", [comms("control", "phone", "laptop", means="network")], "comms-apart:control-line risks", "no router joins", "Use a telephone"),
    Twin("call-apart", [TALK], "guest-unheard:phone:hears risks", "Nothing says how Creek hears the desk", ""),
    # One's own voice, late, is an echo (ITU-T G.131).
    Twin("call-apart", [TALK, comms("return", "laptop", "phone", means="network", minus=False), put("comms", "return-line", "means", "link")],
         "hears-himself:phone:hears risks", "has the guest's own audio in it", "Send a mix-minus"),
]
GOOD: dict[str, tuple[str, list[Edit]]] = {
    "tally the way of the SDI": ("plain", [comms("tally", "camera", "encoder", link="run")]),
    "tally over a maker's own link, which goes both ways": ("networked", [comms("tally", "switcher", "roving", link="wire-free")]),
    "control over the network": ("networked", [comms("control", "switcher", "roving", means="network")]),
    "a telephone needs no link": ("call-apart", [TALK, comms("talk-back", "laptop", "phone", means="telephone", telephone="01632 960 101")]),
    "a mix-minus": ("call-apart", [TALK, comms("return", "laptop", "phone", minus=True)]),
    "a network cable carries anything both ways": ("pole", [comms("control", "net", "hide", link="hide-lan-net-lan-1")]),
    "within earshot": ("plain", [comms("cues", "encoder", "camera", means="in-person")]),
    "talked with in the same house": ("call", [TALK]),
}


@pytest.mark.parametrize("twin", TWINS, ids=named(TWINS))
def test_its_broken_twin_has_these_findings_and_no_others_and_is_cured_as_it_says(twin: Twin) -> None:
    hold(twin)


@pytest.mark.parametrize("name", GOOD)
def test_what_is_near_a_fault_and_none_is_left_alone(name: str) -> None:
    show, edits = GOOD[name]
    assert not findings(case_of(small_show(*SHOWS[show], *edits)))


def test_what_nobody_said_of_a_return_feed_is_asked_and_the_answer_settles_it() -> None:
    case = case_of(small_show(*SHOWS["call-apart"], TALK, comms("return", "laptop", "phone", means="network")))
    asked = next(w for w in proven(case).wanted if "mix-minus" in w.question)
    assert asked.question == "Is the audio of Creek left out of the return feed to it (mix-minus)?"
    after = case.after([put("comms", "return-line", "minus", True)])
    assert not any("mix-minus" in w.question for w in proven(after).wanted)


def test_a_roving_operator_who_gets_no_cues_is_worth_a_word_where_the_show_is_cut() -> None:
    several = [SECOND, wire("second/hdmi", "encoder/hdmi", "hdmi", 2)]
    alone = case_of(small_show(*SHOWS["air"]))
    assert not findings(alone)
    cut = case_of(small_show(*SHOWS["air"], *several, put("device", "encoder", "kind", "switcher")))
    noted = [f for f in findings(cut) if f.rule == "no-cues"]
    assert [(f.severity, f.subject) for f in noted] == [("note", "camera")] and "carries no tally" in noted[0].wrong
    told = cut.after([comms("cues", "encoder", "camera", means="telephone")])
    assert not [f for f in findings(told) if f.rule == "no-cues"]


def test_a_wifi_that_keeps_its_clients_apart_carries_no_comms_between_them() -> None:
    apart = [put("network", "lan", "medium", "wifi"), put("network", "lan", "guest_isolation", True)]
    case = case_of(small_show(*SHOWS["call"], *apart, comms("control", "phone", "laptop", means="network")))
    found = next(f for f in findings(case) if f.rule == "comms-apart")
    assert found.severity == "stops" and "Show network keeps its clients apart" in found.wrong
