"""Twins of radio: each row a sound show, what breaks it, and every finding that comes."""
# fmt: off


import pytest

from tests.build import (
    put,
)
from tests.core.twins import OPEN_AIR, Twin, hold, named

TWINS = [
    # Radio: quoted 150 m; 1.4 times that is 3 dB less than nothing.
    Twin("air", [OPEN_AIR, put("link", "air", "distance_m", 150.5)], "radio-too-far:air risks", "150 m is quoted", "Run it another way: SDI coax 2 m, SDI fibre sender, Fibre 150.5 m"),
    Twin("air", [OPEN_AIR, put("link", "air", "distance_m", 210)], "radio-too-far:air risks", "150 m is quoted", "Run it another way: SDI"),
    Twin("air", [OPEN_AIR, put("link", "air", "distance_m", 210.5)], "radio-too-far:air stops", "150 m is quoted", "Run it another way: SDI"),
    # 20 cm of brick absorb 6.4 dB and take at most 11 (ITU-R P.2040-1): 2.1 to 3.5 times the distance of the 150 m quoted.
    Twin("air", [put("link", "air", "distance_m", 60)], "radio-too-far:air risks", "makes that worth 213 m", "Run it another way: SDI coax 60 m"),
    Twin("air", [put("link", "air", "distance_m", 110)], "radio-too-far:air stops", "makes that worth 230 m", "Run it another way"),
    Twin("air", [put("span", "gap", "between", [{"kind": "wall", "material": "concrete", "thickness_m": 0.3}])], "radio-too-far:air stops", "quoted for open air", "Run it another way"),
    Twin("air", [put("span", "gap", "between", [{"kind": "wall", "material": "metal"}])], "radio-too-far:air stops", "quoted for open air", "Run it another way"),
]


@pytest.mark.parametrize("twin", TWINS, ids=named(TWINS))
def test_its_broken_twin_has_these_findings_and_no_others_and_is_cured_as_it_says(twin: Twin) -> None:
    hold(twin)
