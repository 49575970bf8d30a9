import { plainSources, rebuildMesh } from '../../mesh/rebuilding/rebuild-mesh.ts'
import { subdivideMesh } from '../../mesh/subdividing/subdivide-mesh.ts'
import { EMPTY_MESH, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { correspond } from '../match/correspond.ts'
import { refinedCorners } from './unrefine-uvs.ts'

/**
 * The cage of a mesh that was subdivided into quads and then cut into triangles, along whichever diagonals: the master
 * is refined as often, and each of its refined polygons is looked for among the triangles.
 *
 * @returns null where not every corner of the cage was found.
 */
export function findCutCage(master: Mesh, returned: Mesh, levels: number): Mesh | null {
  const [first] = master.uvSets
  const expected = subdivideMesh(
    {
      ...EMPTY_MESH,
      points: master.points,
      faceOffsets: master.faceOffsets,
      faceVertices: master.faceVertices,
      uvSets: first ? [first] : [],
    },
    { levels, uvMode: 'boundaries', sharpCorners: false },
  )
  const { cornerToReturned, pointToReturned, guess } = correspond(expected, returned)
  if (guess) return null
  const there = refinedCorners(master, levels)
  const cornerSources = new Int32Array(there.length)
  const newOf = new Int32Array(pointCountOf(master)).fill(-1)
  const pointSources: number[] = []
  for (let corner = 0; corner < there.length; corner++) {
    const source = cornerToReturned[there[corner]!]!
    const point = master.faceVertices[corner]!
    if (source < 0 || pointToReturned[point]! < 0) return null
    cornerSources[corner] = source
    if (newOf[point]! >= 0) continue
    newOf[point] = pointSources.length
    pointSources.push(pointToReturned[point]!)
  }
  // two points of the cage that came back as one are no cage's
  if (new Set(pointSources).size < pointSources.length) return null
  const faceOfCorner = new Int32Array(returned.faceVertices.length)
  for (let face = 0; face + 1 < returned.faceOffsets.length; face++)
    faceOfCorner.fill(face, returned.faceOffsets[face], returned.faceOffsets[face + 1])
  return rebuildMesh(
    { ...returned, normals: null, creases: null, smoothing: returned.smoothing?.kind === 'edges' ? null : returned.smoothing }, // prettier-ignore
    {
      pointSources: plainSources(Int32Array.from(pointSources)),
      faceOffsets: master.faceOffsets,
      faceVertices: master.faceVertices.map((point) => newOf[point]!),
      cornerSources: plainSources(cornerSources),
      faceSources: Int32Array.from(
        { length: master.faceOffsets.length - 1 },
        (_face, face) => faceOfCorner[cornerSources[master.faceOffsets[face]!]!]!,
      ),
    },
  )
}
