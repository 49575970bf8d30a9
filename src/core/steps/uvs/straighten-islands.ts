import { islandsInSet, type LaidIsland } from '../../uv/islands/laid-island.ts'
import { straightenIsland } from '../../uv/islands/straighten-island.ts'
import { changeMeshes, chosenFaces, type StepDescriptor } from '../step.ts'
import { islandsChanged, setNamed, UV_SET } from '../shared/place-on-tiles.ts'

export const straightenIslands: StepDescriptor = {
  id: 'straighten-islands',
  area: 'uvs',
  title: 'Straighten strips to a grid',
  description:
    'Islands of quads in rows, as of straps, hair cards and ropes, become upright rectangles, as wide and high as their rows are on the model. Other islands stay.',
  changes: ['uvs'],
  parameters: [UV_SET],
  run: (context) =>
    changeMeshes(context, 'polygons', (mesh, facts, node) => {
      const set = setNamed(mesh, context.text('set'))
      if (!set) return null
      const islands: LaidIsland[] = []
      let others = 0
      for (const island of islandsInSet(facts, set, chosenFaces(context, node, mesh))) {
        const straight = straightenIsland(facts, island)
        if (straight) islands.push(straight)
        else others++
      }
      const notes = others
        ? [
            `${others} ${others === 1 ? 'island' : 'islands'} of “${mesh.name}” ${others === 1 ? 'is' : 'are'} no grid of quads and ${others === 1 ? 'stays' : 'stay'}.`,
          ]
        : []
      if (islands.length)
        notes.unshift(
          `${islands.length} ${islands.length === 1 ? 'island' : 'islands'} of “${mesh.name}” straightened.`,
        )
      return islandsChanged(mesh, set, islands, notes)
    }),
}
