/**
 * Parts that were laid out as panels and came back from sewing in polygons of the tool's own: a panel is known by its
 * outline in the UVs, and the master's polygons are laid over it through them, so that seams close again.
 */
import { transformPoints } from '../../base/math/matrix.ts'
import { createMeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { EMPTY_MESH, type Mesh } from '../../scene/mesh.ts'
import { plainNode, type Scene } from '../../scene/scene.ts'
import { worldMatrices } from '../../scene/world.ts'
import { islandsInSet, outlineOf, type LaidIsland } from '../../uv/islands/laid-island.ts'
import { outlineArea, turnedBox, type Outline } from '../../uv/pack/outline.ts'
import { statedLength } from '../../uv/panels/uv-length.ts'
import type { PartMatch } from '../match/match-parts.ts'
import { createLocator, type Locator } from './locate-uv.ts'

export interface FoundPanels {
  /** The returned scene with the master's polygons in place of the panels that they were laid over. */
  readonly scene: Scene
  readonly pairs: readonly PartMatch[]
  readonly told: readonly { readonly name: string; readonly panels: number }[]
  /** The widest that a seam stood open, metres; it is closed in the middle. */
  readonly gap: number
}

/** How far areas and borders of the same panel may differ, and outlines lie apart by the panel's size. */
const [ALIKE, APART] = [0.03, 0.01]
/** Places of an outline that are compared. */
const LOOKS = 160
/** Share of a part's corners that have to lie within its panels. */
const LEAST_INSIDE = 0.97
/** Seams that stand open wider than this share of the part are not sewn. */
const MOST_OPEN = 0.03

interface CamePanel {
  readonly node: number
  readonly mesh: Mesh
  readonly island: LaidIsland
  readonly outline: Outline
  readonly area: number
  readonly border: number
  readonly low: readonly [number, number]
  /** 3 x point count of the mesh, where it lies in its scene's world. */
  readonly points: Float64Array
  locator: Locator | null
}

const borderOf = ({ loops }: Outline): number => {
  let sum = 0
  for (const loop of loops)
    for (let at = 0; at < loop.length; at += 2) {
      const next = at + 2 < loop.length ? at + 2 : 0
      sum += Math.hypot(loop[next]! - loop[at]!, loop[next + 1]! - loop[at + 1]!)
    }
  return sum
}

const isAlike = (a: number, b: number): boolean => Math.abs(a - b) <= ALIKE * Math.max(a, b)

/** @param wanted nodes of the master that are looked for. @returns null where none of them is found. */
export function findPanels(master: Scene, came: Scene, wanted: readonly number[]): FoundPanels | null {
  const parts = wanted.filter((node) => {
    const set = master.meshes[master.nodes[node]!.mesh]?.uvSets[0]
    return set !== undefined && statedLength(set.name) !== null
  })
  if (parts.length === 0) return null
  const panels = camePanels(came)
  if (panels.length === 0) return null
  const taken = new Set<CamePanel>()
  const laid = parts.flatMap((node) => {
    const own = master.meshes[master.nodes[node]!.mesh]!
    const found = layOver(own, panels, taken)
    if (!found) return []
    for (const panel of found.from) taken.add(panel)
    return [{ node, own, ...found }]
  })
  if (laid.length === 0) return null
  // a node all of whose panels were taken is no part any more
  const left = new Set(panels.filter((panel) => !taken.has(panel)).map(({ node }) => node))
  const gone = new Set([...taken].map(({ node }) => node).filter((node) => !left.has(node)))
  const nodes = came.nodes.map((node, at) => (gone.has(at) ? { ...node, mesh: -1 } : node))
  const meshes = [...came.meshes]
  const pairs = laid.map(({ node, mesh, from }): PartMatch => {
    const { name } = master.nodes[node]!
    nodes.push(plainNode(name, { mesh: meshes.push(mesh) - 1 }))
    return {
      masterNode: node,
      returnedNode: nodes.length - 1,
      by: 'pieces',
      panels: from.length,
    }
  })
  return {
    scene: { ...came, nodes, meshes },
    pairs,
    told: laid.map(({ node, from }) => ({ name: master.nodes[node]!.name, panels: from.length })),
    gap: Math.max(...laid.map(({ gap }) => gap)) * (came.space.unitMeters ?? 1),
  }
}

function camePanels(came: Scene): CamePanel[] {
  const worlds = worldMatrices(came)
  return came.nodes.flatMap((node, at) => {
    const mesh = came.meshes[node.mesh]
    const set = mesh?.uvSets[0]
    if (!mesh || !set) return []
    const points = transformPoints(mesh.points, worlds[at]!)
    return islandsInSet(createMeshFacts(mesh), set).map((island): CamePanel => {
      const outline = outlineOf(island)
      const { low } = turnedBox(outline, 0)
      const [area, border] = [outlineArea(outline), borderOf(outline)]
      return { node: at, mesh, island, outline, area, border, low, points, locator: null }
    })
  })
}

interface LaidOver {
  readonly mesh: Mesh
  readonly from: readonly CamePanel[]
  readonly gap: number
}

/** The part with its points where its panels lie; null where one of them is missing, or they aren't sewn. */
function layOver(own: Mesh, panels: readonly CamePanel[], taken: ReadonlySet<CamePanel>): LaidOver | null {
  const set = own.uvSets[0]!
  const facts = createMeshFacts(own)
  const islands = islandsInSet(facts, set)
  if (islands.length === 0) return null
  const pointCount = own.points.length / 3
  const sums = new Float64Array(3 * pointCount)
  const counts = new Uint32Array(pointCount)
  /** Places of each point, by the panels that it lies on. */
  const places: { point: number; at: [number, number, number] }[] = []
  const values: number[] = []
  const indices = new Int32Array(own.faceVertices.length).fill(-1)
  const faceMaterials = new Int32Array(facts.faceCount).fill(-1)
  const from: CamePanel[] = []
  const used = new Set(taken)
  let [inside, all] = [0, 0]
  for (const island of islands) {
    const found = panelFor(island, panels, used)
    if (!found) return null
    const { panel, scale, shift } = found
    used.add(panel)
    from.push(panel)
    const locate = (panel.locator ??= createLocator(panel.island))
    const first = values.length / 2
    const triangles = new Int32Array(island.net.vertexCount)
    for (let vertex = 0; vertex < island.net.vertexCount; vertex++) {
      const [u, v] = [
        scale * island.flat[2 * vertex]! + shift[0],
        scale * island.flat[2 * vertex + 1]! + shift[1],
      ]
      const { triangle, shares, distance } = locate(u, v)
      triangles[vertex] = triangle
      all++
      if (distance <= APART * Math.sqrt(panel.area)) inside++
      const at: [number, number, number] = [0, 0, 0]
      let [nu, nv] = [0, 0]
      shares.forEach((share, k) => {
        const own = panel.island.net.triangles[3 * triangle + k]!
        const point = 3 * panel.island.net.vertexPoints[own]!
        for (let axis = 0; axis < 3; axis++) at[axis]! += share * panel.points[point + axis]!
        nu += share * panel.island.flat[2 * own]!
        nv += share * panel.island.flat[2 * own + 1]!
      })
      // as they came, in the master's measure
      values.push((nu - shift[0]) / scale, (nv - shift[1]) / scale)
      const point = island.net.vertexPoints[vertex]!
      for (let axis = 0; axis < 3; axis++) sums[3 * point + axis]! += at[axis]!
      counts[point]!++
      places.push({ point, at })
    }
    for (let k = 0; k < island.net.faces.length; k++) {
      const face = island.net.faces[k]!
      const start = own.faceOffsets[face]!
      for (let at = island.net.faceStarts[k]!; at < island.net.faceStarts[k + 1]!; at++)
        indices[start + at - island.net.faceStarts[k]!] = first + island.net.vertices[at]!
      const triangle = triangles[island.net.vertices[island.net.faceStarts[k]!]!]!
      faceMaterials[face] = panel.mesh.faceMaterials?.[faceOfTriangle(panel.island, triangle)] ?? -1
    }
  }
  // what lies on no panel would have no place
  if (inside < LEAST_INSIDE * all || counts.includes(0)) return null
  const points = sums.map((sum, at) => sum / counts[Math.floor(at / 3)]!)
  let gap = 0
  const [min, max] = [
    [Infinity, Infinity, Infinity],
    [-Infinity, -Infinity, -Infinity],
  ]
  for (const { point, at } of places) {
    const off = Math.hypot(...at.map((value, axis) => value - points[3 * point + axis]!))
    gap = Math.max(gap, 2 * off)
    at.forEach((value, axis) => {
      min[axis] = Math.min(min[axis]!, value)
      max[axis] = Math.max(max[axis]!, value)
    })
  }
  if (gap > MOST_OPEN * Math.hypot(...max.map((value, axis) => value - min[axis]!))) return null
  const mesh: Mesh = {
    ...EMPTY_MESH,
    name: own.name,
    points,
    faceOffsets: own.faceOffsets,
    faceVertices: own.faceVertices,
    faceMaterials: faceMaterials.some((material) => material >= 0) ? faceMaterials : null,
    uvSets: [
      { name: from[0]!.mesh.uvSets[0]!.name, values: Float64Array.from(values), indices, depths: null },
    ],
  }
  return { mesh, from, gap }
}

/** The polygon that a triangle of the net is of. */
function faceOfTriangle({ net }: LaidIsland, triangle: number): number {
  const [a, b, c] = [0, 1, 2].map((k) => net.triangles[3 * triangle + k]!)
  for (let k = 0; k < net.faces.length; k++) {
    const own = net.vertices.subarray(net.faceStarts[k]!, net.faceStarts[k + 1]!)
    if (own.includes(a!) && own.includes(b!) && own.includes(c!)) return net.faces[k]!
  }
  return net.faces[0]!
}

/** The panel with the same outline, where it lay or as near to it as there is one. */
function panelFor(
  island: LaidIsland,
  panels: readonly CamePanel[],
  used: ReadonlySet<CamePanel>,
): { panel: CamePanel; scale: number; shift: readonly [number, number] } | null {
  const outline = outlineOf(island)
  const [area, border] = [outlineArea(outline), borderOf(outline)]
  const { low } = turnedBox(outline, 0)
  if (!(area > 0)) return null
  const candidates = panels
    .filter((panel) => !used.has(panel) && isAlike(panel.border ** 2 / panel.area, border ** 2 / area))
    .map((panel) => {
      // its size may have been changed on the way, as when UVs are in millimetres
      const measured = Math.sqrt(panel.area / area)
      const scale = Math.abs(measured - 1) < ALIKE ? 1 : measured
      const shift = [panel.low[0] - scale * low[0], panel.low[1] - scale * low[1]] as const
      return { panel, scale, shift, moved: Math.hypot(...shift) + Math.abs(Math.log(scale)) }
    })
    .sort((a, b) => a.moved - b.moved)
  for (const { panel, scale, shift: byBox } of candidates) {
    const isStill = scale === 1 && Math.hypot(...byBox) < APART * Math.sqrt(area)
    const shift = isStill ? ([0, 0] as const) : byBox
    if (outlinesAgree(outline, panel, scale, shift)) return { panel, scale, shift }
  }
  return null
}

/** Places along the master's outline lie on the panel's. */
function outlinesAgree(
  { loops }: Outline,
  panel: CamePanel,
  scale: number,
  shift: readonly [number, number],
): boolean {
  const count = loops.reduce((sum, loop) => sum + loop.length / 2, 0)
  const step = Math.max(1, Math.floor(count / LOOKS))
  const most = APART * Math.sqrt(panel.area)
  let number = 0
  for (const loop of loops)
    for (let at = 0; at < loop.length; at += 2) {
      if (number++ % step) continue
      const [u, v] = [scale * loop[at]! + shift[0], scale * loop[at + 1]! + shift[1]]
      if (distanceTo(panel.outline, u, v) > most) return false
    }
  return true
}

function distanceTo({ loops }: Outline, u: number, v: number): number {
  let least = Infinity
  for (const loop of loops)
    for (let at = 0; at < loop.length; at += 2) {
      const next = at + 2 < loop.length ? at + 2 : 0
      const [du, dv] = [loop[next]! - loop[at]!, loop[next + 1]! - loop[at + 1]!]
      const [pu, pv] = [u - loop[at]!, v - loop[at + 1]!]
      const squared = du * du + dv * dv
      const share = squared > 0 ? Math.max(0, Math.min(1, (pu * du + pv * dv) / squared)) : 0
      least = Math.min(least, Math.hypot(pu - share * du, pv - share * dv))
    }
  return least
}
