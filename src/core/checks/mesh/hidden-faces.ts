import { findHiddenFaces } from '../../mesh/visibility/find-hidden-faces.ts'
import { seeThroughFaces } from '../../surfaces/see-through.ts'
import { eachElement, type CheckDescriptor, type SceneContext } from '../check.ts'

/** Nodes that carry a mesh and can be seen. */
export const shownParts = ({ scene }: Pick<SceneContext, 'scene'>): number[] =>
  scene.nodes.flatMap((node, index) => (node.mesh >= 0 && node.visible ? [index] : []))

export const hiddenFaces: CheckDescriptor = {
  id: 'hidden-faces',
  area: 'mesh',
  scope: 'scene',
  title: 'Polygons nobody can see',
  why: 'Insides that no view from outside reaches take room in the UV tile and weight in the file for nothing.',
  reads: ['meshes', 'nodes', 'materials'],
  problems: {
    hidden: { severity: 'info', text: '{count} [polygon|polygons] can’t be seen from any side.' },
    unfinished: {
      severity: 'info',
      text: 'So much of the model is hidden that not all of it was looked at; {count} hidden [polygon was|polygons were] found.',
    },
  },
  run(context, report) {
    const nodes = shownParts(context)
    const { faces, complete } = findHiddenFaces(
      nodes.map((node) => ({
        facts: context.factsOf(context.scene.meshes[context.scene.nodes[node]!.mesh]!),
        world: context.worlds[node]!,
        seeThrough: seeThroughFaces(context.scene, context.scene.meshes[context.scene.nodes[node]!.mesh]!),
      })),
    )
    faces.forEach((hidden, index) => {
      if (hidden.length)
        report({
          problem: complete ? 'hidden' : 'unfinished',
          node: nodes[index]!,
          count: hidden.length,
          places: eachElement('faces', hidden),
          fix: { step: 'remove-hidden', params: {} },
        })
    })
  },
}
