"""Twins of load: each row a sound show, what breaks it, and every finding that comes."""
# fmt: off


import pytest

from humble_relay.core.plan.edits import (
    SetFigure,
)
from tests.build import (
    put,
    put_port,
)
from tests.core.twins import FLOOD, Twin, hold, named

TWINS = [
    # By Wi-Fi about half of the rate is useful: 4.29 Mb/s of a call.
    Twin("call", [put_port("phone/wifi", "max_gbps", 0.008)], "air-overfull:lan:air risks", "4 Mb/s of its 8 Mb/s are useful"),
    Twin("call", [put_port("phone/wifi", "max_gbps", 0.004)], "air-overfull:lan:air stops", "Mb/s go by Wi-Fi on Show network"),
    Twin("pole", [put_port("net/lan-2", "max_gbps", 0.1), put("link", "watch", "video_mbps", 80), put("device", "hide", "encoding.max_mbps", 90), put_port("hide/lan", "max_gbps", 1), SetFigure(figure="hevc-share", value=0.6)],
         "socket-overfull:decoder-lan-net-lan-2:load risks, bitrate-unsuited:watch note", "run over"),
    Twin("pole", [put_port("net/lan-2", "max_gbps", 0.01), put_port("hide/lan", "max_gbps", 0.01), put("link", "watch", "video_mbps", 80), put("device", "hide", "encoding.max_mbps", 90)],
         "socket-overfull:decoder-lan-net-lan-2:load stops, socket-overfull:hide-lan-net-lan-1:load stops, bitrate-unsuited:watch note", "run over"),
    Twin("pole", FLOOD, "multicast-floods:lan:multicast risks, socket-overfull:hide-lan-net-lan-1:load risks, bitrate-unsuited:watch note", "Hide, LAN has 100 Mb/s", "Switch snooping on"),
    Twin("pole", [*FLOOD, put("link", "watch", "video_mbps", 99), put_port("hide/lan", "max_gbps", 0.05)], "multicast-floods:lan:multicast stops, socket-overfull:hide-lan-net-lan-1:load stops, bitrate-unsuited:watch note", "hand them to everybody", "Switch snooping on"),
]


@pytest.mark.parametrize("twin", TWINS, ids=named(TWINS))
def test_its_broken_twin_has_these_findings_and_no_others_and_is_cured_as_it_says(twin: Twin) -> None:
    hold(twin)
