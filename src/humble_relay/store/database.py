"""Opening the database: looked over before anything is written, WAL, foreign keys on, migrated to the newest tables."""

import os
import secrets
import sqlite3
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from typing import Any
from urllib.parse import quote

from alembic import command
from alembic.config import Config
from alembic.script import ScriptDirectory
from sqlalchemy import URL, Engine, create_engine, event
from sqlalchemy.orm import Session

from humble_relay.core.hidden_text import Put, salted
from humble_relay.core.plan.upgrades import FORM
from humble_relay.store.tables import Base, SettingRow
from humble_relay.store.trouble import StoreTrouble, damaged, said_plainly

NAME = "humble-relay.sqlite"
_MIGRATIONS = Path(__file__).parent / "migrations"
_APPLICATION = 0x48526C79
"""Marks the file as Humble Relay's (SQLite's application_id): `HRly`."""
_WAITS_S = 5


def _nothing() -> None:
    pass


class Database:
    """One data folder, opened. Reads never wait; writes wait their turn."""

    def __init__(self, file: Path, engine: Engine) -> None:
        self.file, self._engine = file, engine
        self._writer = engine.execution_options(writes=True)
        self.info: dict[str, Any] = {}
        """What every session carries: `read_plan`, where large documents are read by another process."""
        self.committed: Callable[[], None] = _nothing
        """Called after each commit of this process."""
        self.put: Put = salted(self._salt())
        """The mark that stands for a secret of this folder."""

    def _salt(self) -> bytes:
        """The salt of the marks, made once."""
        with self.reading() as session:
            row = session.get(SettingRow, "salt")
            if row:
                return bytes.fromhex(row.value)
        with self.writing() as session:
            row = session.get(SettingRow, "salt") or SettingRow(name="salt", value=secrets.token_hex(16))
            session.add(row)
            return bytes.fromhex(row.value)

    @contextmanager
    def reading(self) -> Iterator[Session]:
        """A transaction that sees one state of the data throughout. Raises StoreTrouble."""
        with said_plainly(self.file), Session(self._engine, info=self.info) as session, session.begin():
            yield session

    @contextmanager
    def writing(self) -> Iterator[Session]:
        """A transaction that alone may write. Committed when this is left; raises StoreTrouble, and keeps nothing."""
        with said_plainly(self.file), Session(self._writer, info=self.info) as session, session.begin():
            yield session
        self.committed()

    def settle(self) -> None:
        """Moves everything from the side file into the one database file, as far as nobody else is reading."""
        with said_plainly(self.file), self._engine.connect() as connection:
            raw = connection.connection.driver_connection
            assert isinstance(raw, sqlite3.Connection)
            raw.execute("PRAGMA wal_checkpoint(TRUNCATE)").fetchall()

    def close(self) -> None:
        """Settles and lets go of the file."""
        try:
            self.settle()
        finally:
            self._engine.dispose()


def open_database(folder: Path, make: bool = True) -> Database:
    """The database in the folder, made when missing unless told not to.

    Raises StoreTrouble where it is damaged, newer than this version, another program's, or cannot be written; the
    file is then as it was.
    """
    file = folder / NAME
    if not make and not file.is_file():
        raise StoreTrouble(
            "missing", f"There is no data in {folder}: say with --data where the plans are. Nothing was made."
        )
    with said_plainly(file):
        folder.mkdir(parents=True, exist_ok=True)
        look_over(file)
        _keep_private(folder)
        before = os.umask(0o077)
        try:
            engine = _engine(file)
            _migrate(engine)
        finally:
            os.umask(before)
        _keep_private(folder)
    return Database(file, engine)


def look_over(file: Path, thoroughly: bool = False) -> None:
    """Reads a database file without writing to it. Raises StoreTrouble where it cannot be used by this version."""
    if not file.exists() or file.stat().st_size == 0:
        return
    with file.open("rb") as head:
        if head.read(16) != b"SQLite format 3\0":
            raise damaged(file, "it is no database")
    with closing(read_only(file)) as db:

        def read(question: str) -> Any:
            return db.execute(question).fetchone()[0]

        application, form = read("PRAGMA application_id"), read("PRAGMA user_version")
        if application not in (0, _APPLICATION):
            raise StoreTrouble(
                "foreign", f"{file} belongs to another program: choose another folder with --data."
            )
        found = read("PRAGMA integrity_check(1)" if thoroughly else "PRAGMA quick_check(1)")
        if found != "ok":
            raise damaged(file, str(found).splitlines()[0][:200])
        tables = {name for (name,) in db.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
        if not tables:
            return
        at = read("SELECT version_num FROM alembic_version") if "alembic_version" in tables else None
        known = [s.revision for s in ScriptDirectory(str(_MIGRATIONS)).walk_revisions()]
        if form > FORM or (at is not None and at not in known):
            raise StoreTrouble(
                "newer",
                f"{file} was written by a newer version of Humble Relay. Update Humble Relay, or choose another folder with --data. Nothing was changed.",
            )
        if at is None or not _whole(db, tables, at == known[0]):
            raise StoreTrouble(
                "half-migrated",
                f"{file} is neither of this version nor of an older one: an update of it was cut short. Put a backup in its place with `humble-relay restore`. Nothing was changed.",
            )


def read_only(file: Path) -> sqlite3.Connection:
    """A connection that cannot write, whatever characters the path has."""
    return sqlite3.connect(f"file:{quote(str(file.absolute()))}?mode=ro", uri=True, timeout=_WAITS_S)


def _whole(db: sqlite3.Connection, tables: set[str], newest: bool) -> bool:
    """Whether the tables are all there; of the newest version also their columns."""
    if not newest:
        return {"plans", "revisions"} <= tables and bool({"measurements", "entries"} & tables)
    return all(
        {c.name for c in table.columns} == {row[1] for row in db.execute(f"PRAGMA table_info({table.name})")}
        for table in Base.metadata.sorted_tables
    )


def _engine(file: Path) -> Engine:
    engine = create_engine(
        URL.create("sqlite", database=str(file)),
        max_overflow=100,
        connect_args={"timeout": _WAITS_S, "isolation_level": None},
    )

    @event.listens_for(engine, "connect")
    def _pragmas(connection, _record) -> None:  # type: ignore[no-untyped-def]
        # synchronous=FULL: an acknowledged change is on the disk, not only in its cache.
        # secure_delete: what is deleted is overwritten, so that a deleted plan's keys are gone from the file.
        for pragma in ("journal_mode=WAL", "foreign_keys=ON", "synchronous=FULL", "secure_delete=ON"):
            connection.execute(f"PRAGMA {pragma}").fetchall()

    @event.listens_for(engine, "begin")
    def _begin(connection) -> None:  # type: ignore[no-untyped-def]
        # A writer takes the lock at once: a second one waits here, and then sees the first one's version.
        writes = connection.get_execution_options().get("writes")
        connection.exec_driver_sql("BEGIN IMMEDIATE" if writes else "BEGIN")

    return engine


def _migrate(engine: Engine) -> None:
    """All the steps to the newest tables in one transaction: they are made whole, or not at all."""
    config = Config()
    config.set_main_option("script_location", str(_MIGRATIONS).replace("%", "%%"))
    newest = ScriptDirectory(str(_MIGRATIONS)).get_current_head()
    with engine.execution_options(writes=True).begin() as connection:
        # Within a transaction SQLite keeps foreign keys as they are set outside it: tables are remade here.
        at = connection.exec_driver_sql("PRAGMA user_version").scalar_one()
        tables = connection.exec_driver_sql(
            "SELECT count(*) FROM sqlite_master WHERE name = 'alembic_version'"
        ).scalar_one()
        before = (
            connection.exec_driver_sql("SELECT version_num FROM alembic_version").scalar() if tables else None
        )
        if before != newest:
            config.attributes["connection"] = connection
            command.upgrade(config, "head")
        if at != FORM:
            connection.exec_driver_sql(f"PRAGMA user_version = {FORM}")
            connection.exec_driver_sql(f"PRAGMA application_id = {_APPLICATION}")
    if before not in (None, newest):
        with engine.connect() as connection:
            raw = connection.connection.driver_connection
            assert isinstance(raw, sqlite3.Connection)
            raw.execute("VACUUM")


def _keep_private(folder: Path) -> None:
    """Only its owner reads a data folder: keys are in it."""
    for path in (folder, *folder.glob(f"{NAME}*")):
        mode = 0o700 if path.is_dir() else 0o600
        if path.exists() and path.stat().st_mode & 0o777 != mode and path.stat().st_uid == os.getuid():
            path.chmod(mode)
