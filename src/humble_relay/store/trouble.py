"""What can be wrong with the disk or the data folder, each as one sentence with what to do."""

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Literal

from sqlalchemy.exc import DBAPIError

TroubleKind = Literal[
    "busy", "full", "read-only", "damaged", "newer", "foreign", "half-migrated", "missing", "in use"
]


class StoreTrouble(Exception):
    """The data cannot be read or written; the message says why and what to do. Nothing was overwritten."""

    def __init__(self, kind: TroubleKind, message: str) -> None:
        super().__init__(message)
        self.kind = kind


@contextmanager
def said_plainly(file: Path) -> Iterator[None]:
    """Whatever SQLite or the file system objects to inside comes out as StoreTrouble."""
    try:
        yield
    except DBAPIError as error:
        if not isinstance(error.orig, sqlite3.Error):
            raise
        raise _trouble(error.orig, file) from None
    except sqlite3.Error as error:
        raise _trouble(error, file) from None
    except PermissionError as error:
        raise _read_only(Path(error.filename or file)) from None
    except OSError as error:
        raise StoreTrouble("missing", f"{error.filename or file}: {error.strerror or error}.") from None


def damaged(file: Path, why: str) -> StoreTrouble:
    """The file is there and cannot be read."""
    return StoreTrouble(
        "damaged",
        f"{file} is damaged ({why}). Nothing was written to it: keep a copy, and put a backup in its place with `humble-relay restore`.",
    )


def _read_only(file: Path) -> StoreTrouble:
    return StoreTrouble(
        "read-only",
        f"{file} cannot be written: give yourself the right to write there, or choose another folder with --data. Nothing was changed.",
    )


def _trouble(error: sqlite3.Error, file: Path) -> StoreTrouble:
    code = getattr(error, "sqlite_errorcode", 0) & 0xFF
    if code in (sqlite3.SQLITE_BUSY, sqlite3.SQLITE_LOCKED):
        return StoreTrouble(
            "busy", "Somebody else is writing just now. Nothing was changed: try again in a moment."
        )
    if code == sqlite3.SQLITE_FULL:
        return StoreTrouble(
            "full", "The disk is full. Nothing was changed and nothing lost: make room, then do it again."
        )
    if code in (sqlite3.SQLITE_READONLY, sqlite3.SQLITE_CANTOPEN, sqlite3.SQLITE_PERM):
        return _read_only(file)
    if code in (sqlite3.SQLITE_CORRUPT, sqlite3.SQLITE_NOTADB):
        return damaged(file, str(error))
    if code == sqlite3.SQLITE_IOERR:
        return StoreTrouble(
            "full", f"The disk that {file} is on does not take or give what is asked ({error}). Nothing was changed: look at the disk, then do it again."
        )  # fmt: skip
    return damaged(file, str(error))
