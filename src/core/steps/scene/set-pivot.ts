import { axisIndex } from '../../scene/scene-size.ts'
import { placeNodes } from '../../scene/edit-nodes.ts'
import { boundsOf } from '../../base/math/box.ts'
import { multiplyMatrices, transformPoints } from '../../base/math/matrix.ts'
import { worldMatrices } from '../../scene/world.ts'
import { outcome, type StepDescriptor, wordChoices } from '../step.ts'

export const setPivot: StepDescriptor = {
  id: 'set-pivot',
  area: 'scene',
  title: 'Pivot to centre or base',
  description: 'Moves the point that a part turns about; the part itself stays where it is.',
  changes: ['points', 'transforms'],
  parameters: [
    {
      id: 'to',
      title: 'To',
      kind: 'choice',
      default: 'centre',
      choices: wordChoices('centre', 'base', 'origin'),
    },
  ],
  run: (context) => {
    const { scene } = context
    const to = context.text('to')
    const up = axisIndex(scene.space.upAxis)
    const worlds = [...worldMatrices(scene)]
    const meshes = [...scene.meshes]
    const done = new Map<number, readonly number[]>()
    let changedCount = 0
    const shifts = new Map<number, readonly number[]>()
    for (const node of context.nodes) {
      const index = scene.nodes[node]!.mesh
      const box = boundsOf(scene.meshes[index]!.points)
      if (!box) continue
      let shift = done.get(index)
      if (!shift) {
        shift = [0, 1, 2].map((axis) => {
          if (to === 'origin') return 0
          if (to === 'base' && axis === up)
            return scene.space.upAxis.startsWith('-') ? box.max[axis]! : box.min[axis]!
          return (box.min[axis]! + box.max[axis]!) / 2
        })
        done.set(index, shift)
      }
      if (shift.every((value) => value === 0)) continue
      shifts.set(node, shift)
      changedCount++
    }
    if (changedCount === 0) return outcome(scene, 0, 'parts')
    // all nodes of a shared mesh move with it
    scene.nodes.forEach((node, index) => {
      const shift = done.get(node.mesh)
      if (node.mesh >= 0 && shift)
        worlds[index] = multiplyMatrices(worlds[index]!, [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, ...shift, 1])
    })
    for (const [index, shift] of done)
      meshes[index] = {
        ...meshes[index]!,
        points: transformPoints(meshes[index]!.points, [
          1,
          0,
          0,
          0,
          0,
          1,
          0,
          0,
          0,
          0,
          1,
          0,
          -shift[0]!,
          -shift[1]!,
          -shift[2]!,
          1,
        ]),
      }
    return outcome(placeNodes({ ...scene, meshes }, worlds), changedCount, 'parts')
  },
}
