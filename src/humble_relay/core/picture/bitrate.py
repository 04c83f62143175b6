"""The bitrate a picture deserves, by raster, frame rate, codec and content."""

import json
from functools import cache
from importlib.resources import files
from itertools import pairwise
from typing import NamedTuple

from humble_relay.core.judging.working import Figures, Step, Working
from humble_relay.core.plan.video import Codec, Content, VideoFormat, frames_per_second


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
    source, rows = _table(codec)
    fps = float(frames_per_second(fmt.rate))
    pixels = fmt.width * fmt.height
    low = _between(pixels, {p: _between(fps, {r: v[0] for r, v in row.items()}) for p, row in rows.items()})
    high = _between(pixels, {p: _between(fps, {r: v[1] for r, v in row.items()}) for p, row in rows.items()})
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
    return BitrateRange(round(low * saving, 2), sum_, round(high * saving, 2))


def _between(x: float, points: dict[int, float]) -> float:
    """Straight line between the two nearest points; proportional below the first, flat above the last."""
    xs = sorted(points)
    if x <= xs[0]:
        return points[xs[0]] * max(x / xs[0], 0.5)
    for left, right in pairwise(xs):
        if x <= right:
            return points[left] + (points[right] - points[left]) * (x - left) / (right - left)
    return points[xs[-1]]
