import { crossedFaces } from '../../uv/crossed-faces.ts'
import { findOverlaps, type OverlapPart } from '../../uv/find-overlaps.ts'
import { facesByIsland, findIslands } from '../../uv/find-islands.ts'
import { eachElement, type CheckDescriptor } from '../check.ts'
import { packing } from '../settings.ts'

export const uvOverlaps: CheckDescriptor = {
  id: 'uv-overlaps',
  area: 'uvs',
  scope: 'scene',
  title: 'Overlapping UVs',
  why: 'Two places of the model on one place of the map share whatever is painted or baked there.',
  reads: ['meshes', 'nodes', 'materials'],
  problems: {
    own: { severity: 'warning', text: '{count} [polygon|polygons] [overlaps|overlap] within the part.' },
    between: {
      severity: 'warning',
      text: '{count} [polygon|polygons] [overlaps|overlap] with other parts of the material “{material}”.',
    },
    crossed: {
      severity: 'warning',
      text: '{count} [polygon|polygons] [runs|run] through [itself|themselves|count] in the UVs.',
    },
    unfinished: {
      severity: 'warning',
      text: 'So many islands are stacked on “{material}” that not all pairs were looked at; {count} [polygon|polygons] [overlaps|overlap] at least.',
    },
  },
  run({ scene, worlds: _worlds, settings }, report) {
    const pack = { step: 'pack-islands', params: packing(settings) }
    // faces share a map where they share a material; each mesh once, wherever it stands
    const nodeOfMesh = new Map<number, number>()
    scene.nodes.forEach((node, index) => {
      if (node.mesh >= 0 && !nodeOfMesh.has(node.mesh)) nodeOfMesh.set(node.mesh, index)
    })
    const byMaterial = new Map<number, { node: number; part: OverlapPart }[]>()
    for (const [meshIndex, node] of nodeOfMesh) {
      const mesh = scene.meshes[meshIndex]!
      const set = mesh.uvSets[0]
      if (!set) continue
      const materials = mesh.faceMaterials
      // what a texel hides nobody sees
      const crossed = crossedFaces(mesh, set, 0.5 / settings.mapSize)
      if (crossed.length)
        report({
          problem: 'crossed',
          node,
          count: crossed.length,
          places: eachElement('faces', crossed),
          fix: { step: 'unwrap', params: { ...packing(settings), seams: 'existing' } },
        })
      const used = new Set(materials ?? [-1])
      for (const material of used) {
        const chosen =
          materials && used.size > 1 ? Uint8Array.from(materials, (own) => (own === material ? 1 : 0)) : null
        const held = byMaterial.get(material)
        const entry = { node, part: { mesh, set, chosen } }
        if (held) held.push(entry)
        else byMaterial.set(material, [entry])
      }
    }
    for (const [material, entries] of byMaterial) {
      const name = material < 0 ? 'no material' : scene.materials[material]!.name
      const together = findOverlaps(entries.map((entry) => entry.part))
      if (together.pairCount === 0) continue
      entries.forEach(({ node, part }, index) => {
        const faces = together.faces[index]!
        if (faces.length === 0) return
        const own = entries.length === 1 ? together : findOverlaps([part])
        if (own.faces[0]!.length)
          report({
            problem: together.complete ? 'own' : 'unfinished',
            node,
            count: own.faces[0]!.length,
            parameters: { material: name },
            places: eachElement('faces', own.faces[0]!),
            fix: liesOverItself(part, own.faces[0]!)
              ? { step: 'unwrap', params: { ...packing(settings), seams: 'existing' } }
              : pack,
          })
        if (entries.length > 1 && together.betweenArea > 0) {
          const ownFaces = new Set(own.faces[0])
          const between = faces.filter((face) => !ownFaces.has(face))
          if (between.length)
            report({
              problem: together.complete ? 'between' : 'unfinished',
              node,
              nodes: entries.map((entry) => entry.node).filter((other) => other !== node),
              count: between.length,
              parameters: { material: name },
              places: eachElement('faces', between),
              fix: pack,
            })
        }
      })
    }
  },
}

/** Islands that are looked at one by one; of more it is enough that these lie apart from themselves. */
const MOST_ISLANDS = 200

/** Whether one island covers a place twice: then no packing helps. */
function liesOverItself({ mesh, set }: OverlapPart, faces: Uint32Array): boolean {
  const { islandCount, faceIslands } = findIslands(mesh, set)
  const byIsland = facesByIsland(faceIslands, islandCount)
  const islands = [...new Set(Array.from(faces, (face) => faceIslands[face]!))].filter(
    (island) => island >= 0,
  )
  return islands.slice(0, MOST_ISLANDS).some((island) => {
    const chosen = new Uint8Array(mesh.faceOffsets.length - 1)
    for (const face of byIsland[island]!) chosen[face] = 1
    return findOverlaps([{ mesh, set, chosen }]).pairCount > 0
  })
}
