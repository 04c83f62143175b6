"""What is new in a folder, by any process: entries behind a place in the log, and the version each plan is at."""

from collections.abc import Collection
from contextlib import closing
from typing import NamedTuple

from sqlalchemy import func, select

from humble_relay.core.hidden_text import Put
from humble_relay.core.log.entries import AnyEntry
from humble_relay.store.database import Database, read_only
from humble_relay.store.log import sealed_log
from humble_relay.store.revisions import Unreadable, plan_row
from humble_relay.store.tables import EntryRow, PlanRow


class News(NamedTuple):
    """The last place in the log; by plan its new entries, sealed; and the version of each plan that there is."""

    last: int
    entries: dict[str, tuple[AnyEntry, ...]]
    versions: dict[str, int]


def news(database: Database, put: Put, plans: Collection[str], after: int | None) -> News:
    """What is new of some plans behind a place in the log; of all that is there nothing where `after` is None. Raises StoreTrouble."""
    with database.reading() as session:
        last = session.scalar(select(func.max(EntryRow.sequence))) or 0
        rows = session.execute(select(PlanRow.id, PlanRow.version).where(PlanRow.id.in_(list(plans))))
        versions = dict(rows.tuples().all())
        found = dict[str, tuple[AnyEntry, ...]]()
        if after is not None and last > after:
            for id in versions:
                try:
                    found[id] = sealed_log(put, session, plan_row(session, id), after)
                except Unreadable:
                    continue  # said where the log is asked for
    return News(last, {id: entries for id, entries in found.items() if entries}, versions)


class Changes:
    """Tells whether anybody, in this process or another, has written to a folder since it was asked last."""

    def __init__(self, database: Database) -> None:
        self._db = read_only(database.file)
        self._at: int | None = None

    def any(self) -> bool:
        """Whether there are any (`PRAGMA data_version`: it moves when another connection commits)."""
        with closing(self._db.execute("PRAGMA data_version")) as found:
            at: int = found.fetchone()[0]
        new, self._at = at != self._at, at
        return new

    def close(self) -> None:
        """Lets go of the file."""
        self._db.close()
