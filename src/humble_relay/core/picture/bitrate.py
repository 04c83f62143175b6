"""The bitrate a picture deserves, by raster, frame rate, codec and content."""

import json
from functools import cache, lru_cache
from importlib.resources import files
from itertools import pairwise
from typing import NamedTuple

from humble_relay.core.judging.working import Figures, Step, Working
from humble_relay.core.plan.video import Codec, Content, Rate, VideoFormat, frames_per_second


class BitrateRange(NamedTuple):
    """Lowest, suggested and highest sensible video bitrate, in Mb/s, with the sum for the suggestion."""

    low: float
    suggested: Working
    high: float


@cache
def _table(codec: str) -> tuple[str, dict[int, dict[int, tuple[float, float]]]]:
    tables = json.loads(files("humble_relay.core.picture").joinpath("bitrates.json").read_text("utf-8"))
    data, rows = tables["intra" if codec == "intra" else "h264"], {}
    for raster, rates in data["mbps"].items():
        width, height = (int(n) for n in raster.split("x"))
        rows[width * height] = {int(rate): (low, high) for rate, (low, high) in rates.items()}
    return data["source"], rows


def suggested_bitrate(fmt: VideoFormat, codec: Codec, content: Content, figures: Figures) -> BitrateRange:
    """The range in Mb/s. Between the table's frame rates the value runs in a straight line; rasters
    between its rows, and portrait ones, go by pixel count in a straight line too.

    >>> suggested_bitrate(VideoFormat(width=1920, height=1080, rate="30"), "h264", "mixed", Figures({})).suggested.value
    6.0
    """
    source, _ = _table(codec)
    low, high = _ends(fmt.width * fmt.height, fmt.rate, codec)
    share = {"talk": 0.0, "mixed": 0.5, "sport": 1.0}[content]
    saving = figures["hevc-share"] if codec == "hevc" else 1.0
    value = (low + share * (high - low)) * saving
    steps = [
        Step(
            name=f"Range for {fmt.label}, {'light intra-frame' if codec == 'intra' else 'H.264'}",
            value=low,
            unit="Mb/s",
            how=f"{low:.3g} to {high:.3g}",
            source=source,
        ),
        Step(name=f"Content: {content}", value=share, how="0 at talk, 1 at sport, of the way up the range"),
    ]
    if codec == "hevc":
        steps.append(figures.step("hevc-share"))
    sum_ = Working(name="Suggested video bitrate", value=round(value, 2), unit="Mb/s", steps=tuple(steps))
    ends = sensible_mbps(fmt, codec, figures)
    return BitrateRange(ends[0], sum_, ends[1])


def sensible_mbps(fmt: VideoFormat, codec: Codec, figures: Figures) -> tuple[float, float]:
    """The lowest and the highest sensible video bitrate, in Mb/s, as `suggested_bitrate` has them."""
    low, high = _ends(fmt.width * fmt.height, fmt.rate, codec)
    saving = figures["hevc-share"] if codec == "hevc" else 1.0
    return round(low * saving, 2), round(high * saving, 2)


@lru_cache(maxsize=256)
def _ends(pixels: int, rate: Rate, codec: str) -> tuple[float, float]:
    """The ends of the table's range in Mb/s, before what a codec saves."""
    fps, rows = float(frames_per_second(rate)), _table(codec)[1]
    low = _between(pixels, {p: _between(fps, {r: v[0] for r, v in row.items()}) for p, row in rows.items()})
    high = _between(pixels, {p: _between(fps, {r: v[1] for r, v in row.items()}) for p, row in rows.items()})
    return low, high


def _between(x: float, points: dict[int, float]) -> float:
    """Straight line between the two nearest points; proportional below the first, flat above the last."""
    xs = sorted(points)
    if x <= xs[0]:
        return points[xs[0]] * max(x / xs[0], 0.5)
    for left, right in pairwise(xs):
        if x <= right:
            return points[left] + (points[right] - points[left]) * (x - left) / (right - left)
    return points[xs[-1]]
