"""Opening the database: one file, WAL, foreign keys on, migrated to the newest tables."""

from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine, event

_MIGRATIONS = Path(__file__).parent / "migrations"


def open_database(folder: Path) -> Engine:
    """An engine on `humble-relay.sqlite` in the folder, which is made when missing."""
    folder.mkdir(parents=True, exist_ok=True)
    engine = create_engine(
        f"sqlite:///{folder / 'humble-relay.sqlite'}", connect_args={"timeout": 10, "isolation_level": None}
    )

    @event.listens_for(engine, "connect")
    def _pragmas(connection, _record) -> None:  # type: ignore[no-untyped-def]
        # synchronous=FULL: an acknowledged change is on the disk, not only in its cache.
        for pragma in ("journal_mode=WAL", "foreign_keys=ON", "synchronous=FULL"):
            connection.execute(f"PRAGMA {pragma}")

    @event.listens_for(engine, "begin")
    def _begin(connection) -> None:  # type: ignore[no-untyped-def]
        # Take the write lock at once: a second writer waits here, and then sees the first one's version.
        connection.exec_driver_sql("BEGIN IMMEDIATE")

    config = Config()
    config.set_main_option("script_location", str(_MIGRATIONS))
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "head")
    return engine
