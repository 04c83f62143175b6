"""What the set-up list says to type is typed into a Linux kernel (ip-address(8), ip-route(8)), which refuses a gateway that it cannot reach."""

import os
import subprocess

import pytest

from humble_relay.core.judging.case import Case
from humble_relay.core.plan.survey import Survey
from humble_relay.core.setup.setup_list import setup_list
from humble_relay.demo import demo_plan
from humble_relay.examples import example_plan, examples
from tests.build import NOW
from tests.conftest import passed_over
from tests.namespaces import lacking


def refused(*words: str) -> str:
    return subprocess.run(words, capture_output=True, text=True).stderr


@pytest.mark.no_cover
def test_every_fixed_address_its_mask_and_its_gateway_are_taken_as_they_are_typed() -> None:
    if why := lacking():
        passed_over(why)
    typed = set()
    for plan in (demo_plan().plan, *(example_plan(e).plan for e in examples())):
        for step in setup_list(Case(plan, Survey(), NOW)):
            values = {v.label: v.value for v in step.values}
            if "Mask" in values:
                typed.add((values["Address"], values["Mask"].split(" ")[0], values.get("Gateway", "")))
    assert len(typed) > 5
    name = f"set-up-{os.getpid()}"
    inside = ("ip", "-n", name)
    assert not refused("ip", "netns", "add", name)
    try:
        for n, (address, mask, gateway) in enumerate(sorted(typed)):
            assert not refused(*inside, "link", "add", f"s{n}", "type", "veth", "peer", "name", f"t{n}")
            assert not refused(*inside, "link", "set", f"s{n}", "up")
            assert not refused(*inside, "link", "set", f"t{n}", "up")
            assert not refused(*inside, "address", "add", f"{address}/{mask}", "dev", f"s{n}"), address
            if gateway:
                route = (*inside, "route", "add", "default", "via", gateway, "dev", f"s{n}", "metric", str(n))
                assert not refused(*route), (address, gateway)
            away = (*inside, "route", "add", "default", "via", "203.0.113.1", "dev", f"s{n}", "metric", "900")
            assert "Nexthop" in refused(*away)  # a gateway on no network of the device is refused
    finally:
        refused("ip", "netns", "delete", name)
