"""Files changed by accident: every one is read, or refused in words; none breaks the reader or what judges it."""

import copy
import json
import random
from pathlib import Path
from typing import Any

import pytest
from pydantic import ValidationError

from humble_relay.core.catalogue.stock import Holding, Stock
from humble_relay.core.judging.case import Case
from humble_relay.core.plan.upgrades import upgraded
from humble_relay.core.views.report import report_on
from humble_relay.demo import demo_stock
from humble_relay.formats.gear_table import UnreadableGear, read_gear, write_gear_csv, write_gear_json
from humble_relay.formats.measurements import UnreadableMeasurement, read_measurements
from humble_relay.formats.plan_file import UnreadableFile, read_plan, write_plan
from tests.build import NOW, STEADY, small_show
from tests.soak import WHOLE, of_many

ODD: list[Any] = [
    None,
    True,
    -1,
    0,
    1e308,
    10**30,
    "",
    "x" * 600,
    "\x00",
    "\ud800",
    [],
    {},
    [[]],
    "2026-13-45T99:00:00",
    "NaN",
]
REFUSALS = (UnreadableFile, UnreadableGear, UnreadableMeasurement)


def mutated(rng: random.Random, value: Any) -> Any:
    """The JSON document with one thing in it changed, taken out, doubled or moved."""
    doc = copy.deepcopy(value)
    spots: list[tuple[Any, Any]] = []

    def walk(at: Any) -> None:
        for key in at if isinstance(at, dict) else range(len(at)) if isinstance(at, list) else ():
            spots.append((at, key))
            walk(at[key])

    walk(doc)
    at, key = rng.choice(spots)
    match rng.randrange(4):
        case 0:
            at[key] = rng.choice(ODD)
        case 1:
            del at[key]
        case 2 if isinstance(at, list):
            at.append(copy.deepcopy(at[key]))
        case _:
            other, spot = rng.choice(spots)
            at[key] = (
                copy.deepcopy(other[spot])
                if spot in other or (isinstance(spot, int) and spot < len(other))
                else None
            )
    return doc


def scratched(rng: random.Random, text: str) -> str:
    """The text with some characters lost, doubled or replaced."""
    data = list(text)
    for _ in range(rng.randint(1, 6)):
        i = rng.randrange(len(data))
        data[i : i + rng.randint(0, 3)] = rng.choice(
            ["", data[i] * 3, "\x00", "9" * 40, '"', "{", ",,", "\n", "é", "\u2028", "-"]
        )
    return "".join(data)


def reads(read: Any, text: str) -> Any:
    """What was read; None where it was refused in a sentence."""
    try:
        return read(text)
    except REFUSALS as error:
        assert 20 < len(str(error)) < 3000
        return None


@pytest.mark.no_cover
@pytest.mark.parametrize("source", ["today", *sorted(Path("tests/kept").glob("*/*.plan.json"))], ids=str)
def test_mutated_plan_files(source: str | Path) -> None:
    text = write_plan(small_show(), STEADY) if source == "today" else Path(source).read_text()
    doc, rng, taken = json.loads(text), random.Random(str(source)), 0
    for _ in range(
        of_many(60, 120) if source == "today" else of_many(8, 30)
    ):  # what an older form goes through is mostly the same
        found = reads(read_plan, json.dumps(mutated(rng, doc)))
        reads(read_plan, scratched(rng, text))
        if found:
            taken += 1
            result = report_on(Case(found.plan, found.survey, NOW))
            assert not [f for f in result.findings if f.rule == "unanswered"]
            assert read_plan(write_plan(found.plan, found.log, keys=True)) == found
    if source == "today" or WHOLE:  # of a few, all may be refused
        assert taken > (5 if source == "today" else 0)


@pytest.mark.no_cover
def test_mutated_gear_files() -> None:
    from humble_relay.core.catalogue.gear import library

    models, rng, taken = list(library().values())[:12], random.Random(3), 0
    for text in (write_gear_json(models), Path("tests/kept/1/gear.json").read_text()):
        for _ in range(of_many(60, 150)):
            taken += bool(reads(read_gear, json.dumps(mutated(rng, json.loads(text)))))
            reads(read_gear, scratched(rng, text))
    for _ in range(of_many(100, 300)):
        taken += bool(reads(read_gear, scratched(rng, write_gear_csv(models))))
    assert taken > 10


@pytest.mark.no_cover
def test_mutated_stock() -> None:
    rng, taken = random.Random(4), 0
    for _ in range(400):
        doc = mutated(rng, [h.model_dump(mode="json") for h in demo_stock()][:3])
        try:
            held = tuple(Holding.model_validate(upgraded("holding", x, rng.choice([1, 2]))) for x in doc)
        except ValidationError:
            continue
        taken += 1
        result = report_on(Case(small_show(), STEADY, NOW, Stock(holdings=held)))
        assert not [f for f in result.findings if f.rule == "unanswered"]
    assert taken > 50


IPERF = {
    "start": {"timestamp": {"timesecs": 1789000000}, "test_start": {"protocol": "TCP", "reverse": 0}},
    "end": {
        "sum_received": {"bits_per_second": 2e7},
        "sum": {},
        "streams": [{"sender": {"mean_rtt": 20000}}],
    },
}


@pytest.mark.no_cover
@pytest.mark.parametrize(
    "text",
    ["18.2 up 94 down 23 ms, busy\n2026-09-11 19:45 6.1 up, 68 ms 0.5 %\n", "at,up,down,rtt\n2026-09-11 19:45,6.1,30,20\n2026-09-12 19:45,7,31,21\n",
     "64 bytes from x: icmp_seq=1 ttl=5 time=20.1 ms\n64 bytes from x: icmp_seq=2 ttl=5 time=21.9 ms\n2 packets transmitted, 2 received, 0% packet loss\n"],
    ids=["lines", "csv", "ping"],
)  # fmt: skip
def test_mutated_measurements(text: str) -> None:
    rng = random.Random(text)
    assert sum(bool(reads(read_measurements, scratched(rng, text))) for _ in range(400)) > 100
    for _ in range(200):
        reads(read_measurements, json.dumps(mutated(rng, IPERF)))
