"""Bitrates, plain numbers and picture formats, as they are typed into a line."""

import re
from typing import Any

from humble_relay.core.plan.edits.amounts import amount_in
from humble_relay.core.plan.video import VideoFormat

_LINES = {720: 1280, 1080: 1920, 2160: 3840, 576: 720, 480: 720}
_FRAMES_OF_FIELDS = {"50": "25", "59.94": "29.97", "60": "30"}
"""Interlaced pictures are called by their fields a second, two a frame (common practice, no source)."""
_FORMAT = re.compile(r"(\d{3,4})([ipIP])(\d{2}(?:\.\d+)?)")


def number_in(text: str) -> float | None:
    """A number, with a comma or a point before its decimals; None where it is none."""
    return amount_in(text, "")


def rate_in(text: str) -> float | None:
    """A bitrate in Mb/s; a plain number is one too. None where it is none.

    >>> rate_in("2.5"), rate_in("20mbit"), rate_in("dark")
    (2.5, 20.0, None)
    """
    return amount_in(text, "Mb/s")


def format_in(text: str) -> VideoFormat | None:
    """A picture format by its usual short name; None where it is none.

    >>> format_in("1080P25").label, format_in("720p59.94").label, format_in("1080x25")
    ('1080p25', '720p59.94', None)
    """
    found = _FORMAT.fullmatch(text.strip())
    if not found or int(found.group(1)) not in _LINES:
        return None
    lines, rate, scan = int(found.group(1)), found.group(3), found.group(2).lower()
    if scan == "i":
        rate = _FRAMES_OF_FIELDS.get(rate, rate)
    what: dict[str, Any] = {"width": _LINES[lines], "height": lines, "rate": rate, "scan": scan}
    try:
        return VideoFormat.model_validate(what)
    except ValueError:
        return None
