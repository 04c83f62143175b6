"""Writes what this version keeps, for later versions to open: `python -m tools.keep_form FOLDER`.

Driven over HTTP, so that the same script can be run at the end of every version. Run it once, before the form
of anything changes, and never again over what is there.
"""

import json
import shutil
import sys
import tarfile
import tempfile
from pathlib import Path
from typing import Any

from fastapi.testclient import TestClient

from humble_relay.demo import load_demo
from humble_relay.formats.plan_file import schema, write_plan
from humble_relay.web.app import make_app
from tests.build import STEADY, entered, entry, small_show
from tests.generate import patched

AWKWARD: list[dict[str, Any]] = [
    {"kind": "set", "noun": "place", "id": "slipway", "field": "floor", "value": 10**9},
    {"kind": "set", "noun": "place", "id": "slipway", "field": "x_m", "value": 1e308},
    {"kind": "set", "noun": "device", "id": "camera", "field": "model", "value": "Teasel " + "long " * 16},
    {"kind": "set", "noun": "device", "id": "camera", "field": "name", "value": "Cam\u0007era \ufffe"},
    {"kind": "set", "noun": "device", "id": "camera", "field": "delay_ms", "value": 1e300},
    {"kind": "set-port", "port": "encoder/sdi", "field": "accepts", "value": {"rasters": ["foo", "0x0", "1920X1080"]}},
    {"kind": "set", "noun": "device", "id": "encoder", "field": "encoding.protocols", "value": []},
    {"kind": "set-figure", "figure": "frame-overhead", "value": 0},
    {"kind": "set-figure", "figure": "school-half", "value": 1e9},
    {"kind": "set", "noun": "show", "field": "starts_at", "value": "0001-01-01T00:00:00+14:00"},
]  # fmt: skip


def main(folder: Path) -> None:
    """Plan files, the plan file's schema, and a data folder as a killed server leaves it."""
    folder.mkdir(parents=True, exist_ok=True)
    (folder / "plan.schema.json").write_text(json.dumps(schema(), indent=1, sort_keys=True))
    with tempfile.TemporaryDirectory() as name:
        data = Path(name) / "data"
        app = make_app(data)
        with TestClient(app, base_url="http://127.0.0.1", headers={"content-type": "application/json"}, raise_server_exceptions=False) as client:  # fmt: skip
            _fill(client, app, folder)
            with tarfile.open(folder / "data.tar.gz", "w:gz") as kept:
                for file in sorted(data.iterdir()):
                    if not file.name.endswith("-shm"):
                        kept.add(file, file.name)


def _fill(client: TestClient, app: Any, folder: Path) -> None:
    imported = {
        name: client.post("/api/plans/import", content=text).json()["id"]
        for name, text in {
            "regatta": write_plan(small_show(), STEADY, keys=True),
            "awkward": write_plan(small_show().model_copy(update={"show": small_show().show.model_copy(update={"name": "Awkward"})}), STEADY, keys=True),
            "drawn": write_plan(patched(7), STEADY, keys=True),
        }.items()
    }  # fmt: skip
    demo = load_demo(app.state.plans, app.state.shelf)
    model = client.get("/api/gear").json()[0]["model"]
    client.put("/api/gear/our-own", json=model | {"id": "our-own", "about": "measured by us"})
    regatta = imported["regatta"]
    for n in range(300):
        send(
            client,
            regatta,
            [{"kind": "set", "noun": "link", "id": "run", "field": "length_m", "value": n / 4}],
        )
    secret = "rtmps://ingest.alder.example:443/live/tide-table-key"
    feed = {"kind": "set", "noun": "link", "id": "feed"}
    for address, stream_id in ((secret, "#!::r=tide-table-key,m=publish"), ("", "")):
        edits = {"address": address, "stream_id": stream_id}
        send(client, regatta, [feed | {"field": field, "value": value} for field, value in edits.items()])
    for verb in ("undo", "undo", "redo", "restore/40", "undo"):
        version = client.get(f"/api/plans/{regatta}").json()["version"]
        client.post(f"/api/plans/{regatta}/{verb}", headers={"If-Match": f'"{version}"'}).raise_for_status()
    many = [
        {"at": f"2026-09-{1 + n // 24:02d}T{n % 24:02d}:00:00+01:00", "uplink": "fibre", "up_mbps": 15 + n % 9, "note": "by hand"}
        for n in range(400)
    ]  # fmt: skip
    seen = {"at": "2026-09-10T18:00:00+01:00", "noun": "link", "thing": "run"}
    facts = [
        seen | {"quantity": "works", "value": True, "by": "desk", "conditions": "with the crowd"},
        seen | {"quantity": "length_m", "value": 70, "unit": "m"},
        seen | {"quantity": "length_m", "value": 35, "unit": "m", "at": "2026-09-11T18:00:00+01:00"},
    ]
    out = [{"of": "m3"}, {"of": "m4"}, {"of": "m4", "withdrawn": False}]
    looked = {"device": "encoder", "steps": [{"step": "encoder:clock", "stamp": "0123456789ab"}]}
    day = (looked, looked | {"picture": True, "right": False}, {"device": "camera", "how": "power-off"})
    entered(
        client,
        f"/api/plans/{regatta}",
        *many,
        *facts,
        *out,
        {"task": "rehearse"},
        {"text": "wind gets up"},
        *day,
    )
    for id in (demo, *imported.values()):
        answer = client.get(f"/api/plans/{id}/export", params={"keys": True})
        if answer.status_code == 200:
            (folder / f"{id}.plan.json").write_bytes(answer.content)
    (folder / "gear.json").write_bytes(client.get("/api/gear.json", params={"own": True}).content)
    for edit in AWKWARD:  # each is kept or refused, as the version has it
        plan = app.state.plans.get(imported["awkward"])
        headers = {"If-Match": f'"{plan.version}"'}
        client.post(f"/api/plans/{plan.id}/edits", json={"edits": [edit]}, headers=headers)
    late = {"at": "9999-12-31T23:59:59+00:00", "uplink": "fibre", "up_mbps": 20}
    client.post(f"/api/plans/{imported['awkward']}/entries", json={"entries": [entry(late)]})
    kept = app.state.plans.get(imported["awkward"])
    (folder / "awkward.plan.json").write_text(write_plan(kept.plan, app.state.plans.log(kept.id), keys=True))


def send(client: TestClient, id: str, edits: list[dict[str, Any]]) -> None:
    """Makes edits on the plan as it stands."""
    version = client.get(f"/api/plans/{id}").json()["version"]
    answer = client.post(
        f"/api/plans/{id}/edits", json={"edits": edits}, headers={"If-Match": f'"{version}"'}
    )
    assert answer.status_code == 200, answer.text


if __name__ == "__main__":
    shutil.rmtree(sys.argv[1], ignore_errors=True)
    main(Path(sys.argv[1]))
