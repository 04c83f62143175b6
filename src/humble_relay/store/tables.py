"""The tables. Rows are only ever added; a plan's row moves its version forward.

Every row that holds a document says in `form` which form it has (see `core/plan/upgrades`).
"""

from datetime import datetime
from typing import Any

from sqlalchemy import JSON, DateTime, ForeignKey, Index, LargeBinary, Text
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


class Base(DeclarativeBase):
    """All tables of the store."""


class PlanRow(Base):
    """A plan by id; `version` is the number of its newest revision.

    `uses` is what it takes from the stock and on which days, told by the document and kept beside it so that no
    other plan has to be opened to judge this one.
    """

    __tablename__ = "plans"
    id: Mapped[str] = mapped_column(Text, primary_key=True)
    name: Mapped[str] = mapped_column(Text)
    version: Mapped[int]
    changed_at: Mapped[datetime] = mapped_column(DateTime(timezone=True))
    uses: Mapped[dict[str, Any] | None] = mapped_column(JSON)
    noted: Mapped[dict[str, Any] | None] = mapped_column(JSON)
    """What accepted doubts compare, by finding, of a plan whose document is of a form that did not keep it."""


class RevisionRow(Base):
    """One change of a plan. `content` is the revision whose document holds after it: its own number for
    an edit, an older one for an undo, redo or restore. `parent` is the content before.

    `body` is the document, and `base` the revision whose document it is packed against (`documents.py`).
    """

    __tablename__ = "revisions"
    plan_id: Mapped[str] = mapped_column(ForeignKey("plans.id", ondelete="CASCADE"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True)
    content: Mapped[int]
    parent: Mapped[int | None]
    what: Mapped[list[str]] = mapped_column(JSON)
    why: Mapped[str] = mapped_column(Text, default="")
    who: Mapped[str] = mapped_column(Text, default="")
    at: Mapped[datetime] = mapped_column(DateTime(timezone=True))
    form: Mapped[int]
    edits: Mapped[bytes | None] = mapped_column(LargeBinary)
    base: Mapped[int | None]
    body: Mapped[bytes | None] = mapped_column(LargeBinary)


class LastChangeRow(Base):
    """The last revision that changed a thing of a plan, and whether it took the thing out; none of a thing that is as the plan began."""

    __tablename__ = "last_changes"
    plan_id: Mapped[str] = mapped_column(ForeignKey("plans.id", ondelete="CASCADE"), primary_key=True)
    noun: Mapped[str] = mapped_column(Text, primary_key=True)
    thing: Mapped[str] = mapped_column(Text, primary_key=True)
    number: Mapped[int]
    gone: Mapped[bool]


class EntryRow(Base):
    """One entry of a plan's log; `key` is its id within the plan, `sequence` its place among all entries of the folder.

    `document` is the entry as it was sent, with its kind and its body; what the server adds stands beside it.
    """

    __tablename__ = "entries"
    sequence: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    plan_id: Mapped[str] = mapped_column(ForeignKey("plans.id", ondelete="CASCADE"))
    key: Mapped[str] = mapped_column(Text)
    form: Mapped[int]
    received_at: Mapped[datetime] = mapped_column(DateTime(timezone=True))
    document: Mapped[str] = mapped_column(Text)
    __table_args__ = (
        Index("entries_by_plan", "plan_id", "key", unique=True),
        Index("entries_in_order", "plan_id", "sequence"),
        {"sqlite_autoincrement": True},
    )


class ItemEntryRow(Base):
    """An entry of a plan's log that is about one item of the shelf, which a device of the plan was when the entry was kept."""

    __tablename__ = "item_entries"
    model: Mapped[str] = mapped_column(Text, primary_key=True)
    item: Mapped[str] = mapped_column(Text, primary_key=True)
    sequence: Mapped[int] = mapped_column(primary_key=True)
    plan_id: Mapped[str] = mapped_column(ForeignKey("plans.id", ondelete="CASCADE"))
    device: Mapped[str] = mapped_column(Text)
    __table_args__ = (Index("item_entries_by_plan", "plan_id"),)


class PhotographRow(Base):
    """A photograph of one plan, as JPEG; its entry in the log says what it shows."""

    __tablename__ = "photographs"
    plan_id: Mapped[str] = mapped_column(ForeignKey("plans.id", ondelete="CASCADE"), primary_key=True)
    key: Mapped[str] = mapped_column(Text, primary_key=True)
    received_at: Mapped[datetime] = mapped_column(DateTime(timezone=True))
    data: Mapped[bytes] = mapped_column(LargeBinary)


class CrewCodeRow(Base):
    """The code that lets phones into the crew of a plan."""

    __tablename__ = "crew_codes"
    plan_id: Mapped[str] = mapped_column(ForeignKey("plans.id", ondelete="CASCADE"), primary_key=True)
    code: Mapped[str] = mapped_column(Text)


class CrewRow(Base):
    """A phone of a plan's crew; of its token only the hash (SHA-256) is kept."""

    __tablename__ = "crew"
    id: Mapped[str] = mapped_column(Text, primary_key=True)
    plan_id: Mapped[str] = mapped_column(ForeignKey("plans.id", ondelete="CASCADE"))
    name: Mapped[str] = mapped_column(Text)
    token: Mapped[str] = mapped_column(Text)
    joined_at: Mapped[datetime] = mapped_column(DateTime(timezone=True))
    revoked: Mapped[bool] = mapped_column(default=False)
    __table_args__ = (Index("crew_by_token", "token", unique=True),)


class RequestRow(Base):
    """A change that was made, by the id its sender gave it: sent again, it is not made again."""

    __tablename__ = "requests"
    id: Mapped[str] = mapped_column(Text, primary_key=True)
    plan_id: Mapped[str] = mapped_column(ForeignKey("plans.id", ondelete="CASCADE"), index=True)
    digest: Mapped[str] = mapped_column(Text)
    at: Mapped[datetime] = mapped_column(DateTime(timezone=True))


class ModelRow(Base):
    """One model of one's own in the gear library; it stands over a shipped one of the same id."""

    __tablename__ = "models"
    id: Mapped[str] = mapped_column(Text, primary_key=True)
    form: Mapped[int]
    document: Mapped[str] = mapped_column(Text)


class HoldingRow(Base):
    """So many of one model, owned or borrowed."""

    __tablename__ = "holdings"
    id: Mapped[str] = mapped_column(Text, primary_key=True)
    form: Mapped[int]
    document: Mapped[str] = mapped_column(Text)


class SettingRow(Base):
    """One value that belongs to the whole folder, such as the salt of the marks that stand for secrets."""

    __tablename__ = "settings"
    name: Mapped[str] = mapped_column(Text, primary_key=True)
    value: Mapped[str] = mapped_column(Text)
