"""The tables. Rows are only ever added; a plan's row moves its version forward."""

from datetime import datetime

from sqlalchemy import JSON, DateTime, ForeignKey, Index, Text
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


class Base(DeclarativeBase):
    """All tables of the store."""


class PlanRow(Base):
    """A plan by id; `version` is the number of its newest revision."""

    __tablename__ = "plans"
    id: Mapped[str] = mapped_column(Text, primary_key=True)
    name: Mapped[str] = mapped_column(Text)
    version: Mapped[int]
    changed_at: Mapped[datetime] = mapped_column(DateTime(timezone=True))


class RevisionRow(Base):
    """One change of a plan. `content` is the revision whose document holds after it: its own number for
    an edit, an older one for an undo, redo or restore. `parent` is the content before."""

    __tablename__ = "revisions"
    plan_id: Mapped[str] = mapped_column(ForeignKey("plans.id", ondelete="CASCADE"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True)
    content: Mapped[int]
    parent: Mapped[int | None]
    what: Mapped[list[str]] = mapped_column(JSON)
    why: Mapped[str] = mapped_column(Text, default="")
    who: Mapped[str] = mapped_column(Text, default="")
    at: Mapped[datetime] = mapped_column(DateTime(timezone=True))
    edits: Mapped[list[dict[str, object]] | None] = mapped_column(JSON)
    document: Mapped[str | None] = mapped_column(Text)


class MeasurementRow(Base):
    """One measurement of one plan's uplink."""

    __tablename__ = "measurements"
    id: Mapped[int] = mapped_column(primary_key=True)
    plan_id: Mapped[str] = mapped_column(ForeignKey("plans.id", ondelete="CASCADE"))
    document: Mapped[str] = mapped_column(Text)
    __table_args__ = (Index("measurements_by_plan", "plan_id"),)


class ModelRow(Base):
    """One model of one's own in the gear library; it stands over a shipped one of the same id."""

    __tablename__ = "models"
    id: Mapped[str] = mapped_column(Text, primary_key=True)
    document: Mapped[str] = mapped_column(Text)


class HoldingRow(Base):
    """So many of one model, owned or borrowed."""

    __tablename__ = "holdings"
    id: Mapped[str] = mapped_column(Text, primary_key=True)
    document: Mapped[str] = mapped_column(Text)
