"""What an input usually takes, in words, to choose from where a box is described."""

import json

from humble_relay.core.plan.video import Accepts, Rate

_UP_TO_60: tuple[Rate, ...] = ("23.976", "24", "25", "29.97", "30", "50", "59.94", "60")
_UP_TO_30: tuple[Rate, ...] = _UP_TO_60[:5]
_SMALL, _LARGE = ("1280x720", "1920x1080"), "3840x2160"
TAKES: tuple[tuple[str, Accepts], ...] = (
    ("anything", Accepts()),
    ("720 and 1080, up to 60", Accepts(rasters=_SMALL, rates=_UP_TO_60)),
    ("720 and 1080, up to 60, progressive", Accepts(rasters=_SMALL, rates=_UP_TO_60, scans=("p",))),
    ("720 and 1080, up to 30, progressive", Accepts(rasters=_SMALL, rates=_UP_TO_30, scans=("p",))),
    ("720, 1080 and 2160, up to 30", Accepts(rasters=(*_SMALL, _LARGE), rates=_UP_TO_30)),
    ("720, 1080 and 2160, up to 60", Accepts(rasters=(*_SMALL, _LARGE), rates=_UP_TO_60)),
    ("vertical 1080 × 1920, up to 60", Accepts(rasters=("1080x1920",), rates=_UP_TO_60)),
)
"""What an input usually takes: in words, and the formats."""
TAKES_WORDS = {
    json.dumps(takes.model_dump(mode="json"), separators=(",", ":")): words for words, takes in TAKES
}
"""The same for a list to choose from, each by its document."""

UP_TO_HD = ("720x576", "1280x720", "1920x1080", "720x1280", "1080x1920")
"""The rasters of a decoder of up to 1920 × 1080, vertical ones too."""
UP_TO_UHD = (*UP_TO_HD, "3840x2160", "2160x3840")
"""And of one of up to 3840 × 2160."""
