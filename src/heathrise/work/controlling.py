"""A job and its controller: read, held against the plan, told step by step, put back.

A push goes one step for each time it is asked, and what became of it is written down before it is answered: whoever
asks may stop, go away or be killed between two steps, and the push stands where it stood. What it is made of - the
plan, which unit is which - is kept with it and does not move when the job is edited meanwhile.
"""

import json
from collections.abc import Callable, Iterator
from typing import Any, Literal

from heathrise.controller.driver import (
    ChangedMeanwhile,
    ControllerError,
    Door,
    Driver,
    NoAnswer,
    Outcome,
    Told,
)
from heathrise.controller.registry import driver_of
from heathrise.controller.simulated import real_address
from heathrise.core.edit import EditError
from heathrise.core.library.items import UNASKED
from heathrise.core.network.held import PushStep
from heathrise.core.network.live import Live
from heathrise.core.network.settings import Settings
from heathrise.core.sums import Noun
from heathrise.store import controllers, passphrases
from heathrise.store.database import Database
from heathrise.store.jobs import NoSuchJob
from heathrise.store.sealing import Sealer
from heathrise.store.tables import PushRow
from heathrise.work.asking import LiveHeld

StepState = Literal["waiting", "under way", "done", "refused", "in doubt"]
PushState = Literal["ready", "stopped", "done", "undone"]


class StepShown(Noun):
    """One step, and what became of it."""

    step: PushStep
    state: StepState
    words: str


class PushShown(Noun):
    """What is being sent, or was: of which revision of the job, its steps, where it stands and why."""

    id: str
    revision: int
    state: PushState
    said: str
    steps: tuple[StepShown, ...]
    done: int
    can_go_back: bool
    at: str


class NoController(Exception):
    """The job has no controller yet."""


class StepUnderWay(Exception):
    """Another window is at a step of this push."""


class Controlling:
    """One job's controller. `held_against` asks a calculator what a reading comes to."""

    def __init__(
        self,
        database: Database,
        sealer: Sealer,
        job_id: str,
        held_against: Callable[[Live], LiveHeld],
        stand_in: str = "",
    ):
        self._database = database
        self._sealer = sealer
        self._job_id = job_id
        self._held_against = held_against
        self._stand_in = stand_in

    def driver(self) -> Driver:
        """Return the driver of the job's controller, signed in. Raises NoController, NoKey, ControllerError."""
        with self._database.transaction() as session:
            row = controllers.connection(session, self._job_id)
            if row is None:
                raise NoController
            secret = self._sealer.open(row.sealed, self._job_id, "controller").decode()
            door, name = Door(real_address(self._stand_in, row.address), row.account, secret), row.driver
        return driver_of(name, door)

    def held(self) -> LiveHeld:
        """Return the controller as it is, held against the plan."""
        return self._read(self.driver())

    def _read(self, driver: Driver) -> LiveHeld:
        """Return a controller held against the plan, names with another passphrase than is kept here among it."""
        live = driver.read()
        held = self._held_against(live)
        others = tuple(self._other_passphrases(driver, held))
        return self._held_against(live.model_copy(update={"other_passphrase": others})) if others else held

    def _other_passphrases(self, driver: Driver, held: LiveHeld) -> Iterator[str]:
        with self._database.transaction() as session:
            kept = passphrases.rows(session, self._job_id)
            asked = {
                name.name: passphrases.opened(session, self._sealer, self._job_id, element_id)
                for name in held.live.names
                if name.security not in UNASKED and (element_id := held.name_ids.get(name.name, "")) in kept
            }
        for name, passphrase in asked.items():
            if not driver.has_passphrase(name, passphrase):
                yield name

    def begin(self) -> PushShown:
        """Return the steps that make the controller as planned, kept so that they can be gone. Raises as `held`."""
        held = self.held()
        steps: list[dict[str, object]] = [
            {"step": step.model_dump(mode="json"), "state": "waiting", "words": ""}
            for step in held.steps.steps
        ]
        serials = {match.label: match.serial for match in held.matched.matches if match.serial}
        if not steps and not held.compared.as_planned:
            raise EditError(" ".join(("nothing can be sent now.", *held.steps.blocked)))
        with self._database.transaction() as session:
            row = controllers.begin(
                session,
                self._job_id,
                held.revision,
                {"settings": held.plan.model_dump(mode="json"), "name_ids": held.name_ids},
                serials,
                steps,
                held.live.revision,
            )
            if not steps:
                row.state, row.said = "done", "Nothing differs: it is as planned."
            return shown(row)

    def go_on(self, push_id: str) -> PushShown:
        """Do the next step, or look at the one under way; what is stopped stays so. Raises StepUnderWay, NoController, NoKey."""
        with self._database.transaction() as session:
            row = controllers.find(session, self._job_id, push_id)
            if row.state != "ready":
                return shown(row)
            if not controllers.claim(session, push_id):
                raise StepUnderWay
            steps, kept = list(row.steps), _Kept(row)
        try:
            wrote = self._stepped(steps, kept)
        except Exception:
            # Nothing was begun: another try need not wait until this one counts as lost.
            self._note(push_id, {})
            raise
        return self._note(push_id, wrote)

    def _stepped(self, steps: list[dict[str, Any]], push: "_Kept") -> dict[str, Any]:
        """Return what is to be written down of the next step."""
        number = next(n for n, one in enumerate(steps) if one["state"] != "done")
        wrote: dict[str, Any] = {"said": ""}
        try:
            outcome, more = self._step(PushStep.model_validate(steps[number]["step"]), push)
        except ControllerError as error:
            state: StepState = "in doubt" if isinstance(error, NoAnswer) else "refused"
            steps[number] = steps[number] | {"state": state, "words": str(error)}
            return {"steps": steps, "state": "stopped", "said": _stopped(error)}
        state = "done" if outcome.state == "done" else "under way"
        steps[number] = steps[number] | {"state": state, "words": outcome.words}
        wrote |= more | {"steps": steps, "seen": outcome.revision}
        if all(one["state"] == "done" for one in steps):
            wrote["state"] = "done"
        return wrote

    def _step(self, step: PushStep, push: "_Kept") -> tuple[Outcome, dict[str, Any]]:
        driver, seen = self.driver(), push.seen
        if step.kind == "backup":
            kept = self._sealer.seal(driver.backup(), self._job_id, "backup")
            return Outcome(state="done", words="kept with the job", revision=seen), {"backup": kept}
        if step.kind == "verify":
            outcome, said = self._verified(driver, seen)
            return outcome, {"said": said}
        return driver.act(step, Told(push.plan, push.serials, seen, self._passphrases(step, push))), {}

    def _verified(self, driver: Driver, seen: str) -> tuple[Outcome, str]:
        """Return that nothing is left to do, and what that comes to. Raises ControllerError where something is.

        A name that is not at a device that was left out differs for that reason alone.
        """
        held = self._read(driver)
        out = len(held.steps.blocked)
        idle = {"backup", "verify", *(["name"] if out else [])}
        left = [step for step in held.steps.steps if step.kind not in idle]
        if left:
            raise ControllerError(
                f"{len(held.compared.differences)} things still differ; next would be: {left[0].words}"
            )
        rest = f"; {out} devices were left out" if out else ""
        said = (
            f"All that could be sent was sent; {out} devices were left out." if out else "It is as planned."
        )
        words = f"{held.compared.looked_at} things looked at{rest}"
        return Outcome(state="done", words=words, revision=seen), said

    def _passphrases(self, step: PushStep, push: "_Kept") -> dict[str, str]:
        """Return the passphrase of the name a step sets; one is made and kept where there is none yet."""
        if step.kind != "name":
            return {}
        name = next((one for one in push.plan.names if one.name == step.item), None)
        if name is None or name.security in UNASKED:
            return {}
        element_id = push.name_ids[name.name]
        with self._database.transaction() as session:
            try:
                found = passphrases.opened(session, self._sealer, self._job_id, element_id)
            except NoSuchJob:
                found = passphrases.made()
                passphrases.keep(session, self._sealer, self._job_id, element_id, found, by_hand=False)
        return {name.name: found}

    def resume(self, push_id: str) -> PushShown:
        """Take what the controller's settings are now as seen, and go on where it stopped."""
        live = self.driver().read()
        with self._database.transaction() as session:
            row = controllers.find(session, self._job_id, push_id)
            if row.state == "stopped":
                controllers.set_to(session, push_id, seen=live.revision, state="ready", said="")
        return self.go_on(push_id)

    def stop(self, push_id: str) -> PushShown:
        """Stop after the step that is under way, if one is."""
        with self._database.transaction() as session:
            row = controllers.find(session, self._job_id, push_id)
            if row.state == "ready":
                done = sum(one["state"] == "done" for one in row.steps)
                said = f"Stopped by hand: {done} of {len(row.steps)} steps are done, the others not begun."
                controllers.set_to(session, push_id, state="stopped", said=said)
            session.expire_all()
            return shown(controllers.find(session, self._job_id, push_id))

    def go_back(self, push_id: str) -> PushShown:
        """Put the backup back that was taken first, and see that it is. Raises ControllerError, NoSuchJob."""
        with self._database.transaction() as session:
            row = controllers.find(session, self._job_id, push_id)
            if row.backup is None:
                raise NoSuchJob("a backup of this push")
            if not controllers.claim(session, push_id):
                raise StepUnderWay
            kept = self._sealer.open(row.backup, self._job_id, "backup")
        try:
            return self._back(push_id, kept)
        except Exception:
            self._note(push_id, {})
            raise

    def _back(self, push_id: str, kept: bytes) -> PushShown:
        driver = self.driver()
        seen = driver.restore(kept)
        if json.loads(driver.backup()) != json.loads(kept):
            raise ControllerError("the backup was put back, and its settings are not as in it")
        said = "Put back and seen to be as before the first step. Units stay taken over, firmware stays new."
        return self._note(push_id, {"state": "undone", "said": said, "seen": seen})

    def latest(self) -> PushShown | None:
        """Return what was sent last."""
        with self._database.transaction() as session:
            row = controllers.latest(session, self._job_id)
            return shown(row) if row is not None else None

    def _note(self, push_id: str, values: dict[str, Any]) -> PushShown:
        with self._database.transaction() as session:
            controllers.note(session, push_id, **values)
            session.expire_all()
            return shown(controllers.find(session, self._job_id, push_id))


class _Kept:
    """What a push was made of."""

    def __init__(self, row: PushRow):
        self.plan = Settings.model_validate(row.plan["settings"])
        self.name_ids: dict[str, str] = row.plan["name_ids"]
        self.serials: dict[str, str] = dict(row.serials)
        self.seen = row.seen


def _stopped(error: ControllerError) -> str:
    if isinstance(error, ChangedMeanwhile):
        return (
            "Somebody else changed its settings meanwhile. Look at what differs now, then go on or plan anew."
        )
    if isinstance(error, NoAnswer):
        return "It does not answer. Whether this step was done is not known; going on looks and does it again if not."
    return "This step was refused; those before it are done, those after it not begun. Nothing of the plan changed."


def shown(row: PushRow) -> PushShown:
    """Return a push as it is shown."""
    steps = tuple(StepShown.model_validate(one) for one in row.steps)
    return PushShown(
        id=row.id,
        revision=row.revision,
        state=row.state,
        said=row.said,
        steps=steps,
        done=sum(one.state == "done" for one in steps),
        can_go_back=any(one.step.kind == "backup" and one.state == "done" for one in steps)
        and row.state != "undone",
        at=row.created.isoformat(timespec="seconds"),
    )
