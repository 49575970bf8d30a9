import { facesByIsland, findIslands } from '../../uv/find-islands.ts'
import { uvAreas } from '../../uv/uv-measures.ts'
import { groupedElements, type CheckDescriptor } from '../check.ts'
import { packing } from '../settings.ts'

export const flippedIslands: CheckDescriptor = {
  id: 'flipped-islands',
  area: 'uvs',
  scope: 'part',
  title: 'Flipped islands',
  why: 'A mirrored island shows letters backwards, and normal maps light it from the wrong side in some tools.',
  reads: ['faceVertices', 'faceOffsets', 'uvSets'],
  problems: {
    flipped: {
      severity: 'info',
      text: '{count} [island|islands] [is|are] mirrored ({faces} [polygon|polygons|faces]).',
    },
    folded: {
      severity: 'warning',
      text: '{count} [polygon|polygons] [is|are] folded over inside their island.',
    },
  },
  run({ mesh, settings }, report) {
    const set = mesh.uvSets[0]
    if (!set) return
    const areas = uvAreas(mesh, set)
    const { islandCount, faceIslands } = findIslands(mesh, set)
    const sums = new Float64Array(islandCount)
    for (let face = 0; face < areas.length; face++)
      if (faceIslands[face]! >= 0 && Number.isFinite(areas[face])) sums[faceIslands[face]!]! += areas[face]!
    const flipped = facesByIsland(faceIslands, islandCount).filter((_faces, island) => sums[island]! < 0)
    if (flipped.length)
      report({
        problem: 'flipped',
        count: flipped.length,
        parameters: { faces: flipped.flat().length },
        places: groupedElements('faces', flipped),
        fix: { step: 'flip-islands', params: {} },
      })
    const folded: number[] = []
    for (let face = 0; face < areas.length; face++)
      if (faceIslands[face]! >= 0 && areas[face]! * sums[faceIslands[face]!]! < 0) folded.push(face)
    if (folded.length)
      report({
        problem: 'folded',
        count: folded.length,
        places: groupedElements(
          'faces',
          folded.map((face) => [face]),
        ),
        fix: { step: 'relax-uvs', params: { onlyBroken: true, ...packing(settings) } },
      })
  },
}
