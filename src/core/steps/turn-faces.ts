import { orientFaces } from '../edit/orient-faces.ts'
import { numbers } from '../edit/edit-faces.ts'
import { plainSources, rebuildMesh } from '../edit/rebuild-mesh.ts'
import { pointCountOf, type CornerNormals, type Mesh } from '../scene/mesh.ts'
import { changeMeshes, chosenFaces, type StepDescriptor } from './step.ts'

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

function negateNormals(normals: CornerNormals, turned: Uint8Array): CornerNormals {
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

export const turnFacesStep: StepDescriptor = {
  id: 'turn-faces',
  area: 'polygons',
  title: 'Turn polygons',
  description:
    'Outward: every shell agrees with itself and faces out. All: the polygons, or those chosen, are turned over.',
  changes: ['topology', 'normals'],
  parameters: [
    {
      name: 'mode',
      title: 'Which way',
      type: 'choice',
      unit: null,
      default: 'outward',
      choices: ['outward', 'agree', 'all'],
    },
  ],
  run: (context) =>
    changeMeshes(context, 'polygons', (mesh, facts, node) => {
      const mode = context.text('mode')
      const chosen = chosenFaces(context, node, mesh)
      const flags = new Uint8Array(facts.faceCount)
      if (mode === 'all') flags.fill(1)
      else {
        const { against, faceShells, inward } = orientFaces(facts)
        for (let face = 0; face < flags.length; face++)
          flags[face] = against[face]! ^ (mode === 'outward' ? inward[faceShells[face]!]! : 0)
      }
      const turned: number[] = []
      for (let face = 0; face < flags.length; face++) {
        if (chosen && !chosen[face]) flags[face] = 0
        if (flags[face]) turned.push(face)
      }
      return turned.length === 0
        ? null
        : {
            mesh: turnFlaggedFaces(mesh, flags),
            changedCount: turned.length,
            element: 'faces',
            elements: turned,
          }
    }),
}
