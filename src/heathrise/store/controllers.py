"""Controllers of jobs and what was sent to them, step by step."""

from datetime import timedelta

from sqlalchemy import delete, select, update
from sqlalchemy.orm import Session, undefer

from heathrise.store.imports import now
from heathrise.store.jobs import NoSuchJob, new_id
from heathrise.store.sealing import Sealer
from heathrise.store.tables import ControllerRow, PushRow

# So many pushes of a job are kept, each with its way back.
_KEPT = 10
# A step that was begun so long ago and never ended was lost with its process.
LOST_AFTER = timedelta(seconds=90)


def connect(
    session: Session, sealer: Sealer, job_id: str, driver: str, address: str, account: str, secret: str | None
) -> None:
    """Keep how a job's controller is reached; without a secret the one before stays. Raises NoKey, NoSuchJob."""
    row = session.get(ControllerRow, job_id)
    if secret is None and row is None:
        raise NoSuchJob("a controller without its secret")
    sealed = sealer.seal(secret.encode(), job_id, "controller") if secret is not None else row.sealed  # type: ignore[union-attr]
    session.merge(
        ControllerRow(job_id=job_id, driver=driver, address=address, account=account, sealed=sealed)
    )


def connection(session: Session, job_id: str) -> ControllerRow | None:
    """Return how a job's controller is reached, its secret sealed."""
    return session.get(ControllerRow, job_id)


def forget(session: Session, job_id: str) -> None:
    """Forget a job's controller. What was sent to it stays on record."""
    session.execute(delete(ControllerRow).where(ControllerRow.job_id == job_id))


def begin(
    session: Session,
    job_id: str,
    revision: int,
    plan: dict[str, object],
    serials: dict[str, str],
    steps: list[dict[str, object]],
    seen: str,
) -> PushRow:
    """Keep what is to be sent; older ones are forgotten beyond a few."""
    row = PushRow(
        id=new_id(),
        job_id=job_id,
        revision=revision,
        plan=plan,
        serials=serials,
        steps=steps,
        seen=seen,
        created=now(session),
    )
    session.add(row)
    session.flush()
    mine = select(PushRow.id).where(PushRow.job_id == job_id)
    old = session.scalars(mine.order_by(PushRow.created.desc(), PushRow.id.desc()).offset(_KEPT)).all()
    session.execute(delete(PushRow).where(PushRow.id.in_(old)))
    return row


def find(session: Session, job_id: str, push_id: str) -> PushRow:
    """Return what was sent, with its plan and its way back. Raises NoSuchJob."""
    row = session.get(PushRow, push_id, options=(undefer(PushRow.plan), undefer(PushRow.backup)))
    if row is None or row.job_id != job_id:
        raise NoSuchJob(push_id)
    return row


def latest(session: Session, job_id: str) -> PushRow | None:
    """Return what was sent last."""
    wanted = select(PushRow).where(PushRow.job_id == job_id)
    return session.scalars(wanted.order_by(PushRow.created.desc(), PushRow.id.desc()).limit(1)).first()


def claim(session: Session, push_id: str) -> bool:
    """Begin a step; False while another window is at one. One that was lost with its process is taken over."""
    at = now(session)
    free = (PushRow.busy.is_(None)) | (PushRow.busy < at - LOST_AFTER)
    done = session.execute(update(PushRow).where(PushRow.id == push_id, free).values(busy=at))
    return bool(done.rowcount)  # type: ignore[attr-defined]


def note(session: Session, push_id: str, **values: object) -> None:
    """Write down what became of a step, and let the next be begun."""
    set_to(session, push_id, busy=None, **values)


def set_to(session: Session, push_id: str, **values: object) -> None:
    """Write something down of a push; a step that is under way stays so."""
    session.execute(update(PushRow).where(PushRow.id == push_id).values(**values))
