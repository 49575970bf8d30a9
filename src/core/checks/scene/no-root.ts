import type { CheckDescriptor } from '../check.ts'

export const noRoot: CheckDescriptor = {
  id: 'no-root',
  area: 'scene',
  scope: 'scene',
  title: 'Parts without a root',
  why: 'Loose parts are moved one by one and get left behind; under one root the model is one thing.',
  reads: ['nodes'],
  problems: {
    scattered: { severity: 'info', text: '{count} [part|parts] [stands|stand] side by side without a root.' },
  },
  run({ scene, settings }, report) {
    const roots = scene.nodes.flatMap((node, index) => (node.parent < 0 ? [index] : []))
    if (settings.wantRoot && roots.length > 1)
      report({
        problem: 'scattered',
        count: roots.length,
        nodes: roots,
        fix: { step: 'group-under-root', params: {} },
      })
  },
}
