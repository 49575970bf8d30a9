/**
 * What tools do to a mesh on a trip, alone and in mixes, with the truth of every point, polygon and corner: each keeps
 * the number of what it came from, or -1 where it is new.
 */
import { EMPTY_MESH, faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'

type Vec = readonly [number, number, number]
interface TrackedPoint {
  at: Vec
  from: number
}
interface TrackedCorner {
  point: number
  uv: readonly [number, number] | null
  from: number
}
interface TrackedFace {
  corners: TrackedCorner[]
  material: number
  from: number
}
export interface Tracked {
  points: TrackedPoint[]
  faces: TrackedFace[]
}

export function track(mesh: Mesh): Tracked {
  const [set] = mesh.uvSets
  return {
    points: Array.from({ length: pointCountOf(mesh) }, (_point, from) => ({
      at: [mesh.points[3 * from]!, mesh.points[3 * from + 1]!, mesh.points[3 * from + 2]!],
      from,
    })),
    faces: Array.from({ length: faceCountOf(mesh) }, (_face, from) => ({
      material: mesh.faceMaterials?.[from] ?? -1,
      from,
      corners: Array.from(
        { length: mesh.faceOffsets[from + 1]! - mesh.faceOffsets[from]! },
        (_corner, step): TrackedCorner => {
          const corner = mesh.faceOffsets[from]! + step
          const uv = set ? set.indices[corner]! : -1
          return {
            point: mesh.faceVertices[corner]!,
            uv: uv < 0 ? null : [set!.values[2 * uv]!, set!.values[2 * uv + 1]!],
            from: corner,
          }
        },
      ),
    })),
  }
}

export function untrack({ points, faces }: Tracked, name: string): Mesh {
  const faceOffsets = new Uint32Array(faces.length + 1)
  faces.forEach((face, at) => (faceOffsets[at + 1] = faceOffsets[at]! + face.corners.length))
  const corners = faces.flatMap((face) => face.corners)
  const mapped = corners.some((corner) => corner.uv)
  const uvs = new Map<string, number>()
  const values: number[] = []
  const indices = corners.map(({ uv }) => {
    if (!uv) return -1
    const key = uv.join(' ')
    const known = uvs.get(key)
    if (known !== undefined) return known
    uvs.set(key, uvs.size)
    values.push(...uv)
    return uvs.size - 1
  })
  return {
    ...EMPTY_MESH,
    name,
    points: Float64Array.from(points.flatMap((point) => point.at)),
    faceOffsets,
    faceVertices: Uint32Array.from(corners, (corner) => corner.point),
    uvSets: mapped
      ? [{ name: 'uv', values: Float64Array.from(values), indices: Int32Array.from(indices), depths: null }]
      : [],
    faceMaterials: faces.some((face) => face.material >= 0)
      ? Int32Array.from(faces, (face) => face.material)
      : null,
  }
}

/** A change of a tracked mesh; `chance` gives numbers from 0 to 1. */
export type Fault = (mesh: Tracked, chance: () => number) => Tracked

const sizeOf = ({ points }: Tracked): number => {
  const ends = [0, 1, 2].map((axis) => points.map((point) => point.at[axis]!))
  return Math.hypot(
    ...ends.map(
      (values) => values.reduce((a, b) => Math.max(a, b)) - values.reduce((a, b) => Math.min(a, b)),
    ),
  )
}
const shuffled = (count: number, chance: () => number): number[] => {
  const order = Array.from({ length: count }, (_entry, at) => at)
  for (let at = count - 1; at > 0; at--) {
    const other = Math.floor(chance() * (at + 1))
    ;[order[at], order[other]] = [order[other]!, order[at]!]
  }
  return order
}
const shifted = (mesh: Tracked, by: (at: Vec, index: number) => Vec): Tracked => ({
  ...mesh,
  points: mesh.points.map((point, index) => ({ ...point, at: by(point.at, index) })),
})

/** A smooth field over all points, a hundredth of the part at most. */
const sculpted: Fault = (mesh, chance) => {
  const size = sizeOf(mesh)
  const waves = Array.from(
    { length: 3 },
    () => [chance() * 6, chance() * 6, chance() * 6, chance() * 6] as const,
  )
  return shifted(mesh, (at) => {
    const move = waves.map(
      ([a, b, c, d]) => 0.006 * size * Math.sin((a * at[0] + b * at[1] + c * at[2]) / size + d),
    )
    return [at[0] + move[0]!, at[1] + move[1]!, at[2] + move[2]!]
  })
}
/** One bump: most points stay to the last bit. */
const bumped: Fault = (mesh, chance) => {
  const size = sizeOf(mesh)
  const middle = mesh.points[Math.floor(chance() * mesh.points.length)]!.at
  return shifted(mesh, (at) => {
    const away = Math.hypot(at[0] - middle[0], at[1] - middle[1], at[2] - middle[2]) / (0.2 * size)
    return away < 1 ? [at[0], at[1] + 0.02 * size * (1 - away) ** 2, at[2]] : at
  })
}
/** Four digits after the point, of a part of the size ten. */
const rounded: Fault = (mesh) => {
  const unit = sizeOf(mesh) / 10
  const round = (value: number): number => Number((value / unit).toFixed(4)) * unit
  return shifted(mesh, (at) => [round(at[0]), round(at[1]), round(at[2])])
}
const renumbered: Fault = (mesh, chance) => {
  const order = shuffled(mesh.points.length, chance)
  const numberOf = new Map(order.map((old, at) => [old, at]))
  return {
    points: order.map((old) => mesh.points[old]!),
    faces: shuffled(mesh.faces.length, chance).map((old) => {
      const face = mesh.faces[old]!
      const turn = Math.floor(chance() * face.corners.length)
      return {
        ...face,
        corners: face.corners.map((_corner, step) => {
          const corner = face.corners[(step + turn) % face.corners.length]!
          return { ...corner, point: numberOf.get(corner.point)! }
        }),
      }
    }),
  }
}
/** Every larger polygon as a fan from any of its corners. */
const triangulated: Fault = (mesh, chance) => ({
  ...mesh,
  faces: mesh.faces.flatMap((face) => {
    const size = face.corners.length
    if (size < 4) return [face]
    const first = Math.floor(chance() * size)
    const at = (step: number) => face.corners[(first + step) % size]!
    return Array.from({ length: size - 2 }, (_piece, piece) => ({
      ...face,
      corners: [at(0), at(piece + 1), at(piece + 2)],
    }))
  }),
})
/** A polygon is gone; points that only it used go with it. */
const deleted: Fault = (mesh, chance) => {
  const gone = Math.floor(chance() * mesh.faces.length)
  const faces = mesh.faces.filter((_face, at) => at !== gone)
  const used = new Set(faces.flatMap((face) => face.corners.map((corner) => corner.point)))
  const numberOf = new Map<number, number>()
  const points = mesh.points.filter((_point, at) => {
    if (!used.has(at)) return false
    numberOf.set(at, numberOf.size)
    return true
  })
  return {
    points,
    faces: faces.map((face) => ({
      ...face,
      corners: face.corners.map((corner) => ({ ...corner, point: numberOf.get(corner.point)! })),
    })),
  }
}
/** A polygon is pulled out, with new ones all round it. */
const extruded: Fault = (mesh, chance) => {
  const at = Math.floor(chance() * mesh.faces.length)
  const face = mesh.faces[at]!
  const size = sizeOf(mesh)
  const points = [...mesh.points]
  const tops = face.corners.map((corner) => {
    const { at: place } = mesh.points[corner.point]!
    points.push({ at: [place[0], place[1] + 0.05 * size, place[2]], from: -1 })
    return points.length - 1
  })
  const sides = face.corners.map((corner, step): TrackedFace => {
    const next = (step + 1) % face.corners.length
    const corners = [corner.point, face.corners[next]!.point, tops[next]!, tops[step]!]
    return {
      material: face.material,
      from: -1,
      corners: corners.map((point) => ({ point, uv: corner.uv && [0.5, 0.5], from: -1 })),
    }
  })
  const top: TrackedFace = {
    ...face,
    from: -1,
    corners: face.corners.map((corner, step) => ({ ...corner, point: tops[step]!, from: -1 })),
  }
  return { points, faces: [...mesh.faces.filter((_face, index) => index !== at), top, ...sides] }
}
/** An edge loop is cut in across quads, from one to the next over opposite edges, to a border or back to its start. */
const looped: Fault = (mesh, chance) => {
  const key = (a: number, b: number): string => (a < b ? `${a} ${b}` : `${b} ${a}`)
  const facesOf = new Map<string, number[]>()
  mesh.faces.forEach((face, index) =>
    face.corners.forEach((corner, step) => {
      const edge = key(corner.point, face.corners[(step + 1) % face.corners.length]!.point)
      facesOf.set(edge, [...(facesOf.get(edge) ?? []), index])
    }),
  )
  const quads = mesh.faces.flatMap((face, index) => (face.corners.length === 4 ? [index] : []))
  if (quads.length === 0) return mesh
  const points = [...mesh.points]
  const middles = new Map<string, number>()
  const middleOf = (a: number, b: number): number => {
    const known = middles.get(key(a, b))
    if (known !== undefined) return known
    const [p, q] = [mesh.points[a]!.at, mesh.points[b]!.at]
    points.push({ at: [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2, (p[2] + q[2]) / 2], from: -1 })
    middles.set(key(a, b), points.length - 1)
    return points.length - 1
  }
  /** The first step of the pair of opposite edges that are cut, by face. */
  const cut = new Map<number, number>()
  const start = quads[Math.floor(chance() * quads.length)]!
  const side = chance() < 0.5 ? 0 : 1
  cut.set(start, side)
  for (const first of [side, side + 2]) {
    let face = start
    let step = first
    for (;;) {
      const { corners } = mesh.faces[face]!
      const [a, b] = [corners[step % 4]!.point, corners[(step + 1) % 4]!.point]
      const next = (facesOf.get(key(a, b)) ?? []).find((other) => other !== face)
      // what is no quad, or was crossed already, ends it
      if (next === undefined || cut.has(next) || mesh.faces[next]!.corners.length !== 4) break
      const at = mesh.faces[next]!.corners.findIndex(
        (corner, index) => key(corner.point, mesh.faces[next]!.corners[(index + 1) % 4]!.point) === key(a, b),
      )
      cut.set(next, at % 2)
      face = next
      step = (at + 2) % 4
    }
  }
  const between = (a: TrackedCorner, b: TrackedCorner): TrackedCorner => ({
    point: middleOf(a.point, b.point),
    uv: a.uv && b.uv ? [(a.uv[0] + b.uv[0]) / 2, (a.uv[1] + b.uv[1]) / 2] : null,
    from: -1,
  })
  const faces = mesh.faces.flatMap((face, index): TrackedFace[] => {
    const first = cut.get(index)
    if (first === undefined) return [face]
    const at = (step: number): TrackedCorner => face.corners[(first + step) % 4]!
    const [low, high] = [between(at(0), at(1)), between(at(2), at(3))]
    return [
      { ...face, from: -1, corners: [at(0), low, high, at(3)] },
      { ...face, from: -1, corners: [low, at(1), at(2), high] },
    ]
  })
  // a neighbour at the loop's end has the new point on its edge
  return {
    points,
    faces: faces.map((face) => {
      if (face.corners.some((corner) => corner.point >= mesh.points.length)) return face
      const corners = face.corners.flatMap((corner, step) => {
        const next = face.corners[(step + 1) % face.corners.length]!
        const middle = middles.get(key(corner.point, next.point))
        return middle === undefined ? [corner] : [corner, between(corner, next)]
      })
      return corners.length === face.corners.length ? face : { ...face, corners }
    }),
  }
}
/** Points have a copy for every UV that meets in them, as game engines write them. */
const unwelded: Fault = (mesh) => {
  const points: TrackedPoint[] = []
  const copies = new Map<string, number>()
  const faces = mesh.faces.map((face) => ({
    ...face,
    corners: face.corners.map((corner) => {
      const key = `${corner.point} ${corner.uv?.join(' ') ?? ''}`
      if (!copies.has(key)) {
        copies.set(key, points.length)
        points.push(mesh.points[corner.point]!)
      }
      return { ...corner, point: copies.get(key)! }
    }),
  }))
  return { points, faces }
}
const turnedOver: Fault = (mesh) => ({
  ...mesh,
  faces: mesh.faces.map((face) => ({ ...face, corners: [...face.corners].reverse() })),
})
const withoutUvs: Fault = (mesh) => ({
  ...mesh,
  faces: mesh.faces.map((face) => ({
    ...face,
    corners: face.corners.map((corner) => ({ ...corner, uv: null })),
  })),
})

export const FAULTS = {
  sculpted,
  bumped,
  rounded,
  renumbered,
  triangulated,
  deleted,
  extruded,
  looped,
  unwelded,
  turnedOver,
  withoutUvs,
} as const satisfies Readonly<Record<string, Fault>>
export type FaultName = keyof typeof FAULTS

/** Faults in the order in which tools do them: edits of polygons before what writing does. */
const ORDER: readonly FaultName[] = [
  'looped',
  'extruded',
  'deleted',
  'sculpted',
  'bumped',
  'turnedOver',
  'triangulated',
  'unwelded',
  'renumbered',
  'rounded',
  'withoutUvs',
]

export function damage(
  mesh: Mesh,
  names: readonly FaultName[],
  chance: () => number,
): { mesh: Mesh; truth: Tracked } {
  const truth = ORDER.filter((name) => names.includes(name)).reduce(
    // where the only polygon was taken out nothing is left to be done to
    (tracked, name) => (tracked.faces.length === 0 ? tracked : FAULTS[name](tracked, chance)),
    track(mesh),
  )
  return { mesh: untrack(truth, mesh.name), truth }
}
