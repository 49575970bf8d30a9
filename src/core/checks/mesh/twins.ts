import { findTwins, TWIN_PROPERTY } from '../../compare/match/find-twins.ts'
import type { CheckDescriptor } from '../check.ts'

export const twins: CheckDescriptor = {
  id: 'twins',
  area: 'mesh',
  scope: 'scene',
  title: 'Twin parts',
  why: 'Of parts that are moved or mirrored copies only one has to be unwrapped and painted; the others can follow.',
  reads: ['meshes', 'nodes'],
  problems: {
    moved: { severity: 'info', text: '“{twin}” is “{name}”, moved.' },
    mirrored: { severity: 'info', text: '“{twin}” is “{name}”, mirrored.' },
  },
  run({ scene }, report) {
    for (const { node, twin, mirrored } of findTwins(scene)) {
      // one mesh in several places is no copy
      if (scene.nodes[node]!.mesh === scene.nodes[twin]!.mesh) continue
      // it follows already, though its transform was baked since
      if (scene.nodes[twin]!.properties[TWIN_PROPERTY] === scene.nodes[node]!.name) continue
      report({
        problem: mirrored ? 'mirrored' : 'moved',
        count: 1,
        node,
        nodes: [twin],
        parameters: { name: scene.nodes[node]!.name, twin: scene.nodes[twin]!.name },
        fix: { step: 'keep-one-twin', params: {} },
      })
    }
  },
}
