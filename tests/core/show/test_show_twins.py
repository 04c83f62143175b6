"""Twins of show: each row a sound show, what breaks it, and every finding that comes."""
# fmt: off


import pytest

from tests.build import (
    put,
)
from tests.core.twins import Twin, hold, named

TWINS = [
    Twin("plain", [put("device", "camera", "item", "C2"), put("device", "camera", "model", "Vane"), put("device", "encoder", "item", "C2"), put("device", "encoder", "model", "Vane")],
         "item-twice:camera risks, item-twice:encoder risks", "is to be Vane C2, and so is", ""),
    Twin("plain", [put("device", "alder", "ingest.new_account", True), put("show", None, "judge_at", "2026-09-19T09:00:00+00:00")],
         "lead-time-missed:open-account-alder risks", "had to be begun by Fri 18 Sep 2026, 19:30", ""),
]


@pytest.mark.parametrize("twin", TWINS, ids=named(TWINS))
def test_its_broken_twin_has_these_findings_and_no_others_and_is_cured_as_it_says(twin: Twin) -> None:
    hold(twin)
