"""Twins of places: each row a sound show, what breaks it, and every finding that comes."""
# fmt: off


import pytest

from humble_relay.core.plan import Place, Site, Span
from humble_relay.core.plan.edits import (
    added,
)
from tests.build import (
    put,
)
from tests.core.twins import Twin, hold, named

TWINS = [
    # The way: 38 m between the two places, in a straight line; a tenth less is within how positions are paced, and a cable lies over rises.
    Twin("plain", [put("link", "run", "length_m", 39)], "shorter-than-the-way:run risks", "to Boathouse it is 38 m", "Plan 42 m"),
    Twin("plain", [put("link", "run", "length_m", 34)], "shorter-than-the-way:run stops", "is 34 m, and from Slipway", "Plan 42 m"),
    Twin("air", [put("link", "air", "distance_m", 30)], "shorter-than-the-way:air risks", "Boathouse are 38 m apart", "Plan 38 m"),
    Twin("plain", [added(Span(id="way", a="slipway", b="boathouse", distance_m=60))], "shorter-than-the-way:run stops", "it is 60 m", "Plan 66 m"),
    Twin("laptop", [added(Site(id="town", name="Town")), added(Place(id="quay", name="Quay", site="town", mains=True)), put("device", "slides", "place", "quay")],
         "shorter-than-the-way:slides-hdmi-switcher-in-8 stops", "two sites, each with an internet line of its own"),
    Twin("plain", [added(Span(id="way", a="slipway", b="boathouse", cable=False))], "shorter-than-the-way:run stops", "where no cable can go",
         "Run it another way: SDI coax 2 m, NDI sender"),
]


@pytest.mark.parametrize("twin", TWINS, ids=named(TWINS))
def test_its_broken_twin_has_these_findings_and_no_others_and_is_cured_as_it_says(twin: Twin) -> None:
    hold(twin)
