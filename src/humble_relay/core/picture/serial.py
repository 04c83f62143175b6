"""What a picture needs on a serial link or on HDMI, derived from its total raster."""

from fractions import Fraction
from functools import lru_cache

from humble_relay.core.judging.working import Step, Working
from humble_relay.core.plan.video import VideoFormat, frames_per_second

# Total lines, and total samples a line by nominal frames/s: SMPTE ST 274 (1080), ST 296 (720),
# ST 2036-1 (2160 and 4320: the 1080 raster twice and four times each way), ST 2048-1 and -2 (2048 and 4096 wide, in the
# same total rasters), ITU-R BT.601 / ST 259 (525 and 625 lines), BT.1358 (the same, progressive).
# 48, 100 and 120 frames/s as ST 2036-1, ST 2048-2 and CTA-861 have them; 720p48 from memory.
_HD = {24: 2750, 25: 2640, 30: 2200, 48: 2750, 50: 2640, 60: 2200, 100: 2640, 120: 2200}
_UHD = {fps: 2 * samples for fps, samples in _HD.items()}
_TOTAL: dict[tuple[int, int], tuple[int, dict[int, int]]] = {
    (7680, 4320): (4500, {fps: 4 * samples for fps, samples in _HD.items()}),
    (4096, 2160): (2250, _UHD),
    (3840, 2160): (2250, _UHD),
    (2048, 1080): (1125, _HD),
    (1920, 1080): (1125, _HD),
    (1280, 720): (750, {24: 4125, 25: 3960, 30: 3300, 48: 2500, 50: 1980, 60: 1650, 100: 1980, 120: 1650}),
    (720, 576): (625, {25: 864, 50: 864}),
    (720, 480): (525, {30: 858, 60: 858}),
}

SDI_RATES: tuple[tuple[Fraction, str], ...] = (
    (Fraction(270_000_000), "SMPTE ST 259"),
    (Fraction(1_485_000_000), "SMPTE ST 292-1"),
    (Fraction(2_970_000_000), "SMPTE ST 424"),
    (Fraction(5_940_000_000), "SMPTE ST 2081"),
    (Fraction(11_880_000_000), "SMPTE ST 2082"),
)
"""Serial rates in bit/s, slowest first, each with its standard."""


def total_raster(fmt: VideoFormat) -> tuple[int, int] | None:
    """Samples a line and lines a frame, blanking included; None for rasters no standard defines.

    >>> total_raster(VideoFormat(width=1920, height=1080, rate="50"))
    (2640, 1125)
    """
    lines, samples = _TOTAL.get((fmt.width, fmt.height), (0, {}))
    nominal = round(frames_per_second(fmt.rate))
    return (samples[nominal], lines) if nominal in samples else None


@lru_cache(maxsize=256)
def pixel_clock_hz(fmt: VideoFormat) -> Fraction | None:
    """Total raster × frames/s, in Hz, exactly: the clock of HDMI at 8 bit 4:4:4 (CTA-861).

    >>> float(pixel_clock_hz(VideoFormat(width=1280, height=720, rate="60")))
    74250000.0
    """
    raster = total_raster(fmt)
    return None if raster is None else raster[0] * raster[1] * frames_per_second(fmt.rate)


def on_the_wire_bits(fmt: VideoFormat) -> Fraction:
    """The bits a second on an HDMI cable: pixel clock × 3 channels × 10 bit (CTA-861). A raster that no standard defines
    has at least a tenth of blanking, as computers make it (VESA CVT with reduced blanking; from memory).

    >>> float(on_the_wire_bits(VideoFormat(width=3840, height=2160, rate="60"))) / 1e9
    17.82
    """
    drawn = fmt.width * fmt.height * frames_per_second(fmt.rate)
    return (pixel_clock_hz(fmt) or drawn * Fraction(11, 10)) * 30


@lru_cache(maxsize=256)
def serial_bits(fmt: VideoFormat) -> Fraction | None:
    """The bits a second on SDI: total raster × frames/s × 20 bit (10-bit 4:2:2; SMPTE ST 274, ST 296).

    >>> float(serial_bits(VideoFormat(width=1920, height=1080, rate="60"))) / 1e9
    2.97
    """
    clock = pixel_clock_hz(fmt)
    return None if clock is None else clock * 20


@lru_cache(maxsize=256)
def serial_rate(fmt: VideoFormat) -> Working | None:
    """The SDI rate that carries the format, in Gb/s: the slowest standard rate that holds its bits.

    >>> serial_rate(VideoFormat(width=1280, height=720, rate="60")).value
    1.485
    """
    raster, bits = total_raster(fmt), serial_bits(fmt)
    if raster is None or bits is None:
        return None
    # The 1000/1001 rates run on the same links a thousandth slower: compare at the nominal rate.
    for rate, standard in SDI_RATES:
        if bits <= rate:
            return Working(
                name=f"Serial rate for {fmt.label}",
                value=float(rate) / 1e9,
                unit="Gb/s",
                steps=(
                    Step(
                        name="Bits a second",
                        value=float(bits) / 1e9,
                        unit="Gb/s",
                        how=f"{raster[0]} × {raster[1]} × {float(frames_per_second(fmt.rate)):.6g} × 20 bit",
                        source="SMPTE ST 274, ST 296",
                    ),
                    Step(
                        name="Slowest standard rate that holds it",
                        value=float(rate) / 1e9,
                        unit="Gb/s",
                        source=standard,
                    ),
                ),
            )
    return None
