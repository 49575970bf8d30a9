import { renderText } from '../../base/messages/render.ts'
import { groupsFromHardEdges, hardEdgePoints } from '../../mesh/smoothing/smoothing-groups.ts'
import type { Smoothing } from '../../scene/mesh.ts'
import { changeMeshes, type StepDescriptor, wordChoices } from '../step.ts'

/** Groups that a 32-bit mask has room for. */
const MASK_BITS = 32

export const convertSmoothing: StepDescriptor = {
  id: 'convert-smoothing',
  area: 'shading',
  title: 'Smoothing groups from hard edges, and back',
  description:
    'Stores the same smoothing in another form: a group a polygon, a mask of groups, or a flag an edge.',
  changes: ['smoothing'],
  parameters: [
    {
      id: 'to',
      title: 'Form',
      kind: 'choice',
      default: 'groups',
      choices: wordChoices('groups', 'masks', 'edges'),
    },
  ],
  run: (context) =>
    changeMeshes(context, 'polygons', (mesh, facts) => {
      const to = context.text('to')
      if (!mesh.smoothing || mesh.smoothing.kind === to) return null
      if (to === 'edges')
        return {
          mesh: { ...mesh, smoothing: { kind: 'edges', hardEdgePoints: hardEdgePoints(facts) } },
          changedCount: facts.faceCount,
        }
      const { faceGroups, inexpressible } = groupsFromHardEdges(facts)
      const notes = inexpressible.length
        ? [
            renderText(
              '[One hard edge|{count} hard edges] of “{name}” [ends|end] inside a soft area and became soft.',
              { count: inexpressible.length, name: mesh.name },
            ),
          ]
        : []
      let smoothing: Smoothing = { kind: 'groups', faceGroups }
      if (to === 'masks') {
        const highest = faceGroups.reduce((most, group) => Math.max(most, group), 0)
        if (highest > MASK_BITS)
          return {
            mesh,
            changedCount: 0,
            notes: [`“${mesh.name}” needs ${highest} groups; a mask has ${MASK_BITS}.`],
          }
        smoothing = {
          kind: 'masks',
          faceMasks: Uint32Array.from(faceGroups, (group) => (1 << (group - 1)) >>> 0),
        }
      }
      return { mesh: { ...mesh, smoothing }, changedCount: facts.faceCount, notes }
    }),
}
