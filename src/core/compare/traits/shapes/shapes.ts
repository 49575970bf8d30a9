import { canonicalText } from '../canonical-text.ts'
import { type PartTraitDescriptor } from '../trait.ts'
import { carryShapes } from './carry-shapes.ts'
import { compareShapes } from './compare-shapes.ts'

/** Blend shapes, and skin weights where present. */
export const shapes: PartTraitDescriptor = {
  id: 'shapes',
  title: 'shapes',
  scope: 'part',
  ofThePart: false,
  notes: {
    'shapes-partly': { ledger: '{changed} of {total} blend [shape|shapes|total] or skin weights changed.' },
  },
  fingerprint({ scene, mesh }, hash) {
    for (const shape of mesh.shapes)
      hash
        .text(canonicalText([shape.name, shape.channel ?? shape.name, shape.fullWeight ?? 100]))
        .numbers(shape.points)
        .numbers(shape.offsets)
    if (!mesh.skin) return
    hash
      .text(canonicalText([...mesh.skin.jointNodes].map((joint) => scene.nodes[joint]?.name ?? null)))
      .numbers(mesh.skin.offsets)
      .numbers(mesh.skin.joints)
      .numbers(mesh.skin.weights)
  },
  compare: ({ masterScene, master, returnedScene, returned, correspondence }) =>
    compareShapes(masterScene, master, returnedScene, returned, correspondence),
  carry: { kind: 'elements', carry: (target, source, { map }) => carryShapes(target, source, map) },
}
