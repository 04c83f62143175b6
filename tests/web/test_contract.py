"""Any request the OpenAPI document allows, and many it does not: no fault, no undocumented status, and every plan opens."""

import tempfile
from pathlib import Path

import schemathesis
from fastapi import FastAPI
from hypothesis import HealthCheck, settings
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import response_schema_conformance, status_code_conformance

from humble_relay.core.judging.case import Case
from humble_relay.core.log.fold import log_of
from humble_relay.core.views.report import report_on
from humble_relay.formats.plan_file import PlanFile, read_plan, write_plan
from humble_relay.web.app import make_app
from tests.build import NOW, STEADY, small_show

IDS = ("a", "0", "00", "regatta")


def served() -> FastAPI:
    app = make_app(
        Path(tempfile.mkdtemp(prefix="humble-relay-contract-")),
        hosts=("testserver", "localhost", "127.0.0.1"),
    )
    found = PlanFile(plan=small_show(), log=log_of(STEADY))
    for id in IDS:
        app.state.plans.create(found.plan, found.log, id, "imported")
    return app


APP = served()
JUDGED: dict[str, object] = {}
"""What each plan was when it was judged last."""
schema = schemathesis.openapi.from_asgi("/api/openapi.json", APP)
schema.config.phases.coverage.enabled = False  # each field at and beyond each bound: test_bounds.py


@schema.parametrize()
@settings(max_examples=20, suppress_health_check=list(HealthCheck))
def test_the_api_keeps_its_word_and_every_plan_still_opens(case) -> None:  # type: ignore[no-untyped-def]
    answer = case.call_and_validate(
        checks=[not_a_server_error, status_code_conformance, response_schema_conformance]
    )
    if (
        case.method in ("GET", "HEAD")
        or case.path.endswith(("/try", "/command"))
        or answer.status_code >= 300
    ):
        return
    for listed in APP.state.plans.all()[:3]:
        kept = APP.state.plans.get(listed.id)
        now = (kept.clear, len(kept.clear_survey.measurements), len(kept.clear_survey.facts))
        if JUDGED.get(listed.id) == now:
            continue
        JUDGED[listed.id] = now
        report = report_on(Case(kept.plan, kept.survey, NOW, kept.stock))
        assert not [f for f in report.findings if f.rule == "unanswered"]
        assert read_plan(write_plan(kept.clear, kept.clear_survey, keys=True)).plan == kept.clear
