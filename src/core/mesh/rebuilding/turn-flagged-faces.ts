import { numbers } from './edit-faces.ts'
import { plainSources, rebuildMesh } from './rebuild-mesh.ts'
import { pointCountOf, type CornerNormals, type Mesh } from '../../scene/mesh.ts'

/** The mesh with the flagged faces wound the other way, each keeping its first corner; their normals turn with them. */
export function turnFlaggedFaces(mesh: Mesh, flags: Uint8Array): Mesh {
  const cornerSources = new Int32Array(mesh.faceVertices.length)
  const turned = new Uint8Array(cornerSources.length)
  for (let face = 0; face < flags.length; face++) {
    const start = mesh.faceOffsets[face]!
    const size = mesh.faceOffsets[face + 1]! - start
    for (let at = 0; at < size; at++) {
      cornerSources[start + at] = flags[face] && at > 0 ? start + size - at : start + at
      turned[start + at] = flags[face]!
    }
  }
  const wound = rebuildMesh(mesh, {
    pointSources: plainSources(numbers(pointCountOf(mesh))),
    points: mesh.points,
    faceOffsets: mesh.faceOffsets,
    faceVertices: Uint32Array.from(cornerSources, (corner) => mesh.faceVertices[corner]!),
    cornerSources: plainSources(cornerSources),
    faceSources: numbers(flags.length),
  })
  return wound.normals ? { ...wound, normals: negateNormals(wound.normals, turned) } : wound
}

/** Normals that point the other way on flagged corners; shared values are split where only some of them turn. */
export function negateNormals(normals: CornerNormals, turned: Uint8Array): CornerNormals {
  const count = normals.values.length / 3
  const opposite = new Map<number, number>()
  const extra: number[] = []
  const indices = normals.indices.map((index, corner) => {
    if (index < 0 || !turned[corner]) return index
    let made = opposite.get(index)
    if (made === undefined) {
      made = count + extra.length / 3
      opposite.set(index, made)
      for (let axis = 0; axis < 3; axis++) extra.push(-normals.values[3 * index + axis]!)
    }
    return made
  })
  const values = new Float64Array(normals.values.length + extra.length)
  values.set(normals.values)
  values.set(extra, normals.values.length)
  return { values, indices }
}
