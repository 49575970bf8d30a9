import { dropUnusedMeshes, placeNodes } from '../../scene/edit-nodes.ts'
import { findTwins, TWIN_PROPERTY } from '../../compare/match/find-twins.ts'
import { equalData } from '../../base/math/equal-data.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { multiplyMatrices } from '../../base/math/matrix.ts'
import { worldMatrices } from '../../scene/world.ts'
import { outcome, type StepDescriptor } from '../step.ts'

/** What a twin has besides its shape that may be another than the kept one's, whatever the order of its elements. */
const TRAITS_OF_ITS_OWN: readonly (readonly [string, (mesh: Mesh) => unknown])[] = [
  [
    'UVs',
    ({ uvSets }) =>
      uvSets.map(({ values, indices }) =>
        Array.from(indices, (uv) => (uv < 0 ? '' : `${values[2 * uv]!} ${values[2 * uv + 1]!}`)).sort(),
      ),
  ],
  ['materials', ({ faceMaterials }) => faceMaterials && Int32Array.from(faceMaterials).sort()],
  ['colours', ({ colorSets }) => colorSets.map(({ values }) => Float64Array.from(values).sort())],
]

const ownTraits = (kept: Mesh, follower: Mesh): string[] =>
  TRAITS_OF_ITS_OWN.filter(([, of]) => !equalData(of(kept), of(follower))).map(([name]) => name)

export const keepOneTwin: StepDescriptor = {
  id: 'keep-one-twin',
  area: 'parts',
  title: 'Keep one of each set of twins',
  description:
    'Of parts that are moved or mirrored copies the first is kept; the others become places where it stands, and remember it.',
  changes: [
    'topology',
    'points',
    'transforms',
    'uvs',
    'smoothing',
    'normals',
    'creases',
    'materials',
    'groups',
    'colours',
    'shapes',
  ],
  parameters: [],
  run: (context) => {
    const { scene } = context
    const chosen = new Set(context.nodes)
    const twins = findTwins(scene).filter(
      ({ node, twin }) =>
        chosen.has(node) && chosen.has(twin) && scene.nodes[node]!.mesh !== scene.nodes[twin]!.mesh,
    )
    if (twins.length === 0) return outcome(scene, 0, 'parts')
    const worlds = [...worldMatrices(scene)]
    const following = new Map(twins.map((twin) => [twin.twin, twin]))
    const pointing = {
      ...scene,
      nodes: scene.nodes.map((node, index) => {
        const twin = following.get(index)
        if (!twin) return node
        worlds[index] = multiplyMatrices(twin.matrix, worlds[twin.node]!)
        const kept = scene.nodes[twin.node]!
        return { ...node, mesh: kept.mesh, properties: { ...node.properties, [TWIN_PROPERTY]: kept.name } }
      }),
    }
    return outcome(dropUnusedMeshes(placeNodes(pointing, worlds)), twins.length, 'parts', {
      notes: twins.flatMap(({ node, twin, mirrored }) => {
        const [kept, follower] = [scene.nodes[node]!, scene.nodes[twin]!]
        const own = ownTraits(scene.meshes[kept.mesh]!, scene.meshes[follower.mesh]!)
        return [
          `“${follower.name}” follows “${kept.name}”${mirrored ? ', mirrored' : ''}.`,
          ...(own.length
            ? [
                `“${follower.name}” had ${own.join(', ')} of its own: they go, and those of “${kept.name}” take their place.`,
              ]
            : []),
        ]
      }),
    })
  },
}
