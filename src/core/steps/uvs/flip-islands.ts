import { islandsInSet, outlineOf, type LaidIsland } from '../../uv/islands/laid-island.ts'
import { signedArea, turnedBox } from '../../uv/pack/outline.ts'
import { changeMeshes, chosenFaces, type StepDescriptor } from '../step.ts'
import { islandsChanged, setNamed, UV_SET } from '../shared/place-on-tiles.ts'

export const flipIslands: StepDescriptor = {
  id: 'flip-islands',
  area: 'uvs',
  title: 'Turn mirrored islands over',
  description: 'Islands that lie mirrored are turned over, each within its own box.',
  changes: ['uvs'],
  parameters: [
    {
      id: 'which',
      title: 'Which',
      kind: 'choice',
      default: 'mirrored',
      choices: [
        { value: 'mirrored', title: 'mirrored ones' },
        { value: 'all', title: 'all of them' },
      ],
    },
    UV_SET,
  ],
  run: (context) =>
    changeMeshes(context, 'polygons', (mesh, facts, node) => {
      const set = setNamed(mesh, context.text('set'))
      if (!set) return null
      const islands = islandsInSet(facts, set, chosenFaces(context, node, mesh)).filter(
        (island) => context.text('which') === 'all' || signedArea(outlineOf(island)) < 0,
      )
      return islandsChanged(mesh, set, islands.map(turnedOver))
    }),
}

function turnedOver(island: LaidIsland): LaidIsland {
  const { low, high } = turnedBox(outlineOf(island), 0)
  return {
    ...island,
    flat: island.flat.map((value, at) => (at % 2 ? value : low[0] + high[0] - value)),
  }
}
