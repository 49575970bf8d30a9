import { facesByIsland, findIslands } from '../../uv/find-islands.ts'
import { closeIslands, islandBorders } from '../../uv/island-borders.ts'
import { groupedElements, type CheckDescriptor } from '../check.ts'
import { packing } from '../settings.ts'

/** Pixels: UVs that are written with six digits are off by as much on a large map. */
const ROUNDING = 0.05

export const islandDistance: CheckDescriptor = {
  id: 'island-distance',
  area: 'uvs',
  scope: 'part',
  title: 'Islands closer than the padding',
  why: 'A map that is made smaller blends neighbouring pixels, and colour bleeds from one island into the next.',
  reads: ['faceVertices', 'faceOffsets', 'uvSets', 'faceMaterials'],
  problems: {
    close: {
      severity: 'info',
      text: '{count} [pair|pairs] of islands [is|are] closer than {padding} pixels at {size} pixels (the closest {least}).',
    },
  },
  run({ mesh, facts, settings }, report) {
    const set = mesh.uvSets[0]
    if (!set || settings.paddingPixels <= 0) return
    const islands = findIslands(mesh, set)
    if (islands.islandCount < 2) return
    // islands of different materials lie on different maps
    const materialsOf = Array.from({ length: islands.islandCount }, () => new Set<number>())
    islands.faceIslands.forEach((island, face) => {
      if (island >= 0) materialsOf[island]!.add(mesh.faceMaterials?.[face] ?? -1)
    })
    const pairs = closeIslands(
      islandBorders(facts, set, islands),
      (settings.paddingPixels - ROUNDING) / settings.mapSize,
    ).pairs.filter(({ a, b }) => [...materialsOf[a]!].some((material) => materialsOf[b]!.has(material)))
    if (pairs.length === 0) return
    const faces = facesByIsland(islands.faceIslands, islands.islandCount)
    const least = pairs.reduce((sum, pair) => Math.min(sum, pair.distance), Infinity) * settings.mapSize
    report({
      problem: 'close',
      count: pairs.length,
      parameters: {
        padding: settings.paddingPixels,
        size: settings.mapSize,
        least: Number(least.toFixed(1)),
      },
      places: groupedElements(
        'faces',
        pairs.slice(0, 2000).map(({ a, b }) => [...faces[a]!, ...faces[b]!]),
      ),
      fix: { step: 'pack-islands', params: { ...packing(settings), density: 'kept' } },
    })
  },
}
