import { isMapped } from '../../uv/uv-measures.ts'
import type { Mesh, UvSet } from '../../scene/mesh.ts'
import type { CheckDescriptor } from '../check.ts'

/** Rows of pixels that are filled at most; with more a coarser tile is sampled. */
const MOST_ROWS = 2e7
const SIDES = [1024, 512, 256, 128] as const

/** Below this a map is mostly empty. Common practice asks for half and more. */
const LEAST_USE = 0.4

interface TilePart {
  readonly mesh: Mesh
  readonly set: UvSet
  readonly chosen: Uint8Array | null
}

/** Calls `visit` for each mapped face with the range of its corners and of its V. */
function eachFace(
  parts: readonly TilePart[],
  visit: (set: UvSet, start: number, end: number, low: number, high: number) => void,
): void {
  for (const { mesh, set, chosen } of parts)
    for (let face = 0; face + 1 < mesh.faceOffsets.length; face++) {
      if ((chosen && !chosen[face]) || !isMapped(mesh, set, face)) continue
      const start = mesh.faceOffsets[face]!
      const end = mesh.faceOffsets[face + 1]!
      let low = Infinity
      let high = -Infinity
      for (let corner = start; corner < end; corner++) {
        const v = set.values[2 * set.indices[corner]! + 1]!
        low = Math.min(low, v)
        high = Math.max(high, v)
      }
      visit(set, start, end, Math.max(0, low), Math.min(1, high))
    }
}

/**
 * Share of the unit tile that is covered, each place once, sampled at the middles of 1024 x 1024 pixels, or of fewer
 * where very many tall polygons lie over each other. A polygon is filled by the even-odd rule, scan line by scan line.
 */
export function coverTile(parts: readonly TilePart[]): number {
  let heights = 0
  eachFace(parts, (_set, _start, _end, low, high) => (heights += Math.max(0, high - low)))
  const side = SIDES.find((candidate) => heights * candidate <= MOST_ROWS) ?? SIDES[SIDES.length - 1]!
  const covered = new Uint8Array(side * side)
  /** Rows that are covered from end to end, and how many: nothing can be added to these. */
  const isFull = new Uint8Array(side)
  let full = 0
  const crossings: number[] = []
  eachFace(parts, (set, start, end, low, high) => {
    if (full === side) return
    const last = Math.min(side - 1, Math.floor(high * side - 0.5))
    for (let row = Math.max(0, Math.ceil(low * side - 0.5)); row <= last; row++) {
      if (isFull[row]) continue
      const v = (row + 0.5) / side
      crossings.length = 0
      for (let corner = start, before = end - 1; corner < end; before = corner++) {
        const a = 2 * set.indices[corner]!
        const b = 2 * set.indices[before]!
        const av = set.values[a + 1]!
        const bv = set.values[b + 1]!
        if (av > v !== bv > v)
          crossings.push(set.values[a]! + ((v - av) / (bv - av)) * (set.values[b]! - set.values[a]!))
      }
      if (crossings.length > 2) crossings.sort((a, b) => a - b)
      else if (crossings[0]! > crossings[1]!) crossings.reverse()
      for (let at = 0; at + 1 < crossings.length; at += 2) {
        const from = Math.max(0, Math.ceil(crossings[at]! * side - 0.5))
        const to = Math.min(side - 1, Math.floor(crossings[at + 1]! * side - 0.5))
        if (to >= from) covered.fill(1, row * side + from, row * side + to + 1)
        if (from === 0 && to === side - 1) {
          isFull[row] = 1
          full++
          break
        }
      }
    }
  })
  let sum = 0
  for (const flag of covered) sum += flag
  return sum / covered.length
}

export const tileUse: CheckDescriptor = {
  id: 'tile-use',
  area: 'uvs',
  scope: 'scene',
  title: 'Unused room in the tile',
  why: 'Empty room on a map is paid for in memory and taken from the sharpness of everything else.',
  reads: ['meshes', 'nodes', 'materials'],
  problems: {
    empty: { severity: 'info', text: 'The UVs of “{material}” cover {count} % of the tile.' },
  },
  run({ scene }, report) {
    const materialsOf = (mesh: Mesh): readonly number[] =>
      mesh.faceMaterials ? [...new Set(mesh.faceMaterials)] : [-1]
    const all = new Set(scene.meshes.filter((mesh) => mesh.uvSets.length > 0).flatMap(materialsOf))
    for (const material of all) {
      const parts = scene.meshes.flatMap((mesh) => {
        const set = mesh.uvSets[0]
        if (!set || !materialsOf(mesh).includes(material)) return []
        const chosen = mesh.faceMaterials
          ? Uint8Array.from(mesh.faceMaterials, (own) => (own === material ? 1 : 0))
          : null
        return [{ mesh, set, chosen }]
      })
      const share = coverTile(parts)
      if (share < LEAST_USE && share > 0)
        report({
          problem: 'empty',
          count: Math.round(100 * share),
          parameters: { material: material < 0 ? 'no material' : scene.materials[material]!.name },
          nodes: scene.nodes.flatMap((node, index) =>
            node.mesh >= 0 && parts.some((part) => part.mesh === scene.meshes[node.mesh]) ? [index] : [],
          ),
        })
    }
  },
}
