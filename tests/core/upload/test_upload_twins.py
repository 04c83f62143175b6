"""Twins of upload: each row a sound show, what breaks it, and every finding that comes."""
# fmt: off


import pytest

from tests.build import (
    put,
)
from tests.core.twins import Twin, hold, named

TWINS = [
    Twin("plain", [put("link", "feed", "video_mbps", 4)], "bitrate-unsuited:feed risks", "is thin for 1080p50", "Send 1080p25 at this bitrate"),
    Twin("plain", [put("uplink", "fibre", "others_mbps", 14)], "upload-too-small:fibre stops", "at 20 to 21 h it was measured at", "Lower the bitrate: Feed 8 → 6 Mb/s"),
    Twin("plain", [put("uplink", "fibre", "others_mbps", 10)], "headroom-used:fibre risks, thin-evidence:fibre risks", "may carry", "Smaller picture"),
]


@pytest.mark.parametrize("twin", TWINS, ids=named(TWINS))
def test_its_broken_twin_has_these_findings_and_no_others_and_is_cured_as_it_says(twin: Twin) -> None:
    hold(twin)
