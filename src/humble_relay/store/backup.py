"""A data folder copied whole while it is in use, and put back. Both are checked before they are believed."""

import fcntl
import os
import shutil
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from datetime import datetime
from pathlib import Path
from typing import NamedTuple

from humble_relay.store.database import NAME, look_over, open_database, read_only
from humble_relay.store.trouble import StoreTrouble, said_plainly

_LOCK = "in-use.lock"


class Backup(NamedTuple):
    """What is in a backup: how many plans, revisions and entries of their logs."""

    plans: int
    revisions: int
    entries: int


@contextmanager
def in_use(folder: Path, alone: bool = False) -> Iterator[None]:
    """Holds the folder: many may serve it at once, a restore wants it alone. Raises StoreTrouble."""
    with said_plainly(folder):
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        handle = os.open(folder / _LOCK, os.O_RDWR | os.O_CREAT, 0o600)
    try:
        try:
            fcntl.flock(handle, (fcntl.LOCK_EX if alone else fcntl.LOCK_SH) | fcntl.LOCK_NB)
        except BlockingIOError:
            other = "it is being restored" if not alone else "Humble Relay is running on it: stop it first"
            raise StoreTrouble("in use", f"{folder} is in use: {other}. Nothing was changed.") from None
        yield
    finally:
        os.close(handle)


def back_up(folder: Path, file: Path) -> Backup:
    """Writes the folder's data to one new file, as it stands at this moment, and reads it over.

    Raises StoreTrouble, also where the file exists: a backup is never written over.
    """
    source = folder / NAME
    if not source.is_file():
        raise StoreTrouble("missing", f"There is no data in {folder}: say with --data where the plans are.")
    if file.exists():
        raise StoreTrouble("in use", f"{file} is there already and was left as it is: choose another name.")
    with said_plainly(source):
        look_over(source)
    with said_plainly(file):
        os.close(os.open(file, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600))
        try:
            with closing(sqlite3.connect(source, timeout=5)) as db, closing(sqlite3.connect(file)) as copy:
                db.backup(copy)
                copy.execute("PRAGMA journal_mode = DELETE").fetchall()
            return inspect(file)
        except BaseException:
            file.unlink(missing_ok=True)
            raise


def inspect(file: Path) -> Backup:
    """What is in a backup. Raises StoreTrouble where it is damaged, newer or no backup."""
    if not file.is_file():
        raise StoreTrouble("missing", f"{file} is not there.")
    with said_plainly(file):
        look_over(file, thoroughly=True)
        with closing(read_only(file)) as db:
            known = {name for (name,) in db.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
            # Of an older version: what its log will be made of.
            logs = [t for t in ("entries", "measurements", "facts") if t in known]
            try:
                plans, revisions, *logged = (
                    db.execute(f"SELECT count(*) FROM {t}").fetchone()[0]
                    for t in ("plans", "revisions", *logs)
                )
                return Backup(plans, revisions, sum(logged))
            except sqlite3.OperationalError:
                raise StoreTrouble(
                    "foreign", f"{file} holds no plans: choose a file written by backup."
                ) from None


def restore(file: Path, folder: Path) -> tuple[Backup, Path | None]:
    """Puts a backup in the folder's place: what is in it, and where the data that was there now lies.

    Raises StoreTrouble where the backup cannot be used or the folder is in use; the folder is then as it was.
    """
    found, target, aside = inspect(file), folder / NAME, None
    with in_use(folder, alone=True), said_plainly(target):
        fresh = folder / f"{NAME}.restoring"
        shutil.copyfile(file, fresh)
        fresh.chmod(0o600)
        if inspect(fresh) != found:
            fresh.unlink()
            raise StoreTrouble("damaged", f"{file} did not copy whole. Nothing was changed: try again.")
        if target.exists():
            aside = folder / f"{NAME}.before-{datetime.now():%Y%m%d-%H%M%S}"
            for side in ("", "-wal", "-shm"):
                if (old := folder / f"{NAME}{side}").exists():
                    old.rename(f"{aside}{side}")
        fresh.rename(target)
        open_database(folder).close()
    return found, aside
