import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { isIdentity } from '../../base/math/matrix.ts'
import type { CheckDescriptor } from '../check.ts'

export const pivots: CheckDescriptor = {
  id: 'pivots',
  area: 'scene',
  scope: 'scene',
  title: 'Pivots away from their part',
  why: 'A part turns and scales about its pivot; one that lies far off swings the part through the room.',
  reads: ['nodes', 'meshes'],
  problems: {
    away: {
      severity: 'info',
      text: '{count} [part|parts] [has its|have their] pivot farther away than [it is|they are] large.',
    },
  },
  run({ scene, worlds }, report) {
    const away: number[] = []
    scene.nodes.forEach((node, index) => {
      // a baked part turns about the scene's origin, on purpose
      if (node.mesh < 0 || isIdentity(worlds[index]!)) return
      const box = boundsOf(scene.meshes[node.mesh]!.points)
      if (!box) return
      const pivot = node.transform?.rotationPivot ?? [0, 0, 0]
      const outside = Math.hypot(
        ...[0, 1, 2].map((axis) => Math.max(box.min[axis]! - pivot[axis]!, pivot[axis]! - box.max[axis]!, 0)),
      )
      if (outside > diagonalOf(box)) away.push(index)
    })
    if (away.length)
      report({
        problem: 'away',
        count: away.length,
        nodes: away,
        fix: { step: 'set-pivot', params: { to: 'centre' } },
      })
  },
}
