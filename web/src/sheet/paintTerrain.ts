/** Painting the terrain on a canvas. Paths are made once a terrain, painted at any zoom. */
import type { Of } from '@/job/types'
import { contourLabels, contourPath, figure, tints, type Terrain } from '@/sheet/terrain'
import type { View } from '@/sheet/geometry'

export interface Need {
  readonly outline: Of<'space'>['outline']
  readonly dbm: number
}

export interface Painting {
  readonly terrain: Terrain
  readonly view: View
  readonly night: boolean
  readonly spaces: readonly Of<'space'>[]
  readonly needs: readonly Need[]
  readonly mainNeed: number
  /** Only from this pixel on, when another terrain is painted to the left of it. */
  readonly from?: number
  readonly figures?: boolean
  readonly taken: readonly { x: number; y: number }[]
  /** Ways somebody walks with a client: the air along them is cared for as it is in a space. */
  readonly walks: readonly (readonly { x_m: number; y_m: number }[])[]
}

const QUIET = 0.16
const BESIDE_M = 2.5

const paths = new WeakMap<Terrain, Path2D[]>()

function pathsOf(terrain: Terrain): Path2D[] {
  const known = paths.get(terrain)
  if (known) return known
  const made = terrain.contours.map(contourPath)
  paths.set(terrain, made)
  return made
}

function outlinePath(outlines: readonly (readonly { x_m: number; y_m: number }[])[], view: View): Path2D {
  const path = new Path2D()
  for (const outline of outlines) {
    outline.forEach((p, i) => {
      const [x, y] = [view.x + p.x_m * view.k, view.y + p.y_m * view.k]
      if (i) path.lineTo(x, y)
      else path.moveTo(x, y)
    })
    path.closePath()
  }
  return path
}

/** Where somebody asks for the air: in spaces, and along walks. */
function caredFor({ spaces, walks, view }: Painting): Path2D {
  const beside = walks.flatMap((corners) =>
    corners.slice(1).map((b, i) => {
      const a = corners[i] ?? b
      const far = Math.hypot(b.x_m - a.x_m, b.y_m - a.y_m) || 1
      const [ux, uy] = [((b.x_m - a.x_m) / far) * BESIDE_M, ((b.y_m - a.y_m) / far) * BESIDE_M]
      return [
        { x_m: a.x_m - ux - uy, y_m: a.y_m - uy + ux },
        { x_m: b.x_m + ux - uy, y_m: b.y_m + uy + ux },
        { x_m: b.x_m + ux + uy, y_m: b.y_m + uy - ux },
        { x_m: a.x_m - ux + uy, y_m: a.y_m - uy - ux },
      ]
    }),
  )
  const path = new Path2D()
  for (const outline of [...spaces.map((space) => space.outline), ...beside]) {
    // All turned alike, so that the rings of two that overlap do not cancel.
    path.addPath(outlinePath([turnedAlike(outline)], view))
  }
  return path
}

function turnedAlike<P extends { x_m: number; y_m: number }>(outline: readonly P[]): readonly P[] {
  const area = outline.reduce((sum, a, i) => {
    const b = outline[(i + 1) % outline.length] ?? a
    return sum + a.x_m * b.y_m - b.x_m * a.y_m
  }, 0)
  return area < 0 ? [...outline].reverse() : outline
}

function hatch(context: CanvasRenderingContext2D, night: boolean): CanvasPattern | null {
  const tile = document.createElement('canvas')
  tile.width = tile.height = 8
  const pen = tile.getContext('2d')
  if (!pen) return null
  pen.strokeStyle = night ? 'rgba(240,154,124,0.75)' : 'rgba(168,64,31,0.6)'
  pen.lineWidth = 1
  pen.beginPath()
  for (const shift of [-8, 0, 8]) {
    pen.moveTo(shift - 1, 9)
    pen.lineTo(shift + 9, -1)
  }
  pen.stroke()
  return context.createPattern(tile, 'repeat')
}

/** Paint tints, contours, hatching under the need, and the figures. */
export function paintTerrain(context: CanvasRenderingContext2D, width: number, height: number, scene: Painting): void {
  const ratio = window.devicePixelRatio || 1
  context.setTransform(ratio, 0, 0, ratio, 0, 0)
  context.clearRect(scene.from ?? 0, 0, width, height)
  context.save()
  const part = new Path2D()
  part.rect(scene.from ?? 0, 0, width, height)
  context.clip(part)
  const inside = caredFor(scene)
  tint(context, ratio, scene, inside)
  hatchNeeds(context, ratio, scene)
  lines(context, ratio, scene, inside)
  context.setTransform(ratio, 0, 0, ratio, 0, 0)
  if (scene.figures !== false) figures(context, ratio, scene, inside)
  context.restore()
}

function onGrid(context: CanvasRenderingContext2D, ratio: number, { terrain, view }: Painting): number {
  const scale = terrain.cell * view.k
  context.setTransform(
    ratio * scale,
    0,
    0,
    ratio * scale,
    ratio * (view.x + terrain.x0 * view.k),
    ratio * (view.y + terrain.y0 * view.k),
  )
  return scale
}

function tint(context: CanvasRenderingContext2D, ratio: number, scene: Painting, inside: Path2D): void {
  const colours = tints(scene.night, scene.terrain.levels)
  for (const [alpha, clip] of [
    [QUIET, null],
    [1, inside],
  ] as const) {
    context.save()
    context.setTransform(ratio, 0, 0, ratio, 0, 0)
    if (clip) context.clip(clip)
    context.globalAlpha = alpha
    onGrid(context, ratio, scene)
    context.fillStyle = colours[0] ?? ''
    if (scene.terrain.known) context.fill(contourPath(scene.terrain.known), 'evenodd')
    else context.fillRect(0, 0, scene.terrain.columns, scene.terrain.rows)
    pathsOf(scene.terrain).forEach((path, i) => {
      context.fillStyle = colours[i + 1] ?? ''
      context.fill(path, 'evenodd')
    })
    context.restore()
  }
}

function hatchNeeds(context: CanvasRenderingContext2D, ratio: number, scene: Painting): void {
  const pattern = hatch(context, scene.night)
  if (!pattern) return
  const made = pathsOf(scene.terrain)
  const all = new Path2D()
  all.rect(0, 0, scene.terrain.columns, scene.terrain.rows)
  for (const need of scene.needs) {
    const index = scene.terrain.levels.findIndex((level) => level >= need.dbm)
    const reached = made[index]
    if (!reached) continue
    context.save()
    context.setTransform(ratio, 0, 0, ratio, 0, 0)
    context.clip(outlinePath([need.outline], scene.view))
    onGrid(context, ratio, scene)
    const under = new Path2D(all)
    under.addPath(reached)
    context.clip(under, 'evenodd')
    context.setTransform(ratio, 0, 0, ratio, 0, 0)
    context.fillStyle = pattern
    context.fill(outlinePath([need.outline], scene.view))
    context.restore()
  }
}

function lines(context: CanvasRenderingContext2D, ratio: number, scene: Painting, inside: Path2D): void {
  context.save()
  context.setTransform(ratio, 0, 0, ratio, 0, 0)
  context.clip(inside)
  const scale = onGrid(context, ratio, scene)
  // The contours close along the grid's edge, where no line belongs.
  const inner = new Path2D()
  inner.rect(0.6, 0.6, scene.terrain.columns - 1.2, scene.terrain.rows - 1.2)
  context.clip(inner)
  pathsOf(scene.terrain).forEach((path, i) => {
    const main = scene.terrain.levels[i] === scene.mainNeed
    context.lineWidth = (main ? 1.8 : 0.8) / scale
    context.strokeStyle = scene.night
      ? `rgba(203,166,218,${main ? 0.95 : 0.45})`
      : `rgba(90,52,103,${main ? 0.95 : 0.4})`
    context.stroke(path)
  })
  context.restore()
}

function figures(context: CanvasRenderingContext2D, ratio: number, scene: Painting, inside: Path2D): void {
  context.font = "10.5px 'IBM Plex Mono', monospace"
  context.textAlign = 'center'
  context.textBaseline = 'middle'
  context.lineJoin = 'round'
  const cared = (x: number, y: number): boolean => context.isPointInPath(inside, x * ratio, y * ratio)
  for (const label of contourLabels(scene.terrain, scene.view, 110, scene.taken, cared)) {
    context.save()
    context.translate(label.x, label.y)
    context.rotate(label.angle)
    context.lineWidth = 3.5
    context.strokeStyle = scene.night ? 'rgba(21,28,33,0.85)' : 'rgba(246,243,234,0.85)'
    context.strokeText(figure(label.level), 0, 0)
    context.fillStyle = scene.night ? '#dcc3e6' : '#5a3467'
    context.fillText(figure(label.level), 0, 0)
    context.restore()
  }
}
