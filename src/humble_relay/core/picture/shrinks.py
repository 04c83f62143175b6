"""Smaller pictures: half the frame rate, the next smaller raster, and both."""

from collections.abc import Callable, Iterator

from humble_relay.core.plan.video import Rate, VideoFormat

_HALF_RATE: dict[Rate, Rate] = {
    "50": "25",
    "59.94": "29.97",
    "60": "30",
    "100": "50",
    "119.88": "59.94",
    "120": "60",
}
_SMALLER = {
    (3840, 2160): (1920, 1080),
    (1920, 1080): (1280, 720),
    (2160, 3840): (1080, 1920),
    (1080, 1920): (720, 1280),
}


def half_rate(fmt: VideoFormat) -> VideoFormat | None:
    """The picture at half its frame rate; None where that is not usual."""
    rate = _HALF_RATE.get(fmt.rate)
    return fmt.model_copy(update={"rate": rate}) if rate else None


def smaller(fmt: VideoFormat) -> VideoFormat | None:
    """The picture in the next smaller usual raster; None where there is none."""
    size = _SMALLER.get((fmt.width, fmt.height))
    return fmt.model_copy(update={"width": size[0], "height": size[1]}) if size else None


SHRINKS: tuple[Callable[[VideoFormat], VideoFormat | None], ...] = (
    half_rate,
    smaller,
    lambda fmt: smaller(half_rate(fmt) or fmt),
)
"""Ways to a smaller picture, the least loss first."""


def smaller_formats(fmt: VideoFormat) -> Iterator[VideoFormat]:
    """Every smaller picture that the steps lead to, one after the other, each once.

    >>> [f.label for f in smaller_formats(VideoFormat(width=1920, height=1080, rate="50"))]
    ['1080p25', '720p50', '720p25']
    """
    seen, found = {fmt}, [fmt]
    for at in found:
        for shrink in (half_rate, smaller):
            made = shrink(at)
            if made and made not in seen:
                seen.add(made)
                found.append(made)
                yield made
