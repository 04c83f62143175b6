"""The crew's walk: the shortest there is, held against every walk there could be."""

import random
from itertools import pairwise, permutations

import pytest

from humble_relay.core.judging.case import Case
from humble_relay.core.places.distances import distance_m
from humble_relay.core.places.walking import walking_order
from humble_relay.core.plan import Place, Plan
from humble_relay.core.plan.survey import Survey
from humble_relay.core.views.walk_view import walk_view
from tests.build import NOW, case_of, put, small_show
from tests.soak import of_many


def venue(rng: random.Random, count: int) -> Case:
    """A venue with so many places about a desk, the last of which nobody knows the way to."""
    plan = small_show()
    spots = [
        Place(
            id=f"p{n}",
            name=f"Place {n}",
            site="creek",
            x_m=rng.randint(-200, 200),
            y_m=rng.randint(-200, 200),
        )
        for n in range(count)
    ]
    lost = Place(id="lost", name="Somewhere", site="creek")
    switcher = plan.devices[0].model_copy(update={"id": "desk", "kind": "switcher", "place": "p0"})
    made = {"places": (*plan.places, *spots, lost), "devices": (*plan.devices, switcher)}
    return Case(Plan.model_validate(plan.model_copy(update=made).model_dump()), Survey(), NOW)


@pytest.mark.parametrize("seed", range(of_many(6, 60)))
def test_no_walk_from_the_desk_is_shorter(seed: int) -> None:
    case = venue(random.Random(seed), 5)
    order = walking_order(case)
    walked = [place for place, metres in order if metres is not None]
    assert walked[0] == "p0" and order[-1] == ("lost", None) and {p for p, _ in order} == set(case.places)
    far = lambda walk: sum(distance_m(case, a, b) or 0 for a, b in pairwise(("p0", *walk)))  # noqa: E731
    assert far(walked[1:]) == pytest.approx(min(far(walk) for walk in permutations(walked[1:])))
    assert sum(m or 0 for _, m in order) == pytest.approx(far(walked[1:]))


def test_a_large_venue_is_walked_through_and_every_fact_stands_where_it_is_found_out() -> None:
    case = venue(random.Random(1), 40)
    assert len({p for p, _ in walking_order(case)}) == len(case.places)
    bare = case_of(small_show(put("link", "run", "length_m", None), put("place", "slipway", "x_m", None)))
    view = walk_view(bare, "regatta", 1)
    asked = {place.id: [f.question for f in place.facts] for place in view.places}
    assert asked["slipway"] == asked["boathouse"] == ["How far is it from Slipway to Boathouse?"]
    assert {d.id for place in view.places for d in place.devices} == {
        d.id for d in bare.devices.values() if d.place
    }
