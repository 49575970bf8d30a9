/** What artists do to the parts of a file with tools: loops cut in, edges dissolved or collapsed, refined, moved one by one. */
import { placed } from './faults.ts'
import { type Chance, type Corner, type FilePart, type Place, type Polygon } from './file-part.ts'

const edgeKey = (a: number, b: number): string => (a < b ? `${a} ${b}` : `${b} ${a}`)
const meanOf = (places: readonly Place[]): Place =>
  [0, 1, 2].map((axis) => places.reduce((sum, place) => sum + place[axis]!, 0) / places.length) as unknown as Place // prettier-ignore
const next = (polygon: Polygon, at: number): Corner => polygon.corners[(at + 1) % polygon.corners.length]!

/** Only the points that polygons still stand on. */
function overUsed(part: FilePart): FilePart {
  const used = [...new Set(part.polygons.flatMap(({ corners }) => corners.map(({ point }) => point)))]
  const numbers = new Map(used.map((old, now) => [old, now]))
  return {
    ...part,
    places: used.map((at) => part.places[at]!),
    ids: used.map((at) => part.ids[at]!),
    polygons: part.polygons.map((polygon) => ({
      ...polygon,
      corners: polygon.corners.map((corner) => ({ ...corner, point: numbers.get(corner.point)! })),
    })),
  }
}

/** A ring of quads cut along its middle; polygons with more corners at its ends take the new points in. */
function loopCut(part: FilePart, chance: Chance): FilePart {
  const quads = [...part.polygons.keys()].filter((at) => part.polygons[at]!.corners.length === 4)
  if (quads.length === 0) return part
  const polygonsAt = new Map<string, number[]>()
  part.polygons.forEach((polygon, number) =>
    polygon.corners.forEach(({ point }, at) => {
      const key = edgeKey(point, next(polygon, at).point)
      polygonsAt.set(key, [...(polygonsAt.get(key) ?? []), number])
    }),
  )
  /** By quad the first of the two sides that are cut. */
  const sides = new Map<number, number>()
  const open: [number, number][] = [[quads[Math.floor(quads.length * chance())]!, chance() < 0.5 ? 0 : 1]]
  while (open.length > 0) {
    const [number, side] = open.pop()!
    const polygon = part.polygons[number]!
    if (polygon.corners.length !== 4 || sides.has(number)) continue
    sides.set(number, side % 2)
    for (const at of [side, (side + 2) % 4]) {
      const key = edgeKey(polygon.corners[at]!.point, next(polygon, at).point)
      for (const other of polygonsAt.get(key)!) {
        const its = part.polygons[other]!
        if (other !== number) open.push([other, its.corners.findIndex(({ point }, k) => edgeKey(point, next(its, k).point) === key)]) // prettier-ignore
      }
    }
  }
  const share = 0.3 + 0.4 * chance()
  const [places, ids] = [[...part.places], [...part.ids]]
  const cuts = new Map<string, number>()
  const cutAt = (a: number, b: number): void => {
    const key = edgeKey(a, b)
    if (cuts.has(key)) return
    const [p, q] = a < b ? [a, b] : [b, a]
    cuts.set(key, places.length)
    places.push(part.places[p]!.map((value, axis) => value + share * (part.places[q]![axis]! - value)) as unknown as Place) // prettier-ignore
    ids.push('')
  }
  for (const [number, side] of sides)
    for (const at of [side, side + 2]) cutAt(part.polygons[number]!.corners[at]!.point, next(part.polygons[number]!, at).point) // prettier-ignore
  const between = (a: Corner, b: Corner): Corner | null => {
    const point = cuts.get(edgeKey(a.point, b.point))
    if (point === undefined) return null
    const t = a.point < b.point ? share : 1 - share
    return { point, uv: a.uv && b.uv && [a.uv[0] + t * (b.uv[0] - a.uv[0]), a.uv[1] + t * (b.uv[1] - a.uv[1])] } // prettier-ignore
  }
  const polygons = part.polygons.flatMap((polygon, number): Polygon[] => {
    const side = sides.get(number)
    if (side === undefined)
      return [{ ...polygon, corners: polygon.corners.flatMap((corner, at) => [corner, between(corner, next(polygon, at)) ?? []].flat()) }] // prettier-ignore
    const [a, b, c, d] = [0, 1, 2, 3].map((at) => polygon.corners[(at + side) % 4]!) as [Corner, Corner, Corner, Corner] // prettier-ignore
    const [m, n] = [between(a, b)!, between(c, d)!]
    return [{ ...polygon, corners: [a, m, n, d] }, { ...polygon, corners: [m, b, c, n] }] // prettier-ignore
  })
  return { ...part, places, ids, polygons }
}

/** Two polygons that are alike in all they have made one. */
function dissolved(part: FilePart, chance: Chance): FilePart {
  for (let tries = 0; tries < 20; tries++) {
    const one = part.polygons[Math.floor(part.polygons.length * chance())]!
    const at = Math.floor(one.corners.length * chance())
    const [a, b] = [one.corners[at]!, next(one, at)]
    const others = part.polygons.flatMap(
      (other) =>
      other === one ? [] : other.corners.flatMap(({ point }, k) => (point === b.point && next(other, k).point === a.point ? [{ other, k }] : [])), // prettier-ignore
    )
    const [found, more] = others
    if (!found || more) continue
    const { other, k } = found
    if (other.material !== one.material || other.group !== one.group || other.smoothing !== one.smoothing) continue // prettier-ignore
    if (String(next(other, k).uv) !== String(a.uv) || String(other.corners[k]!.uv) !== String(b.uv)) continue
    const rest = (of: Polygon, from: number): Corner[] => Array.from({ length: of.corners.length - 1 }, (_corner, step) => of.corners[(from + 1 + step) % of.corners.length]!) // prettier-ignore
    const corners = [...rest(one, at), ...rest(other, k)]
    if (new Set(corners.map(({ point }) => point)).size < corners.length) continue
    return overUsed({ ...part, polygons: [...part.polygons.filter((polygon) => polygon !== one && polygon !== other), { ...one, of: '', corners }] }) // prettier-ignore
  }
  return part
}

/** An edge made one point. */
function collapsed(part: FilePart, chance: Chance): FilePart {
  const chosen = part.polygons[Math.floor(part.polygons.length * chance())]!
  const [{ point: kept }, { point: gone }] = chosen.corners as [Corner, Corner]
  const polygons = part.polygons.flatMap((polygon) => {
    const isTouched = polygon.corners.some(({ point }) => point === gone)
    const corners = polygon.corners
      .map((corner) => (corner.point === gone ? { ...corner, point: kept } : corner))
      .filter(({ point }, at, all) => point !== all[(at + 1) % all.length]!.point)
    const isGone = new Set(corners.map(({ point }) => point)).size < 3
    return isGone ? [] : [{ ...polygon, corners, of: isTouched ? '' : polygon.of }]
  })
  return polygons.length > 0 ? overUsed({ ...part, polygons }) : part
}

/** Each polygon as one quad a corner, every point where it was. */
function refined(part: FilePart): FilePart {
  const [places, ids] = [[...part.places], [...part.ids]]
  const add = (place: Place): number => {
    ids.push('')
    return places.push(place) - 1
  }
  const middles = new Map<string, number>()
  const polygons = part.polygons.flatMap((polygon): Polygon[] => {
    const { corners } = polygon
    const uvs = corners.flatMap(({ uv }) => (uv ? [uv] : []))
    const centre: Corner = {
      point: add(meanOf(corners.map(({ point }) => part.places[point]!))),
      uv: uvs.length < corners.length ? null : ([0, 1].map((k) => uvs.reduce((sum, uv) => sum + uv[k]!, 0) / uvs.length) as [number, number]), // prettier-ignore
    }
    const between = (a: Corner, b: Corner): Corner => {
      const key = edgeKey(a.point, b.point)
      if (!middles.has(key)) middles.set(key, add(meanOf([part.places[a.point]!, part.places[b.point]!])))
      return { point: middles.get(key)!, uv: a.uv && b.uv && [(a.uv[0] + b.uv[0]) / 2, (a.uv[1] + b.uv[1]) / 2] } // prettier-ignore
    }
    const before = (at: number): Corner => corners[(at + corners.length - 1) % corners.length]!
    return corners.map((corner, at) => ({ ...polygon, corners: [corner, between(corner, next(polygon, at)), centre, between(before(at), corner)] })) // prettier-ignore
  })
  return { ...part, places, ids, polygons }
}

/** A turn about any axis through the origin (Rodrigues 1840). */
function anyTurn(chance: Chance): (place: Place) => Place {
  const way = [chance() - 0.5, chance() - 0.5, chance() - 0.5]
  const [x, y, z] = way.map((value) => value / (Math.hypot(...way) || 1)) as [number, number, number]
  const angle = 0.1 + 3 * chance()
  const [c, s] = [Math.cos(angle), Math.sin(angle)]
  return ([p, q, r]) => {
    const along = (1 - c) * (x * p + y * q + z * r)
    return [
      c * p + s * (y * r - z * q) + along * x,
      c * q + s * (z * p - x * r) + along * y,
      c * r + s * (x * q - y * p) + along * z,
    ]
  }
}

const anyMove = (chance: Chance, far: number): ((place: Place) => Place) => {
  const [x, y, z] = [0, 1, 2].map(() => far * (2 * chance() - 1)) as [number, number, number]
  return (place) => [place[0] + x, place[1] + y, place[2] + z]
}

const withPolygons = (parts: readonly FilePart[], change: (polygon: Polygon) => Polygon): FilePart[] =>
  parts.map((part) => ({ ...part, polygons: part.polygons.map(change) }))

export const EDITS = {
  loopCut: (parts, chance) => parts.map((part) => loopCut(part, chance)),
  dissolved: (parts, chance) => parts.map((part) => dissolved(part, chance)),
  collapsed: (parts, chance) => parts.map((part) => collapsed(part, chance)),
  refined: (parts) => parts.map(refined),
  spun: (parts, chance) => {
    const turn = anyTurn(chance)
    return parts.map((part) => placed(part, turn))
  },
  eachSpun: (parts, chance) =>
    parts.map((part) => {
      const [turn, [x, y, z]] = [anyTurn(chance), meanOf(part.places)]
      return placed(part, (place) => {
        const [p, q, r] = turn([place[0] - x, place[1] - y, place[2] - z])
        return [p + x, q + y, r + z]
      })
    }),
  shifted: (parts, chance) => {
    const move = anyMove(chance, 10)
    return parts.map((part) => placed(part, move))
  },
  eachShifted: (parts, chance) => parts.map((part) => placed(part, anyMove(chance, 2))),
  stretched: (parts, chance) => {
    const by = 1.2 + chance()
    return parts.map((part) => placed(part, ([x, y, z]) => [x, by * y, z]))
  },
  copied: (parts, chance) => {
    const part = parts[Math.floor(parts.length * chance())]!
    const copy = placed(part, ([x, y, z]) => [x, y, z - 9])
    return [...parts, { ...copy, name: `${part.name}_copy`, ids: part.ids.map(() => ''), polygons: part.polygons.map((polygon) => ({ ...polygon, of: '' })) }] // prettier-ignore
  },
  dropped: (parts, chance) => {
    const gone = parts.length < 2 ? -1 : Math.floor(parts.length * chance())
    return parts.filter((_part, at) => at !== gone)
  },
  materialsRenamed: (parts) => withPolygons(parts, (polygon) => ({ ...polygon, material: `M_${polygon.material}` })), // prettier-ignore
  ungrouped: (parts) => withPolygons(parts, (polygon) => ({ ...polygon, group: 'default' })),
  faceted: (parts) => withPolygons(parts, (polygon) => ({ ...polygon, smoothing: 0 })),
  withoutUvs: (parts) => withPolygons(parts, (polygon) => ({ ...polygon, corners: polygon.corners.map(({ point }) => ({ point, uv: null })) })), // prettier-ignore
} satisfies Record<string, (parts: readonly FilePart[], chance: Chance) => readonly FilePart[]>
export type EditName = keyof typeof EDITS
export const EDIT_NAMES = Object.keys(EDITS) as EditName[]
