"""Trace the reference scenes; runs in an environment of its own (see docs/accuracy.md).

Usage: python trace.py scenes.json out-folder [batches]. Writes `<scene>.npz` with
`gain_db` (senders, planes, rows, columns): path gain between isotropic antennas, powers summed
incoherently and averaged over each cell, up to 12 interactions of reflection and transmission in
any order, no Russian roulette; and `apart_db`, how far two seeds lie apart.
"""

import json
import sys
from pathlib import Path

import mitsuba as mi
import numpy as np
from sionna import rt

DEPTH = 12
BATCH = 8_000_000


def mesh(name, rings):
    """Return a Mitsuba mesh of flat convex rings."""
    corners, triangles = [], []
    for ring in rings:
        first = len(corners)
        corners += ring
        triangles += [[first, first + n, first + n + 1] for n in range(1, len(ring) - 1)]
    made = mi.Mesh(name, len(corners), len(triangles))
    values = mi.traverse(made)
    values["vertex_positions"] = np.array(corners, np.float32).ravel()
    values["faces"] = np.array(triangles, np.uint32).ravel()
    values.update()
    return made


def scene_of(spec):
    """Return the tracer's scene."""
    scene = rt.load_scene()
    scene.frequency = spec["f_ghz"] * 1e9
    scene.tx_array = rt.PlanarArray(num_rows=1, num_cols=1, pattern="iso", polarization="V")
    scene.rx_array = rt.PlanarArray(num_rows=1, num_cols=1, pattern="iso", polarization="V")
    objects = []
    for code, rings in spec["faces"].items():
        eps, conductivity, thickness = spec["materials"][code]
        material = rt.RadioMaterial(
            f"m-{code}", thickness=thickness, relative_permittivity=eps, conductivity=conductivity
        )
        objects.append(rt.SceneObject(mi_mesh=mesh(code, rings), name=f"o-{code}", radio_material=material))
    scene.edit(add=objects)
    for n, place in enumerate(spec["senders_m"]):
        scene.add(rt.Transmitter(f"t{n}", position=mi.Point3f(*place)))
    return scene


def maps(spec, batches, seed):
    """Return path gain (senders, planes, rows, columns), linear: the mean of several batches of rays."""
    scene = scene_of(spec)
    return np.mean([batch(spec, scene, 1000 * seed + n) for n in range(batches)], axis=0)


def batch(spec, scene, seed):
    """Return one batch's path gain."""
    x0, y0, x1, y1 = spec["box_m"]
    solver = rt.RadioMapSolver()
    planes = []
    for z in spec["planes_m"]:
        found = solver(
            scene,
            center=mi.Point3f((x0 + x1) / 2, (y0 + y1) / 2, z),
            orientation=mi.Point3f(0, 0, 0),
            size=mi.Point2f(x1 - x0, y1 - y0),
            cell_size=mi.Point2f(spec["cell_m"], spec["cell_m"]),
            samples_per_tx=BATCH,
            max_depth=DEPTH,
            specular_reflection=True,
            refraction=True,
            diffuse_reflection=False,
            diffraction=False,
            rr_depth=-1,
            seed=seed,
        )
        planes.append(np.array(found.path_gain))
    return np.stack(planes, axis=1)


def main():
    """Trace every scene of the file."""
    out = Path(sys.argv[2])
    batches = int(sys.argv[3]) if len(sys.argv) > 3 else 10
    for spec in json.loads(Path(sys.argv[1]).read_text("utf-8")):
        one, two = maps(spec, batches, 1), maps(spec, batches, 2)
        with np.errstate(divide="ignore", invalid="ignore"):
            gain_db = 10 * np.log10((one + two) / 2)
            apart = np.abs(10 * np.log10(one) - 10 * np.log10(two))
        strong = gain_db > -110
        apart_db = float(np.sqrt(np.mean(apart[strong] ** 2)))
        name = f"{spec['name']}-{str(spec['f_ghz']).replace('.', '_')}"
        np.savez_compressed(
            out / f"{name}.npz", gain_db=np.maximum(gain_db, -200).astype(np.float16), apart_db=apart_db
        )
        print(name, f"two seeds {apart_db:.2f} dB apart (RMS) over {int(strong.sum())} cells", flush=True)


main()
