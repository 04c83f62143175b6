"""Every figure shown opens to a sum that can be followed, and the sums hold on shows drawn at random."""

import json
from concurrent.futures import ThreadPoolExecutor
from itertools import pairwise
from time import sleep
from typing import Any, get_args

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.working import Figures, Working, number
from humble_relay.core.load.stream_load import load
from humble_relay.core.plan import Plan, Stream
from humble_relay.core.plan.edits import Edit, SetFigure
from humble_relay.core.plan.edits.draft import apply
from humble_relay.core.plan.figures import catalogue
from humble_relay.core.plan.survey import Survey
from humble_relay.core.plan.video import Rate, VideoFormat
from humble_relay.core.signal.cabling.runs import cable_reach
from humble_relay.core.upload.headroom import allowances
from humble_relay.core.views.of_stage import VIEWS, view_of
from humble_relay.core.views.report import report_on
from humble_relay.core.views.verdict import verdict_on
from tests.build import STEADY, case_of, hd, measured, put, report_of, small_show

RATES = ("23.976", "24", "25", "29.97", "30", "50", "59.94", "60")


def said_of(plan: Plan, survey: Survey) -> tuple[Any, ...]:
    """The report on a plan, its verdict, and the view of every stage."""
    case = case_of(plan, survey)
    return report_on(case), verdict_on(case), *(view_of(case, stage) for stage in VIEWS)


def every_working(found: object) -> list[Working]:
    """All workings anywhere in a report."""
    if isinstance(found, Working):
        return [found]
    if isinstance(found, tuple):
        return [w for part in found for w in every_working(part)]
    fields = getattr(type(found), "model_fields", None) or getattr(type(found), "__dataclass_fields__", {})
    return [w for name in fields for w in every_working(getattr(found, name))]


@pytest.mark.parametrize(
    "edits", [[], [put("link", "run", "length_m", 200)], [put("uplink", "fibre", "others_mbps", 15)]]
)
def test_every_figure_of_a_report_has_a_unit_and_steps_and_its_figures_a_source(edits: list[Edit]) -> None:
    workings = every_working(said_of(small_show(*edits), STEADY))
    assert len(workings) > 8
    for working in workings:
        assert working.name and working.unit and working.steps, working
        for step in working.steps:
            assert step.name
            if step.figure:
                assert step.source == catalogue()[step.figure].source


def test_every_catalogue_figure_says_where_it_is_from_and_marks_what_has_no_source() -> None:
    for id, figure in catalogue().items():
        assert figure.name and figure.source, id
        known = (
            "RFC",
            "ISO",
            "TIA",
            "SMPTE",
            "RTMP",
            "IETF",
            "USB 2.0 §",
            "USB 3.0",
            "ITU-",
            "common practice, no source",
            "from memory",
        )
        assert any(word in figure.source for word in known), id


@settings(max_examples=100, deadline=None)
@given(
    st.floats(0.1, 100),
    st.floats(0, 500),
    st.sampled_from(["rtmp", "rtmps", "srt"]),
    st.sampled_from(get_args(Rate)),
)
def test_a_stream_always_weighs_more_than_its_picture_and_more_picture_weighs_more(
    mbps: float, audio: float, protocol: str, rate: str
) -> None:
    def weight(video: float) -> float:
        fields = {
            "id": "s",
            "name": "S",
            "from_device": "a",
            "to_device": "b",
            "protocol": protocol,
            "format": {"width": 1920, "height": 1080, "rate": rate},
            "video_mbps": video,
            "audio_kbps": audio,
        }
        return load(Stream.model_validate(fields), Figures({})).total.value

    assert weight(mbps) > mbps + audio / 1000
    assert weight(mbps + 1) > weight(mbps)
    # Headers and container stay below a tenth for any bitrate worth sending.
    if mbps >= 2:
        assert weight(mbps) < (mbps + audio / 1000) * 1.1


@given(st.lists(st.floats(0.5, 500), min_size=1, max_size=30), st.floats(0, 50))
def test_no_school_allows_more_than_was_ever_measured(ups: list[float], others: float) -> None:
    for allowance in allowances(ups, others, Figures({})):
        assert 0 <= allowance.mbps.value <= max(ups) + 0.01
        assert allowance.mbps.value <= max(0.0, max(ups) - others) + 0.01


@pytest.mark.parametrize("kind", ["coax", "hdmi"])
def test_more_picture_never_carries_further(kind: str) -> None:
    ladder = [hd("25", 720), hd("30", 720), hd("60", 720), hd("60"), hd("30", 2160), hd("60", 2160)]
    ladder = ladder[:4] if kind == "coax" else ladder  # 6G and 12G receivers bear twice the loss
    reaches = [cable_reach(kind, fmt, Figures({})).value for fmt in ladder]  # type: ignore[arg-type]
    assert all(shorter <= longer for longer, shorter in pairwise(reaches))


def test_an_own_figure_is_used_everywhere_and_given_back() -> None:
    plan = apply(small_show(), [SetFigure(figure="coax-reach", value=30)])
    drawn = report_of(plan)
    assert drawn.workings[drawn.links[0].reach].value == 30
    assert "cable-too-long" in {f.rule for f in report_of(plan).findings}
    back = apply(plan, [SetFigure(figure="coax-reach", value=None)])
    assert back == small_show() and report_of(back) == report_of(small_show())


@pytest.mark.parametrize(
    ("value", "said"), [(8.406, "8.41"), (91.0, "91"), (0.0137, "0.0137"), (10000, "10 000"), (129.4, "129")]
)
def test_numbers_are_said_as_they_are_read_aloud(value: float, said: str) -> None:
    assert number(value) == said


def test_an_analysis_is_computed_once_a_case_by_however_many_threads() -> None:
    case, calls = case_of(small_show()), []

    @analysis
    def slow(case: Case) -> int:
        calls.append(case)
        sleep(0.02)
        return 7

    with ThreadPoolExecutor(8) as several:
        assert set(several.map(lambda _: slow(case), range(8))) == {7} and len(calls) == 1


def test_a_report_is_plain_data() -> None:
    for said in said_of(small_show(put("link", "feed", "video_mbps", 30)), measured(9, 10)):
        assert json.loads(said.model_dump_json()) == said.model_dump(mode="json")
        assert type(said).model_validate_json(said.model_dump_json()) == said


@pytest.mark.parametrize("rate", RATES)
def test_the_whole_plan_can_be_judged_at_every_rate(rate: str) -> None:
    fmt = VideoFormat.model_validate({"width": 1920, "height": 1080, "rate": rate})
    plan = small_show(
        put("device", "camera", "produces", fmt.model_dump(mode="json")),
        put("link", "feed", "format", fmt.model_dump(mode="json")),
        put("link", "feed", "video_mbps", 5.5),
    )
    assert not [f for f in report_of(plan).findings if f.severity == "stops"]
