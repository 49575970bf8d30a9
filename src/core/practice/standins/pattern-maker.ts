/**
 * The pattern maker: a small simulated sewing tool. It takes the surface apart into panels, one for each UV island, in
 * triangles of its own that share no point with those of another panel, and writes them as an OBJ.
 */
import { triangulateScene } from '../../formats/arrange/arrange-scene.ts'
import { fileNameOf, stemOf } from '../../formats/package/package-file.ts'
import { formatNamed, formatOf, optionsFor } from '../../formats/registry.ts'
import { createUnion } from '../../mesh/relations/adjacency.ts'
import { removeFaces } from '../../mesh/rebuilding/edit-faces.ts'
import { transformMesh } from '../../mesh/rebuilding/transform-mesh.ts'
import { faceCountOf, type Mesh } from '../../scene/mesh.ts'
import { plainNode, type Scene } from '../../scene/scene.ts'
import { worldMatrices } from '../../scene/world.ts'
import type { StandInDescriptor } from './standin.ts'

/** Panels of one mesh: polygons that hang together over UVs; those without a UV are one panel more. */
export function panelsOf(mesh: Mesh): Mesh[] {
  const [set] = mesh.uvSets
  if (!set) return [mesh]
  const { join, rootOf } = createUnion(set.values.length / 2)
  for (let face = 0; face < faceCountOf(mesh); face++) {
    const first = set.indices[mesh.faceOffsets[face]!]!
    for (let corner = mesh.faceOffsets[face]! + 1; corner < mesh.faceOffsets[face + 1]!; corner++)
      if (first >= 0 && set.indices[corner]! >= 0) join(first, set.indices[corner]!)
  }
  const panelOf = Int32Array.from({ length: faceCountOf(mesh) }, (_face, face) => {
    const uv = set.indices[mesh.faceOffsets[face]!]!
    return uv < 0 ? -1 : rootOf(uv)
  })
  return [...new Set(panelOf)].map((panel) =>
    removeFaces(
      mesh,
      Uint8Array.from(panelOf, (own) => Number(own !== panel)),
      { dropLoose: true },
    ),
  )
}

/** @param joined all panels of a part stay one part; else each is one. */
export function quilt(scene: Scene, joined: boolean): Scene {
  const worlds = worldMatrices(scene)
  const triangles = triangulateScene(scene)
  const parts = triangles.nodes.flatMap((node, index) => {
    if (node.mesh < 0) return []
    const mesh = transformMesh(triangles.meshes[node.mesh]!, worlds[index]!)
    const bare: Mesh = { ...mesh, smoothing: null, creases: null, normals: null, groups: null, colorSets: [] }
    return panelsOf(bare).map((panel, at) => ({
      name: joined ? node.name : `${node.name}_panel_${at + 1}`,
      panel,
    }))
  })
  return {
    ...scene,
    kept: null,
    cameras: [],
    lights: [],
    meshes: parts.map(({ name, panel }) => ({ ...panel, name, id: '' })),
    nodes: parts.map(({ name }, mesh) => plainNode(name, { mesh })),
  }
}

export const patternMaker: StandInDescriptor = {
  id: 'pattern-maker',
  name: 'The pattern maker',
  description:
    'It takes the surface apart into panels, one for each UV island, cuts them into triangles that share no points, forgets smoothing, creases and groups, and writes an OBJ.',
  action: 'Quilt and bring it back',
  suffix: '_quilted',
  reads: ['obj', 'fbx'],
  parameters: [{ id: 'joined', title: 'Panels of a part keep its name', kind: 'boolean', default: false }],
  run(model, beside, { value, readOptions, codec }) {
    const format = formatOf(model.name)!
    const read = format.read(model, beside, { ...optionsFor(format, readOptions), codec }).scene
    const made = quilt(read, Boolean(value('joined')))
    const written = formatNamed('obj').write(made, `${stemOf(fileNameOf(model.name))}.obj`, {
      materials: 'names',
      normals: false,
      maps: false,
      codec,
    })
    return {
      files: written.files.filter((file) => formatOf(file.name)),
      log: [
        `The surface was taken apart into ${made.nodes.length} panels, in triangles that share no points.`,
        'Smoothing, creases and groups were forgotten.',
      ],
    }
  },
}
