"""The set that is handed over: its files, each an answer to a question; made one for each time it is asked, then signed.

Whoever asks may stop, go away or be killed between two files: the edition stands where it stood. Where the job changed
meanwhile it is begun anew, so that all files of a set are of one revision.
"""

import io
import json
import zipfile
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from heathrise.core.job import Job
from heathrise.core.sums import Noun
from heathrise.exchange.jobfile import write_job
from heathrise.exchange.named import named_file
from heathrise.store import editions
from heathrise.store.database import Database
from heathrise.store.editions import FileKept
from heathrise.store.tables import EditionRow
from heathrise.work.asking import (
    HandOverAsked,
    Nothing,
    PapersAsked,
    PapersJoined,
    PlanFileAsked,
    RiverAsked,
    RunsFileAsked,
    ScheduleAsked,
    SettingsAsked,
    Signing,
)
from heathrise.work.bringing import whole_job
from heathrise.work.calculators import Said

Ask = Callable[[str, Noun], Said]
JOB_FILE, SETTINGS_FILE, WHOLE_SET = "job.json", "settings.json", "set.pdf"
# The papers of the one PDF, in this order.
_PAPERS = ("hand-over.pdf", "test-report.pdf", "drawings.pdf", "racks.pdf", "mounting.pdf")


class NotReady(ValueError):
    """Something stands in the way of signing; the message says what."""


@dataclass(frozen=True)
class Part:
    """A file of a set: its name, and the question it answers."""

    name: str
    question: str
    asked: Noun


def parts_of(job: Job, number: int, signing: Signing) -> tuple[Part, ...]:
    """Return the files of a set but the job itself and the papers as one."""
    drawings = [
        part
        for storey in job.storeys
        for stem in (named_file(storey.label, "x").removesuffix("-x").removesuffix(".x"),)
        for part in (
            Part(f"plan-{stem}.dxf", "export.plan", PlanFileAsked(storey_id=storey.id, ending="dxf")),
            Part(f"plan-{stem}.svg", "export.plan", PlanFileAsked(storey_id=storey.id, ending="svg")),
            Part(f"runs-{stem}.dxf", "export.runs", RunsFileAsked(storey_id=storey.id, ending="dxf")),
            Part(f"runs-{stem}.svg", "export.runs", RunsFileAsked(storey_id=storey.id, ending="svg")),
        )
    ]
    return (
        Part("hand-over.pdf", "export.hand-over", HandOverAsked(number=number, signing=signing)),
        Part("test-report.pdf", "export.test-report", Nothing()),
        Part("drawings.pdf", "export.papers", PapersAsked(paper="A3")),
        Part("racks.pdf", "export.racks", PapersAsked(paper="A4")),
        Part("mounting.pdf", "export.mounting", Nothing()),
        Part("network.svg", "export.river", RiverAsked(ending="svg")),
        *_one_each(drawings),
        Part("runs.xlsx", "export.schedule", ScheduleAsked(ending="xlsx")),
        Part("runs.csv", "export.schedule", ScheduleAsked(ending="csv")),
        Part("patches.xlsx", "export.patches", ScheduleAsked(ending="xlsx")),
        Part("kit.xlsx", "export.kit", ScheduleAsked(ending="xlsx")),
        Part("tests.csv", "export.tests", ScheduleAsked(ending="csv")),
        Part("proof.xlsx", "export.proof", Nothing()),
        Part(SETTINGS_FILE, "export.settings", SettingsAsked(ending="json")),
    )


def _one_each(parts: Sequence[Part]) -> tuple[Part, ...]:
    """Return drawings, a second storey of the same name numbered."""
    seen: dict[str, int] = {}
    found = []
    for part in parts:
        seen[part.name] = seen.get(part.name, 0) + 1
        stem, _, ending = part.name.rpartition(".")
        name = part.name if seen[part.name] == 1 else f"{stem}-{seen[part.name]}.{ending}"
        found.append(Part(name, part.question, part.asked))
    return tuple(found)


class EditionFile(Noun):
    """A file of an edition."""

    name: str
    kind: str
    size: int
    sha256: str


class EditionShown(Noun):
    """A hand-over as it stands: being made (so many of so many files), or signed and frozen."""

    id: str
    number: int | None
    revision: int
    state: str
    signing: Signing
    made: int
    of: int
    doing: str
    created: datetime
    signed: datetime | None
    files: tuple[EditionFile, ...]


class Editions(Noun):
    """The hand-overs of a job, the newest first."""

    editions: tuple[EditionShown, ...]


def shown(row: EditionRow, files: Sequence[FileKept]) -> EditionShown:
    """Return a hand-over as it stands."""
    there = {one.name for one in files}
    left = [name for name in row.parts if name not in there]
    return EditionShown(
        id=row.id,
        number=row.number,
        revision=row.revision,
        state=row.state,
        signing=Signing.model_validate(row.signing),
        made=len(there),
        of=len(row.parts),
        doing=left[0] if left and row.state == "making" else "",
        created=row.created.replace(tzinfo=UTC),
        signed=row.signed.replace(tzinfo=UTC) if row.signed else None,
        files=tuple(
            EditionFile(name=one.name, kind=one.kind, size=one.size, sha256=one.sha256)
            for one in sorted(
                files, key=lambda one: row.parts.index(one.name) if one.name in row.parts else 0
            )
        ),
    )


class HandingOver:
    """The hand-overs of one job."""

    def __init__(self, database: Database, job_id: str, ask: Ask):
        self._database, self._job_id, self._ask = database, job_id, ask

    def every(self) -> Editions:
        """Return those that are signed or being made."""
        with self._database.transaction() as session:
            rows = editions.every(session, self._job_id)
            return Editions(editions=tuple(shown(row, editions.files(session, row.id)) for row in rows))

    def begin(self, job: Job, ready: Mapping[str, Any], signing: Signing) -> EditionShown:
        """Begin a hand-over; nothing is made yet.

        Raises
        ------
        NotReady
            If a fault is open, or a part is not proven and no reason is given.
        """
        _must_be_ready(ready, signing)
        names = [part.name for part in parts_of(job, 1, signing)]
        with self._database.transaction() as session:
            given = signing.model_dump(mode="json")
            row = editions.begin(session, self._job_id, [*names, JOB_FILE, WHOLE_SET], given)
            return shown(row, ())

    def go_on(self, edition_id: str, job: Job, revision: int) -> EditionShown:
        """Make the next file; the last one signs the edition.

        Raises
        ------
        NotReady
            If a fault came up since it was begun; it is stopped then.
        """
        with self._database.transaction() as session:
            row = editions.find(session, self._job_id, edition_id)
            if row.state != "making":
                return shown(row, editions.files(session, row.id))
            signing, before = Signing.model_validate(row.signing), row.revision
        if before != revision:
            self._still_ready(edition_id, signing)
        with self._database.transaction() as session:
            row = editions.find(session, self._job_id, edition_id)
            if row.revision != revision:
                editions.anew(session, row, revision)
            there = {one.name for one in editions.files(session, row.id)}
            left = [name for name in row.parts if name not in there]
            number = row.number or 1
        if left:
            made = self._made(left[0], edition_id, job, number, signing)
        with self._database.transaction() as session:
            row = editions.find(session, self._job_id, edition_id)
            there = {one.name for one in editions.files(session, row.id)}
            if row.state == "making" and row.revision == revision:
                if left and left[0] not in there and made.revision == revision:
                    editions.keep_file(session, row.id, left[0], made.kind, made.body)
                    there.add(left[0])
                if all(name in there for name in row.parts):
                    editions.sign(session, row)
            return shown(row, editions.files(session, row.id))

    def _still_ready(self, edition_id: str, signing: Signing) -> None:
        """Stop a hand-over where something came up while it was made. Raises NotReady."""
        try:
            _must_be_ready(json.loads(self._ask("prove.ready", Nothing()).body), signing)
        except NotReady:
            self.stop(edition_id)
            raise

    def _made(self, name: str, edition_id: str, job: Job, number: int, signing: Signing) -> Said:
        if name == JOB_FILE:
            return self._job_file(job)
        if name == WHOLE_SET:
            with self._database.transaction() as session:
                papers = tuple(editions.file(session, edition_id, paper).body for paper in _PAPERS)
            return self._ask("export.joined", PapersJoined.model_construct(bodies=papers))
        part = next(part for part in parts_of(job, number, signing) if part.name == name)
        return self._ask(part.question, part.asked)

    def _job_file(self, job: Job) -> Said:
        with self._database.transaction() as session:
            body = write_job(whole_job(session, self._job_id, job)).encode()
        newest = self._ask("prove.ready", Nothing()).revision
        return Said(body, newest, "application/json", JOB_FILE, None)

    def stop(self, edition_id: str) -> EditionShown:
        """Stop one that is not signed; a signed one stays."""
        with self._database.transaction() as session:
            row = editions.find(session, self._job_id, edition_id)
            if row.state == "making":
                editions.stop(session, row)
            return shown(row, editions.files(session, row.id))

    def file(self, edition_id: str, name: str) -> tuple[bytes, str]:
        """Return (a file, its content type)."""
        with self._database.transaction() as session:
            editions.find(session, self._job_id, edition_id)
            row = editions.file(session, edition_id, name)
            return row.body, row.kind

    def archive(self, edition_id: str) -> bytes:
        """Return all files of a hand-over as one archive."""
        out = io.BytesIO()
        with self._database.transaction() as session:
            editions.find(session, self._job_id, edition_id)
            with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
                for row in editions.bodies(session, edition_id):
                    packed.writestr(row.name, row.body)
        return out.getvalue()


def _must_be_ready(ready: Mapping[str, Any], signing: Signing) -> None:
    gates = [
        gate
        for gate in ready["gates"]
        if not gate["holds"] and not signing.waived.get(gate["code"], "").strip()
    ]
    open_ones = len(ready["findings"]) + len(ready["faults"])
    said = []
    if open_ones:
        said.append(f"{open_ones} faults are open: mend them, or accept each with a reason")
    if gates:
        said.append(
            f"not all is proven ({', '.join(gate['label'].lower() for gate in gates)}): prove it, or give a reason"
        )
    if said:
        raise NotReady("; ".join(said))
