"""The plan file, its schema, CSV, and the command line that reads them."""

import csv
import io
import json
from pathlib import Path

import jsonschema
import pytest

from humble_relay.cli import main
from humble_relay.core.judgement import findings
from humble_relay.core.papers.paper_tables import papers
from humble_relay.core.plan.survey import numbered
from humble_relay.core.plan.upgrades import FORM
from humble_relay.core.show.go_live_order import order
from humble_relay.core.views.sheets import all_papers
from humble_relay.demo import demo_plan
from humble_relay.formats.csv_table import write_csv
from humble_relay.formats.plan_file import UnreadableFile, read_plan, schema, write_plan
from tests.build import STEADY, case_of, put, report_of, small_show
from tests.shows import ASKED, SHOWS


def changed(**parts: object) -> str:
    return json.dumps(json.loads(write_plan(small_show(), STEADY)) | parts)


def test_what_is_written_is_read_back_and_judged_the_same() -> None:
    plan = small_show()
    found = read_plan(write_plan(plan, STEADY, keys=True))
    assert (found.plan, found.survey.measurements) == (plan, numbered(STEADY.measurements))
    assert report_of(found.plan, found.survey) == report_of(plan)


@pytest.mark.no_cover
def test_the_published_schema_is_valid_and_describes_the_file() -> None:
    published = schema()
    jsonschema.Draft202012Validator.check_schema(published)
    jsonschema.validate(json.loads(write_plan(small_show(), STEADY)), published)
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate(json.loads(changed(version=99)), published)
    assert json.loads(Path("docs/plan.schema.json").read_text()) == published


BROKEN = json.loads(write_plan(small_show(), STEADY))
BROKEN["plan"]["links"][0]["to_port"] = "ghost/in"


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"\xff\xfe not json", "not JSON"),
        (b"PK\x03\x04", "not JSON"),
        (b"[1, 2]", "not a plan"),
        (b'{"plan": {}}', "not a plan"),
        (changed(version=FORM + 1), "newer version"),
        (changed(version="one"), "version"),
        (changed(plan={}), "show"),
        (changed(surprise=1), "surprise"),
        (json.dumps(BROKEN), "ends at port ghost/in"),
        (b"[" * 100_000, "not JSON"),
        (b" " * 51_000_000, "51 MB"),
    ],
)
def test_bad_files_are_refused_in_words(data: bytes | str, said: str) -> None:
    with pytest.raises(UnreadableFile, match=said):
        read_plan(data)


def test_papers_hold_what_is_needed_on_site_and_mask_the_key() -> None:
    tables = {t.id: t for t in papers(case_of(small_show()))}
    assert tables["cables"].rows[0] == (
        "S01",
        "Camera, SDI out",
        "Slipway",
        "Encoder, SDI in",
        "Boathouse",
        "SDI coax",
        "40 m",
        "50 m",
        "1080p50",
        "91 m",
    )
    assert tables["addresses"].rows == (
        ("Encoder", "LAN", "Show network", "192.168.20.30", "fixed", "192.168.20.0/24", "192.168.20.1"),
    )
    assert "rtmps://ingest.alder.example:443/live" in tables["streams"].rows[0]
    assert "paper-lantern" not in str(tables)
    assert "paper-lantern" in str(papers(case_of(small_show()), show_keys=True))
    asked = case_of(small_show(*ASKED, put("device", "alder", "ingest.host", "")))
    sheets = {t.id: t for t in all_papers(asked)}
    assert sheets["facts"].rows == (
        ("At which host does Alder take Feed? Its page for this event says.", "1", "", ""),
    )
    ((picture, state, _, first),) = sheets["proofs"].rows
    assert (picture, state) == ("Picture of Camera at Alder", "not known") and first.startswith(
        "RTMPS 8 Mb/s by Fibre: "
    )
    unstarted = {t.id: t for t in papers(case_of(small_show(put("show", None, "starts_at", None))))}
    assert any(row[0] == "−30 min" for row in unstarted["order"].rows)


def test_csv_is_read_back_by_the_standard_library_and_runs_nothing() -> None:
    plan = small_show(put("device", "camera", "name", '=HYPERLINK("x"), "quoted"'))
    table = next(t for t in papers(case_of(plan)) if t.id == "gear")
    rows = list(csv.reader(io.StringIO(write_csv(table))))
    assert tuple(rows[0]) == table.columns and len(rows) == len(table.rows) + 1
    assert rows[1][0].startswith("'=HYPERLINK")


@pytest.mark.no_cover
def test_the_best_that_fits_is_told_and_written_from_the_command_line(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    demo, after = tmp_path / "demo.json", tmp_path / "after.json"
    found = demo_plan()
    demo.write_text(write_plan(found.plan, found.survey, keys=True))
    assert main(["allocate", str(demo), "--apply", str(after)]) == 0
    said = capsys.readouterr().out
    assert "Best" in said and "Runner-up" in said and "by Millrace" in said
    stops = [
        {f.id for f in findings(case_of(of.plan, of.survey)) if f.severity == "stops"}
        for of in (found, read_plan(after.read_text()))
    ]
    assert (
        "its key is still to be typed" in said
    )  # of the new push to the relay: nothing else fails that did not before
    assert stops[1] - {"key-missing:boathouse-encoder-to-millrace"} <= stops[0]
    assert main(["allocate", str(demo), "--apply", str(after)]) == 2  # it is there already, and left as it is
    keys = [
        next(s.key for s in of.plan.links if s.id == "cedar-feed")
        for of in (found, read_plan(after.read_text()))
    ]
    assert keys[0] == keys[1] and main(["allocate", "--json", str(demo)]) == 0
    assert keys[0] not in capsys.readouterr().out


@pytest.mark.no_cover
def test_check_says_it_in_words_and_by_exit_status(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    demo, sound, bad = tmp_path / "demo.json", tmp_path / "sound.json", tmp_path / "bad.json"
    found = demo_plan()
    demo.write_text(write_plan(found.plan, found.survey, keys=True))
    bad.write_text("hello")
    assert main(["check", str(demo)]) == 1  # its honest faults
    assert "RISK  29.3 Mb/s fits Boathouse fibre mostly" in capsys.readouterr().out
    # Nothing is wrong with it, nobody asked for anything; asked for, it holds as far as it was asked.
    for plan, said, exits in (
        (small_show(), "No picture is required of this plan", 3),
        (small_show(*ASKED), "PROVEN: Picture of Camera at Alder", 0),
        (
            small_show(*ASKED, put("place", "boathouse", "mains", None)),
            "NOT KNOWN: Picture of Camera at Alder",
            3,
        ),
    ):
        sound.write_text(write_plan(plan, STEADY, keys=True))
        assert main(["check", str(sound), "--as-of", "2026-09-14T10:00:00"]) == exits
        assert said in capsys.readouterr().out
    assert main(["check", str(demo), "--day", "--as-of", "2026-09-19T12:00:00"]) == 1
    assert "Today: 0 of 37 seen." in (said := capsys.readouterr().out) and said.count("NOT SEEN") == 37
    assert main(["check", str(demo), "--json"]) == 1
    told = json.loads(capsys.readouterr().out)
    assert [(f["rule"], f["severity"]) for f in told["findings"]] == [
        ("local-address", "stops"),
        ("not-let-in", "stops"),
        ("source-goes-nowhere", "risks"),
        ("sources-apart", "risks"),
        ("address-may-move", "risks"),
        ("spare-does-not-reach", "risks"),
        ("bond-shares-fate", "risks"),
        ("spare-too-small", "risks"),
        ("upload-bad-hour", "risks"),
    ]
    assert [p["state"] for p in told["proofs"]].count("doubtful") == 3 and len(told["wanted"]) == 1
    assert "answers" not in told
    assert [t["id"] for t in told["order"]] == [t.id for t in order(case_of(found.plan, found.survey))]
    for length, says in (
        (9, "too short"),
        (80, "too long"),
    ):  # 10 to 79 characters (libsrt API, SRTO_PASSPHRASE)
        sound.write_text(
            write_plan(
                small_show(*SHOWS["far"], put("link", "feed-2", "key", "k" * length)), STEADY, keys=True
            )
        )
        main(["check", str(sound)])
        assert says in capsys.readouterr().out
    assert main(["check", str(demo), "--json", "--answers"]) == 1
    every = json.loads(capsys.readouterr().out)["answers"]
    assert [(a["check"], a["thing"]) for a in every] == sorted({(a["check"], a["thing"]) for a in every})
    failing = {(a["check"], a["thing"]) for a in every if a["state"] == "fails"}
    assert {(f["rule"], f["subject"]) for f in told["findings"] if f["severity"] == "stops"} == {(c, t.split(":")[1]) for c, t in failing}  # fmt: skip
    length = next(a for a in every if a["thing"] == "link:slipway-run" and a["check"] == "cable-too-long")
    assert length["numbers"] | {"hopeless": 0} == {"value": 40, "relied": 91, "hopeless": 0, "unit": "m", "at_least": False}  # fmt: skip
    assert main(["check", str(demo), "--answers"]) == 2
    sound.write_text(write_plan(small_show(*ASKED, put("link", "run", "length_m", 200)), STEADY, keys=True))
    assert main(["check", str(sound), "--as-of", "2026-09-14T10:00:00"]) == 1
    assert "STOPS Camera, SDI out to Encoder, SDI in is 200 m" in capsys.readouterr().out
    assert main(["check", str(bad)]) == 2
    assert main(["check", str(tmp_path / "missing.json")]) == 2
    said = capsys.readouterr().err
    assert "not JSON" in said and "No such file" in said


@pytest.mark.no_cover
def test_import_and_export_by_command_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file, again, data = tmp_path / "plan.json", tmp_path / "again.json", str(tmp_path / "data")
    file.write_text(write_plan(small_show(), STEADY, keys=True))
    assert main(["import", str(file), "--data", data]) == 0
    assert main(["export", "regatta", str(again), "--keys", "--data", data]) == 0
    found, kept = read_plan(file.read_bytes()), read_plan(again.read_bytes())
    assert (kept.plan, kept.survey) == (found.plan, found.survey) and all(e.received_at for e in kept.log)
    assert main(["export", "regatta", str(again), "--data", data]) == 2
    assert (
        "choose another name" in capsys.readouterr().err and read_plan(again.read_bytes()).plan.links[-1].key
    )
    assert main(["export", "nothing", str(tmp_path / "none"), "--data", data]) == 2
    assert "no plan called nothing" in capsys.readouterr().err
