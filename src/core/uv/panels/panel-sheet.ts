/** Panels at their true size on one sheet: outlines, names, grain lines, and notches that match where panels are sewn. */
import { meanScale } from '../../base/math/matrix.ts'
import { edgeLength } from '../../mesh/relations/edge-paths.ts'
import { createMeshFacts, nextCorner, type MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import type { Mesh, UvSet } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { worldMatrices } from '../../scene/world.ts'
import { islandsInSet, outlineOf, type LaidIsland } from '../islands/laid-island.ts'
import { signedArea, turnedBox } from '../pack/outline.ts'
import { findSeams } from '../uv-measures.ts'
import { statedLength } from './uv-length.ts'

/** Millimetres throughout, x to the right, y up. */
export type SheetItem =
  | {
      readonly kind: 'path'
      readonly points: readonly (readonly [number, number])[]
      readonly closed: boolean
      readonly width: number
    }
  | {
      readonly kind: 'text'
      readonly at: readonly [number, number]
      readonly size: number
      readonly text: string
      readonly anchor: 'start' | 'middle'
    }

export interface PanelSheet {
  readonly width: number
  readonly height: number
  readonly items: readonly SheetItem[]
  readonly panelCount: number
}

/** Width of the cloth, the gap between panels and to the sheet's edge. */
const [CLOTH, GAP] = [1400, 15]
/** Notches stand in by so much; a seam has one of them at least, and one more for each so many millimetres. */
const [NOTCH, APART] = [5, 200]
const MOST_NOTCHES = 4
/** The square by which a print is measured. */
const MEASURE = 50
const [OUTLINE, THIN] = [0.5, 0.25]

interface SheetPanel {
  readonly name: string
  readonly part: string
  readonly outline: readonly Float64Array[]
  readonly low: readonly [number, number]
  readonly wide: number
  readonly tall: number
  /** Where there is most room, and how much to the nearest border. */
  readonly inside: { readonly at: readonly [number, number]; readonly room: number }
  readonly marks: { readonly from: [number, number]; readonly to: [number, number] }[]
  readonly labels: { readonly at: [number, number]; readonly text: string }[]
}

/**
 * @param set name of the UV set; empty: each part's first. Sizes are what the set's name states, or else what the surface
 * is in the world. @param nodes parts by their nodes; null: all. @returns null where nothing has such UVs.
 */
export function panelSheet(
  scene: Scene,
  { set: name, nodes = null }: { set: string; nodes?: readonly number[] | null },
): PanelSheet | null {
  const worlds = worldMatrices(scene)
  const metres = scene.space.unitMeters ?? 0.01
  const seen = new Set<number>()
  const panels: SheetPanel[] = []
  const lengths = new Set<number>()
  let seamCount = 0
  scene.nodes.forEach((node, index) => {
    if (node.mesh < 0 || seen.has(node.mesh) || (nodes && !nodes.includes(index))) return
    const mesh = scene.meshes[node.mesh]!
    const set = name === '' ? mesh.uvSets[0] : mesh.uvSets.find((own) => own.name === name)
    if (!set) return
    seen.add(node.mesh)
    const facts = createMeshFacts(mesh)
    const stated = statedLength(set.name)
    if (stated !== null) lengths.add(stated)
    const toMetres = (meanScale(worlds[index]!) || 1) * metres
    const shown = scene.nodes.filter((own, at) => own.mesh === node.mesh && (!nodes || nodes.includes(at)))
    const made = panelsOfPart(facts, set, node.name, shown.length, (island) =>
      stated !== null ? stated * 1000 : 1000 * toMetres * trueScale(island, facts),
    )
    seamCount += addNotches(facts, set, made, seamCount)
    panels.push(...made.map(({ panel }) => panel))
  })
  if (panels.length === 0) return null
  const [only] = lengths.size === 1 ? lengths : []
  return layOut(panels, only ?? null)
}

/** Units of the mesh to one of an island's. */
function trueScale({ net, flat }: LaidIsland, facts: MeshFacts): number {
  const areas = facts.faceAreas()
  let surface = 0
  for (let at = 0; at < net.faces.length; at++) surface += areas[net.faces[at]!]!
  const own = Math.abs(signedArea(outlineOf({ net, flat })))
  return own > 0 && surface > 0 ? Math.sqrt(surface / own) : 1
}

interface MadePanel {
  readonly island: LaidIsland
  readonly panel: SheetPanel
  /** Millimetres to one UV unit. */
  readonly scale: number
}

function panelsOfPart(
  facts: MeshFacts,
  set: UvSet,
  part: string,
  times: number,
  scaleOf: (island: LaidIsland) => number,
): MadePanel[] {
  const names = new Map<string, number>()
  return islandsInSet(facts, set).map((island, at) => {
    const scale = scaleOf(island)
    const outline = outlineOf(island).loops.map((loop) => loop.map((value) => value * scale))
    const { low, high } = turnedBox({ loops: outline }, 0)
    const own = groupName(facts.mesh, island.net.faces[0]!) ?? `${part} ${at + 1}`
    const count = (names.get(own) ?? 0) + 1
    names.set(own, count)
    return {
      island,
      scale,
      panel: {
        // parts that show one mesh are the same panel
        name: `${count > 1 ? `${own}, piece ${count}` : own}${times > 1 ? ` (${times} times)` : ''}`,
        part,
        outline,
        low,
        wide: high[0] - low[0],
        tall: high[1] - low[1],
        inside: roomIn(island, scale),
        marks: [],
        labels: [],
      },
    }
  })
}

function groupName({ groups }: Mesh, face: number): string | null {
  const set = groups?.sets[groups.faceSets[face]!]
  return set?.length ? set.map((at) => groups!.names[at]!).join(', ') : null
}

/** Places that are looked at for the one farthest from all borders. */
const MOST_PLACES = 300

/** Where there is most room, of the middles of triangles, and how much there is to the nearest border. */
function roomIn({ net, flat }: LaidIsland, scale: number): { at: [number, number]; room: number } {
  const loops = outlineOf({ net, flat }).loops
  const count = net.triangles.length / 3
  const step = Math.max(1, Math.floor(count / MOST_PLACES))
  let best: { at: [number, number]; room: number } = { at: [flat[0]! * scale, flat[1]! * scale], room: 0 }
  for (let triangle = 0; triangle < count; triangle += step) {
    const own = [0, 1, 2].map((k) => 2 * net.triangles[3 * triangle + k]!)
    const at = [0, 1].map((axis) => own.reduce((sum, vertex) => sum + flat[vertex + axis]! / 3, 0)) as [
      number,
      number,
    ]
    let room = Infinity
    for (const loop of loops) {
      for (let k = 0; k < loop.length && room > best.room / scale; k += 2) {
        const next = k + 2 < loop.length ? k + 2 : 0
        const [du, dv] = [loop[next]! - loop[k]!, loop[next + 1]! - loop[k + 1]!]
        const [pu, pv] = [at[0] - loop[k]!, at[1] - loop[k + 1]!]
        const squared = du * du + dv * dv
        const share = squared > 0 ? Math.max(0, Math.min(1, (pu * du + pv * dv) / squared)) : 0
        room = Math.min(room, Math.hypot(pu - share * du, pv - share * dv))
      }
    }
    if (room * scale > best.room) best = { at: [at[0] * scale, at[1] * scale], room: room * scale }
  }
  return best
}

interface Side {
  readonly panel: MadePanel
  readonly corner: number
  readonly face: number
}

/** Marks on both sides of every seam at the same places of the surface. @returns how many seams there are. */
function addNotches(facts: MeshFacts, set: UvSet, made: readonly MadePanel[], before: number): number {
  const { mesh } = facts
  const { edgeCount, edgePoints, edgeSides, edgeCorners } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const panelOf = new Int32Array(facts.faceCount).fill(-1)
  made.forEach(({ island }, at) => {
    for (const face of Array.from(island.net.faces)) panelOf[face] = at
  })
  const seams = findSeams(facts, set)
  /** Seam edges by the two panels that they part. */
  const chains = new Map<string, number[]>()
  for (let edge = 0; edge < edgeCount; edge++) {
    if (!seams[edge] || edgeSides[edge] !== 2) continue
    const [a, b] = [0, 1].map((side) => panelOf[cornerFaces[edgeCorners[2 * edge + side]!]!]!) as [
      number,
      number,
    ]
    if (a < 0 || b < 0) continue
    const key = a < b ? `${a} ${b}` : `${b} ${a}`
    const held = chains.get(key)
    if (held) held.push(edge)
    else chains.set(key, [edge])
  }
  const lengthOf = (edge: number): number => edgeLength(facts, edge)
  let count = 0
  for (const edges of chains.values())
    for (const chain of inARow(edges, edgePoints)) {
      count++
      const length = chain.reduce((sum, { edge }) => sum + lengthOf(edge), 0)
      const corner = edgeCorners[2 * chain[0]!.edge]!
      const first = made[panelOf[cornerFaces[corner]!]!]!
      const millimetres = length * first.scale * flatPerLength(facts, set, corner, lengthOf(chain[0]!.edge))
      const notches = Math.min(MOST_NOTCHES, 1 + Math.floor(millimetres / APART))
      for (let notch = 1; notch <= notches; notch++) {
        let left = (length * notch) / (notches + 1)
        let at = 0
        while (at + 1 < chain.length && left > lengthOf(chain[at]!.edge)) left -= lengthOf(chain[at++]!.edge)
        const { edge, from } = chain[at]!
        const share = lengthOf(edge) > 0 ? Math.min(1, left / lengthOf(edge)) : 0
        for (const own of [edgeCorners[2 * edge]!, edgeCorners[2 * edge + 1]!]) {
          const face = cornerFaces[own]!
          const side: Side = { panel: made[panelOf[face]!]!, corner: own, face }
          mark(
            mesh,
            set,
            side,
            mesh.faceVertices[own] === from ? share : 1 - share,
            notch === 1 ? before + count : null,
          )
        }
      }
    }
  return count
}

/** UV length of a side by its length on the mesh. */
function flatPerLength({ mesh, cornerFaces }: MeshFacts, set: UvSet, corner: number, length: number): number {
  const next = nextCorner(mesh, cornerFaces()[corner]!, corner)
  const [i, j] = [2 * set.indices[corner]!, 2 * set.indices[next]!]
  const own = Math.hypot(set.values[j]! - set.values[i]!, set.values[j + 1]! - set.values[i + 1]!)
  return length > 0 ? own / length : 0
}

/** Edges as ways from end to end, each edge with the point it is walked from. */
function inARow(edges: readonly number[], edgePoints: Uint32Array): { edge: number; from: number }[][] {
  const at = new Map<number, number[]>()
  for (const edge of edges)
    for (const point of [edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!]) {
      const held = at.get(point)
      if (held) held.push(edge)
      else at.set(point, [edge])
    }
  const taken = new Set<number>()
  const ways: { edge: number; from: number }[][] = []
  const walk = (start: number): void => {
    const way: { edge: number; from: number }[] = []
    for (let point = start; ;) {
      const edge = at.get(point)!.find((one) => !taken.has(one))
      // three seams at a point end the way there
      if (edge === undefined || (way.length > 0 && at.get(point)!.length > 2)) break
      taken.add(edge)
      way.push({ edge, from: point })
      point = edgePoints[2 * edge] === point ? edgePoints[2 * edge + 1]! : edgePoints[2 * edge]!
    }
    if (way.length) ways.push(way)
  }
  // from ends first, then what closes
  for (const [point, own] of at) if (own.length !== 2) for (let k = 0; k < own.length; k++) walk(point)
  for (const [point] of at) walk(point)
  return ways
}

function mark(
  mesh: Mesh,
  set: UvSet,
  { panel, corner, face }: Side,
  share: number,
  label: number | null,
): void {
  const [i, j] = [2 * set.indices[corner]!, 2 * set.indices[nextCorner(mesh, face, corner)]!]
  const { scale } = panel
  const [u0, v0] = [set.values[i]! * scale, set.values[i + 1]! * scale]
  const [u1, v1] = [set.values[j]! * scale, set.values[j + 1]! * scale]
  const length = Math.hypot(u1 - u0, v1 - v0)
  if (!(length > 0)) return
  // inside is to the left of a polygon's side, to the right where the panel lies mirrored
  const turn = signedArea(outlineOf(panel.island)) < 0 ? -1 : 1
  const [nu, nv] = [(-turn * (v1 - v0)) / length, (turn * (u1 - u0)) / length]
  const from: [number, number] = [u0 + share * (u1 - u0), v0 + share * (v1 - v0)]
  panel.panel.marks.push({ from, to: [from[0] + NOTCH * nu, from[1] + NOTCH * nv] })
  if (label !== null)
    panel.panel.labels.push({
      at: [from[0] + 2 * NOTCH * nu, from[1] + 2 * NOTCH * nv - 1.4],
      text: String(label),
    })
}

/** Panels in rows over the width of the cloth, the tall ones first. */
function layOut(panels: readonly SheetPanel[], metresPerUnit: number | null): PanelSheet {
  const width = Math.max(CLOTH, ...panels.map(({ wide }) => wide + 2 * GAP))
  const items: SheetItem[] = []
  const head = MEASURE + 2 * GAP
  let [x, y, tall] = [GAP, head, 0]
  const places = panels
    .map((panel, at) => ({ panel, at }))
    .sort((a, b) => b.panel.tall - a.panel.tall || a.at - b.at)
    .map(({ panel }) => {
      if (x > GAP && x + panel.wide + GAP > width) {
        x = GAP
        y += tall + GAP
        tall = 0
      }
      const place = { panel, x, y }
      x += panel.wide + GAP
      tall = Math.max(tall, panel.tall)
      return place
    })
  const height = y + tall + GAP
  const used = Math.max(...places.map((place) => place.x + place.panel.wide)) + GAP
  const sheetWidth = Math.min(width, Math.max(used, 300))
  for (const { panel, x: left, y: top } of places) {
    // y runs up: the first row is the topmost
    const shift = [left - panel.low[0], height - top - panel.tall - panel.low[1]] as const
    const put = (at: readonly [number, number]): [number, number] => [at[0] + shift[0], at[1] + shift[1]]
    for (const loop of panel.outline) {
      const points: [number, number][] = []
      for (let at = 0; at < loop.length; at += 2) points.push(put([loop[at]!, loop[at + 1]!]))
      items.push({ kind: 'path', points, closed: true, width: OUTLINE })
    }
    for (const { from, to } of panel.marks)
      items.push({ kind: 'path', points: [put(from), put(to)], closed: false, width: OUTLINE })
    for (const { at, text } of panel.labels)
      items.push({ kind: 'text', at: put(at), size: 4, text, anchor: 'middle' })
    items.push(...grainLine(panel, put))
  }
  items.push(...legend(height, metresPerUnit, panels.length))
  return { width: sheetWidth, height, items, panelCount: panels.length }
}

/** Letters of Helvetica are about so wide, by their size. */
const LETTER = 0.55

/** The way the cloth falls: an arrow upwards where there is most room, the panel's name below it. */
function grainLine(
  { inside, name }: SheetPanel,
  put: (at: readonly [number, number]) => [number, number],
): SheetItem[] {
  const { room } = inside
  const [u, v] = inside.at
  const reach = Math.min(0.8 * room, 120)
  const top: [number, number] = [u, v + reach]
  const head = Math.min(3, reach / 4)
  const size = Math.min(8, (1.6 * room) / (LETTER * Math.max(4, name.length)), 0.4 * room)
  return [
    { kind: 'path', points: [put([u, v - 0.1 * reach]), put(top)], closed: false, width: THIN },
    {
      kind: 'path',
      points: [put([u - head, top[1] - 2 * head]), put(top), put([u + head, top[1] - 2 * head])],
      closed: false,
      width: THIN,
    },
    { kind: 'text', at: put([u, v - 0.1 * reach - 1.3 * size]), size, text: name, anchor: 'middle' },
  ]
}

function legend(height: number, metresPerUnit: number | null, count: number): SheetItem[] {
  const top = height - GAP
  const square: [number, number][] = [
    [GAP, top - MEASURE],
    [GAP + MEASURE, top - MEASURE],
    [GAP + MEASURE, top],
    [GAP, top],
  ]
  const lines = [
    `${count === 1 ? 'One panel' : `${count} panels`} at true size`,
    `Printed right, this square is ${MEASURE} mm wide.`,
    ...(metresPerUnit === null ? [] : [`One UV unit is ${metresPerUnit} m.`]),
    'Notches and numbers match where panels are sewn; arrows show the fall.',
  ]
  return [
    { kind: 'path', points: square, closed: true, width: OUTLINE },
    ...lines.map((text, at): SheetItem => ({
      kind: 'text',
      at: [GAP + MEASURE + 8, top - 8 - 11 * at],
      size: 6,
      text,
      anchor: 'start',
    })),
  ]
}
