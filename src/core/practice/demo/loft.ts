/** Lofts: rings of quads along a path, closed at the ends with grids of quads instead of fans. */
import type { GridOptions, PartBuilder, UvRect, Vec } from './part-builder.ts'

export interface Ring {
  readonly center: Vec
  /** Direction of the path; the ring lies across it. */
  readonly along: Vec
  /** Half widths to the side and upward. */
  readonly side: number
  readonly up: number
  /** Direction to the side; without it, level. Given along a path, so that rings don't twist against each other. */
  readonly right?: Vec
  /** 2: an ellipse; more: a rounded box; 1: a diamond. */
  readonly power?: number
}

export const add = (a: Vec, b: Vec): Vec => [a[0] + b[0], a[1] + b[1], a[2] + b[2]]
export const scaled = (a: Vec, factor: number): Vec => [a[0] * factor, a[1] * factor, a[2] * factor]
export const mix = (a: Vec, b: Vec, share: number): Vec => add(scaled(a, 1 - share), scaled(b, share))
export const cross = (a: Vec, b: Vec): Vec => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
]
export const unit = (a: Vec): Vec => scaled(a, 1 / (Math.hypot(...a) || 1))

/** A point through which a smooth curve of given points runs (Catmull & Rom 1974, uniform). */
export function curvePoint<T extends readonly number[]>(points: readonly T[], share: number): number[] {
  const last = points.length - 1
  const place = Math.min(Math.max(share, 0), 1) * last
  const index = Math.min(Math.floor(place), last - 1)
  const t = place - index
  const p0 = points[Math.max(index - 1, 0)]!
  const p1 = points[index]!
  const p2 = points[index + 1]!
  const p3 = points[Math.min(index + 2, last)]!
  return p1.map((_value, axis) => {
    const a = p0[axis]!
    const b = p1[axis]!
    const c = p2[axis]!
    const d = p3[axis]!
    return (
      0.5 * (2 * b + (c - a) * t + (2 * a - 5 * b + 4 * c - d) * t * t + (3 * b - a - 3 * c + d) * t * t * t)
    )
  })
}

const dot = (a: Vec, b: Vec): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2]

/** Across a ring: to the side, and upward. */
function frameOf(ring: Ring): { right: Vec; upward: Vec } {
  const along = unit(ring.along)
  const reference: Vec = Math.abs(along[1]) > 0.97 ? [0, 0, -Math.sign(along[1])] : [0, 1, 0]
  const right = ring.right ?? unit(cross(reference, along))
  return { right, upward: cross(along, right) }
}

/** Point `step` of `steps` round a ring. */
export function ringPoint(ring: Ring, step: number, steps: number): Vec {
  const angle = (2 * Math.PI * step) / steps - Math.PI / 4
  const { right, upward } = frameOf(ring)
  const power = 2 / (ring.power ?? 2)
  const bend = (value: number): number => Math.sign(value) * Math.abs(value) ** power
  return add(
    ring.center,
    add(scaled(right, ring.side * bend(Math.cos(angle))), scaled(upward, ring.up * bend(Math.sin(angle)))),
  )
}

export interface LoftOptions {
  readonly rings: readonly Ring[]
  /** Quads round; a multiple of 4. */
  readonly around: number
  readonly uv?: UvRect
  readonly material: number
  readonly groups: (row: number) => readonly string[]
  /** How far the end caps bulge, as a share of the ring's size; null leaves the end open. */
  readonly startCap?: number | null
  readonly endCap?: number | null
  readonly smoothing?: number
  readonly capSmoothing?: number
  readonly capMaterial?: number
  readonly rowCrease?: (row: number) => number
  readonly columnCrease?: (column: number) => number
}

const NO_RECTANGLES = { side: undefined, start: undefined, end: undefined }

/** One rectangle among the side and both caps. */
function shared([u0, v0, u1, v1]: UvRect): Record<'side' | 'start' | 'end', UvRect> {
  const capStart = u0 + (u1 - u0) * 0.81
  const size = Math.min(u1 - capStart, (v1 - v0) * 0.45)
  return {
    side: [u0, v0, u0 + (u1 - u0) * 0.78, v1],
    start: [capStart, v0, capStart + size, v0 + size],
    end: [capStart, v1 - size, capStart + size, v1],
  }
}

/** Adds a loft: its side is one island, each cap another. */
export function addLoft(builder: PartBuilder, options: LoftOptions): void {
  const { rings, around, startCap = 0.35, endCap = 0.35, smoothing = 1 } = options
  const { side, start, end } = options.uv ? shared(options.uv) : NO_RECTANGLES
  const numbers = builder.grid({
    columns: around,
    rows: rings.length - 1,
    closed: true,
    point: (column, row) => ringPoint(rings[row]!, column, around),
    uv: side,
    material: options.material,
    smoothing,
    groups: (_column, row) => options.groups(row),
    rowCrease: options.rowCrease,
    columnCrease: options.columnCrease,
  })
  const caps: [number, number | null, UvRect | undefined][] = [
    [0, startCap, start],
    [rings.length - 1, endCap, end],
  ]
  for (const [row, bulge, uv] of caps) {
    if (bulge === null) continue
    addCap(builder, numbers[row]!, {
      ring: rings[row]!,
      bulge: row === 0 ? -bulge : bulge,
      outward: row !== 0,
      uv,
      material: options.capMaterial ?? options.material,
      smoothing: options.capSmoothing ?? smoothing,
      groups: () => options.groups(Math.min(row, rings.length - 2)),
    })
  }
}

interface CapOptions extends Pick<GridOptions, 'uv' | 'material' | 'smoothing' | 'groups'> {
  readonly ring: Ring
  readonly bulge: number
  readonly outward: boolean
}

/** Closes a ring of 4k points with a k by k grid of quads, bulged like a cushion. */
function addCap(builder: PartBuilder, border: readonly number[], options: CapOptions): void {
  const around = border.length
  const cells = around / 4
  const { ring } = options
  const along = unit(ring.along)
  const reach = Math.min(ring.side, ring.up)
  // the grid's border runs round the ring; seen from behind it has to run the other way
  const borderStep = (column: number, row: number): number | null => {
    const i = options.outward ? column : row
    const j = options.outward ? row : column
    if (j === 0) return i
    if (i === cells) return cells + j
    if (j === cells) return 2 * cells + (cells - i)
    if (i === 0) return (3 * cells + (cells - j)) % around
    return null
  }
  const pointAt = (column: number, row: number): Vec => {
    const step = borderStep(column, row)
    if (step !== null) return ringPoint(ring, step, around)
    // between the four sides, as a Coons patch (Coons 1967)
    const i = options.outward ? column : row
    const j = options.outward ? row : column
    const s = i / cells
    const t = j / cells
    const edge = (at: number): Vec => ringPoint(ring, at % around, around)
    const acrossT = mix(edge(i), edge(3 * cells - i), t)
    const acrossS = mix(edge(4 * cells - j), edge(cells + j), s)
    const corners = mix(mix(edge(0), edge(cells), s), mix(edge(3 * cells), edge(2 * cells), s), t)
    const flat = add(add(acrossT, acrossS), scaled(corners, -1))
    const dome = 16 * s * (1 - s) * t * (1 - t)
    return add(flat, scaled(along, options.bulge * reach * Math.sqrt(dome)))
  }
  const numbers = builder.grid({
    columns: cells,
    rows: cells,
    point: pointAt,
    uv: options.uv,
    // seen along the path: a cushion is nearly flat
    place: (column, row) => {
      const away = add(pointAt(column, row), scaled(ring.center, -1))
      const { right, upward } = frameOf(ring)
      return [(options.outward ? 1 : -1) * dot(away, right), dot(away, upward)]
    },
    material: options.material,
    smoothing: options.smoothing,
    groups: options.groups,
  })
  for (let row = 0; row <= cells; row++)
    for (let column = 0; column <= cells; column++) {
      const step = borderStep(column, row)
      if (step !== null) builder.join(border[step]!, numbers[row]![column]!)
    }
}

/** Rings along a smooth path: centres with half widths, evenly parted. */
export function pathRings(
  path: readonly (readonly [number, number, number, number, number])[],
  rows: number,
  power = 2,
): Ring[] {
  const at = (share: number): number[] => curvePoint(path, share)
  const rings: Ring[] = []
  let right: Vec | null = null
  for (let row = 0; row <= rows; row++) {
    const share = row / rows
    const [x, y, z, side, up] = at(share) as [number, number, number, number, number]
    const before = at(share - 0.01)
    const after = at(share + 0.01)
    const along: Vec = [after[0]! - before[0]!, after[1]! - before[1]!, after[2]! - before[2]!]
    const ahead = unit(along)
    // the frame is carried along the path without turning about it
    const level: Vec = Math.abs(ahead[1]) > 0.97 ? [0, 0, -Math.sign(ahead[1])] : [0, 1, 0]
    const carried: Vec = right ?? cross(level, ahead)
    const slip = carried[0] * ahead[0] + carried[1] * ahead[1] + carried[2] * ahead[2]
    right = unit(add(carried, scaled(ahead, -slip)))
    rings.push({ center: [x, y, z], along: ahead, right, side, up, power })
  }
  return rings
}

/** A band or rope with a given cross-section swept round a closed path. */
export function addBand(
  builder: PartBuilder,
  options: {
    readonly path: (share: number) => Vec
    /** Outward direction of the band at a share of the path. */
    readonly outward: (share: number) => Vec
    readonly width: number
    readonly thickness: number
    readonly steps: number
    readonly uv?: UvRect
    readonly material: number
    readonly smoothing: number
    readonly group: string
    readonly crease?: number
  },
): void {
  // eight points round: corners doubled by their middles, so that edges can be creased and stay quads
  const outline: readonly [number, number][] = [
    [-1, -1],
    [-1, 0],
    [-1, 1],
    [0, 1],
    [1, 1],
    [1, 0],
    [1, -1],
    [0, -1],
  ]
  const corner = new Set([0, 2, 4, 6])
  builder.grid({
    columns: outline.length,
    rows: options.steps,
    closed: true,
    closedRows: true,
    point: (column, row) => {
      const share = row / options.steps
      const center = options.path(share)
      const ahead = options.path((share + 0.5 / options.steps) % 1)
      const behind = options.path((share - 0.5 / options.steps + 1) % 1)
      const along = unit([ahead[0] - behind[0], ahead[1] - behind[1], ahead[2] - behind[2]])
      const outward = unit(options.outward(share))
      const across = unit(cross(along, outward))
      const [a, b] = outline[column]!
      return add(
        center,
        add(
          scaled(across, (a * options.width) / 2),
          scaled(cross(across, along), (b * options.thickness) / 2),
        ),
      )
    },
    uv: options.uv,
    material: options.material,
    smoothing: options.smoothing,
    groups: () => [options.group],
    columnCrease: (column) => (corner.has(column) ? (options.crease ?? 0) : 0),
  })
}

/** The mesh mirrored at x = 0, wound so that its front stays outside. */
export const mirrored = (point: Vec): Vec => [-point[0], point[1], point[2]]
