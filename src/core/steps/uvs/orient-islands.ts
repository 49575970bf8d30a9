import { islandsInSet, outlineOf, type LaidIsland } from '../../uv/islands/laid-island.ts'
import { turnTo, upOf, type IslandDirection } from '../../uv/islands/turn-upright.ts'
import { turnedBox } from '../../uv/pack/outline.ts'
import { worldMatrices } from '../../scene/world.ts'
import { changeMeshes, chosenFaces, type StepDescriptor } from '../step.ts'
import { islandsChanged, setNamed, UV_SET } from '../shared/place-on-tiles.ts'

/** Radians; less is no turn. */
const LEAST = 1e-6

export const orientIslands: StepDescriptor = {
  id: 'orient-islands',
  area: 'uvs',
  title: 'Turn islands upright',
  description:
    'Turns each island about its middle: up as it is up on the part, its longest straight border along an axis, or its polygons along the grid.',
  changes: ['uvs'],
  parameters: [
    {
      id: 'to',
      title: 'Upright by',
      kind: 'choice',
      default: 'up',
      choices: [
        { value: 'up', title: 'up on the part' },
        { value: 'longestBorder', title: 'the longest straight border' },
        { value: 'grid', title: 'the polygons’ sides' },
      ],
    },
    UV_SET,
  ],
  run: (context) =>
    changeMeshes(context, 'polygons', (mesh, facts, node) => {
      const set = setNamed(mesh, context.text('set'))
      if (!set) return null
      const up = upOf(context.scene.space.upAxis, worldMatrices(context.scene)[node]!)
      const turned = islandsInSet(facts, set, chosenFaces(context, node, mesh)).flatMap((island) => {
        const angle = turnTo(context.text('to') as IslandDirection, island, facts, up)
        return Math.abs(angle) > LEAST ? [turnedInPlace(island, angle)] : []
      })
      return islandsChanged(
        mesh,
        set,
        turned,
        turned.length
          ? [`${turned.length} ${turned.length === 1 ? 'island' : 'islands'} of “${mesh.name}” turned.`]
          : [],
      )
    }),
}

function turnedInPlace(island: LaidIsland, angle: number): LaidIsland {
  const { low, high } = turnedBox(outlineOf(island), 0)
  const [mu, mv] = [(low[0] + high[0]) / 2, (low[1] + high[1]) / 2]
  const [c, s] = [Math.cos(angle), Math.sin(angle)]
  const flat = new Float64Array(island.flat.length)
  for (let at = 0; at < flat.length; at += 2) {
    const [u, v] = [island.flat[at]! - mu, island.flat[at + 1]! - mv]
    flat[at] = mu + c * u - s * v
    flat[at + 1] = mv + s * u + c * v
  }
  return { ...island, flat }
}
