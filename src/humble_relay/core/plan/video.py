"""The vocabulary of a picture: raster, frame rate, scan, codec, content."""

import re
from fractions import Fraction
from functools import lru_cache
from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from humble_relay.core.frozen import Frozen

Rate = Literal[
    "23.976", "24", "25", "29.97", "30", "47.95", "48", "50", "59.94", "60", "100", "119.88", "120"
]
Scan = Literal["p", "i"]
Codec = Literal["h264", "hevc", "intra"]
Content = Literal["talk", "mixed", "sport"]

_NTSC = {"23.976": 24, "29.97": 30, "47.95": 48, "59.94": 60, "119.88": 120}


@lru_cache(maxsize=64)
def frames_per_second(rate: Rate) -> Fraction:
    """The exact frame rate in frames/s: 59.94 is 60000/1001 and not 60 (SMPTE ST 274).

    >>> frames_per_second("59.94")
    Fraction(60000, 1001)
    """
    if rate in _NTSC:
        return Fraction(_NTSC[rate] * 1000, 1001)
    return Fraction(int(rate))


def frame_duration_ms(rate: Rate) -> Fraction:
    """How long one frame stands, in ms: 1000 / frames per second, exactly.

    >>> float(frame_duration_ms("50"))
    20.0
    """
    return 1000 / frames_per_second(rate)


class VideoFormat(Frozen):
    """Raster in pixels, frame rate in frames/s, and scan. `1080i` at 25 is what shops call 1080i50."""

    width: Annotated[int, Field(ge=16, le=8192)]
    height: Annotated[int, Field(ge=16, le=8192)]
    rate: Rate
    scan: Scan = "p"

    @property
    def label(self) -> str:
        """The trade's short name; unusual rasters are written out.

        >>> VideoFormat(width=1920, height=1080, rate="25", scan="i").label
        '1080i50'
        """
        usual = {(7680, 4320), (3840, 2160), (1920, 1080), (1280, 720), (720, 576), (720, 480)}
        raster = f"{self.height}" if (self.width, self.height) in usual else f"{self.width}×{self.height}"
        rate = f"{float(self.rate) * 2:g}" if self.scan == "i" else self.rate
        return f"{raster}{self.scan}{rate}"


def _raster(text: str) -> str:
    found = re.fullmatch(r"(\d{2,4})x(\d{2,4})", text)
    if not found or not all(16 <= int(side) <= 8192 for side in found.groups()):
        raise ValueError("write a raster as width x height in pixels, such as 1920x1080; 16 to 8192 a side")
    return text


Raster = Annotated[str, Field(max_length=20), AfterValidator(_raster)]


class Accepts(Frozen):
    """The formats a port or service takes: every combination of these. An empty list means any."""

    rasters: Annotated[tuple[Raster, ...], Field(max_length=100)] = ()
    rates: Annotated[tuple[Rate, ...], Field(max_length=20)] = ()
    scans: Annotated[tuple[Scan, ...], Field(max_length=20)] = ()

    def refusal(self, fmt: VideoFormat) -> str | None:
        """Why the format is refused, in words, or None when it is taken."""
        raster = f"{fmt.width}x{fmt.height}"
        if self.rasters and raster not in self.rasters:
            return f"takes {', '.join(self.rasters)}, not {raster}"
        if self.rates and fmt.rate not in self.rates:
            return f"takes {', '.join(self.rates)} frames/s, not {fmt.rate}"
        if self.scans and fmt.scan not in self.scans:
            return f"takes {' or '.join(SCAN_WORDS[s] for s in self.scans)}, not {SCAN_WORDS[fmt.scan]}"
        return None

    def nearest(self, fmt: VideoFormat) -> VideoFormat | None:
        """The accepted format closest to `fmt`: smaller rasters and slower rates before larger ones."""
        rasters = [tuple(int(n) for n in re.split("x", r)) for r in self.rasters] or [(fmt.width, fmt.height)]
        rates: tuple[Rate, ...] = self.rates or (fmt.rate,)
        scans: tuple[Scan, ...] = self.scans or (fmt.scan,)

        def cost(wanted: float, found: float) -> tuple[bool, float]:
            return (found > wanted, abs(found - wanted))

        if not rasters:
            return None
        width, height = min(rasters, key=lambda r: cost(fmt.width * fmt.height, r[0] * r[1]))
        rate = min(rates, key=lambda r: cost(float(fmt.rate), float(r)))
        scan: Scan = fmt.scan if fmt.scan in scans else scans[0]
        return VideoFormat(width=width, height=height, rate=rate, scan=scan)


SCAN_WORDS: dict[Scan, str] = {"p": "progressive", "i": "interlaced"}
