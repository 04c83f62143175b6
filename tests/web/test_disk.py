"""The disk: full, read-only, damaged, half-migrated, copied, backed up and restored; and how much room history takes."""

import os
import shutil
import sqlite3
import subprocess
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from humble_relay.cli import main
from humble_relay.core.log.fold import log_of
from humble_relay.core.plan import Plan
from humble_relay.formats.plan_file import write_plan
from humble_relay.store.backup import back_up, in_use, inspect, restore
from humble_relay.store.changes import Edited, Restored, Undone
from humble_relay.store.database import open_database
from humble_relay.store.plans import Plans
from humble_relay.store.revisions import append, plan_row
from humble_relay.store.trouble import StoreTrouble
from humble_relay.web.app import make_app
from tests import soak
from tests.build import STEADY, entry, put, small_show
from tests.conftest import passed_over
from tests.generate import patched
from tests.server import JSON
from tests.web.test_api import send


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    """A data folder with a plan of three revisions."""
    database = open_database(tmp_path / "data")
    plans = Plans(database)
    plans.create(small_show(), log_of(STEADY), "regatta", "began")
    plans.make("regatta", 1, Edited([put("link", "feed", "video_mbps", 6)]))
    plans.make("regatta", 2, Undone())
    database.close()
    return tmp_path / "data"


@pytest.fixture
def small_disk(tmp_path: Path) -> Iterator[Path]:
    """A disk of one megabyte."""
    where = tmp_path / "disk"
    where.mkdir()
    if subprocess.run(
        ["mount", "-t", "tmpfs", "-o", "size=1m", "tmpfs", where], capture_output=True
    ).returncode:
        passed_over("only root may mount a small disk here")
    yield where
    subprocess.run(["umount", "-l", where], check=True)


def test_a_full_disk_is_said_loses_nothing_and_ends_when_there_is_room(small_disk: Path) -> None:
    with TestClient(make_app(small_disk / "data"), base_url="http://127.0.0.1", headers=JSON) as client:
        client.post("/api/plans/import", content=write_plan(small_show(), STEADY, keys=True))
        path, version = "/api/plans/regatta", 1
        filler = small_disk / "filler"
        filler.write_bytes(b"x" * (shutil.disk_usage(small_disk).free - 60_000))
        for kept in range(200):  # noqa: B007
            row = {"at": "2026-09-13T20:00:00Z", "uplink": "fibre", "up_mbps": 20}
            rows = [entry(row | {"note": os.urandom(200).hex()}) for _ in range(50)]
            full = client.post(f"{path}/entries", json={"entries": rows})
            if full.status_code != 201:
                break
        assert full.status_code == 507 and "make room" in full.json()["detail"]
        refused = send(client, path, version, put("show", None, "notes", "x" * 4000).model_dump())
        assert refused.status_code in (200, 507)
        before = client.get(path)
        assert before.status_code == 200 and len(before.json()["survey"]["measurements"]) == 7 + 50 * kept
        filler.unlink()
        version = before.json()["version"]
        assert send(client, path, version, put("show", None, "name", "Gala").model_dump()).status_code == 200
        assert len(client.get(path).json()["survey"]["measurements"]) == 7 + 50 * kept
    assert inspect(small_disk / "data/humble-relay.sqlite").entries == 7 + 50 * kept


def test_a_read_only_disk_is_said(small_disk: Path, folder: Path, capsys: pytest.CaptureFixture[str]) -> None:
    shutil.copytree(folder, small_disk / "data")
    before = (small_disk / "data/humble-relay.sqlite").read_bytes()
    subprocess.run(["mount", "-o", "remount,ro", small_disk], check=True)
    for data in (small_disk / "data", small_disk / "new"):
        assert main(["serve", "--data", str(data)]) == 2
        said = capsys.readouterr().err
        assert "Traceback" not in said and ("cannot be written" in said or "Read-only" in said), said
    assert main(["export", "regatta", str(small_disk / "out.json"), "--data", str(folder)]) == 2
    assert (small_disk / "data/humble-relay.sqlite").read_bytes() == before


def test_a_disk_that_turns_read_only_in_the_middle_is_said(folder: Path) -> None:
    with TestClient(make_app(folder), base_url="http://127.0.0.1", headers=JSON) as client:
        database = client.app.state.database  # type: ignore[attr-defined]
        with database.reading() as session:
            session.connection().exec_driver_sql("PRAGMA query_only = ON")
        refused = send(client, "/api/plans/regatta", 3, put("show", None, "name", "Gala").model_dump())
        assert refused.status_code == 503 and "cannot be written" in refused.json()["detail"]
        assert client.get("/api/plans/regatta").json()["version"] == 3


DAMAGE = {
    "empty of sense": lambda data: b"PK\x03\x04" + data[4:],
    "a page overwritten": lambda data: data[:4096] + os.urandom(4096) + data[8192:],
    "cut off": lambda data: data[: len(data) // 2],
    "another program's": lambda data: data[:68] + b"\x00\x00\x00\x01" + data[72:],
}


@pytest.mark.parametrize("how", DAMAGE)
def test_a_damaged_file_is_said_and_left_as_it_is(
    folder: Path, how: str, capsys: pytest.CaptureFixture[str], tmp_path: Path
) -> None:
    file = folder / "humble-relay.sqlite"
    good, bad = file.read_bytes(), DAMAGE[how](file.read_bytes())
    file.write_bytes(bad)
    plan = tmp_path / "plan.json"
    plan.write_text(write_plan(small_show(), STEADY))
    for command in (["serve"], ["demo"], ["import", str(plan)], ["export", "regatta", str(tmp_path / "out")], ["backup", str(tmp_path / "b")]):  # fmt: skip
        assert main([*command, "--data", str(folder)]) == 2
        said = capsys.readouterr().err
        assert ("damaged" in said or "another program" in said) and said.count("\n") == 1, said
    assert file.read_bytes() == bad and not (tmp_path / "out").exists() and not (tmp_path / "b").exists()
    file.write_bytes(good)
    assert back_up(folder, tmp_path / "good").revisions == 3
    file.write_bytes(bad)
    found, aside = restore(tmp_path / "good", folder)
    assert found.revisions == 3 and aside is not None and aside.read_bytes() == bad
    assert Plans(open_database(folder)).get("regatta").version == 3


@pytest.mark.parametrize(
    "undone", ["DROP TABLE requests", "ALTER TABLE revisions DROP COLUMN form", "DROP TABLE alembic_version"]
)
def test_a_half_migrated_file_is_said_and_left_as_it_is(folder: Path, undone: str) -> None:
    file = folder / "humble-relay.sqlite"
    with closing(sqlite3.connect(file)) as db:
        db.execute(undone)
        db.commit()
    before = file.read_bytes()
    with pytest.raises(StoreTrouble, match="cut short"):
        open_database(folder)
    assert file.read_bytes() == before


def test_an_update_that_is_cut_short_changes_nothing(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """The steps to newer tables are one transaction: a kept folder is as it was, and opens the next time."""
    import tarfile

    with tarfile.open("tests/kept/1/data.tar.gz") as kept:
        kept.extractall(tmp_path, filter="data")

    def cut_short(*_: object) -> bytes:
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as patch:
        patch.setattr("humble_relay.store.documents.pack", cut_short)
        with pytest.raises(StoreTrouble):
            open_database(tmp_path)
    with closing(sqlite3.connect(tmp_path / "humble-relay.sqlite")) as db:
        assert db.execute("SELECT version_num FROM alembic_version").fetchone() == ("0002",)
        assert db.execute("SELECT count(*) FROM revisions WHERE document IS NOT NULL").fetchone()[0] > 300
    assert Plans(open_database(tmp_path)).get("regatta").version == 308


def test_a_folder_may_have_any_name(folder: Path, tmp_path: Path) -> None:
    odd = tmp_path / "100% of #1? ünd 'quoted'"
    shutil.copytree(folder, odd)
    assert Plans(open_database(odd)).get("regatta").version == 3
    assert back_up(odd, tmp_path / "b?%20#").revisions == inspect(tmp_path / "b?%20#").revisions == 3
    assert restore(tmp_path / "b?%20#", odd)[0].plans == 1


def test_stopped_all_is_in_one_private_file_and_a_copy_of_it_is_whole(folder: Path, tmp_path: Path) -> None:
    assert [f.name for f in folder.iterdir()] == ["humble-relay.sqlite"]
    assert (
        folder.stat().st_mode & 0o777 == 0o700
        and (folder / "humble-relay.sqlite").stat().st_mode & 0o777 == 0o600
    )
    (tmp_path / "copy").mkdir()
    shutil.copy(folder / "humble-relay.sqlite", tmp_path / "copy")
    assert Plans(open_database(tmp_path / "copy")).get("regatta").version == 3


def test_a_backup_of_a_folder_in_use_is_whole_and_a_restore_wants_it_alone(
    folder: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    file = tmp_path / "backup"
    with in_use(folder):
        plans = Plans(open_database(folder))
        plans.make("regatta", 3, Edited([put("show", None, "name", "Gala")]))  # in the side file only
        assert main(["backup", str(file), "--data", str(folder)]) == 0
        assert "4 revisions" in capsys.readouterr().out and file.stat().st_mode & 0o777 == 0o600
        assert main(["backup", str(file), "--data", str(folder)]) == 2
        assert "left as it is" in capsys.readouterr().err
        assert main(["restore", str(file), "--data", str(folder)]) == 2
        assert "stop it first" in capsys.readouterr().err
    assert main(["restore", str(file), "--data", str(tmp_path / "new")]) == 0
    assert Plans(open_database(tmp_path / "new")).get("regatta").plan.show.name == "Gala"
    (tmp_path / "notes").write_text("not a backup")
    for bad in (tmp_path / "notes", tmp_path / "nothing"):
        assert main(["restore", str(bad), "--data", str(folder)]) == 2
    assert Plans(open_database(folder)).get("regatta").version == 4


def test_export_makes_no_folder(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["export", "regatta", str(tmp_path / "out"), "--data", str(tmp_path / "none")]) == 2
    assert "no data" in capsys.readouterr().err and not (tmp_path / "none").exists()


@soak.further
def test_five_hundred_revisions_of_a_large_plan_take_little_room(tmp_path: Path) -> None:
    database, plan = open_database(tmp_path), patched(7)
    devices = [d.model_copy(update={"id": f"{d.id}-{n}"}) for n in range(40) for d in plan.devices][:300]
    plan = Plan.model_validate(
        plan.model_copy(update={"devices": tuple(devices), "links": (), "comms": ()}).model_dump()
    )
    texts = [
        plan.model_copy(update={"devices": tuple(d if n != i else d.model_copy(update={"delay_ms": n}) for i, d in enumerate(devices))}).model_dump_json()
        for n in range(60)
    ]  # fmt: skip
    plans = Plans(database)
    plans.create(Plan.model_validate_json(texts[0]), (), "large", "began")
    with database.writing() as session:
        for n in range(1, 501):
            append(session, plan_row(session, "large"), None, n, [f"edit {n}"], edits=[], text=texts[n % 60])
    database.close()
    assert len(texts[0]) > 300_000 and (tmp_path / "humble-relay.sqlite").stat().st_size < 30_000_000
    plans = Plans(open_database(tmp_path))
    assert len(plans.history("large")) == 501
    for back in (1, 99, 101, 250, 500):  # packed against another, each comes back as it was
        kept = plans.make("large", None, Restored(back))
        assert kept.clear == Plan.model_validate_json(texts[(back - 1) % 60])
