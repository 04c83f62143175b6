"""What streams weigh and what a line carries, against header sizes, numpy and the rules of thumb."""

from datetime import timedelta

import numpy
import pytest
from hypothesis import given
from hypothesis import strategies as st

from humble_relay.core.capacity.load import load
from humble_relay.core.capacity.upload import allowances, quantile
from humble_relay.core.judging.working import Figures
from humble_relay.core.plan import Stream
from humble_relay.core.plan.edits import SetFigure
from humble_relay.core.plan.edits.draft import apply
from humble_relay.core.views.report import try_edits
from tests.build import START, STEADY, case_of, cures, hd, measured, put, report_of, rules_of, small_show

FIGURES = Figures({})


def stream(**more: object) -> Stream:
    fields = {
        "id": "s",
        "name": "S",
        "from_device": "a",
        "to_device": "b",
        "protocol": "rtmp",
        "format": hd(),
        "video_mbps": 6,
    }
    return Stream.model_validate(fields | more)


def test_tcp_headers_are_40_bytes_on_1460() -> None:
    """RFC 9293 and RFC 791: 20 + 20 bytes of header on a 1460 byte segment (RFC 879 with a 1500 byte MTU)."""
    found = load(stream(), FIGURES)
    inner = found.video_mbps + found.audio_mbps + found.container_mbps
    assert found.transport_mbps == pytest.approx(inner * 40 / 1460, rel=1e-3)
    assert 1460 + 40 == 1500


def test_srt_headers_are_44_bytes_on_seven_transport_packets() -> None:
    """draft-sharabayko-srt: 16 bytes; RFC 768: 8; RFC 791: 20; payload 7 × 188 = 1316: 3.3 %."""
    found = load(stream(protocol="srt"), FIGURES)
    inner = found.video_mbps + found.audio_mbps + found.container_mbps
    assert found.transport_mbps / inner == pytest.approx((16 + 8 + 20) / (7 * 188), rel=1e-3)
    assert found.transport_mbps / inner == pytest.approx(0.033, abs=0.0005)
    # ISO/IEC 13818-1: 4 header bytes in 188, so the container costs at least 4/184.
    assert found.container_mbps > (found.video_mbps + found.audio_mbps) * 4 / 184


def test_tls_adds_a_record_header_and_tag() -> None:
    """RFC 8446 §5.2: 5 byte header, 1 byte type, 16 byte tag on records of up to 2^14 bytes."""
    plain, tls = load(stream(), FIGURES), load(stream(protocol="rtmps"), FIGURES)
    inner = plain.video_mbps + plain.audio_mbps + plain.container_mbps
    assert tls.transport_mbps - plain.transport_mbps == pytest.approx(
        inner * 22 / 2**14 * 1500 / 1460, rel=2e-2
    )


def test_rtmp_chunks_cost_a_byte_each_after_the_first() -> None:
    """RTMP 1.0 §5.3: 12 byte message header, one byte for every further chunk. FLV adds 5 bytes a frame.

    6 Mb/s at 50 frames/s is 15000 bytes a frame: four chunks of 4096, so 12 + 5 + 3 bytes. AAC at
    48 kHz has 46.875 frames/s, each with 12 + 2 bytes.
    """
    found = load(stream(), FIGURES)
    assert found.container_mbps == pytest.approx((50 * 20 + 46.875 * 14) * 8 / 1e6, abs=1e-4)
    small = load(stream(), Figures({"rtmp-chunk": 128}))
    assert small.container_mbps > found.container_mbps * 4


@pytest.mark.parametrize("protocol", ["rtmp", "rtmps", "srt"])
def test_the_parts_add_up_to_the_total(protocol: str) -> None:
    found = load(stream(protocol=protocol, audio_kbps=192), FIGURES)
    parts = found.video_mbps + found.audio_mbps + found.container_mbps + found.transport_mbps
    assert found.total.value == pytest.approx(parts, abs=1e-3)
    assert sum(s.value or 0 for s in found.total.steps[:-1]) == pytest.approx(found.total.value, abs=1e-3)


@given(st.lists(st.floats(0.1, 1000), min_size=1, max_size=40), st.floats(0, 100))
def test_quantiles_are_numpys(values: list[float], percent: float) -> None:
    assert quantile(values, percent) == pytest.approx(
        float(numpy.percentile(values, percent)), rel=1e-9, abs=1e-9
    )


def test_the_schools_are_the_trades_rules_of_thumb() -> None:
    """Common practice, no source: half; a third free (30 %); one and a half times; low percentile."""
    ups = [18, 20, 20, 22, 20]
    found = {a.school: a.mbps.value for a in allowances(ups, 0, FIGURES)}
    assert found["half"] == 10
    assert found["third-free"] == 14
    assert found["one-and-half"] == pytest.approx(20 / 1.5, abs=0.01)
    assert found["worst"] == pytest.approx(float(numpy.percentile(ups, 10)), abs=0.01)
    shared = {a.school: a.mbps.value for a in allowances(ups, 6, FIGURES)}
    assert shared["half"] == 4
    own = {a.school: a.mbps.value for a in allowances(ups, 0, Figures({"school-half": 0.4}))}
    assert own["half"] == 8


def test_twenty_up_carries_one_platform_and_not_two() -> None:
    """Common practice, no source: with 20 Mb/s up, one platform is comfortable and two are not."""
    one = small_show()
    twenty = measured(20, 20, 20, 20, 20, 20, 20)
    assert not {"upload-too-small", "upload-bad-hour"} & rules_of(one, twenty)
    second = one.links[-1].model_copy(update={"id": "second", "name": "Second"})
    two = one.model_copy(update={"links": (*one.links, second)})
    assert "upload-too-small" in rules_of(two, twenty)
    hundred = measured(*[100] * 7)
    assert "upload-too-small" not in rules_of(two, hundred)


def test_too_small_an_upload_is_found_and_every_fix_ends_it() -> None:
    plan, thin = small_show(), measured(9, 9, 8.6, 9.1, 9, 8.8, 9.2)
    found = next(f for f in report_of(plan, thin).findings if f.rule == "upload-too-small")
    assert found.severity == "stops" and found.working and found.working.value < 0
    offered = cures(plan, "upload-too-small", thin)
    assert len(offered) >= 2
    for cure in offered:
        trial = try_edits(case_of(plan, thin), cure.edits)
        assert found.id in {f.id for f in trial.gone}
        assert not [f for f in trial.come if f.severity == "stops"]


def test_the_average_fits_and_the_bad_hour_does_not() -> None:
    plan = small_show()
    uneven = measured(22, 23, 21, 22, 6.1, 24, 22)
    found = next(f for f in report_of(plan, uneven).findings if f.rule == "upload-bad-hour")
    assert found.severity == "stops" and "6.1 Mb/s" in found.wrong
    (cure, *_) = cures(plan, "upload-bad-hour", uneven)
    assert cure.title == "Lower the bitrate: Feed 8 → 5.5 Mb/s"
    after = apply(plan, cure.edits)
    assert not {"upload-bad-hour", "upload-too-small", "bitrate-unsuited"} & rules_of(after, uneven)
    elsewhen = measured(22, 23, 21, 22, 6.1, 24, 22, hour=3)
    risky = next(f for f in report_of(plan, elsewhen).findings if f.rule == "upload-bad-hour")
    assert risky.severity == "risks"


def test_a_lower_percentile_school_sees_the_bad_hours_itself() -> None:
    plan = small_show(put("settings", None, "headroom", "worst"))
    assert "upload-too-small" in rules_of(plan, measured(22, 6, 21, 6.1, 6.2, 24, 22))


def test_others_on_the_line_are_taken_off() -> None:
    plan = small_show(put("uplink", "fibre", "others_mbps", 10))
    assert "upload-too-small" in rules_of(plan)
    assert "upload-too-small" not in rules_of(small_show())


@pytest.mark.parametrize(
    ("survey", "doubt"),
    [
        (measured(20, 21), "only 2 measurements"),
        (measured(*[20] * 7, conditions="empty"), "empty building"),
        (measured(*[20] * 7, conditions="unknown"), "none known to be taken with the building in use"),
        (measured(*[20] * 7, days_before=60), "days old"),
        (measured(*[20] * 7, hour=4), "hour of the show"),
    ],
)
def test_thin_evidence_says_why(survey: object, doubt: str) -> None:
    result = report_of(small_show(), survey)  # type: ignore[arg-type]
    found = next(f for f in result.findings if f.rule == "thin-evidence")
    assert doubt in found.wrong
    assert result.uplinks[0].upload.trust in ("fair", "thin")
    assert report_of(small_show(), STEADY).uplinks[0].upload.trust == "good"


def test_a_show_past_midnight_has_its_hours_on_both_days() -> None:
    late = START.replace(hour=23)
    plan = small_show(
        put("show", None, "starts_at", late.isoformat()),
        put("show", None, "ends_at", (late + timedelta(hours=3)).isoformat()),
    )
    samples = report_of(plan, measured(20, hour=1)).uplinks[0].upload.samples
    assert samples[0].in_show_hours


def test_a_figure_set_in_the_plan_changes_the_sum_and_says_so() -> None:
    plan = apply(small_show(), [SetFigure(figure="school-third-free", value=0.3)])
    found = next(f for f in report_of(plan).findings if f.rule == "upload-too-small")
    assert found.working
    step = next(s for s in found.working.steps if s.figure == "school-third-free")
    assert step.value == 0.3 and "set in this plan" in step.source
