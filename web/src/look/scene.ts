/** The building as solids for the look: storeys apart, walls with their openings, runs and signs. */
import {
  BoxGeometry,
  BufferGeometry,
  CanvasTexture,
  CylinderGeometry,
  DoubleSide,
  EdgesGeometry,
  Float32BufferAttribute,
  Group,
  Line,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshLambertMaterial,
  PlaneGeometry,
  Shape,
  ShapeGeometry,
  type Material,
} from 'three'
import type { Assessment } from '@/job/assessment'
import type { Of, XY } from '@/job/types'
import { stretch } from '@/sheet/geometry'
import { tints, type Terrain } from '@/sheet/terrain'

export interface Inks {
  readonly ink: string
  readonly paper: string
  readonly wall: string
  readonly glass: string
  readonly heather: string
  readonly tarn: string
}
export interface StoreyLook {
  readonly storey: Of<'storey'>
  readonly group: Group
}

const DEFAULT_THICKNESS_M = 0.12
const CELL_PX = 4

/** Upright pieces of a wall: solid parts, and what stands over and under its openings. */
export function pieces(
  wall: Of<'wall'>,
  openings: readonly Of<'opening'>[],
  height: number,
): { from: number; to: number; low: number; high: number; kind: 'wall' | 'door' | 'window' }[] {
  const length = Math.hypot(wall.b.x_m - wall.a.x_m, wall.b.y_m - wall.a.y_m)
  const out: ReturnType<typeof pieces> = []
  let at = 0
  for (const o of openings.toSorted((p, q) => p.at_m - q.at_m)) {
    const [from, to] = [Math.max(at, o.at_m), Math.min(length, o.at_m + o.width_m)]
    if (to - from < 0.01) continue
    if (from > at) out.push({ from: at, to: from, low: 0, high: height, kind: 'wall' })
    const top = Math.min(height, o.sill_m + o.height_m)
    if (o.sill_m > 0) out.push({ from, to, low: 0, high: o.sill_m, kind: 'wall' })
    if (top < height) out.push({ from, to, low: top, high: height, kind: 'wall' })
    if (o.opening_kind !== 'opening')
      out.push({ from, to, low: o.sill_m, high: top, kind: o.opening_kind === 'window' ? 'window' : 'door' })
    at = to
  }
  if (length - at > 0.01) out.push({ from: at, to: length, low: 0, high: height, kind: 'wall' })
  return out
}

function box(wall: Of<'wall'>, piece: ReturnType<typeof pieces>[number], thick: number, material: Material): Mesh {
  const [a, b] = stretch(wall, piece.from, piece.to)
  const mesh = new Mesh(new BoxGeometry(piece.to - piece.from, piece.high - piece.low, thick), material)
  mesh.position.set((a.x_m + b.x_m) / 2, (piece.low + piece.high) / 2, (a.y_m + b.y_m) / 2)
  mesh.rotation.y = -Math.atan2(b.y_m - a.y_m, b.x_m - a.x_m)
  return mesh
}

export function storeyGroup(
  storey: Of<'storey'>,
  walls: readonly Of<'wall'>[],
  openings: readonly Of<'opening'>[],
  spaces: readonly Of<'space'>[],
  inks: Inks,
): Group {
  const group = new Group()
  const height = storey.ceiling_m
  const solid = new MeshLambertMaterial({ color: inks.wall, transparent: true, opacity: 0.92 })
  const glass = new MeshLambertMaterial({ color: inks.glass, transparent: true, opacity: 0.4 })
  const leaf = new MeshLambertMaterial({ color: inks.heather, transparent: true, opacity: 0.35 })
  const edge = new LineBasicMaterial({ color: inks.ink, transparent: true, opacity: 0.45 })
  for (const wall of walls) {
    const mine = openings.filter((o) => o.wall_id === wall.id)
    for (const piece of pieces(wall, mine, wall.height_m ?? height)) {
      const material = piece.kind === 'wall' ? solid : piece.kind === 'window' ? glass : leaf
      const mesh = box(wall, piece, wall.thickness_m ?? DEFAULT_THICKNESS_M, material)
      group.add(mesh)
      const lines = new LineSegments(new EdgesGeometry(mesh.geometry), edge)
      lines.position.copy(mesh.position)
      lines.rotation.copy(mesh.rotation)
      group.add(lines)
    }
  }
  const floor = new MeshLambertMaterial({ color: inks.paper, side: DoubleSide, transparent: true, opacity: 0.85 })
  for (const space of spaces) {
    const shape = new Shape()
    space.outline.forEach((p, i) => (i ? shape.lineTo(p.x_m, -p.y_m) : shape.moveTo(p.x_m, -p.y_m)))
    const mesh = new Mesh(new ShapeGeometry(shape), floor)
    mesh.rotation.x = -Math.PI / 2
    mesh.position.y = -0.02
    mesh.userData = { floor: true }
    group.add(mesh)
  }
  return group
}

export function sign(at: XY, height: number, colour: string): Mesh {
  const mesh = new Mesh(new CylinderGeometry(0.22, 0.28, 0.14, 16), new MeshLambertMaterial({ color: colour }))
  mesh.position.set(at.x_m, height, at.y_m)
  return mesh
}

/** A run's legs as lines; each end at the height its own storey is shown at. */
export function runLine(run: Assessment['runs'][number], lift: (z: number) => number, colour: string): Line {
  const points = run.legs.flatMap((leg) => [leg.a.x_m, lift(leg.z0_m), leg.a.y_m, leg.b.x_m, lift(leg.z1_m), leg.b.y_m])
  const geometry = new BufferGeometry()
  geometry.setAttribute('position', new Float32BufferAttribute(points, 3))
  return new Line(geometry, new LineBasicMaterial({ color: colour }))
}

/** The terrain of a storey as a tinted floor, inside its spaces. */
export function terrainFloor(terrain: Terrain, spaces: readonly Of<'space'>[], night: boolean): Mesh {
  const canvas = document.createElement('canvas')
  canvas.width = terrain.columns * CELL_PX
  canvas.height = terrain.rows * CELL_PX
  const context = canvas.getContext('2d')
  const colours = tints(night)
  if (context) {
    context.scale(CELL_PX, CELL_PX)
    context.beginPath()
    for (const space of spaces) {
      space.outline.forEach((p, i) =>
        context[i ? 'lineTo' : 'moveTo']((p.x_m - terrain.x0) / terrain.cell, (p.y_m - terrain.y0) / terrain.cell),
      )
      context.closePath()
    }
    context.clip()
    for (let i = 0; i < terrain.dbm.length; i++) {
      const level = terrain.dbm[i] ?? -150
      context.fillStyle = colours[terrain.levels.filter((l) => level >= l).length] ?? '#000'
      context.fillRect(i % terrain.columns, Math.floor(i / terrain.columns), 1, 1)
    }
  }
  const [w, h] = [terrain.columns * terrain.cell, terrain.rows * terrain.cell]
  // It reaches over everything drawn: it comes after the floors, and hides nothing that stands below.
  const ground = new MeshLambertMaterial({
    map: new CanvasTexture(canvas),
    transparent: true,
    opacity: 0.8,
    side: DoubleSide,
    depthWrite: false,
  })
  const mesh = new Mesh(new PlaneGeometry(w, h), ground)
  mesh.renderOrder = 1
  mesh.rotation.x = -Math.PI / 2
  mesh.position.set(terrain.x0 + w / 2, 0.03, terrain.y0 + h / 2)
  return mesh
}

/** The sheet's colours as they are now, by day or night. */
export function inksOf(night: boolean): Inks {
  const style = getComputedStyle(document.documentElement)
  const of = (name: string) => style.getPropertyValue(name).trim()
  return {
    ink: of('--ink'),
    paper: of('--paper-deep'),
    wall: night ? '#7c868c' : '#d8cfba',
    glass: of('--tarn'),
    heather: of('--heather'),
    tarn: of('--tarn'),
  }
}
