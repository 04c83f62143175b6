"""Twins of egress: each row a sound show, what breaks it, and every finding that comes."""
# fmt: off


import pytest

from tests.build import (
    leave_by,
    put,
    put_port,
)
from tests.core.twins import NORTH, SOUTH, ZONES, Twin, hold, named

TWINS = [
    Twin("plain", [leave_by("lan", None)], "no-way-out:encoder:feed stops", "which has no uplink", "Show network leaves by Fibre"),
    Twin("plain", [put_port("encoder/lan", "interface.network", None)], "no-way-out:encoder:feed stops", "is on no network", "Put it on Show network"),
    Twin("plain", ZONES, "zone-far:alder:zone risks", "by distance: nobody measured", "Use South"),
    Twin("plain", [*ZONES, put("device", "alder", "ingest.zones", [NORTH | {"round_trip_ms": 80}, SOUTH | {"round_trip_ms": 12}])], "zone-far:alder:zone risks", "South is 12 ms from there, as measured", "Use South"),
]


@pytest.mark.parametrize("twin", TWINS, ids=named(TWINS))
def test_its_broken_twin_has_these_findings_and_no_others_and_is_cured_as_it_says(twin: Twin) -> None:
    hold(twin)
