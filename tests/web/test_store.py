"""The store by itself: pragmas, migrations, revisions, and what a second opening finds."""

from pathlib import Path

import pytest
from sqlalchemy import inspect, text

from humble_relay.core.log.fold import log_of
from humble_relay.core.plan import Noun
from humble_relay.core.plan.edits import Remove
from humble_relay.core.plan.edits.draft import EditRefused
from humble_relay.store.changes import Edited, NoSuchPlan, NothingToDo, Redone, Undone
from humble_relay.store.database import open_database
from humble_relay.store.plans import Plans, StalePlan
from humble_relay.store.tables import Base
from tests.build import STEADY, measured, put, small_show

FIVE = [e.model_copy(update={"id": "five"}) for e in log_of(measured(5))]
"""One more measurement, as an entry."""


@pytest.fixture
def plans(tmp_path: Path) -> Plans:
    found = Plans(open_database(tmp_path))
    found.create(small_show(), log_of(STEADY), "regatta", "began")
    return found


def test_the_database_is_opened_as_promised_and_migrations_match_the_tables(tmp_path: Path) -> None:
    with open_database(tmp_path).reading() as session:
        read = lambda pragma: session.execute(text(f"PRAGMA {pragma}")).scalar()  # noqa: E731
        assert read("journal_mode") == "wal"
        assert read("foreign_keys") == 1
        assert read("synchronous") == 2
        assert read("secure_delete") == 1
        inspector = inspect(session.connection())
        for table in Base.metadata.sorted_tables:
            made = {c["name"] for c in inspector.get_columns(table.name)}
            assert made == {c.name for c in table.columns}
    open_database(tmp_path).close()
    assert [f.stat().st_mode & 0o777 for f in (tmp_path, tmp_path / "humble-relay.sqlite")] == [0o700, 0o600]


def test_what_is_kept_is_there_at_the_next_opening(plans: Plans, tmp_path: Path) -> None:
    plans.make("regatta", 1, Edited([put("link", "feed", "video_mbps", 6)], why="thin line"))
    plans.write("regatta", FIVE)
    again = Plans(open_database(tmp_path))
    kept = again.get("regatta")
    assert kept.version == 2 and len(kept.survey.measurements) == len(STEADY.measurements) + 1
    newest = again.history("regatta")[0]
    assert (newest.what, newest.why, newest.current) == (
        ("video bitrate of Feed 8 → 6 Mb/s",),
        "thin line",
        True,
    )
    assert [p.id for p in again.all()] == ["regatta"]


def test_a_stale_or_refused_edit_leaves_no_trace(plans: Plans) -> None:
    plans.make("regatta", 1, Edited([put("show", None, "name", "Gala")]))
    with pytest.raises(StalePlan) as stale:
        plans.make("regatta", 1, Edited([put("show", None, "name", "Fête")]))
    assert stale.value.version == 2 and stale.value.changed[0].what == ("name of show Regatta → Gala",)
    with pytest.raises(EditRefused):
        plans.make("regatta", 2, Edited([Remove(noun="site", id="creek")]))
    with pytest.raises(StalePlan):
        plans.remove("regatta", 1)
    assert plans.get("regatta").version == 2 and len(plans.history("regatta")) == 2


def test_the_name_in_the_list_follows_undo(plans: Plans) -> None:
    plans.make("regatta", 1, Edited([put("show", None, "name", "Gala")]))
    assert plans.all()[0].name == "Gala"
    plans.make("regatta", 2, Undone())
    assert plans.all()[0].name == "Regatta"


def test_redo_follows_the_newest_branch_and_ends_with_a_new_edit(plans: Plans) -> None:
    plans.make("regatta", 1, Edited([put("link", "feed", "video_mbps", 7)]))
    plans.make("regatta", 2, Undone())
    plans.make("regatta", 3, Edited([put("link", "feed", "video_mbps", 6)]))
    with pytest.raises(NothingToDo):
        plans.make("regatta", 4, Redone())
    plans.make("regatta", 4, Undone())
    plans.make("regatta", 5, Redone())
    stream = plans.get("regatta").plan.links[-1]
    assert getattr(stream, "video_mbps", None) == 6


def test_undo_keeps_measurements_since_they_are_facts(plans: Plans) -> None:
    plans.make("regatta", 1, Edited([put("link", "feed", "video_mbps", 7)]))
    plans.write("regatta", FIVE)
    assert plans.write("regatta", FIVE) == plans.write("regatta", FIVE)  # sent again, it is there once
    assert len(plans.make("regatta", 2, Undone()).survey.measurements) == len(STEADY.measurements) + 1


def test_plans_of_one_name_get_ids_of_their_own(plans: Plans) -> None:
    assert plans.create(small_show(), log_of(STEADY), "regatta", "began").id == "regatta-2"
    assert plans.create(small_show(), log_of(STEADY), "regatta", "began").id == "regatta-3"
    with pytest.raises(NoSuchPlan):
        plans.get("regatta-4")


def test_what_changed_a_thing_last_is_noted_with_the_change_and_that_it_is_gone(plans: Plans) -> None:
    def last(noun: Noun, thing: str) -> tuple[int, bool] | None:
        found = plans.last_change("regatta", noun, thing)
        return found and (found.number, found.gone)

    assert last("link", "feed") is None
    plans.make("regatta", 1, Edited([put("link", "feed", "video_mbps", 6)]))
    plans.make("regatta", 2, Edited([put("device", "camera", "name", "Quay camera")]))
    assert (last("link", "feed"), last("device", "camera"), last("device", "encoder")) == (
        (2, False),
        (3, False),
        None,
    )
    plans.make("regatta", 3, Edited([Remove(noun="device", id="camera")]))
    assert last("device", "camera") == (4, True) and last("link", "run") == (
        4,
        True,
    )  # its cable went with it
    plans.make("regatta", 4, Undone())
    assert last("device", "camera") == (5, False)
    said = plans.last_change("regatta", "link", "feed")
    assert said and said.what == ("video bitrate of Feed 8 → 6 Mb/s",)
