import { isIdentity, isMirroring } from '../../base/math/matrix.ts'
import type { CheckDescriptor } from '../check.ts'

export const transforms: CheckDescriptor = {
  id: 'transforms',
  area: 'scene',
  scope: 'scene',
  title: 'Transforms that are not baked',
  why: 'Scale and turn that stay on a part multiply into brushes, bevels and rigs; a negative scale turns it inside out.',
  reads: ['nodes'],
  problems: {
    negative: { severity: 'error', text: '{count} [part|parts] [has|have] a negative scale.' },
    uneven: { severity: 'warning', text: '{count} [part|parts] [is|are] scaled unevenly.' },
    unbaked: { severity: 'info', text: '{count} [part|parts] [has|have] a transform that is not baked.' },
  },
  run({ scene, worlds }, report) {
    const negative: number[] = []
    const uneven: number[] = []
    const unbaked: number[] = []
    scene.nodes.forEach((node, index) => {
      if (node.mesh < 0) return
      const world = worlds[index]!
      if (isIdentity(world)) return
      const lengths = [0, 4, 8].map((column) =>
        Math.hypot(world[column]!, world[column + 1]!, world[column + 2]!),
      )
      if (isMirroring(world)) negative.push(index)
      else if (Math.max(...lengths) > Math.min(...lengths) * (1 + 1e-4)) uneven.push(index)
      else unbaked.push(index)
    })
    const say = (problem: string, nodes: readonly number[]): void => {
      if (nodes.length)
        report({ problem, count: nodes.length, nodes, fix: { step: 'bake-transforms', params: {} } })
    }
    say('negative', negative)
    say('uneven', uneven)
    say('unbaked', unbaked)
  },
}
