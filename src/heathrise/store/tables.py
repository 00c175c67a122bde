"""The tables. Elements keep their body as JSON that the core's model has checked."""

from datetime import datetime
from typing import Any

from sqlalchemy import (
    JSON,
    BigInteger,
    Boolean,
    CheckConstraint,
    DateTime,
    Double,
    Float,
    ForeignKey,
    Index,
    Integer,
    String,
    Text,
    UniqueConstraint,
    func,
)
from sqlalchemy.dialects.mysql import DATETIME, LONGBLOB
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column

UUID_CHARS = 36


class Base(DeclarativeBase):
    """Base of the tables, InnoDB with utf8mb4."""

    __table_args__: Any = {"mysql_engine": "InnoDB", "mysql_charset": "utf8mb4"}


class JobRow(Base):
    """A job. `revision` grows by one with every edit, undo and redo; one with `binned` lies in the bin since then.

    `faults` and `warnings` were open when it was last worked out; nobody has yet where they are missing.
    """

    __tablename__ = "job"

    id: Mapped[str] = mapped_column(String(UUID_CHARS), primary_key=True)
    name: Mapped[str] = mapped_column(String(80))
    revision: Mapped[int] = mapped_column(Integer, default=0)
    created: Mapped[datetime] = mapped_column(DateTime, server_default=func.now())
    changed: Mapped[datetime] = mapped_column(DateTime, server_default=func.now(), onupdate=func.now())
    binned: Mapped[datetime | None] = mapped_column(DateTime, nullable=True)
    archived: Mapped[datetime | None] = mapped_column(DateTime, nullable=True)
    faults: Mapped[int | None] = mapped_column(Integer, nullable=True)
    warnings: Mapped[int | None] = mapped_column(Integer, nullable=True)


class ElementRow(Base):
    """An element of a job. `version` is the revision that last changed it."""

    __tablename__ = "element"

    job_id: Mapped[str] = mapped_column(ForeignKey("job.id", ondelete="CASCADE"), primary_key=True)
    id: Mapped[str] = mapped_column(String(UUID_CHARS), primary_key=True)
    kind: Mapped[str] = mapped_column(String(24))
    version: Mapped[int] = mapped_column(Integer)
    body: Mapped[dict[str, Any]] = mapped_column(JSON)

    __table_args__ = (Index("element_kind", "job_id", "kind"), Base.__table_args__)


class ChangeRow(Base):
    """One edit with its inverse. `way` says whether it was done, undone or redone.

    `standing` is kept of edits alone: done, undone (can be redone), or spent (undone and then overtaken).
    """

    __tablename__ = "change"

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True, autoincrement=True)
    job_id: Mapped[str] = mapped_column(ForeignKey("job.id", ondelete="CASCADE"))
    revision: Mapped[int] = mapped_column(Integer)
    actor: Mapped[str] = mapped_column(String(UUID_CHARS))
    edit_id: Mapped[str] = mapped_column(String(UUID_CHARS))
    label: Mapped[str] = mapped_column(String(120))
    way: Mapped[str] = mapped_column(String(4))
    target: Mapped[int | None] = mapped_column(BigInteger, nullable=True)
    standing: Mapped[str | None] = mapped_column(String(6), nullable=True)
    operations: Mapped[list[dict[str, Any]]] = mapped_column(JSON)
    inverse: Mapped[list[dict[str, Any]]] = mapped_column(JSON)
    at: Mapped[datetime] = mapped_column(DateTime, server_default=func.now())

    __table_args__ = (
        UniqueConstraint("job_id", "revision", name="change_revision"),
        UniqueConstraint("job_id", "edit_id", name="change_edit"),
        CheckConstraint("way in ('edit', 'undo', 'redo')", name="change_way"),
        CheckConstraint("standing in ('done', 'undone', 'spent')", name="change_standing"),
        Index("change_stack", "job_id", "actor", "standing", "id"),
        Base.__table_args__,
    )


class AttachmentRow(Base):
    """A picture that was encoded here, kept by its content."""

    __tablename__ = "attachment"

    job_id: Mapped[str] = mapped_column(ForeignKey("job.id", ondelete="CASCADE"), primary_key=True)
    id: Mapped[str] = mapped_column(String(UUID_CHARS), primary_key=True)
    name: Mapped[str] = mapped_column(String(200))
    sha256: Mapped[str] = mapped_column(String(64))
    width_px: Mapped[int] = mapped_column(Integer)
    height_px: Mapped[int] = mapped_column(Integer)
    body: Mapped[bytes] = mapped_column(LONGBLOB)
    created: Mapped[datetime] = mapped_column(DateTime, server_default=func.now())


class ImportRow(Base):
    """A file being read for a job. `turn` counts how often it was asked for; only the last counts."""

    __tablename__ = "import"

    id: Mapped[str] = mapped_column(String(UUID_CHARS), primary_key=True)
    job_id: Mapped[str] = mapped_column(ForeignKey("job.id", ondelete="CASCADE"))
    name: Mapped[str] = mapped_column(String(200))
    body: Mapped[bytes] = mapped_column(LONGBLOB, deferred=True)
    asked: Mapped[dict[str, Any]] = mapped_column(JSON)
    turn: Mapped[int] = mapped_column(Integer, default=1)
    state: Mapped[str] = mapped_column(String(10), default="running")
    share: Mapped[float] = mapped_column(Float, default=0.0)
    doing: Mapped[str] = mapped_column(String(200), default="waiting")
    beat: Mapped[datetime] = mapped_column(DATETIME(fsp=3))
    result: Mapped[bytes | None] = mapped_column(LONGBLOB, nullable=True, deferred=True)
    png: Mapped[bytes | None] = mapped_column(LONGBLOB, nullable=True, deferred=True)
    created: Mapped[datetime] = mapped_column(DateTime, server_default=func.now())

    __table_args__ = (
        CheckConstraint("state in ('running', 'done', 'failed')", name="import_state"),
        Base.__table_args__,
    )


class StudyRow(Base):
    """Long work on a job: what was asked, at which revision, how far it is and what it found."""

    __tablename__ = "study"

    id: Mapped[str] = mapped_column(String(UUID_CHARS), primary_key=True)
    job_id: Mapped[str] = mapped_column(ForeignKey("job.id", ondelete="CASCADE"))
    kind: Mapped[str] = mapped_column(String(20))
    asked: Mapped[dict[str, Any]] = mapped_column(JSON)
    revision: Mapped[int] = mapped_column(Integer)
    state: Mapped[str] = mapped_column(String(10), default="running")
    share: Mapped[float] = mapped_column(Float, default=0.0)
    doing: Mapped[str] = mapped_column(String(200), default="waiting")
    beat: Mapped[datetime] = mapped_column(DATETIME(fsp=3))
    result: Mapped[bytes | None] = mapped_column(LONGBLOB, nullable=True, deferred=True)
    created: Mapped[datetime] = mapped_column(DATETIME(fsp=3))

    __table_args__ = (
        CheckConstraint("state in ('running', 'done', 'failed', 'stopped')", name="study_state"),
        Index("study_job", "job_id", "created"),
        Base.__table_args__,
    )


class SecretRow(Base):
    """A secret of an element, sealed: a passphrase of a name on the air. How long and how strong it is is none."""

    __tablename__ = "secret"

    job_id: Mapped[str] = mapped_column(ForeignKey("job.id", ondelete="CASCADE"), primary_key=True)
    element_id: Mapped[str] = mapped_column(String(UUID_CHARS), primary_key=True)
    sealed: Mapped[bytes] = mapped_column(LONGBLOB)
    chars: Mapped[int] = mapped_column(Integer)
    bits: Mapped[float] = mapped_column(Float)
    made: Mapped[bool] = mapped_column(Boolean)
    changed: Mapped[datetime] = mapped_column(DateTime, server_default=func.now(), onupdate=func.now())


class ControllerRow(Base):
    """The controller of a job: by which driver, where, as whom; the secret sealed."""

    __tablename__ = "controller"

    job_id: Mapped[str] = mapped_column(ForeignKey("job.id", ondelete="CASCADE"), primary_key=True)
    driver: Mapped[str] = mapped_column(String(40))
    address: Mapped[str] = mapped_column(String(300))
    account: Mapped[str] = mapped_column(String(120))
    sealed: Mapped[bytes] = mapped_column(LONGBLOB)
    changed: Mapped[datetime] = mapped_column(DateTime, server_default=func.now(), onupdate=func.now())


class PushRow(Base):
    """Settings sent to a controller: the plan they are of, its steps with what became of each, the way back sealed.

    `seen` is the revision of the controller's settings that the last step left; `busy` is when one was begun.
    """

    __tablename__ = "push"

    id: Mapped[str] = mapped_column(String(UUID_CHARS), primary_key=True)
    job_id: Mapped[str] = mapped_column(ForeignKey("job.id", ondelete="CASCADE"))
    revision: Mapped[int] = mapped_column(Integer)
    state: Mapped[str] = mapped_column(String(12), default="ready")
    plan: Mapped[dict[str, Any]] = mapped_column(JSON, deferred=True)
    serials: Mapped[dict[str, str]] = mapped_column(JSON)
    steps: Mapped[list[dict[str, Any]]] = mapped_column(JSON)
    seen: Mapped[str] = mapped_column(String(40), default="")
    said: Mapped[str] = mapped_column(String(500), default="")
    backup: Mapped[bytes | None] = mapped_column(LONGBLOB, nullable=True, deferred=True)
    busy: Mapped[datetime | None] = mapped_column(DATETIME(fsp=3), nullable=True)
    created: Mapped[datetime] = mapped_column(DATETIME(fsp=3))

    __table_args__ = (
        CheckConstraint("state in ('ready', 'stopped', 'done', 'undone')", name="push_state"),
        Index("push_job", "job_id", "created"),
        Base.__table_args__,
    )


class FirmChoice(Base):
    """What the firm chose once: its practice, what a layer's name means."""

    __tablename__ = "firm_choice"

    topic: Mapped[str] = mapped_column(String(20), primary_key=True)
    name: Mapped[str] = mapped_column(String(120), primary_key=True)
    value: Mapped[Any] = mapped_column(JSON)
    changed: Mapped[datetime] = mapped_column(DateTime, server_default=func.now(), onupdate=func.now())


class RecordRow(Base):
    """One thing written down on site. Rows only ever come; `seq` is the order in which they came in."""

    __tablename__ = "record"

    seq: Mapped[int] = mapped_column(BigInteger, primary_key=True, autoincrement=True)
    job_id: Mapped[str] = mapped_column(ForeignKey("job.id", ondelete="CASCADE"))
    id: Mapped[str] = mapped_column(String(UUID_CHARS))
    kind: Mapped[str] = mapped_column(String(10))
    subject: Mapped[str] = mapped_column(String(160))
    task: Mapped[str | None] = mapped_column(String(160), nullable=True)
    about: Mapped[str | None] = mapped_column(String(UUID_CHARS), nullable=True)
    by: Mapped[str] = mapped_column(String(80))
    device: Mapped[str] = mapped_column(String(UUID_CHARS), default="")
    said_at: Mapped[datetime] = mapped_column(DATETIME(fsp=3))
    at: Mapped[datetime] = mapped_column(DATETIME(fsp=3))
    text: Mapped[str] = mapped_column(Text)
    number: Mapped[float | None] = mapped_column(Double, nullable=True)
    photo: Mapped[str | None] = mapped_column(String(UUID_CHARS), nullable=True)
    measured: Mapped[dict[str, Any] | None] = mapped_column(JSON(none_as_null=True), nullable=True)

    __table_args__ = (
        UniqueConstraint("job_id", "id", name="record_once"),
        Index("record_came", "job_id", "seq"),
        Base.__table_args__,
    )


class PhotoRow(Base):
    """A photograph from site, encoded here."""

    __tablename__ = "photo"

    job_id: Mapped[str] = mapped_column(ForeignKey("job.id", ondelete="CASCADE"), primary_key=True)
    id: Mapped[str] = mapped_column(String(UUID_CHARS), primary_key=True)
    width_px: Mapped[int] = mapped_column(Integer)
    height_px: Mapped[int] = mapped_column(Integer)
    body: Mapped[bytes] = mapped_column(LONGBLOB, deferred=True)
    created: Mapped[datetime] = mapped_column(DateTime, server_default=func.now())


class EditionRow(Base):
    """A hand-over of a job, frozen: who signed it at which revision, and the set of files made then.

    `parts` are the files it has, `made` how many of them stand; `signed` is set once all do.
    """

    __tablename__ = "edition"

    id: Mapped[str] = mapped_column(String(UUID_CHARS), primary_key=True)
    job_id: Mapped[str] = mapped_column(ForeignKey("job.id", ondelete="CASCADE"))
    number: Mapped[int | None] = mapped_column(Integer, nullable=True)
    revision: Mapped[int] = mapped_column(Integer)
    state: Mapped[str] = mapped_column(String(8), default="making")
    parts: Mapped[list[str]] = mapped_column(JSON)
    signing: Mapped[dict[str, Any]] = mapped_column(JSON)
    created: Mapped[datetime] = mapped_column(DATETIME(fsp=3))
    signed: Mapped[datetime | None] = mapped_column(DATETIME(fsp=3), nullable=True)

    __table_args__ = (
        UniqueConstraint("job_id", "number", name="edition_number"),
        CheckConstraint("state in ('making', 'stopped', 'signed')", name="edition_state"),
        Index("edition_job", "job_id", "created"),
        Base.__table_args__,
    )


class EditionFileRow(Base):
    """A file of a hand-over."""

    __tablename__ = "edition_file"

    edition_id: Mapped[str] = mapped_column(ForeignKey("edition.id", ondelete="CASCADE"), primary_key=True)
    name: Mapped[str] = mapped_column(String(120), primary_key=True)
    kind: Mapped[str] = mapped_column(String(120))
    sha256: Mapped[str] = mapped_column(String(64))
    size: Mapped[int] = mapped_column(Integer)
    body: Mapped[bytes] = mapped_column(LONGBLOB, deferred=True)
