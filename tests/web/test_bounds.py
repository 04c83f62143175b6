"""Whatever is typed at any door, at a bound or beyond it: it is taken and the plan opens, or it is refused in words."""

import json
import random
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient
from pydantic import TypeAdapter, ValidationError

from humble_relay.cli import main
from humble_relay.core import judgement
from humble_relay.core.catalogue.gear import Model
from humble_relay.core.catalogue.stock import Holding
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.things import SHOW
from humble_relay.core.papers.paper_tables import papers
from humble_relay.core.plan import Plan
from humble_relay.core.plan.edits import Edit
from humble_relay.core.plan.edits.draft import EditRefused, apply
from humble_relay.core.plan.figures import catalogue
from humble_relay.core.views.report import report_on
from humble_relay.formats.graphml import write_graphml
from humble_relay.formats.plan_file import read_plan, schema, write_plan
from tests import soak
from tests.build import NOW, STEADY, entered, entry, leave_by, measured, small_show
from tests.edges import NAMES_OF_OTHERS, beyond, edges
from tests.soak import of_many
from tests.web.test_api import send

WHOLE = schema()
_EDIT: TypeAdapter[Edit] = TypeAdapter(Edit)
NOUNS = {
    "show": (None, "Show"), "settings": (None, "Settings"), "place": ("slipway", "Place"), "site": ("creek", "Site"),
    "uplink": ("fibre", "Uplink"), "network": ("lan", "Network"), "device": ("encoder", "Device"),
    "link": ("feed", "Stream"),
}  # fmt: skip


def unbounded(schema: Any, at: str = "") -> Iterator[str]:
    """Where a schema lets through a number without both ends, or a text or list without a length."""
    if isinstance(schema, list):
        schema = dict(enumerate(schema))
    if not isinstance(schema, dict):
        return
    kind, keys = schema.get("type"), schema.keys()
    ends = [{"minimum", "exclusiveMinimum"}, {"maximum", "exclusiveMaximum"}]
    if (
        (kind in ("number", "integer") and "const" not in keys and not all(end & keys for end in ends))
        or (kind == "string" and not {"maxLength", "enum", "const", "format"} & keys)
        or (kind == "array" and "maxItems" not in keys)
    ):
        yield at
    for key, value in schema.items():
        yield from unbounded(value, f"{at}/{key}")


def test_every_field_of_every_document_has_bounds() -> None:
    """Dates have theirs in years, and the figures of a plan theirs in the catalogue: both are tried below."""
    found = [f for s in (WHOLE, Model.model_json_schema(), Holding.model_json_schema()) for f in unbounded(s)]
    assert found == ["/$defs/Settings/properties/figures/additionalProperties"]
    for figure in catalogue().values():
        assert figure.least <= figure.value <= figure.most


def every_edit(values: Any, only: str = "") -> Iterator[dict[str, Any]]:
    """A set edit of each field of each noun (or of one) to each of the values its schema gives."""
    for noun, (id, model) in NOUNS.items():
        if only not in ("", noun):
            continue
        for field, shape in WHOLE["$defs"][model]["properties"].items():
            if field not in NAMES_OF_OTHERS:
                for value in values(shape, WHOLE):
                    yield {"kind": "set", "noun": noun, "id": id, "field": field, "value": value}
    for part, port in (("", "encoder/sdi"), ("interface.", "encoder/lan")) if only in ("", "device") else ():
        for field, shape in WHOLE["$defs"]["Interface" if part else "Port"]["properties"].items():
            if field not in NAMES_OF_OTHERS:
                for value in values(shape, WHOLE):
                    yield {"kind": "set-port", "port": port, "field": f"{part}{field}", "value": value}


def opens(client: TestClient, path: str) -> int:
    """The version of the plan, which opens, is judged in full, and comes back from its own export."""
    found = client.get(path)
    assert found.status_code == 200, found.text
    assert not [f for f in found.json()["report"]["findings"] if f["rule"] == "unanswered"]
    version: int = found.json()["version"]
    return version


def taken(plan: Plan, doc: dict[str, Any]) -> Plan | None:
    """The plan after an edit, as the server's door reads it; None where it is refused, in words."""
    try:
        return apply(plan, [_EDIT.validate_python(doc)])
    except (EditRefused, ValidationError) as error:
        assert str(error)
        return None


@pytest.mark.parametrize("noun", NOUNS)
def test_each_field_at_and_beyond_each_bound_is_taken_or_refused_and_the_plan_is_judged(noun: str) -> None:
    """In process; what one of each kind comes to at the server's door is the next test."""
    plan, count = small_show(), [0, 0]
    for doc in (d for values in (edges, beyond) for d in every_edit(values, noun)):
        after = taken(plan, doc)
        count[after is None] += 1
        if after:
            case = Case(after, STEADY, NOW)
            assert not [f for f in report_on(case).findings if f.rule == "unanswered"], doc
            assert read_plan(write_plan(after, STEADY, keys=True)).plan == after, doc
    assert min(count) > 4


@soak.further
def test_of_each_kind_of_value_one_is_sent_and_the_plan_opens(client: TestClient, plan: str) -> None:
    version, done, seen = 1, [0, 0], set[tuple[object, ...]]()
    for values in (edges, beyond):
        for edit in every_edit(values):
            known = taken(small_show(), edit) is not None
            kind = (known, edit["noun"] if edit["kind"] == "set" else "port", type(edit["value"]))
            if kind in seen:
                continue
            seen.add(kind)
            content = json.dumps({"edits": [edit]})
            answer = client.post(f"{plan}/edits", content=content, headers={"If-Match": f'"{version}"'})
            assert answer.status_code == (200 if known else 422), (edit, answer.text)
            done[known] += 1
            if not known:
                assert answer.json()["detail"] and "Traceback" not in answer.text
                continue
            version += 1
            assert opens(client, plan) == version, edit
            undone = client.post(f"{plan}/undo", headers={"If-Match": f'"{version}"'})
            version = undone.json()["version"]
    assert min(done) > 20, done


@pytest.mark.parametrize("seed", range(40))
def test_several_edges_at_once_open_are_judged_and_come_back_from_a_file(seed: int) -> None:
    rng, plan = random.Random(seed), small_show()
    for doc in rng.sample(list(every_edit(edges)), 12):
        plan = taken(plan, doc) or plan
    index = Case(plan, STEADY, datetime(2026, 9, 14, tzinfo=UTC))
    assert not [f for f in report_on(index).findings if f.rule == "unanswered"]
    assert read_plan(write_plan(plan, STEADY, keys=True)).plan == plan
    assert papers(index, show_keys=True) and write_graphml(index)


AWKWARD: list[tuple[str, str | None, str, object, str]] = [
    ("device", "camera", "model", "m" * 81, "80"),
    ("place", "slipway", "x_m", 1e308, "100000"),
    ("place", "slipway", "floor", 10**9, "300"),
    ("show", None, "starts_at", "0001-01-01T00:00:00+00:00", "2000"),
    ("device", "encoder", "encoding.protocols", [], "at least 1"),
    ("device", "camera", "name", "Cam\u0007", "U+0007"),
    ("link", "feed", "name", "Feed\ufffe", "U+FFFE"),
    *(("settings", None, "figures", {"school-half": v}, "0.05 to 1") for v in (0, 1e9)),
    ("settings", None, "figures", {"no-such-figure": 1}, "no figure called"),
]  # fmt: skip


@pytest.mark.parametrize(("noun", "id", "field", "value", "said"), AWKWARD)
def test_what_no_analysis_can_bear_is_refused_in_words_at_every_door(
    client: TestClient, plan: str, tmp_path: Path, capsys: pytest.CaptureFixture[str], noun: str, id: str | None, field: str, value: object, said: str
) -> None:  # fmt: skip
    edit = {"kind": "set", "noun": noun, "id": id, "field": field, "value": value}
    answer = send(client, plan, 1, edit)
    assert answer.status_code == 422 and said in answer.json()["detail"]
    doc = json.loads(write_plan(small_show(), STEADY))
    item = next(x for x in doc["plan"][f"{noun}s"] if x["id"] == id) if id else doc["plan"][noun]
    *parents, last = field.split(".")
    for part in parents:
        item = item[part]
    item[last] = value
    answer = client.post("/api/plans/import", content=json.dumps(doc))
    assert answer.status_code == 422 and said in answer.json()["detail"]
    (tmp_path / "plan.json").write_text(json.dumps(doc))
    for command in (
        ["check", str(tmp_path / "plan.json")],
        ["import", str(tmp_path / "plan.json"), "--data", str(tmp_path / "d")],
    ):
        assert main(command) == 2 and said in capsys.readouterr().err
    if noun == "device":
        model = {
            "id": "own",
            "about": "",
            "device": item if field != "encoding.protocols" else doc["plan"]["devices"][1],
        }
        assert client.put("/api/gear/own", json=model).status_code == 422
        text = json.dumps({"format": "humble-relay-gear", "version": 2, "models": [model]})
        assert client.post("/api/gear/import", json={"text": text}).status_code == 422


def test_rasters_and_moments_are_refused_wherever_they_stand(client: TestClient, plan: str) -> None:
    for raster in ("foo", "0x0", "1920X1080", "9999x9999"):
        edit = {"kind": "set-port", "port": "encoder/sdi", "field": "accepts", "value": {"rasters": [raster]}}
        answer = send(client, plan, 1, edit)
        assert answer.status_code == 422 and "1920x1080" in answer.json()["detail"]
    late = {"at": "9999-12-31T23:59:59+00:00", "uplink": "fibre", "up_mbps": 20}
    assert client.post(f"{plan}/entries", json={"entries": [entry(late)]}).status_code == 422
    assert client.get(plan, params={"as_of": "9999-12-31T00:00:00Z"}).status_code == 422
    assert (
        client.put(
            "/api/stock/x", json={"id": "x", "model": "M", "count": 1, "until": "9999-12-31"}
        ).status_code
        == 422
    )
    assert main(["check", "tests/kept/1/regatta.plan.json", "--as-of", "2026-09-14"]) == 1
    with pytest.raises(SystemExit):
        main(["check", "tests/kept/1/regatta.plan.json", "--as-of", "9999-12-31"])


def test_one_plan_never_takes_another_with_it(client: TestClient, plan: str) -> None:
    """A plan whose own document has rotted is said to be so; the list, the stock and every other plan still open."""
    client.put("/api/stock/a", json={"id": "a", "model": "Teasel Field camera", "count": 1})
    other = client.post("/api/plans/import", content=write_plan(small_show(), STEADY)).json()["id"]
    database = client.app.state.database  # type: ignore[attr-defined]
    with database.writing() as session:
        connection = session.connection()
        connection.exec_driver_sql("UPDATE revisions SET body = x'00' WHERE plan_id = ?", (other,))
        connection.exec_driver_sql("UPDATE plans SET uses = NULL WHERE id = ?", (other,))
    rotten = client.get(f"/api/plans/{other}")
    assert rotten.status_code == 500 and "cannot be read" in rotten.json()["detail"]
    assert len(client.get("/api/plans").json()) == 2 and opens(client, plan) == 1


def test_a_rule_that_breaks_says_which_question_and_takes_nothing_with_it(
    client: TestClient, plan: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: object) -> Any:
        raise ZeroDivisionError

    moon = judgement.CHECKS[0]._replace(
        name="moon", asks_of=SHOW, question="Does it reach the moon?", answer=broken
    )
    monkeypatch.setattr(judgement, "CHECKS", (*judgement.CHECKS, moon))
    monkeypatch.setitem(judgement.BY_NAME, "moon", moon)
    monkeypatch.setattr("humble_relay.core.views.signal_view.sounds", broken)
    answer = send(
        client, plan, 1, {"kind": "set", "noun": "link", "id": "feed", "field": "video_mbps", "value": 30}
    )
    found = {f["id"]: f for f in answer.json()["report"]["findings"]}
    assert "does it reach the moon" in found["unanswered:moon:show"]["wrong"]
    assert "upload-too-small:fibre" in found
    drawn = client.get(f"{plan}/views/signal").json()
    assert drawn["signal"] is None and "what the signal stage draws" in drawn["unanswered"]["wrong"]
    assert client.get(plan).json()["version"] == 2


def test_a_measurement_withdrawn_is_kept_marked_judged_without_and_counts_again(
    client: TestClient, plan: str
) -> None:
    row = {"at": "2026-09-13T20:00:00Z", "uplink": "fibre", "up_mbps": 1, "conditions": "busy"}
    before = entered(client, plan, row)
    id = before["survey"]["measurements"][-1]["id"]
    lowest = lambda _: client.get(f"{plan}/views/survey").json()["survey"]["uploads"][0]["lowest_mbps"]  # noqa: E731
    assert lowest(before) == 1
    struck = entered(client, plan, {"of": id})
    assert lowest(struck) == 20 and struck["version"] == before["version"]
    assert struck["survey"]["withdrawn"] == [id] and len(struck["survey"]["measurements"]) == 8
    assert lowest(entered(client, plan, {"of": id, "withdrawn": False})) == 1
    copy = client.post("/api/plans/import", content=client.get(f"{plan}/export").text).json()
    assert [m["id"] for m in copy["survey"]["measurements"]] == [
        m["id"] for m in before["survey"]["measurements"]
    ]


def test_what_is_exported_is_imported_again(client: TestClient, plan: str) -> None:
    """Also after a measured uplink was taken out, and with a thousand measurements (5 000 in `make soak`)."""
    many = measured(*(15 + n % 9 for n in range(of_many(250, 1250))))
    for start in range(4):
        note = {"note": f"{start} of the long night, by hand, at the socket"}
        entered(client, plan, *(m.model_dump(mode="json") | note for m in many.measurements))
    edits = [
        leave_by("lan", None).model_dump(),
        {"kind": "remove", "noun": "uplink", "id": "fibre"},
    ]
    assert send(client, plan, 1, *edits).status_code == 200
    text = client.get(f"{plan}/export", params={"keys": True}).text
    copy = client.post("/api/plans/import", content=text)
    assert copy.status_code == 201, copy.text
    assert len(copy.json()["survey"]["measurements"]) == 7 + 4 * len(many.measurements)
    again = client.get(f"/api/plans/{copy.json()['id']}/export", params={"keys": True}).text
    assert read_plan(again) == read_plan(text)
