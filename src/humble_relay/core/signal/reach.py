"""How far a cable carries a picture, and the lengths it comes in."""

import math
from typing import NamedTuple

from humble_relay.core.index import PlanIndex
from humble_relay.core.picture.serial import SDI_RATES, pixel_clock_hz, serial_rate
from humble_relay.core.plan import CableKind, Connector, Protocol
from humble_relay.core.video import VideoFormat, frames_per_second
from humble_relay.core.working import Figures, Step, Working

FITS: dict[CableKind, Connector] = {
    "hdmi": "hdmi",
    "coax": "sdi",
    "vga": "vga",
    "ethernet": "ethernet",
    "usb2": "usb",
    "usb3": "usb",
    "fibre": "fibre",
    "audio": "audio",
}
"""The connector each kind of cable ends in."""
CABLE_FOR: dict[Connector, CableKind] = {
    "hdmi": "hdmi",
    "sdi": "coax",
    "vga": "vga",
    "usb": "usb3",
    "fibre": "fibre",
    "ethernet": "ethernet",
    "audio": "audio",
}
CABLE_WORDS: dict[CableKind, str] = {
    "hdmi": "HDMI",
    "coax": "SDI coax",
    "vga": "VGA",
    "ethernet": "Ethernet",
    "usb2": "USB 2",
    "usb3": "USB 3",
    "fibre": "Fibre",
    "audio": "Audio",
}
PROTOCOL_WORDS: dict[Protocol, str] = {
    "rtmp": "RTMP",
    "rtmps": "RTMPS",
    "srt": "SRT",
    "rtsp": "RTSP",
    "ndi": "NDI",
    "paired": "Paired",
    "web": "Browser",
}
STOCK_LENGTHS: dict[CableKind, tuple[float, ...]] = {
    "hdmi": (1, 2, 3, 5, 7.5, 10, 15),
    "coax": (1, 2, 5, 10, 20, 30, 50, 100),
    "vga": (2, 5, 10, 15),
    "ethernet": (1, 2, 5, 10, 20, 30, 50, 100),
    "usb2": (1, 2, 3, 5),
    "usb3": (1, 2, 3),
    "fibre": (10, 30, 50, 100, 200, 300),
    "audio": (2, 5, 10, 20, 50, 100),
}
"""The lengths a van carries, in metres (common practice, no source)."""
REPEATABLE: tuple[CableKind, ...] = ("hdmi", "coax", "usb2", "usb3", "ethernet")
_NEAR_M = 2.0


class Lay(NamedTuple):
    """The stock cables that make one run: their lengths in metres, longest first."""

    lengths: tuple[float, ...]

    @property
    def total_m(self) -> float:
        """Metres laid."""
        return sum(self.lengths)

    @property
    def joints(self) -> int:
        """Couplers between them."""
        return len(self.lengths) - 1


def stock_lay(kind: CableKind, need_m: float) -> Lay:
    """The fewest stock cables that cover `need_m`, and of those the shortest."""
    sizes = STOCK_LENGTHS[kind]
    whole = max(0, math.ceil(need_m / sizes[-1] - 1e-9) - 1)
    rest = need_m - whole * sizes[-1]
    return Lay((sizes[-1],) * whole + (next(s for s in sizes if s >= rest - 1e-9),))


def run_length_m(plan: PlanIndex, a: str | None, b: str | None) -> float:
    """Metres of cable between two places: straight line plus slack, 2 m where a place has no position."""
    first, second = plan.places.get(a or ""), plan.places.get(b or "")
    if not first or not second or first.id == second.id:
        return _NEAR_M
    flat = distance_m(plan, a, b)
    return _NEAR_M if flat is None else max(_NEAR_M, round(flat * (1 + plan.figures["slack"] / 100)))


def distance_m(plan: PlanIndex, a: str | None, b: str | None) -> float | None:
    """The straight line between two places in metres, storeys counted; None where one has no position."""
    first, second = plan.places.get(a or ""), plan.places.get(b or "")
    if not first or not second or None in (first.x_m, first.y_m, second.x_m, second.y_m):
        return None
    up = (first.floor - second.floor) * plan.figures["storey"]
    return math.hypot((first.x_m or 0) - (second.x_m or 0), (first.y_m or 0) - (second.y_m or 0), up)


def cable_reach(
    kind: CableKind, fmt: VideoFormat | None, figures: Figures, repeaters: int = 0, joints: int = 0
) -> Working:
    """How far a kind of cable carries a format, in metres.

    Loss in dB grows with √frequency and receivers allow a fixed loss at half the clock, so copper
    reach goes with 1/√rate (SMPTE ST 424; the law from memory). HDMI is never promised more than
    the trade's figure; network, USB, audio and optical runs do not depend on the picture. A repeater
    begins the reach again; a coupler takes some of it.
    """
    base = figures.step(f"{kind}-reach")
    reach, steps = figures[f"{kind}-reach"], [base]
    if kind == "coax":
        rate = serial_rate(fmt) if fmt else None
        actual = rate.value if rate else float(SDI_RATES[2][0]) / 1e9
        reach *= math.sqrt(2.97 / actual)
        steps += (
            list(rate.steps[-1:])
            if rate
            else [Step(name="Format not known: 3G assumed", value=2.97, unit="Gb/s")]
        )
        steps.append(_by_root(base.value or 0, 2.97, actual, reach))
    elif kind == "hdmi" and fmt and (clock := pixel_clock_hz(fmt)):
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


def usb_load(fmt: VideoFormat) -> Working:
    """What an uncompressed picture asks of USB, in Gb/s: 8-bit 4:2:2 takes 16 bit a pixel (USB Video Class)."""
    value = float(fmt.width * fmt.height * frames_per_second(fmt.rate) * 16) / 1e9
    step = Step(
        name="Bits a second",
        value=value,
        unit="Gb/s",
        how=f"{fmt.width} × {fmt.height} × {float(frames_per_second(fmt.rate)):.6g} × 16 bit",
        source="USB Video Class, uncompressed payload",
    )
    return Working(name=f"{fmt.label} over USB", value=round(value, 2), unit="Gb/s", steps=(step,))


def _by_root(base: float, reference: float, actual: float, reach: float) -> Step:
    how = f"{base:g} × √({reference:g} ÷ {actual:.4g})"
    return Step(
        name="Reach goes with 1/√rate", value=reach, unit="m", how=how, source="SMPTE ST 424; from memory"
    )
