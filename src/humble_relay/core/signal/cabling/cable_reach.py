"""How far a cable carries a picture, and the lengths it comes in."""

import math
from functools import lru_cache

from humble_relay.core.judging.working import Figures, Step, Working
from humble_relay.core.picture.serial import pixel_clock_hz, serial_rate
from humble_relay.core.plan import CableKind, UsbPayload
from humble_relay.core.plan.video import VideoFormat, frames_per_second


@lru_cache(maxsize=1024)
def cable_reach(
    kind: CableKind, fmt: VideoFormat, figures: Figures, repeaters: int = 0, joints: int = 0
) -> Working:
    """How far a kind of cable carries a format, in metres; as far as 3G where no SDI link carries the format.

    Loss in dB grows with √frequency, so copper reach goes with 1/√rate within one class of receiver; the classes bear
    different losses at half their clock (SMPTE ST 259, 292-1, 424, 2081, 2082; losses from memory). HDMI is never promised more than
    the trade's figure; network, USB, audio and optical runs do not depend on the picture. A repeater
    begins the reach again; a coupler takes some of it.

    >>> hd = VideoFormat(width=1920, height=1080, rate="60")
    >>> [cable_reach("coax", fmt, Figures({})).value for fmt in (hd, hd.model_copy(update={"rate": "30"}))]
    [91.0, 128.7]
    """
    base = figures.step(f"{kind}-reach")
    reach, steps = figures[f"{kind}-reach"], [base]
    if kind == "coax" and (rate := serial_rate(fmt)):
        decibels, sure = next((db, sure) for most, db, sure in RECEIVERS if rate.value <= most)
        reach *= math.sqrt(2.97 / rate.value) * decibels / RECEIVERS[1][1] * sure
        steps += (
            *rate.steps[-1:],
            _of_receivers(decibels, sure),
            _by_root(base.value or 0, 2.97, rate.value, reach),
        )
    elif kind == "hdmi" and (clock := pixel_clock_hz(fmt)):
        actual = max(148.5, float(clock) / 1e6)
        reach *= math.sqrt(148.5 / actual)
        steps.append(
            Step(name=f"Pixel clock of {fmt.label}", value=float(clock) / 1e6, unit="MHz", source="CTA-861")
        )
        if actual > 148.5:
            steps.append(_by_root(base.value or 0, 148.5, actual, reach))
    if repeaters:
        steps.append(
            Step(
                name="Repeaters begin it again",
                value=reach * (repeaters + 1),
                unit="m",
                how=f"{reach:.4g} × {repeaters + 1}",
            )
        )
        reach *= repeaters + 1
    if joints and kind != "fibre":
        lost = figures["joint-cost"] * joints
        steps += [
            figures.step("joint-cost"),
            Step(
                name="Couplers take some",
                value=reach - lost,
                unit="m",
                how=f"{reach:.4g} − {joints} couplers",
            ),
        ]
        reach = max(0.0, reach - lost)
    return Working(name=f"Reach of {kind} cable", value=round(reach, 1), unit="m", steps=tuple(steps))


RECEIVERS = ((0.27, 30.0, 0.8), (2.97, 20.0, 1.0), (math.inf, 40.0, 0.8))
"""The classes of SDI receivers: up to which rate in Gb/s, the loss in dB they bear, and how much of the reach that the
root law then gives is relied on, for the law holds within a class and the figure is one of the second (from memory)."""
EASIEST = VideoFormat(width=720, height=576, rate="25", scan="i")
HARDEST = tuple(
    VideoFormat(width=w, height=h, rate=rate)
    for w, h, rate in ((3840, 2160, "60"), (3840, 2160, "30"), (1920, 1080, "60"), (1920, 1080, "30"))
)
"""What a cable whose picture nobody knows may have to carry: the least, and the most, the hardest first."""


def possible(max_gbps: float | None) -> tuple[VideoFormat, ...]:
    """The pictures that a port of this serial rate (Gb/s) may put out, one of each rate; all, where no rate is known.

    >>> [fmt.label for fmt in possible(2.97)]
    ['1080p60', '1080p30', '576i50']
    """
    rates = ((fmt, serial_rate(fmt)) for fmt in HARDEST)
    return (*(fmt for fmt, rate in rates if rate and (max_gbps is None or rate.value <= max_gbps)), EASIEST)


def _of_receivers(decibels: float, sure: float) -> Step:
    how = "at half the clock" + (f", and {sure:g} of that relied on" if sure < 1 else "")
    return Step(
        name="Loss that its receivers bear",
        value=decibels,
        unit="dB",
        how=how,
        source="SMPTE ST 259 to 2082; losses from memory",
    )


def usb_load(fmt: VideoFormat, sent_as: UsbPayload, figures: Figures) -> Working:
    """What a picture asks of USB, in Gb/s: as it is, 8-bit 4:2:2 takes 16 bit a pixel (USB Video Class); as motion JPEG a
    share of that; as H.264 what a camera sends at most.

    >>> usb_load(VideoFormat(width=1920, height=1080, rate="60"), "raw", Figures({})).value
    1.99
    """
    if sent_as == "h264":
        at_most = figures.step("usb-h264")
        return Working(name=f"{fmt.label} over USB", value=at_most.value or 0, unit="Gb/s", steps=(at_most,))
    value = float(fmt.width * fmt.height * frames_per_second(fmt.rate) * 16) / 1e9
    step = Step(
        name="Bits a second",
        value=value,
        unit="Gb/s",
        how=f"{fmt.width} × {fmt.height} × {float(frames_per_second(fmt.rate)):.6g} × 16 bit",
        source="USB Video Class, uncompressed payload",
    )
    steps: tuple[Step, ...] = (step,)
    if sent_as == "mjpeg":
        value *= figures["mjpeg-share"]
        steps = (step, figures.step("mjpeg-share"))
    return Working(name=f"{fmt.label} over USB", value=float(f"{value:.3g}"), unit="Gb/s", steps=steps)


def _by_root(base: float, reference: float, actual: float, reach: float) -> Step:
    how = f"{base:g} × √({reference:g} ÷ {actual:.4g})"
    return Step(
        name="Reach goes with 1/√rate", value=reach, unit="m", how=how, source="SMPTE ST 424; from memory"
    )
