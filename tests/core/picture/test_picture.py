"""Rates, clocks and frame times against the standards that define them."""

from fractions import Fraction

import pytest

from humble_relay.core.judging.working import Figures
from humble_relay.core.picture.bitrate import suggested_bitrate
from humble_relay.core.picture.serial import pixel_clock_hz, serial_bits, serial_rate
from humble_relay.core.plan.video import Accepts, VideoFormat, frame_duration_ms
from tests.build import hd

FIGURES = Figures({})


# Total raster × frames/s × 20 bit, written out from SMPTE ST 274 (1080), ST 296 (720), ST 2036-1 (2160)
# and ITU-R BT.601 (SD); the link rates are those of ST 259, 292-1, 424, 2081 and 2082.
@pytest.mark.parametrize(
    ("fmt", "arithmetic", "link_gbps"),
    [
        (hd("60"), 2200 * 1125 * 60 * 20, 2.97),
        (hd("50"), 2640 * 1125 * 50 * 20, 2.97),
        (hd("30"), 2200 * 1125 * 30 * 20, 1.485),
        (hd("25", scan="i"), 2640 * 1125 * 25 * 20, 1.485),
        (hd("24"), 2750 * 1125 * 24 * 20, 1.485),
        (hd("60", 720), 1650 * 750 * 60 * 20, 1.485),
        (hd("50", 720), 1980 * 750 * 50 * 20, 1.485),
        (hd("30", 2160), 4400 * 2250 * 30 * 20, 5.94),
        (hd("48"), 2750 * 1125 * 48 * 20, 2.97),
        (hd("120"), 2200 * 1125 * 120 * 20, 5.94),
        (hd("60", 2160), 4400 * 2250 * 60 * 20, 11.88),
        (VideoFormat(width=720, height=576, rate="25", scan="i"), 864 * 625 * 25 * 20, 0.27),
    ],
)
def test_serial_rates_are_those_of_smpte(fmt: VideoFormat, arithmetic: int, link_gbps: float) -> None:
    assert serial_bits(fmt) == arithmetic == link_gbps * 1e9
    working = serial_rate(fmt)
    assert working and working.value == link_gbps
    assert "SMPTE ST" in working.steps[-1].source


def test_the_thousandth_slower_rates_are_exact_and_run_on_the_same_links() -> None:
    """SMPTE ST 274: 59.94 is 60000/1001; SDI at 1/1.001 rates uses the same link class."""
    assert serial_bits(hd("59.94")) == Fraction(2_970_000_000 * 1000, 1001)
    assert serial_rate(hd("59.94")).value == 2.97  # type: ignore[union-attr]
    assert frame_duration_ms("59.94") == Fraction(1001, 60)
    assert float(frame_duration_ms("59.94")) == pytest.approx(16.683, abs=0.0005)
    assert frame_duration_ms("50") == 20


# CTA-861: VIC 34, 16, 63, 95 and 97.
@pytest.mark.parametrize(
    ("fmt", "mhz"),
    [(hd("30"), 74.25), (hd("60"), 148.5), (hd("120"), 297), (hd("30", 2160), 297), (hd("60", 2160), 594)],
)
def test_hdmi_pixel_clocks_are_those_of_cta_861(fmt: VideoFormat, mhz: float) -> None:
    assert float(pixel_clock_hz(fmt) or 0) == mhz * 1e6


def test_a_raster_no_standard_defines_has_no_serial_rate() -> None:
    assert serial_rate(VideoFormat(width=1080, height=1920, rate="30")) is None


# Common practice, no source: the ranges a working technician quotes for H.264.
@pytest.mark.parametrize(
    ("fmt", "low", "high"),
    [
        (hd("30", 720), 2.5, 4),
        (hd("60", 720), 3.5, 6),
        (hd("30"), 4, 8),
        (hd("60"), 6, 12),
        (hd("30", 2160), 13, 30),
        (hd("60", 2160), 20, 50),
    ],
)
def test_bitrate_ranges_are_the_trades(fmt: VideoFormat, low: float, high: float) -> None:
    found = suggested_bitrate(fmt, "h264", "mixed", FIGURES)
    assert (found.low, found.high) == (low, high)
    assert found.suggested.value == pytest.approx((low + high) / 2, abs=0.01)
    hevc = suggested_bitrate(fmt, "hevc", "mixed", FIGURES)
    assert hevc.suggested.value == pytest.approx(0.6 * found.suggested.value, abs=0.01)


def test_more_picture_never_deserves_less() -> None:
    talk_to_sport = [
        suggested_bitrate(hd("50"), "h264", c, FIGURES).suggested.value for c in ("talk", "mixed", "sport")
    ]
    assert talk_to_sport == sorted(talk_to_sport)
    slow_to_fast = [
        suggested_bitrate(hd(r), "h264", "mixed", FIGURES).suggested.value
        for r in ("24", "25", "30", "50", "60")
    ]  # type: ignore[arg-type]
    assert slow_to_fast == sorted(slow_to_fast)
    upright = suggested_bitrate(VideoFormat(width=1080, height=1920, rate="30"), "h264", "mixed", FIGURES)
    assert upright.suggested.value == suggested_bitrate(hd("30"), "h264", "mixed", FIGURES).suggested.value


def test_the_nearest_accepted_format_is_smaller_rather_than_larger() -> None:
    accepts = Accepts(rasters=("1280x720", "3840x2160"), rates=("25", "50", "60"), scans=("p",))
    assert accepts.refusal(hd("50")) == "takes 1280x720, 3840x2160, not 1920x1080"
    assert accepts.nearest(hd("59.94")) == hd("50", 720)
    assert "not 59.94" in (Accepts(rates=("60",)).refusal(hd("59.94")) or "")
    assert "interlaced" in (Accepts(scans=("p",)).refusal(hd("25", scan="i")) or "")


def test_labels_read_as_the_trade_says_them() -> None:
    assert hd("59.94").label == "1080p59.94"
    assert hd("25", scan="i").label == "1080i50"
    assert VideoFormat(width=1080, height=1920, rate="30").label == "1080×1920p30"
