import { isMapped } from '../../uv/uv-measures.ts'
import type { Mesh, UvSet } from '../../scene/mesh.ts'
import type { CheckDescriptor } from '../check.ts'

const SIDE = 1024

/** Below this a map is mostly empty. Common practice asks for half and more. */
const LEAST_USE = 0.4

/**
 * Share of the unit tile that is covered, each place once, sampled at the middles of 1024 x 1024 pixels.
 * A polygon is filled by the even-odd rule, scan line by scan line.
 */
export function coverTile(parts: readonly { mesh: Mesh; set: UvSet; chosen: Uint8Array | null }[]): number {
  const covered = new Uint8Array(SIDE * SIDE)
  const crossings: number[] = []
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
      const last = Math.min(SIDE - 1, Math.floor(high * SIDE - 0.5))
      for (let row = Math.max(0, Math.ceil(low * SIDE - 0.5)); row <= last; row++) {
        const v = (row + 0.5) / SIDE
        crossings.length = 0
        for (let corner = start, before = end - 1; corner < end; before = corner++) {
          const a = 2 * set.indices[corner]!
          const b = 2 * set.indices[before]!
          const av = set.values[a + 1]!
          const bv = set.values[b + 1]!
          if (av > v !== bv > v)
            crossings.push(set.values[a]! + ((v - av) / (bv - av)) * (set.values[b]! - set.values[a]!))
        }
        crossings.sort((a, b) => a - b)
        for (let at = 0; at + 1 < crossings.length; at += 2) {
          const from = Math.max(0, Math.ceil(crossings[at]! * SIDE - 0.5))
          const to = Math.min(SIDE - 1, Math.floor(crossings[at + 1]! * SIDE - 0.5))
          if (to >= from) covered.fill(1, row * SIDE + from, row * SIDE + to + 1)
        }
      }
    }
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
