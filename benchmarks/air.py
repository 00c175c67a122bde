"""What goes round, placement, channels and learning: times and how good the answers are."""

import resource
import time
import uuid

import numpy as np

from benchmarks.core import Row, forget, median_s
from benchmarks.reference.compare import compare, rmse, traced
from benchmarks.reference.scenes import REFERENCES
from benchmarks.school import reference_school
from heathrise.core.job import AccessPoint, Antenna, CutPoint, Job, Point, Radio, SurveyPoint
from heathrise.core.radio.balance import Balance, balance_of
from heathrise.core.radio.channels import plan_bands
from heathrise.core.radio.learning import learn, predicted_dbm, survey_of
from heathrise.core.radio.placing import place
from heathrise.core.radio.reach import around, gains_db
from heathrise.core.radio.scene import Scene, Transmitter, grid_losses, scene_of
from heathrise.core.site.building import building_of

MODEL = "ap-ceiling-wifi6-2x2"
BAND = "5"


def whole(scene: Scene, transmitters: list[Transmitter]) -> list[list[np.ndarray]]:
    """Return access points over every storey, with what goes round, nothing kept."""
    forget()
    return [gains_db(scene, transmitters, BAND, scene.grid(s.id)) for s in scene.building.storeys]


def rows() -> list[Row]:
    """Measure and return the table's lines."""
    job = reference_school()
    scene = scene_of(building_of(job))
    transmitters = [scene.transmitter(point) for point in job.of(AccessPoint)]
    one = median_s(lambda: whole(scene, transmitters[:1]), 9)
    direct = median_s(
        lambda: [scene.losses(transmitters[0], g.points_m()) for g in balance_of(scene).grids.values()], 9
    )
    every = median_s(lambda: whole(scene, transmitters), 2)
    fresh = median_s(lambda: Balance(scene, 0.5).solver(BAND).factor, 3)
    found = [
        Row(
            "one access point moved, with what goes round, 4 storeys",
            f"{one * 1e3:.0f} ms",
            f"{direct * 1e3:.0f} ms (straight rays)",
            f"{one / direct:.1f} x",
            "120 ms",
            one <= 0.12,
        ),
        Row(
            "all 60 access points, one band, with what goes round",
            f"{every:.2f} s",
            "",
            "",
            "5 s",
            every <= 5,
        ),
        Row("the balance of the school made and factored anew", f"{fresh:.2f} s", "", "", "", True),
    ]
    around.cache_clear()
    found += [*channels(job, scene), *placing(job, scene), *accuracy(), *learning()]
    peak_mb = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    found.append(
        Row(
            "most memory of this process over all of the above",
            f"{peak_mb:.0f} MB",
            "",
            "",
            "1 GB",
            peak_mb < 1024,
        )
    )
    return found


def channels(job: Job, scene: Scene) -> list[Row]:
    """Time the channel plan of 60 access points and set it beside greedy and the bound."""
    start = time.perf_counter()
    plan = plan_bands(job, scene, 1.5)
    took = time.perf_counter() - start
    return [
        Row(
            f"channel plan of 60 access points, {band.band} GHz: weighted overlap (all bands {took:.1f} s)",
            f"{band.overlap:.1f}",
            f"{band.greedy:.1f} (greedy), bound {band.bound:.1f}",
            f"{band.greedy / band.overlap:.2f} x" if band.overlap else "",
            "5 s",
            took <= 5,
        )
        for band in plan.bands
    ]


def placing(job: Job, scene: Scene) -> list[Row]:
    """Time a placement of one storey: its first answer, and the gap after half a minute."""
    storey = (scene.building.storeys[0].id,)
    list(zip(place(job, scene, "fewest", MODEL, storey, 1.0), range(1), strict=False))
    start = time.perf_counter()
    grid_losses.cache_clear()
    plans = place(job, scene, "fewest", MODEL, storey, 12.0)
    first = next(plans)
    first_s = time.perf_counter() - start
    last = [first, *plans][-1]
    took = time.perf_counter() - start
    return [
        Row("placement of one storey: first answer", f"{first_s:.1f} s", "", "", "2 s", first_s <= 2),
        Row(
            f"the same after {took:.0f} s: {last.count} points, from the bound",
            f"{100 * last.gap:.1f} %",
            "",
            "",
            "10 % in 30 s",
            last.gap <= 0.1,
        ),
    ]


def accuracy() -> list[Row]:
    """Set the model beside straight rays on every traced scene."""
    found = []
    for reference in REFERENCES:
        senders = compare(reference)
        full = np.concatenate([s.full_db for s in senders])
        direct = np.concatenate([s.direct_db for s in senders])
        aim = "6 dB" if reference.heavy else "direct + 0.3 dB"
        holds = rmse(full) <= (6.0 if reference.heavy else rmse(direct) + 0.3)
        holds = holds and (abs(full.mean()) <= 2 or not reference.heavy)
        use = "fitted" if reference.fitted else "held out"
        found.append(
            Row(
                f"{reference.about} ({use}), 5.5 GHz: RMSE, mean",
                f"{rmse(full):.1f} dB, {full.mean():+.1f}",
                f"{rmse(direct):.1f} dB, {direct.mean():+.1f} (straight rays)",
                "",
                aim,
                bool(holds),
            )
        )
    return found


def learning() -> list[Row]:
    """Learn from 30 places of each traced scene and look at 400 others."""
    found = []
    for reference in REFERENCES:
        before, after = learned(reference)
        found.append(
            Row(
                f"{reference.name}: error on places held out, 30 survey points",
                f"{after:.1f} dB",
                f"{before:.1f} dB (nothing learned)",
                "",
                "4 dB",
                after <= 4,
            )
        )
    return found


def learned(reference) -> tuple[float, float]:
    """Return the error on held-out places before and after learning, mean of three draws."""
    results = []
    for seed in range(3):
        job, places = surveyed(reference, np.random.default_rng(seed))
        taught = learn(Job.model_construct(name="x", elements=(*job.elements, *places[:30])))
        errors = []
        for extra in ((), (taught,)):
            told = Job.model_construct(name="x", elements=(*job.elements, *places[30:430], *extra))
            survey = survey_of(told)
            off = survey.measured - predicted_dbm(told, Scene(building_of(told)), survey)
            errors.append(rmse(off))
        results.append(errors)
    before, after = np.mean(results, axis=0)
    return float(before), float(after)


def surveyed(reference, rng) -> tuple[Job, list[SurveyPoint]]:
    """Return a scene with isotropic senders, and its traced map as survey points in any order."""
    job, gains = reference.job(), traced(reference)
    even = tuple(CutPoint(angle_deg=a, relative_db=0) for a in range(-180, 180, 30))
    antenna = Antenna(id=str(uuid.uuid4()), label="even", code="own-even", azimuth=even, elevation=even)
    radio = (Radio(band=BAND, power_dbm=20),)
    points = [p.model_copy(update={"antenna": "own-even", "radios": radio}) for p in job.of(AccessPoint)]
    rest = [e for e in job.elements if e.kind != "access-point"]
    changed = Job.model_construct(name="x", elements=(*rest, antenna, *points))
    balance = balance_of(Scene(building_of(changed)))
    found = []
    for n, point in enumerate(points):
        for plane, (storey_id, numbers) in enumerate(balance.numbers.items()):
            where = balance.grids[storey_id].points_m()
            level = gains[n, plane].ravel()
            for cell in np.flatnonzero((numbers.ravel() >= 0) & (level > -110)):
                found.append(
                    SurveyPoint.model_construct(
                        id=f"{n}-{plane}-{cell}",
                        label="s",
                        storey_id=storey_id,
                        at=Point(x_m=where[cell, 0], y_m=where[cell, 1]),
                        point_id=point.id,
                        band=BAND,
                        rssi_dbm=float(level[cell]) + 24,
                        measured_at=None,
                    )
                )
    order = rng.permutation(len(found))
    return changed, [found[i] for i in order]
