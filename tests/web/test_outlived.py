"""What older versions kept opens, is judged, undone and restored; what newer ones kept is refused and left alone."""

import copy
import json
import shutil
import sqlite3
import tarfile
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from humble_relay.cli import main
from humble_relay.core.judging.case import Case
from humble_relay.core.log.fold import log_of
from humble_relay.core.plan.upgrades import FORM, STEPS
from humble_relay.core.views.report import report_on
from humble_relay.formats.gear_table import UnreadableGear, read_gear
from humble_relay.formats.plan_file import UnreadableFile, read_plan, write_plan
from humble_relay.web.app import make_app
from tests.build import NOW, STEADY, small_show
from tests.edges import NAMES_OF_OTHERS, edges
from tests.server import JSON
from tests.soak import of_many

KEPT = sorted((p for p in Path("tests/kept").iterdir() if p.name.isdigit()), key=lambda p: int(p.name))
FILES = [f for form in KEPT for f in sorted(form.glob("*.plan.json"))]


def accepted(answer: Any) -> list[str]:
    return [f["id"] for f in answer["report"]["findings"] if f["accepted"]]


def test_ten_doubts_accepted_in_an_older_form_stand_until_what_they_compared_is_worse(tmp_path: Path) -> None:
    """What they compare is noted when the folder is opened."""
    with tarfile.open("tests/kept/9/ten-accepted.tar.gz") as kept:
        kept.extractall(tmp_path, filter="data")
    at = {"as_of": NOW.isoformat()}
    with TestClient(make_app(tmp_path), base_url="http://127.0.0.1", headers=JSON) as client:
        path = f"/api/plans/{client.get('/api/plans').json()[0]['id']}"
        ten = accepted(client.get(path, params=at).json())
        assert len(ten) == 10

        def send(field: str, value: object, version: int) -> Any:
            edit = {"kind": "set", "noun": "link", "id": "run", "field": field, "value": value}
            headers = {"If-Match": f'"{version}"'}
            return client.post(f"{path}/edits", json={"edits": [edit]}, headers=headers, params=at).json()

        version = client.get(path).json()["version"]
        assert accepted(send("length_m", 99, version)) == ten  # better
        assert accepted(send("length_m", 104, version + 1)) == [
            id for id in ten if id != "cable-too-long:run"
        ]
        again = client.post(f"{path}/undo", headers={"If-Match": f'"{version + 2}"'}, params=at).json()
        assert accepted(again) == ten
    plan = read_plan(Path("tests/kept/9/ten-accepted.plan.json").read_bytes())
    assert len([f for f in report_on(Case(plan.plan, plan.survey, NOW)).findings if f.accepted]) == 10


def test_every_form_before_todays_has_its_kept_example() -> None:
    assert [int(p.name) for p in KEPT] == list(range(1, FORM + 1)) and [s.form for s in STEPS] == list(
        range(2, FORM + 1)
    )


@pytest.mark.parametrize("file", FILES, ids=lambda f: f"{f.parent.name}-{f.name}")
def test_a_kept_plan_file_is_read_judged_written_and_read_again(file: Path) -> None:
    found = read_plan(file.read_bytes())
    result = report_on(Case(found.plan, found.survey, NOW))
    assert not [f for f in result.findings if f.rule == "unanswered"]
    assert read_plan(write_plan(found.plan, found.log, keys=True)) == found
    before = json.loads(file.read_text())
    assert {d["id"] for d in before["plan"]["devices"]} == {d.id for d in found.plan.devices}
    kept = before.get("survey", {}).get("measurements") or [
        e for e in before["log"] if e["kind"] == "measurement"
    ]
    assert len(kept) == len(found.survey.measurements)
    case, plan = Case(found.plan, found.survey, NOW), before["plan"]
    if "uplink" in plan["networks"][0]:
        assert {n["id"]: n["uplink"] for n in plan["networks"]} == {
            n: case.uplink_of(n) for n in case.networks
        }
    kinds = {d["id"]: d["kind"] for d in plan["devices"]}
    led_to = {
        (x.get("to_port") or x["to_device"]).split("/")[0]
        for x in plan["links"]
        if x.get("cable") not in ("ethernet", "audio")
    }
    asked = [a.end for a in found.plan.aims]
    if "aims" in plan:
        led_to = {a["end"] for a in plan["aims"]}
    assert sorted(asked) == sorted(
        d for d in led_to if kinds[d] in ("monitor", "projector", "recorder", "platform")
    )
    assert not [f for f in result.findings if f.rule == "aim-not-met"]


@pytest.mark.parametrize("folder", KEPT, ids=lambda f: f.name)
def test_a_kept_data_folder_opens_is_undone_restored_and_changed(folder: Path, tmp_path: Path) -> None:
    with tarfile.open(folder / "data.tar.gz") as kept:
        kept.extractall(tmp_path, filter="data")
    headers = {"content-type": "application/json"}
    with TestClient(make_app(tmp_path), base_url="http://127.0.0.1", headers=headers) as client:
        plans = {p["id"]: p["version"] for p in client.get("/api/plans").json()}
        awkward = 11 if folder.name == "1" else 1  # how many of the awkward edits its form let through
        last = (
            313 if folder.name == "12" else 308
        )  # three strikes, one taken back, and a task done, while those were edits
        assert plans == {"awkward": awkward, "drawn": 1, "regatta": last, "saltmere-lantern-regatta": 1}
        for id, version in plans.items():
            found = client.get(f"/api/plans/{id}").json()
            assert found["version"] == version and not [
                f for f in found["report"]["findings"] if f["rule"] == "unanswered"
            ]
            assert len(client.get(f"/api/plans/{id}/history").json()) == version
        assert len(client.get("/api/plans/regatta").json()["survey"]["measurements"]) == 407
        assert "tide-table" not in client.get("/api/plans/regatta/history").text
        with closing(sqlite3.connect(tmp_path / "humble-relay.sqlite")) as file:
            told = file.execute("SELECT what FROM revisions WHERE plan_id = 'regatta'").fetchall()
        assert "tide-table" not in str(told) and (folder.name < "9" or "stream id set" in str(told))
        # Every revision ever kept can be gone back to, and what it held is what it held.
        length = lambda answer: next(x["length_m"] for x in answer["plan"]["links"] if x["id"] == "run")  # noqa: E731
        survey = client.get("/api/plans/regatta").json()["survey"]
        if int(folder.name) >= 12:
            assert survey["withdrawn"] == (["m9", "f1"] if folder.name == "12" else ["m3"])
            assert survey["done"] == ["rehearse"]
            assert [f["value"] for f in survey["facts"]] == [True, 70, 35]
        version = last
        for number in range(1, 302, of_many(49, 7)):
            at = {"If-Match": f'"{version}"'}
            answer = client.post(f"/api/plans/regatta/restore/{number}", headers=at)
            assert answer.status_code == 200, answer.text
            version = answer.json()["version"]
            assert length(answer.json()) == (40 if number == 1 else (number - 2) / 4)
        undone = client.post("/api/plans/regatta/undo", headers={"If-Match": f'"{version}"'}).json()
        assert length(undone) == (294 - 2) / 4  # 295 was restored last
        assert (
            client.get("/api/plans/regatta").json()["survey"] == survey
        )  # no step back touches what was found
        for _ in range(awkward - 1):  # the awkward one, back to its beginning
            at = {"If-Match": f'"{client.get("/api/plans/awkward").json()["version"]}"'}
            assert client.post("/api/plans/awkward/undo", headers=at).status_code == 200
        assert client.get("/api/plans/awkward").json()["plan"]["places"][0]["floor"] == 0
        assert any(g["own"] for g in client.get("/api/gear").json()) and len(
            client.get("/api/stock").json()
        ) == 25 + (int(folder.name) >= 8)
    assert [f.name for f in tmp_path.iterdir()] == ["humble-relay.sqlite"]


OLD_EDITS: list[tuple[int, dict[str, Any], str, object]] = [
    (2, {"kind": "set", "noun": "network", "id": "lan", "field": "uplink", "value": None}, "leaves by", None),
    (2, {"kind": "set-port", "port": "encoder/lan", "field": "address", "value": "192.168.20.9"}, "192.168.20.9", None),
    (2, {"kind": "set", "noun": "device", "id": "camera", "field": "family", "value": "Teasel Hop"}, "Teasel Hop", None),
    (3, {"kind": "set", "noun": "device", "id": "camera", "field": "power_w", "value": 7}, "7 W", None),
    (3, {"kind": "set", "noun": "device", "id": "encoder", "field": "firmware", "value": "7.1"}, "7.1", None),
    (3, {"kind": "set", "noun": "device", "id": "camera", "field": "microphone", "value": "open"}, "muted", None),
    (3, {"kind": "set-port", "port": "camera/hdmi", "field": "overlay", "value": True}, "on", None),
    (3, {"kind": "set-port", "port": "encoder/hdmi", "field": "refuses_protected", "value": True}, "takes protected", None),
]  # fmt: skip


@pytest.mark.parametrize(
    "form, edit, told, _", OLD_EDITS, ids=lambda x: str(x.get("field")) if isinstance(x, dict) else ""
)
def test_an_edit_that_a_page_kept_over_an_update_is_made_once_in_todays_form(
    form: int, edit: dict[str, Any], told: str, _: object, tmp_path: Path
) -> None:
    headers = {
        "content-type": "application/json",
        "If-Match": '"1"',
        "Idempotency-Key": "kept-over-an-update",
    }
    with TestClient(make_app(tmp_path), base_url="http://127.0.0.1", headers=headers) as client:
        id = client.app.state.plans.create(small_show(), log_of(STEADY), "show", "began").id  # type: ignore[attr-defined]
        answer = client.post(f"/api/plans/{id}/edits", json={"form": form, "edits": [edit]})
        assert answer.status_code == 200, answer.text
        assert told in client.get(f"/api/plans/{id}/history").json()[0]["what"][0]
        again = client.post(
            f"/api/plans/{id}/edits", json={"form": form, "edits": [edit], "why": "sent again"}
        )
        assert again.status_code == 200 and again.json()["version"] == 2
        newer = client.post(f"/api/plans/{id}/edits", json={"form": FORM + 1, "edits": [edit]})
        assert newer.status_code == 422


def test_a_strike_and_a_tick_that_a_page_kept_over_the_update_are_entries_once(tmp_path: Path) -> None:
    """What form 12 told by edits, and a log tells now; also beside an edit that still is one."""
    strike = {"kind": "strike-measurement", "measurement": "m2", "struck": True}
    tick = {"kind": "mark-task", "task": "rehearse", "done": True}
    rename = {"kind": "set", "noun": "show", "id": None, "field": "name", "value": "Gala"}
    with TestClient(make_app(tmp_path), base_url="http://127.0.0.1", headers=JSON) as client:
        id = client.app.state.plans.create(small_show(), log_of(STEADY), "show", "began").id  # type: ignore[attr-defined]
        for n, edits in enumerate(([strike, tick], [strike, rename])):
            head = {"If-Match": '"1"', "Idempotency-Key": f"kept-over-{n:08}"}
            for _ in range(2):
                answer = client.post(
                    f"/api/plans/{id}/edits", json={"form": 12, "edits": edits}, headers=head
                )
                assert answer.status_code == 200, answer.text
        now = client.get(f"/api/plans/{id}").json()
        assert (now["survey"]["withdrawn"], now["survey"]["done"]) == (["m2"], ["rehearse"])
        assert (now["plan"]["show"]["name"], now["version"]) == ("Gala", 2)
        entries = client.get(f"/api/plans/{id}/entries").json()
        assert [e["kind"] for e in entries if e["kind"] != "measurement"] == [
            "withdrawal",
            "task",
            "withdrawal",
        ]


def test_whatever_the_first_form_let_through_still_opens_and_is_judged() -> None:
    """Each field of each noun, set to each value at the edge of what the form's own schema allowed."""
    schema = json.loads(Path("tests/kept/1/plan.schema.json").read_text())
    base = json.loads(Path("tests/kept/1/saltmere-lantern-regatta.plan.json").read_text())
    plan, tried = base["plan"], 0
    for n, way in enumerate(("out", "in")):
        air = {"id": "air", "name": "Air", "way": way, "types": ["radio"]}
        plan["devices"].append({"id": f"radio-{n}", "name": f"Radio {n}", "kind": "radio", "ports": [air]})
    ends = {"from_port": "radio-0/air", "to_port": "radio-1/air"}
    plan["links"].append({"kind": "radio", "id": "air", "distance_m": 9, "walls": 0, "broken": False} | ends)
    device = next(d for d in plan["devices"] if d["encoding"])
    nouns: list[tuple[str, dict[str, Any]]] = [
        ("Show", plan["show"]), ("Settings", plan["settings"]), ("Place", plan["places"][0]), ("Site", plan["sites"][0]),
        ("Uplink", plan["uplinks"][0]), ("Network", plan["networks"][0]), ("Device", device), ("Port", device["ports"][0]),
        ("Encoding", device["encoding"]), ("Measurement", base["survey"]["measurements"][0]),
        ("Ingest", next(d["ingest"] for d in plan["devices"] if d["ingest"])),
        *((kind.capitalize(), next(x for x in plan["links"] if x["kind"] == kind)) for kind in ("cable", "stream")),
        ("VideoFormat", plan["show"]["format"]), ("Decoding", next(d["decoding"] for d in plan["devices"] if d["decoding"])),
        ("PortGroup", next(d["groups"] for d in plan["devices"] if d["groups"])[0]),
        ("FirmwareNeed", next(d["needs"] for d in plan["devices"] if d["needs"])[0]),
        ("Accepts", next(p["accepts"] for d in plan["devices"] for p in d["ports"] if p["accepts"])),
        ("Radio", plan["links"][-1]),
    ]  # fmt: skip
    for noun, item in nouns:
        for field, shape in schema["$defs"][noun]["properties"].items():
            if field in NAMES_OF_OTHERS:
                continue
            before = copy.deepcopy(item.get(field))
            for value in edges(shape, schema):
                item[field] = value
                tried += 1
                if tried % of_many(3, 1):
                    continue
                try:
                    found = read_plan(json.dumps(base))
                except UnreadableFile as error:  # a rule across fields, not a bound
                    raise AssertionError(f"{noun}.{field} = {value!r}: {error}") from None
                result = report_on(Case(found.plan, found.survey, NOW))
                assert not [f for f in result.findings if f.rule == "unanswered"], (noun, field, value)
            item[field] = before
    assert tried > 250


def test_what_a_newer_version_wrote_is_refused_and_left_as_it_is(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    for text in (write_plan(small_show(), STEADY), (KEPT[-1] / "gear.json").read_text()):
        newer = json.dumps(json.loads(text) | {"version": FORM + 1})
        with pytest.raises((UnreadableFile, UnreadableGear), match="newer version"):
            read_plan(newer) if "plan" in json.loads(text) else read_gear(newer)
    file = tmp_path / "plan.json"
    file.write_text(write_plan(small_show(), STEADY))
    assert main(["import", str(file), "--data", str(tmp_path / "data")]) == 0
    data = tmp_path / "data/humble-relay.sqlite"
    for statement in (f"PRAGMA user_version = {FORM + 1}", "UPDATE alembic_version SET version_num = '9999'"):
        db = sqlite3.connect(data)
        db.execute(statement)
        db.commit()
        db.close()
        before = data.read_bytes()
        assert main(["import", str(file), "--data", str(tmp_path / "data")]) == 2
        assert "newer version" in capsys.readouterr().err and data.read_bytes() == before
        assert main(["serve", "--data", str(tmp_path / "data")]) == 2
        shutil.copy(data, tmp_path / "copy")
        assert main(["restore", str(tmp_path / "copy"), "--data", str(tmp_path / "other")]) == 2
        assert not (tmp_path / "other/humble-relay.sqlite").exists()
        db = sqlite3.connect(data)
        db.execute(f"PRAGMA user_version = {FORM}")
        db.close()
