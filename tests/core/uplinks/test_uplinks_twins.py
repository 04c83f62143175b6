"""Twins of uplinks: each row a sound show, what breaks it, and every finding that comes."""
# fmt: off


import pytest

from tests.build import (
    edit_of,
    put,
)
from tests.core.twins import Twin, hold, named

MOBILES = [put("uplink", "fibre", "kind", "mobile"), edit_of({"kind": "add-uplink", "item": {"id": "spare", "name": "Spare", "site": "creek", "kind": "mobile"}}), put("router", "router", "uplinks", ["fibre", "spare"])]
TWINS = [
    Twin("plain", [*MOBILES, *(put("uplink", line, "carrier", "Fenside") for line in ("fibre", "spare"))], "spare-shares-fate:fibre:spare-spare risks", "are both with Fenside"),
    Twin("far", [edit_of({"kind": "add-uplink", "item": {"id": "spare", "name": "Spare", "site": "town", "kind": "mobile", "outside": "shared"}}), put("router", "town-router", "uplinks", ["line", "spare"])],
         "spare-does-not-reach:feed-2:spare risks", "When Line drops, Feed 2 does not get through by the failover uplink", ""),
]


@pytest.mark.parametrize("twin", TWINS, ids=named(TWINS))
def test_its_broken_twin_has_these_findings_and_no_others_and_is_cured_as_it_says(twin: Twin) -> None:
    hold(twin)
