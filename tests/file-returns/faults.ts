/** What one tool or another does to the parts of a file. */
import {
  shuffled,
  upTo,
  type Chance,
  type Corner,
  type FilePart,
  type Place,
  type Polygon,
} from './file-part.ts'

const lengthOf = (a: readonly number[]): number => Math.hypot(...a)
const less = (a: Place, b: Place): Place => [a[0] - b[0], a[1] - b[1], a[2] - b[2]]

function sizeOf({ places }: FilePart): number {
  const extent = [0, 1, 2].map((axis) => {
    const all = places.map((place) => place[axis]!)
    return Math.max(...all) - Math.min(...all)
  })
  return lengthOf(extent)
}

export const placed = (part: FilePart, move: (place: Place, at: number) => Place): FilePart => ({
  ...part,
  places: part.places.map(move),
})
const withCorners = (polygon: Polygon, corners: readonly Corner[]): Polygon => ({ ...polygon, corners })

/** Only the points that polygons still stand on, in the order in which these name them; apart where `keyOf` says so. */
function overUsed(
  part: FilePart,
  keyOf = (corner: Corner, _polygon: Polygon): string => String(corner.point),
): FilePart {
  const known = new Map<string, number>()
  const [places, ids]: [Place[], string[]] = [[], []]
  const polygons = part.polygons.map((polygon) =>
    withCorners(
      polygon,
      polygon.corners.map((corner) => {
        const key = keyOf(corner, polygon)
        let point = known.get(key)
        if (point === undefined) {
          known.set(key, (point = places.length))
          places.push(part.places[corner.point]!)
          ids.push(part.ids[corner.point]!)
        }
        return { ...corner, point }
      }),
    ),
  )
  return { ...part, places, ids, polygons }
}

function renumbered(part: FilePart, chance: Chance): FilePart {
  const order = shuffled(part.places.map((_, at) => at), chance) // prettier-ignore
  const to = new Map(order.map((old, now) => [old, now]))
  return {
    ...part,
    places: order.map((at) => part.places[at]!),
    ids: order.map((at) => part.ids[at]!),
    polygons: shuffled(
      part.polygons.map((polygon) => {
        const first = Math.floor(polygon.corners.length * chance())
        const turned = [...polygon.corners.slice(first), ...polygon.corners.slice(0, first)]
        return withCorners(polygon, turned.map(({ point, uv }) => ({ point: to.get(point)!, uv }))) // prettier-ignore
      }),
      chance,
    ),
  }
}

function extruded(part: FilePart, chance: Chance): FilePart {
  const chosen = part.polygons[Math.floor(part.polygons.length * chance())]!
  const [a, b, c] = chosen.corners.map(({ point }) => part.places[point]!) as [Place, Place, Place]
  const [p, q] = [less(b, a), less(c, a)]
  const normal = [p[1] * q[2] - p[2] * q[1], p[2] * q[0] - p[0] * q[2], p[0] * q[1] - p[1] * q[0]]
  const out = (sizeOf(part) * 0.1) / (lengthOf(normal) || 1)
  const first = part.places.length
  const top = chosen.corners.map(({ uv }, at): Corner => ({ point: first + at, uv }))
  const raised = chosen.corners.map(({ point }): Place => {
    const [x, y, z] = part.places[point]!
    return [x + out * normal[0]!, y + out * normal[1]!, z + out * normal[2]!]
  })
  const walls = chosen.corners.map((corner, at) => {
    const next = (at + 1) % top.length
    return { ...chosen, of: '', corners: [corner, chosen.corners[next]!, top[next]!, top[at]!] }
  })
  return {
    ...part,
    places: [...part.places, ...raised],
    ids: [...part.ids, ...raised.map(() => '')],
    polygons: [
      ...part.polygons.filter((one) => one !== chosen),
      { ...chosen, of: '', corners: top },
      ...walls,
    ],
  }
}

export const FAULTS = {
  renumbered: (parts: readonly FilePart[], chance: Chance) => parts.map((part) => renumbered(part, chance)),
  triangulated: (parts: readonly FilePart[], chance: Chance) =>
    parts.map((part) => ({
      ...part,
      polygons: part.polygons.flatMap((polygon) => {
        const first = Math.floor(polygon.corners.length * chance())
        const turned = [...polygon.corners.slice(first), ...polygon.corners.slice(0, first)]
        return turned
          .slice(2)
          .map((corner, at) => withCorners(polygon, [turned[0]!, turned[at + 1]!, corner]))
      }),
    })),
  sculpted: (parts: readonly FilePart[], chance: Chance) =>
    parts.map((part) => {
      if (chance() < 0.3) return part
      const size = sizeOf(part)
      const far = size * (0.04 + 0.2 * chance())
      const middle = part.places[Math.floor(part.places.length * chance())]!
      const reach = size * (0.2 + 0.5 * chance())
      const way = [chance() - 0.5, chance() - 0.5, chance() - 0.5]
      return placed(part, (place) => {
        const off = lengthOf(less(place, middle)) / reach
        const by = off > 1 ? 0 : far * (1 - off * off) ** 2
        return [place[0] + way[0]! * by, place[1] + way[1]! * by, place[2] + way[2]! * by]
      })
    }),
  roughened: (parts: readonly FilePart[], chance: Chance) =>
    parts.map((part) => {
      const far = sizeOf(part) * 0.004
      return placed(part, ([x, y, z]) => [
        x + (chance() - 0.5) * far,
        y + (chance() - 0.5) * far,
        z + (chance() - 0.5) * far,
      ])
    }),
  rounded: (parts: readonly FilePart[]) => parts,
  deleted: (parts: readonly FilePart[], chance: Chance) =>
    parts.map((part) => {
      if (chance() < 0.4 || part.polygons.length < 6) return part
      let left = part.polygons
      for (let count = upTo(chance, 1, 4); count > 0 && left.length > 4; count--) {
        const { of } = left[Math.floor(left.length * chance())]!
        left = left.filter((polygon) => polygon.of !== of)
      }
      return overUsed({ ...part, polygons: left })
    }),
  extruded: (parts: readonly FilePart[], chance: Chance) => parts.map((part) => extruded(part, chance)),
  unwelded: (parts: readonly FilePart[], chance: Chance) =>
    parts.map((part) => {
      const by = chance()
      return overUsed(part, ({ point, uv }, { material, group, of }) =>
        by < 0.2 ? `${point} ${of}` : `${point} ${by < 0.6 ? material : (uv?.join(' ') ?? group)}`,
      )
    }),
  turnedOver: (parts: readonly FilePart[]) =>
    parts.map((part) => ({
      ...part,
      polygons: part.polygons.map((polygon) => withCorners(polygon, [...polygon.corners].reverse())),
    })),
  sized: (parts: readonly FilePart[], chance: Chance) => {
    const by = [100, 2.54, 39.37][Math.floor(3 * chance())]!
    return parts.map((part) => placed(part, ([x, y, z]) => [by * x, by * y, by * z]))
  },
  turned: (parts: readonly FilePart[], chance: Chance) => {
    const way = Math.floor(3 * chance())
    return parts.map((part) =>
      placed(part, ([x, y, z]) => (way === 0 ? [x, -z, y] : way === 1 ? [-x, y, -z] : [z, y, -x])),
    )
  },
  mirrored: (parts: readonly FilePart[]) => parts.map((part) => placed(part, ([x, y, z]) => [-x, y, z])),
  laidAnew: (parts: readonly FilePart[]) =>
    parts.map((part) => ({
      ...part,
      polygons: part.polygons.map((polygon, at) =>
        withCorners(
          polygon,
          polygon.corners.map(({ point }, corner) => ({
            point,
            uv: [part.places[point]![0] * 0.37 + at * 0.01, part.places[point]![2] * 0.41 + corner * 0.001] as const, // prettier-ignore
          })),
        ),
      ),
    })),
  painted: (parts: readonly FilePart[], chance: Chance) =>
    parts.map((part) => {
      const chosen = Math.floor(part.polygons.length * chance())
      return { ...part, polygons: part.polygons.map((polygon, at) => (at === chosen ? { ...polygon, material: 'paint' } : polygon)) } // prettier-ignore
    }),
  renamed: (parts: readonly FilePart[], chance: Chance) =>
    parts.map((part, at) => ({ ...part, name: chance() < 0.5 ? `object_${at}_${upTo(chance, 0, 1e6)}` : `${part.name}_1` })), // prettier-ignore
  swapped: (parts: readonly FilePart[]) =>
    parts.map((part, at) => ({ ...part, name: parts[(at + 1) % parts.length]!.name })),
  reordered: (parts: readonly FilePart[], chance: Chance) => shuffled(parts, chance),
  merged: (parts: readonly FilePart[]): FilePart[] => {
    let from = 0
    const polygons = parts.flatMap((part) => {
      const own = part.polygons.map((polygon) => withCorners(polygon, polygon.corners.map(({ point, uv }) => ({ point: point + from, uv })))) // prettier-ignore
      from += part.places.length
      return own
    })
    return [
      {
        name: 'merged',
        places: parts.flatMap(({ places }) => places),
        ids: parts.flatMap(({ ids }) => ids),
        polygons,
      },
    ]
  },
  cutUp: (parts: readonly FilePart[]) =>
    parts.flatMap((part) => {
      const materials = [...new Set(part.polygons.map(({ material }) => material))]
      return materials.length < 2
        ? [part]
        : materials.map((material) =>
            overUsed({
              ...part,
              name: `${part.name}_${material.replace(' ', '_')}`,
              polygons: part.polygons.filter((polygon) => polygon.material === material),
            }),
          )
    }),
} satisfies Record<string, (parts: readonly FilePart[], chance: Chance) => readonly FilePart[]>
export const FAULT_NAMES = Object.keys(FAULTS) as FaultName[]

export type FaultName = keyof typeof FAULTS
