import type { CheckDescriptor } from '../check.ts'

export const hiddenParts: CheckDescriptor = {
  id: 'hidden-parts',
  area: 'scene',
  scope: 'scene',
  title: 'Hidden parts that would travel',
  why: 'Old states hidden in the scene come out visible on the other side.',
  reads: ['nodes'],
  problems: {
    hidden: { severity: 'warning', text: '{count} [part|parts] [is|are] hidden and would travel.' },
  },
  run({ scene }, report) {
    const hidden = scene.nodes.flatMap((node, index) => (!node.visible && node.mesh >= 0 ? [index] : []))
    if (hidden.length)
      report({
        problem: 'hidden',
        count: hidden.length,
        nodes: hidden,
        fix: { step: 'remove-hidden-parts', params: {} },
      })
  },
}
