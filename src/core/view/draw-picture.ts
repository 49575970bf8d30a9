/** A small picture of a scene, drawn without a graphics card: for lists, where nobody waits for a view. */
import { isIdentity, transformNormals, transformPoints } from '../base/math/matrix.ts'
import { writePng } from '../image/codecs/write-png.ts'
import { computeNormals } from '../mesh/normals/compute-normals.ts'
import { computeFaceNormals } from '../mesh/relations/face-normals.ts'
import { triangulateFace } from '../mesh/triangles/triangulate-face.ts'
import { visibleNodes } from '../formats/arrange/arrange-scene.ts'
import { faceCountOf, type Mesh } from '../scene/mesh.ts'
import type { Canvas } from './canvas.ts'
import { drawLines, drawPoints } from './draw-thin.ts'
import { isBare } from './is-bare.ts'
import type { Scene } from '../scene/scene.ts'
import { axisVector } from '../scene/space.ts'
import { worldMatrices } from '../scene/world.ts'

/** Samples a pixel has each way. */
const SAMPLES = 2
/** Share of the picture that the model leaves free on each side. */
const MARGIN = 0.06
/** Radians; edges that bend more look hard where a mesh says nothing of its shading. */
const PLAIN_BEND = Math.PI / 4
/**
 * Faces that are shaded smoothly, those of the coarsest meshes first. Where there are more than the picture has samples
 * the finest ones take their shading from the faces alone: at that size nobody sees the difference.
 */
const SMOOTH_FACES = 60_000
/** Samples looked at for one picture; what is stacked higher over itself than that is not drawn to its end. */
const MOST_SAMPLES = 60_000_000
/** Clay, sRGB. */
const CLAY = [206, 198, 186] as const

type Vector = readonly [number, number, number]
const cross = (a: Vector, b: Vector): Vector => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
]
const unit = (v: Vector): Vector => {
  const length = Math.hypot(...v) || 1
  return [v[0] / length, v[1] / length, v[2] / length]
}
const mix = (...terms: readonly (readonly [number, Vector])[]): Vector =>
  [0, 1, 2].map((axis) => terms.reduce((sum, [by, v]) => sum + by * v[axis]!, 0)) as unknown as Vector

/** Where one looks from, as three axes of the picture: right, up, towards the eye. */
function viewOf({ space }: Scene): readonly [Vector, Vector, Vector] {
  const up = axisVector(space.upAxis)
  const front = axisVector(space.frontAxis)
  const side = cross(up, front)
  const right: Vector = space.handedness === 'left' ? mix([-1, side]) : side
  const eye = unit(mix([0.84, front], [0.46, right], [0.36, up]))
  const across = unit(mix([1, right], [-(eye[0] * right[0] + eye[1] * right[1] + eye[2] * right[2]), eye]))
  const upright = unit(
    mix(
      [1, up],
      [-(eye[0] * up[0] + eye[1] * up[1] + eye[2] * up[2]), eye],
      [-(across[0] * up[0] + across[1] * up[1] + across[2] * up[2]), across],
    ),
  )
  return [across, upright, eye]
}

interface Placed {
  /** 3 x pointCount: right, up and depth. */
  readonly seen: Float64Array
  readonly mesh: Mesh
}

/**
 * @param width in pixels, as is `height`.
 * @returns a PNG with a clear ground; null where there is nothing to be seen.
 */
export function drawPicture(scene: Scene, width = 168, height = 126): Uint8Array | null {
  const axes = viewOf(scene)
  const worlds = worldMatrices(scene)
  const visible = visibleNodes(scene)
  const placed: Placed[] = []
  const low = [Infinity, Infinity]
  const high = [-Infinity, -Infinity]
  scene.nodes.forEach((node, index) => {
    if (node.mesh < 0 || !visible[index]) return
    const own = scene.meshes[node.mesh]!
    if (own.points.length === 0) return
    const world = worlds[index]!
    const mesh: Mesh = isIdentity(world)
      ? own
      : {
          ...own,
          points: transformPoints(own.points, world),
          normals: own.normals && {
            ...own.normals,
            values: transformNormals(own.normals.values, world),
          },
        }
    const seen = seenFrom(axes, mesh.points)
    const box = boxOfShown(mesh, seen)
    for (const axis of [0, 1] as const) {
      low[axis] = Math.min(low[axis]!, box[axis])
      high[axis] = Math.max(high[axis]!, box[axis + 2]!)
    }
    placed.push({ seen, mesh })
  })
  const spread = [high[0]! - low[0]!, high[1]! - low[1]!]
  if (placed.length === 0 || !spread.every(Number.isFinite)) return null
  const columns = width * SAMPLES
  const rows = height * SAMPLES
  const scale = (1 - 2 * MARGIN) * Math.min(columns / (spread[0]! || 1e-300), rows / (spread[1]! || 1e-300))
  if (!Number.isFinite(scale)) return null
  const depths = new Float64Array(columns * rows).fill(-Infinity)
  const light = new Float32Array(columns * rows).fill(-1)
  const canvas: Canvas = { depths, light, columns, rows, samplesLeft: MOST_SAMPLES }
  const middle = [(low[0]! + high[0]!) / 2, (low[1]! + high[1]!) / 2] as const
  const smooth = shadedSmoothly(placed.map(({ mesh }) => mesh))
  for (const { seen, mesh } of placed) {
    for (let at = 0; at < seen.length; at += 3) {
      seen[at] = columns / 2 + (seen[at]! - middle[0]) * scale
      seen[at + 1] = rows / 2 - (seen[at + 1]! - middle[1]) * scale
    }
    drawMesh(mesh, seen, axes, canvas, smooth.has(mesh))
    drawLines(mesh, seen, canvas)
    if (isBare(mesh)) drawPoints(seen, canvas)
  }
  return writePng({ width, height, channels: 4, pixels: blend(light, width, height), colorSpace: 'sRGB' })
}

/** Points along the axes of the picture. */
function seenFrom(
  [across, upright, eye]: readonly [Vector, Vector, Vector],
  points: Float64Array,
): Float64Array {
  const seen = new Float64Array(points.length)
  for (let at = 0; at < points.length; at += 3) {
    const x = points[at]!
    const y = points[at + 1]!
    const z = points[at + 2]!
    seen[at] = across[0] * x + across[1] * y + across[2] * z
    seen[at + 1] = upright[0] * x + upright[1] * y + upright[2] * z
    seen[at + 2] = eye[0] * x + eye[1] * y + eye[2] * z
  }
  return seen
}

/** Least and greatest place across and upright of what is drawn: what faces and lines use, or points alone. */
function boxOfShown(mesh: Mesh, seen: Float64Array): [number, number, number, number] {
  let x0 = Infinity
  let y0 = Infinity
  let x1 = -Infinity
  let y1 = -Infinity
  const hold = (point: number): void => {
    const x = seen[3 * point]!
    const y = seen[3 * point + 1]!
    if (x < x0) x0 = x
    if (x > x1) x1 = x
    if (y < y0) y0 = y
    if (y > y1) y1 = y
  }
  mesh.faceVertices.forEach(hold)
  mesh.lines?.points.forEach(hold)
  if (isBare(mesh)) for (let point = 0; 3 * point < seen.length; point++) hold(point)
  return [x0, y0, x1, y1]
}

/** The coarsest meshes, as many as have SMOOTH_FACES together. */
function shadedSmoothly(meshes: readonly Mesh[]): ReadonlySet<Mesh> {
  const smooth = new Set<Mesh>()
  let facesLeft = SMOOTH_FACES
  for (const mesh of [...meshes].sort((a, b) => faceCountOf(a) - faceCountOf(b))) {
    facesLeft -= faceCountOf(mesh)
    if (facesLeft < 0) break
    smooth.add(mesh)
  }
  return smooth
}

function drawMesh(
  mesh: Mesh,
  seen: Float64Array,
  axes: readonly Vector[],
  canvas: Canvas,
  isSmooth: boolean,
): void {
  const faceNormals = computeFaceNormals(mesh)
  const faceCount = faceCountOf(mesh)
  const smooth = isSmooth ? (mesh.normals ?? computeNormals(mesh, mesh.smoothing ? null : PLAIN_BEND)) : null
  const toLight = unit(mix([0.45, axes[0]!], [0.7, axes[1]!], [0.75, axes[2]!]))
  const brightness = (values: ArrayLike<number>, at: number): number => {
    const length = Math.hypot(values[at]!, values[at + 1]!, values[at + 2]!)
    if (!(length > 0)) return 0.6
    const dot =
      (values[at]! * toLight[0] + values[at + 1]! * toLight[1] + values[at + 2]! * toLight[2]) / length
    return 0.42 + 0.58 * Math.max(0, 0.15 + 0.85 * dot)
  }
  const cut: number[] = []
  const shades = [0, 0, 0]
  const corners = [0, 0, 0]
  for (let face = 0; face < faceCount && canvas.samplesLeft > 0; face++) {
    // of a fine mesh most faces lie between the samples
    if (!holdsSample(mesh, face, seen)) continue
    cut.length = 0
    triangulateFace(mesh, face, faceNormals, cut)
    const start = mesh.faceOffsets[face]!
    for (let at = 0; at < cut.length && canvas.samplesLeft > 0; at += 3) {
      for (let k = 0; k < 3; k++) {
        const corner = start + cut[at + k]!
        corners[k] = 3 * mesh.faceVertices[corner]!
        const normal = smooth?.indices[corner] ?? -1
        shades[k] = normal >= 0 ? brightness(smooth!.values, 3 * normal) : brightness(faceNormals, 3 * face)
      }
      drawTriangle(seen, corners, shades, canvas)
    }
  }
}

/** Whether the middle of some sample lies within the box round a face. */
function holdsSample(mesh: Mesh, face: number, seen: Float64Array): boolean {
  let x0 = Infinity
  let x1 = -Infinity
  let y0 = Infinity
  let y1 = -Infinity
  for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
    const point = 3 * mesh.faceVertices[corner]!
    const x = seen[point]!
    const y = seen[point + 1]!
    if (x < x0) x0 = x
    if (x > x1) x1 = x
    if (y < y0) y0 = y
    if (y > y1) y1 = y
  }
  return Math.ceil(x0 - 0.5) <= Math.floor(x1 - 0.5) && Math.ceil(y0 - 0.5) <= Math.floor(y1 - 0.5)
}

/** Fills what is nearer to the eye than what is there. */
function drawTriangle(
  seen: Float64Array,
  [a, b, c]: readonly number[],
  shades: readonly number[],
  canvas: Canvas,
): void {
  const { depths, light, columns, rows } = canvas
  const [ax, ay] = [seen[a!]!, seen[a! + 1]!]
  const [bx, by] = [seen[b!]!, seen[b! + 1]!]
  const [cx, cy] = [seen[c!]!, seen[c! + 1]!]
  const area = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay)
  if (area === 0 || !Number.isFinite(area)) return
  const x0 = Math.max(0, Math.ceil(Math.min(ax, bx, cx) - 0.5))
  const x1 = Math.min(columns - 1, Math.floor(Math.max(ax, bx, cx) - 0.5))
  const y0 = Math.max(0, Math.ceil(Math.min(ay, by, cy) - 0.5))
  const y1 = Math.min(rows - 1, Math.floor(Math.max(ay, by, cy) - 0.5))
  if (x1 < x0 || y1 < y0) return
  canvas.samplesLeft -= (x1 - x0 + 1) * (y1 - y0 + 1)
  for (let row = y0; row <= y1; row++)
    for (let column = x0; column <= x1; column++) {
      const x = column + 0.5
      const y = row + 0.5
      const wb = ((x - ax) * (cy - ay) - (cx - ax) * (y - ay)) / area
      const wc = ((bx - ax) * (y - ay) - (x - ax) * (by - ay)) / area
      const wa = 1 - wb - wc
      if (wa < 0 || wb < 0 || wc < 0) continue
      const depth = wa * seen[a! + 2]! + wb * seen[b! + 2]! + wc * seen[c! + 2]!
      const place = row * columns + column
      if (depth <= depths[place]!) continue
      depths[place] = depth
      light[place] = wa * shades[0]! + wb * shades[1]! + wc * shades[2]!
    }
}

/** Samples to pixels with opacity. */
function blend(light: Float32Array, width: number, height: number): Uint8Array {
  const pixels = new Uint8Array(4 * width * height)
  const columns = width * SAMPLES
  for (let row = 0; row < height; row++)
    for (let column = 0; column < width; column++) {
      let sum = 0
      let covered = 0
      for (let sample = 0; sample < SAMPLES * SAMPLES; sample++) {
        const value =
          light[
            (row * SAMPLES + Math.floor(sample / SAMPLES)) * columns + column * SAMPLES + (sample % SAMPLES)
          ]!
        if (value < 0) continue
        sum += value
        covered++
      }
      if (covered === 0) continue
      const at = 4 * (row * width + column)
      CLAY.forEach((value, channel) => (pixels[at + channel] = Math.min(255, (value * sum) / covered)))
      pixels[at + 3] = (255 * covered) / (SAMPLES * SAMPLES)
    }
  return pixels
}
