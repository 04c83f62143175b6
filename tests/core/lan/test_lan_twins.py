"""Twins of lan: each row a sound show, what breaks it, and every finding that comes."""
# fmt: off


import pytest

from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.plan.edits import (
    Remove,
    added,
)
from tests.core.twins import Twin, hold, named
from tests.shows import wire

TWINS = [
    Twin("pole", [added(from_library("injector", "injector", "slipway", "Injector")), Remove(noun="link", id="hide-lan-net-lan-1"), wire("hide/lan", "injector/poe", "ethernet", 2)],
         "not-plugged-in:hide:lan stops", "leads nowhere", ""),
]


@pytest.mark.parametrize("twin", TWINS, ids=named(TWINS))
def test_its_broken_twin_has_these_findings_and_no_others_and_is_cured_as_it_says(twin: Twin) -> None:
    hold(twin)
