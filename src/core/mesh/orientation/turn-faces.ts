import { faceCountOf, type Mesh } from '../../scene/mesh.ts'

/** The mesh with every face wound the other way; each face keeps its first corner. */
export function turnFaces(mesh: Mesh): Mesh {
  const cornerFrom = new Uint32Array(mesh.faceVertices.length)
  for (let face = 0; face < faceCountOf(mesh); face++) {
    const start = mesh.faceOffsets[face]!
    const end = mesh.faceOffsets[face + 1]!
    cornerFrom[start] = start
    for (let step = 1; step < end - start; step++) cornerFrom[start + step] = end - step
  }
  const turn = (indices: Int32Array): Int32Array =>
    indices.map((_value, corner) => indices[cornerFrom[corner]!]!)
  return {
    ...mesh,
    faceVertices: mesh.faceVertices.map((_point, corner) => mesh.faceVertices[cornerFrom[corner]!]!),
    uvSets: mesh.uvSets.map((set) => ({ ...set, indices: turn(set.indices) })),
    normals: mesh.normals && { ...mesh.normals, indices: turn(mesh.normals.indices) },
    colorSets: mesh.colorSets.map((set) =>
      set.per === 'corners' ? { ...set, indices: turn(set.indices) } : set,
    ),
    ...(mesh.layers
      ? {
          layers: mesh.layers.flatMap((layer) =>
            layer.per !== 'corners'
              ? [layer]
              : layer.indices
                ? [{ ...layer, indices: turn(layer.indices) }]
                : [],
          ),
        }
      : {}),
  }
}
