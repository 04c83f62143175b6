"""What streams weigh and what a line carries, against header sizes, numpy and the rules of thumb."""

from datetime import timedelta

import numpy
import pytest
from hypothesis import given
from hypothesis import strategies as st

from humble_relay.core.judgement import answers, findings
from humble_relay.core.judging.working import Figures
from humble_relay.core.load.stream_load import load
from humble_relay.core.measurements.forecast import quantile
from humble_relay.core.measurements.weighed import Weighed
from humble_relay.core.measurements.weighting import show_hours
from humble_relay.core.plan import Show, Stream, Uplink
from humble_relay.core.plan.edits import Edit, SetFigure, added
from humble_relay.core.plan.edits.draft import apply
from humble_relay.core.plan.networks import Mobile
from humble_relay.core.plan.survey import Survey
from humble_relay.core.upload.headroom import allowances
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
    assert quantile(Weighed(tuple(values), (1.0,) * len(values)), percent) == pytest.approx(
        float(numpy.percentile(values, percent)), rel=1e-9, abs=1e-9
    )


def test_the_schools_are_the_trades_rules_of_thumb() -> None:
    """Common practice, no source: half; a third free; one and a half times; the worst."""
    ups = [18, 20, 20, 22, 20]
    found = {a.school: a.mbps.value for a in allowances(ups, 0, FIGURES)}
    assert found["half"] == 10
    assert found["third-free"] == pytest.approx(20 * 2 / 3, abs=0.01)
    assert found["one-and-half"] == pytest.approx(20 / 1.5, abs=0.01)
    assert found["worst"] == min(ups)
    shared = {a.school: a.mbps.value for a in allowances(ups, 6, FIGURES)}
    assert shared["half"] == 4
    own = {a.school: a.mbps.value for a in allowances(ups, 0, Figures({"school-half": 0.4}))}
    assert own["half"] == 8


def test_twenty_up_carries_one_platform_and_not_two() -> None:
    """Common practice, no source: with 20 Mb/s up, one platform is comfortable and two are not."""
    one = small_show()
    twenty = measured(20, 20, 20, 20, 20, 20, 20)
    assert not {"upload-too-small", "upload-bad-hour", "headroom-used"} & rules_of(one, twenty)
    second = one.links[-1].model_copy(update={"id": "second", "name": "Second"})
    two = one.model_copy(update={"links": (*one.links, second)})
    assert "headroom-used" in rules_of(two, twenty) and "upload-too-small" not in rules_of(two, twenty)
    hundred = measured(*[100] * 7)
    assert "headroom-used" not in rules_of(two, hundred)
    assert "upload-too-small" in rules_of(two, measured(*[16] * 7))  # 16.8 Mb/s are asked for


def test_too_small_an_upload_is_found_and_every_fix_ends_it() -> None:
    plan, thin = small_show(), measured(8, 8, 7.6, 8.1, 8, 7.8, 8.2)
    found = next(f for f in report_of(plan, thin).findings if f.rule == "upload-too-small")
    assert found.severity == "stops" and found.working and found.working.value < 0
    offered = cures(plan, "upload-too-small", thin)
    assert len(offered) >= 2
    for cure in offered:
        trial = try_edits(case_of(plan, thin), cure.edits)
        assert found.id in {f.id for f in trial.gone}
        assert not [f for f in trial.come if f.severity == "stops"]


def hourly(**hours: list[float]) -> Survey:
    """Measurements a week before the show, a quarter of an hour apart from each hour named, such as `h20`."""
    found = [measured(*ups, hour=int(h[1:])).measurements for h, ups in hours.items()]
    return Survey(measurements=tuple(m for of in found for m in of))


LINE = ("no-measurement", "upload-too-small", "upload-bad-hour", "headroom-used")


def states(survey: Survey, *edits: Edit) -> tuple[str, ...]:
    """What is answered about the line: measured, middle, low end, headroom. It is asked for 8.4 Mb/s, 19:30 to 21:30."""
    found = {a.check: a.state for a in answers(case_of(small_show(*edits), survey)).every if a.check in LINE}
    return tuple(found[check] for check in LINE)


@pytest.mark.parametrize(
    ("survey", "edits", "found"),
    [
        (STEADY, [], ("holds", "holds", "holds", "holds")),
        # Each hour by its own measurements: good ones at noon say nothing of the evening, bad ones at night neither.
        (hourly(h12=[90] * 6), [], ("not known",) * 4),
        (hourly(h3=[1] * 6, h20=[20] * 6), [], ("holds", "holds", "holds", "holds")),
        (hourly(h12=[90] * 6, h20=[8] * 6), [], ("holds", "fails", "not known", "not known")),
        # The last hour alone is too thin: 21 to 22 h is an hour of the show. At 22 h it is none.
        (hourly(h19=[20] * 6, h20=[20] * 6, h21=[7] * 6), [], ("holds", "fails", "not known", "not known")),
        (hourly(h19=[20] * 6, h20=[20] * 6, h21=[20] * 6, h22=[7] * 6), [], ("holds", "holds", "holds", "holds")),
        (hourly(h19=[20] * 6, h20=[20] * 6, h21=[20] * 6, h22=[7] * 6), [put("show", None, "ends_at", "2026-09-19T22:30:00Z")],
         ("holds", "fails", "not known", "not known")),
        # One bad test among good ones is worth knowing, two are a doubt; most of them bad is the hour's truth.
        (measured(22, 23, 21, 22, 6.1, 24, 22), [], ("holds",) * 4),
        (measured(22, 23, 6.2, 22, 6.1, 24, 22), [], ("holds", "holds", "doubtful", "holds")),
        (measured(22, 6, 6.2, 6.1, 6.1, 24, 6), [], ("holds", "fails", "not known", "not known")),
        # Under five the lowest is the low end: 8.3 beside 20, 20, 20.
        (hourly(h19=[20] * 6, h20=[20, 20, 8.3, 20], h21=[20] * 6), [], ("holds", "holds", "doubtful", "holds")),
        # A test that measured nothing among good ones failed; where all did, there is no upload.
        (measured(22, 0, 21, 22, 23, 24, 22), [], ("holds", "holds", "holds", "holds")),
        (measured(0, 0, 0, 0, 0, 0, 0), [], ("holds", "fails", "not known", "not known")),
        # Between the middle and what the school leaves free: a chosen preference, and a doubt only.
        (measured(*[10] * 7), [], ("holds", "holds", "holds", "doubtful")),
        (STEADY, [put("show", None, "ends_at", None)], ("holds", "not known", "not known", "not known")),
        (STEADY, [put("show", None, "starts_at", None), put("show", None, "ends_at", None)], ("holds",) + ("not known",) * 3),
        (measured(*[5] * 7), [put("show", None, "starts_at", None)], ("holds", "fails", "not known", "not known")),
        # In another zone than UTC: 20 h in Lagos is 19 h in UTC, all year round.
        (hourly(h18=[20] * 6, h19=[7] * 6, h20=[20] * 6), [put("show", None, "zone", "Africa/Lagos"), put("show", None, "starts_at", "2026-09-19T20:30:00+01:00"),
         put("show", None, "ends_at", "2026-09-19T21:00:00+01:00")], ("holds", "fails", "not known", "not known")),
    ],
)  # fmt: skip
def test_the_line_is_judged_for_each_hour_of_the_show(
    survey: Survey, edits: list[Edit], found: tuple[str, ...]
) -> None:
    assert states(survey, *edits) == found


def test_hours_of_the_show_go_through_midnight_and_over_the_end_of_summer_time() -> None:
    """In Berlin the clock goes from 03:00 back to 02:00 on 2026-10-25 (the tz database): a show of six hours has five."""
    show = Show.model_validate(
        {
            "name": "Late",
            "zone": "Europe/Berlin",
            "starts_at": "2026-10-24T23:00:00+02:00",
            "ends_at": "2026-10-25T04:00:00+01:00",
        }
    )
    assert show_hours(show) == (23, 0, 1, 2, 3)


def test_what_is_said_of_the_bad_hour_is_said_of_that_hour_and_mended() -> None:
    plan, uneven = small_show(), measured(22, 23, 6.2, 22, 6.1, 24, 22)
    found = next(f for f in report_of(plan, uneven).findings if f.rule == "upload-bad-hour")
    assert found.severity == "risks" and "down to 6.1 Mb/s Sun 6 Sep 2026, 20:40" in found.wrong
    assert found.working and found.working.steps[1].value == pytest.approx(
        numpy.percentile([22, 23, 6.2, 22, 6.1, 24], 10), abs=0.01
    )
    (cure, *_) = cures(plan, "upload-bad-hour", uneven)
    after = apply(plan, cure.edits)
    assert not {"upload-bad-hour", "upload-too-small", "bitrate-unsuited"} & rules_of(after, uneven)
    (alone,) = [
        f
        for f in report_of(plan, measured(22, 23, 21, 22, 6.1, 24, 22)).findings
        if f.rule == "upload-bad-hour"
    ]
    assert alone.severity == "note"
    (failed,) = report_of(plan, measured(22, 0, 21, 22, 23, 24, 22)).findings
    assert (
        "nothing was measured Sat 29 Aug 2026, 20:10, a test that failed" in failed.wrong
        and failed.severity == "note"
    )


def test_a_lower_percentile_school_sees_the_bad_hours_itself() -> None:
    plan = small_show(put("settings", None, "headroom", "worst"))
    assert "headroom-used" in rules_of(plan, measured(22, 6.2, 21, 6.1, 22, 24, 22))


def test_others_on_the_line_are_taken_off() -> None:
    assert "upload-too-small" in rules_of(small_show(put("uplink", "fibre", "others_mbps", 14)))
    assert "headroom-used" in rules_of(small_show(put("uplink", "fibre", "others_mbps", 10)))
    assert "headroom-used" not in rules_of(small_show())


@pytest.mark.parametrize(
    ("survey", "doubt"),
    [
        (measured(20, 21), "only 2 measurements"),
        (measured(*[20] * 7, conditions="empty"), "empty building"),
        (measured(*[20] * 7, conditions="unknown"), "none known to be taken with the building in use"),
        (measured(*[20] * 7, days_before=60), "days old"),
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
    found = next(f for f in report_of(plan).findings if f.rule == "headroom-used")
    assert found.working
    step = next(s for s in found.working.steps if s.figure == "school-third-free")
    assert step.value == 0.3 and "set in this plan" in step.source


def test_who_else_uses_a_line_is_asked_and_several_pushes_on_a_shared_one_are_doubted() -> None:
    """Common practice, no source: up to some 100 Mb/s a shared line carries one push; a measurement with the building in use has the
    others in it already, and speaks for itself."""
    one, quiet, busy = small_show(), measured(*[60] * 8, conditions="unknown"), measured(*[60] * 8)
    second = one.links[-1].model_copy(update={"id": "second", "name": "Second"})
    two = one.model_copy(update={"links": (*one.links, second)})
    alone = apply(two, [put("uplink", "fibre", "others_mbps", 0)])
    wanted = {a.check for a in answers(case_of(one, quiet)).every if a.state == "not known"}
    assert "others-not-known" in wanted and "others-not-known" not in {
        a.check
        for case in (case_of(one, busy), case_of(alone, quiet))
        for a in answers(case).every
        if a.state == "not known"
    }
    assert "pushes-share-line" in rules_of(two, quiet)
    assert not any(
        "pushes-share-line" in rules_of(*each)
        for each in (
            (two, busy),
            (one, quiet),
            (alone, quiet),
            (two, measured(*[120] * 8, conditions="unknown")),
        )
    )
    chosen = apply(two, [put("settings", None, "headroom", "one-push")])
    assert "headroom-used" in rules_of(chosen, busy) and "headroom-used" not in rules_of(two, busy)


def test_a_card_is_asked_for_all_that_goes_by_it_and_that_of_a_spare_too() -> None:
    """12 h of 8.54 Mb/s are 46 GB, and a hundredth more where 1 % is lost and sent again; the spare's card is a doubt, not a stop."""
    long = [
        put("show", None, "ends_at", (START + timedelta(hours=12)).isoformat()),
        put("uplink", "fibre", "kind", "mobile"),
    ]

    def said(cap: float, *more: Edit) -> set[str]:
        plan = small_show(*long, put("uplink", "fibre", "mobile", {"cap_gb": cap}), *more)
        return {f"{f.rule} {f.severity}" for f in findings(case_of(plan, STEADY))}

    assert "data-used-up stops" in said(45) and not {"data-used-up stops", "data-used-up risks"} & said(90)
    spare = [
        added(
            Uplink(
                id="stick",
                name="Stick",
                site="creek",
                kind="mobile",
                carrier="Other",
                mobile=Mobile(cap_gb=5),
            )
        ),
        put("router", "router", "uplinks", ["fibre", "stick"]),
    ]
    assert "data-used-up risks" in said(90, *spare)
