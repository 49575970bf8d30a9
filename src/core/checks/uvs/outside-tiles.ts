import { isMapped } from '../../uv/uv-measures.ts'
import { isTiled, tileLabel } from '../../scene/image-tiles.ts'
import { eachElement, type CheckDescriptor } from '../check.ts'
import { packing } from '../settings.ts'

/** UVs on a tile's border belong to either side; this much beyond is still on it. */
const ON_BORDER = 1e-6

export const outsideTiles: CheckDescriptor = {
  id: 'outside-tiles',
  area: 'uvs',
  scope: 'part',
  title: 'UVs outside the tile or across its border',
  why: 'A map covers one tile. What lies outside repeats the map or is cut off; what crosses a border is torn.',
  reads: ['faceVertices', 'faceOffsets', 'uvSets', 'faceMaterials', 'materials'],
  problems: {
    outside: { severity: 'warning', text: '{count} [polygon|polygons] [lies|lie] outside the {where}.' },
    across: { severity: 'error', text: '{count} [polygon|polygons] [crosses|cross] the border of a tile.' },
  },
  run({ scene, mesh, facts, settings }, report) {
    const set = mesh.uvSets[0]
    if (!set) return
    const outsideUnit: number[] = []
    const outsideNumbered: number[] = []
    const across: number[] = []
    // a map that names tiles says itself that they are used, and which there can be
    const tiledMaps = scene.materials.map(({ maps }) => maps.find(({ file }) => isTiled(file))?.file ?? null)
    for (let face = 0; face < facts.faceCount; face++) {
      if (!isMapped(mesh, set, face)) continue
      let u0 = Infinity
      let v0 = Infinity
      let u1 = -Infinity
      let v1 = -Infinity
      for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
        const u = set.values[2 * set.indices[corner]!]!
        const v = set.values[2 * set.indices[corner]! + 1]!
        u0 = Math.min(u0, u)
        v0 = Math.min(v0, v)
        u1 = Math.max(u1, u)
        v1 = Math.max(v1, v)
      }
      const crosses =
        Math.floor(u0 + ON_BORDER) < Math.ceil(u1 - ON_BORDER) - 1 ||
        Math.floor(v0 + ON_BORDER) < Math.ceil(v1 - ON_BORDER) - 1
      const file = tiledMaps[mesh.faceMaterials?.[face] ?? -1] ?? (settings.tiles ? '<UDIM>' : null)
      const leaves =
        file === null
          ? u0 < -ON_BORDER || v0 < -ON_BORDER || u1 > 1 + ON_BORDER || v1 > 1 + ON_BORDER
          : tileLabel(file, { column: Math.floor((u0 + u1) / 2), row: Math.floor((v0 + v1) / 2) }) === null
      if (crosses) across.push(face)
      else if (leaves) (file === null ? outsideUnit : outsideNumbered).push(face)
    }
    const { padding, mapSize } = packing(settings)
    for (const [faces, where, fix] of [
      [outsideUnit, 'unit tile', { step: 'islands-into-tile', params: {} }],
      [outsideNumbered, 'tiles that have a number', { step: 'pack-islands', params: { padding, mapSize } }],
    ] as const)
      if (faces.length)
        report({
          problem: 'outside',
          count: faces.length,
          parameters: { where },
          places: eachElement('faces', faces),
          fix,
        })
    if (across.length)
      report({
        problem: 'across',
        count: across.length,
        places: eachElement('faces', across),
        fix: { step: 'pack-islands', params: { padding, mapSize } },
      })
  },
}
