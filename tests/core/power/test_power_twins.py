"""Twins of power: each row a sound show, what breaks it, and every finding that comes."""
# fmt: off


from datetime import timedelta

import pytest

from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.plan import Aim
from humble_relay.core.plan.edits import (
    added,
)
from tests.build import (
    START,
    put,
    put_port,
)
from tests.core.twins import Twin, hold, named

TWINS = [
    Twin("pole", [put_port("net/lan-1", "poe_w", None)], "no-power-over-ethernet:hide:power stops", "gives none", "Plug it into Socket 4 of Net"),
    Twin("pole", [put("device", "hide", "power.draw_w", 26)], "no-power-over-ethernet:hide:power stops", "draws 26 W; 25.5 W reach it", ""),
    # Power.
    Twin("plain", [put("place", "boathouse", "mains", False)], "nothing-feeds-it:encoder:feed stops", "is fed by mains, and there is none at Boathouse"),
    Twin("plain", [put("place", "slipway", "mains", False), put("device", "camera", "power.battery_h", 1.9)], "nothing-feeds-it:camera:feed risks", "lasts 1.9 h; it is used for 2 h"),
    Twin("plain", [put("place", "slipway", "mains", False), put("device", "camera", "power.battery_h", 2), added(Aim(id="early", end="alder", picture="source", from_at=START - timedelta(minutes=90)))],
         "nothing-feeds-it:camera:feed risks", "lasts 2 h; it is used for 3.5 h"),
    # A power bank of 74 Wh gives 0.85 · 74 ÷ 4 = 15.7 h to a phone of 4 W, 1.57 h to ten times that.
    Twin("call", [put("place", "slipway", "mains", False), put("device", "phone", "power.battery_h", 1), put("device", "phone", "power.draw_w", 40),
                  added(from_library("power-bank", "bank", "slipway", "Bank"))], "nothing-feeds-it:phone:feed risks", "lasts 1.57 h; it is used for 2 h"),
    # 9 W over 50 m of a 30 W source lose at most half of what 100 m do: 9 · (1 + 0.5 · (30 ÷ 25.5 − 1)) = 9.8 W (IEEE 802.3; I²R).
    Twin("pole", [put("device", "net", "power.poe_budget_w", 9.5)], "poe-budget:net:budget risks", "9.8 W hang on them"),
    Twin("pole", [put("device", "net", "power.poe_budget_w", 8.9)], "poe-budget:net:budget stops", "9.8 W hang on them"),
]


@pytest.mark.parametrize("twin", TWINS, ids=named(TWINS))
def test_its_broken_twin_has_these_findings_and_no_others_and_is_cured_as_it_says(twin: Twin) -> None:
    hold(twin)
