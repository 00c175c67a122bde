"""Passphrases of names on the air: made, judged, kept sealed, and opened only when somebody asks for one."""

import math
import secrets
from typing import NamedTuple

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from heathrise.store.jobs import NoSuchJob
from heathrise.store.sealing import Sealer
from heathrise.store.tables import SecretRow

# Letters that nobody mistakes for one another when they are read out.
_LETTERS = "abcdefghjkmnpqrstuvwxyz23456789"
_GROUPS, _IN_GROUP = 4, 4
_MADE_BITS = round(_GROUPS * _IN_GROUP * math.log2(len(_LETTERS)), 1)


class Strength(NamedTuple):
    """How long a passphrase is and how hard to guess. [characters, bit]"""

    chars: int
    bits: float


def made() -> str:
    """Return a new passphrase: four groups of four, about 79 bit."""
    return "-".join("".join(secrets.choice(_LETTERS) for _ in range(_IN_GROUP)) for _ in range(_GROUPS))


def strength(passphrase: str) -> Strength:
    """Return how strong a passphrase is at the most: as if its letters were drawn from the kinds it has; what repeats
    counts once.
    """
    kinds = (("abcdefghijklmnopqrstuvwxyz", 26), ("ABCDEFGHIJKLMNOPQRSTUVWXYZ", 26), ("0123456789", 10))
    drawn = sum(size for letters, size in kinds if any(c in letters for c in passphrase))
    known = "".join(letters for letters, _ in kinds)
    drawn += 33 if any(c not in known for c in passphrase) else 0
    counted = min(len(passphrase), 2 * len(set(passphrase.lower())))
    return Strength(len(passphrase), round(counted * math.log2(max(2, drawn)), 1))


def keep(
    session: Session, sealer: Sealer, job_id: str, element_id: str, passphrase: str, by_hand: bool
) -> None:
    """Keep a passphrase in place of the one before. Raises NoKey."""
    chars, bits = strength(passphrase) if by_hand else Strength(len(passphrase), _MADE_BITS)
    sealed = sealer.seal(passphrase.encode(), job_id, element_id)
    session.merge(
        SecretRow(
            job_id=job_id, element_id=element_id, sealed=sealed, chars=chars, bits=bits, made=not by_hand
        )
    )


def rows(session: Session, job_id: str) -> dict[str, SecretRow]:
    """Return what is kept of a job, by element, sealed."""
    found = session.scalars(select(SecretRow).where(SecretRow.job_id == job_id))
    return {row.element_id: row for row in found}


def opened(session: Session, sealer: Sealer, job_id: str, element_id: str) -> str:
    """Return one passphrase. Raises NoSuchJob when there is none, NoKey."""
    row = session.get(SecretRow, (job_id, element_id))
    if row is None:
        raise NoSuchJob(element_id)
    return sealer.open(row.sealed, job_id, element_id).decode()


def forget(session: Session, job_id: str, element_id: str) -> None:
    """Forget a passphrase."""
    session.execute(delete(SecretRow).where(SecretRow.job_id == job_id, SecretRow.element_id == element_id))
