"""Any request the OpenAPI document allows, and many it does not: no 5xx, no undocumented status."""

import tempfile
from pathlib import Path

import schemathesis
from hypothesis import HealthCheck, settings
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import status_code_conformance

from humble_relay.formats.plan_file import PlanFile
from humble_relay.web.app import make_app
from tests.build import STEADY, small_show


def served():  # type: ignore[no-untyped-def]
    app = make_app(Path(tempfile.mkdtemp(prefix="humble-relay-contract-")), hosts=("testserver",))
    found = PlanFile(plan=small_show(), survey=STEADY)
    for id in ("a", "0", "00", "regatta"):
        app.state.plans.create(found.plan, found.survey, id, "imported")
    return app


schema = schemathesis.openapi.from_asgi("/api/openapi.json", served())


@schema.parametrize()
@settings(max_examples=15, deadline=None, suppress_health_check=list(HealthCheck))
def test_the_api_keeps_its_word(case) -> None:  # type: ignore[no-untyped-def]
    case.call_and_validate(checks=[not_a_server_error, status_code_conformance])
