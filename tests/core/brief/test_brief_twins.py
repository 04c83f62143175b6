"""Twins of brief: each row a sound show, what breaks it, and every finding that comes."""
# fmt: off


import pytest

from tests.build import (
    put,
)
from tests.core.twins import Twin, hold, named

TWINS = [
    Twin("plain", [put("device", "encoder", "name", "Camera")], "name-twice:camera risks, name-twice:encoder risks", "2 boxes are called Camera"),
    Twin("plain", [put("show", None, "starts_at", None)], "no-start:show note", "has no start"),
    Twin("plain", [put("show", None, "ends_at", "2026-09-19T19:29:00+00:00")], "no-start:show risks", "ends before it starts"),
]


@pytest.mark.parametrize("twin", TWINS, ids=named(TWINS))
def test_its_broken_twin_has_these_findings_and_no_others_and_is_cured_as_it_says(twin: Twin) -> None:
    hold(twin)
