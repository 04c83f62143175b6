"""Cables, converters and the picture along them."""

import math

import pytest

from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.judging.working import Figures
from humble_relay.core.plan import Cable, CableKind
from humble_relay.core.plan.edits import Remove, added
from humble_relay.core.plan.edits.draft import apply
from humble_relay.core.plan.video import VideoFormat
from humble_relay.core.signal.cabling.cable_reach import cable_reach
from humble_relay.core.signal.diagram.content import signal_map
from humble_relay.core.signal.flow.propagation import flow
from humble_relay.core.views.report import try_edits
from tests.build import case_of, cures, hd, put, put_port, report_of, rules_of, small_show

FIGURES = Figures({})


# Runs the trade quotes (common practice, no source), and the standards' channel for Ethernet.
@pytest.mark.parametrize(
    ("kind", "fmt", "metres"),
    [
        ("hdmi", hd("60"), 7.6),
        ("coax", hd("60"), 91),
        ("ethernet", None, 100),  # ISO/IEC 11801, TIA-568
        ("usb2", None, 5),  # from memory
        ("usb3", None, 3),  # from memory
    ],
)
def test_reaches_are_those_of_the_trade(kind: CableKind, fmt: VideoFormat | None, metres: float) -> None:
    assert cable_reach(kind, fmt, FIGURES).value == metres


def test_coax_reach_goes_with_one_over_root_rate_within_a_class_of_receiver() -> None:
    """Attenuation grows with √f: half the rate carries √2 as far, four times the rate half as far."""
    three_g = cable_reach("coax", hd("60"), FIGURES).value
    assert cable_reach("coax", hd("30"), FIGURES).value == pytest.approx(three_g * math.sqrt(2), abs=0.1)
    # 12G receivers bear 40 dB where 3G ones bear 20 (ST 2082, ST 424; from memory): twice as far at half the reach, 0.8 relied on.
    assert cable_reach("coax", hd("60", 2160), FIGURES).value == pytest.approx(three_g * 2 / 2 * 0.8, abs=0.1)
    assert cable_reach(
        "coax", VideoFormat(width=720, height=576, rate="25", scan="i"), FIGURES
    ).value == pytest.approx(three_g * 1.5 * math.sqrt(11) * 0.8, abs=0.1)
    assert cable_reach("hdmi", hd("60", 2160), FIGURES).value == pytest.approx(7.6 / 2, abs=0.1)
    assert cable_reach("hdmi", hd("30"), FIGURES).value == 7.6  # never promised beyond the trade's figure


def test_a_long_hdmi_run_is_found_and_every_fix_ends_it() -> None:
    plan = small_show(
        Remove(noun="link", id="run"),
        added(Cable(id="run", from_port="camera/hdmi", to_port="encoder/hdmi", cable="hdmi", length_m=40)),
    )
    found = next(f for f in report_of(plan).findings if f.rule == "cable-too-long")
    assert found.working and found.working.value == 7.6
    offered = cures(plan, "cable-too-long")
    assert (offered[0].title, offered[0].how) == (
        "Run it another way, by SDI coax",
        "SDI coax 40 m to SDI in",
    )
    assert offered[0].needs == ""  # both ends have SDI: nothing to bring
    assert any("HDMI fibre sender" in cure.needs for cure in offered[1:])
    for cure in offered:
        trial = try_edits(case_of(plan), cure.edits)
        assert found.id in {f.id for f in trial.gone}
        assert not [f for f in trial.come if f.severity == "stops"], cure.title


def test_an_hdmi_only_camera_far_away_gets_converters() -> None:
    plan = small_show(
        Remove(noun="device", id="camera"),
        added(from_library("camera-compact", "camera", "slipway", "Camera")),
        added(Cable(id="run", from_port="camera/hdmi", to_port="encoder/hdmi", cable="hdmi", length_m=40)),
    )
    (cure, *_) = cures(plan, "cable-too-long")
    assert "HDMI to SDI converter" in cure.needs
    after = apply(plan, cure.edits)
    assert not {"cable-too-long", "connector-mismatch", "source-goes-nowhere"} & rules_of(after)
    assert sorted(x.length_m for x in after.links if isinstance(x, Cable)) == [2, 40]


def test_the_picture_is_followed_through_boxes_that_pass_it_on() -> None:
    plan = small_show(
        Remove(noun="link", id="run"),
        added(from_library("converter-sdi-hdmi", "box", "boathouse")),
        added(Cable(id="a", from_port="camera/sdi", to_port="box/in", cable="coax", length_m=40)),
        added(Cable(id="b", from_port="box/out", to_port="encoder/hdmi", cable="hdmi", length_m=1)),
        put("device", "camera", "produces", hd("59.94").model_dump(mode="json")),
    )
    formats = {x.link: x.format for x in report_of(plan).links if x.format}
    assert formats == {"a": "1080p59.94", "b": "1080p59.94"}


def test_a_refused_format_is_said_and_the_fix_sets_the_camera() -> None:
    plan = small_show(put("device", "camera", "produces", hd("50", 2160).model_dump(mode="json")))
    found = next(f for f in report_of(plan).findings if f.rule == "format-refused")
    assert "2160p50" in found.wrong and cures(plan, "format-refused")[0].title == "Set Camera to 1080p50"
    assert "format-refused" not in rules_of(apply(plan, cures(plan, "format-refused")[0].edits))


def test_a_loop_of_cables_does_not_hang_the_report() -> None:
    box = from_library("converter-sdi-hdmi", "one", "boathouse")
    back = from_library("converter-hdmi-sdi", "two", "boathouse")
    plan = small_show(
        added(box),
        added(back),
        added(Cable(id="x", from_port="one/out", to_port="two/in", cable="hdmi", length_m=1)),
        added(Cable(id="y", from_port="two/out", to_port="one/in", cable="coax", length_m=1)),
    )
    assert len(signal_map(case_of(plan)).boxes) == 5
    on_loop = {link: flow(case_of(plan)).on_link.get(link) for link in ("run", "x", "y")}
    assert (
        on_loop["run"] and not on_loop["x"] and not on_loop["y"]
    )  # nothing comes into the ring, nothing is in it


def test_port_assignment_decides_between_types() -> None:
    plan = small_show(put_port("encoder/sdi", "types", ["sdi", "hdmi"]))
    (cure,) = cures(plan, "input-undecided")  # told to be HDMI, the coax in it would not go in
    assert cure.title == "Assign it to sdi" and "input-undecided" not in rules_of(apply(plan, cure.edits))
    wrong = small_show(
        put_port("encoder/sdi", "types", ["sdi", "hdmi"]), put_port("encoder/sdi", "assigned", "hdmi")
    )
    assert "connector-mismatch" in rules_of(wrong)
