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
    'shape-weights': {
      ledger: 'The shapes are the same; {changed} of {total} [is|are|changed] set to another weight.',
    },
    'skin-bound-otherwise': {
      ledger: 'The shapes and weights are the same; the skin was bound to its joints otherwise.',
      forecast: 'The shapes and weights are carried; how the skin was bound to its joints is not.',
    },
    'shapes-renamed': {
      ledger: 'The shapes are the same; {count} [is|are|count] called something else, “{from}” now “{to}”.',
    },
    'joints-renamed': {
      ledger:
        'The weights are the same; {count} [joint has|joints have|count] another name, “{from}” is now “{to}”.',
    },
    'skin-weights': {
      ledger: 'The skin’s weights of {points} of {held} points changed, the most by {most}.',
      forecast: 'The file holds other skin weights for {points} of {held} points, by {most} at most.',
    },
    'skin-lost': {
      ledger: 'The skin did not come back; it can be restored from the master.',
      forecast: 'The file will not carry the skin.',
    },
    'skin-new': {
      ledger: 'A skin came back that the master has not.',
      forecast: 'The file has a skin that the version has not.',
    },
    'shapes-partly': {
      ledger:
        '[?changed|{changed} of {total} blend [shape|shapes|total] changed][?both|; ][?added|{added} blend [shape is|shapes are|added] new][?points|; so did the skin’s weights of {points} of {held} points, the most by {most}][?skinLost|; the skin did not come back][?skinNew|; a skin came back that the master has not].',
      forecast:
        '[?changed|{changed} of {total} blend [shape|shapes|total] change][?both|; ][?added|{added} blend [shape is|shapes are|added] new][?points|; so do the skin’s weights of {points} of {held} points, the most by {most}][?skinLost|; the skin is not carried][?skinNew|; the file has a skin that the version has not].',
    },
  },
  fingerprint({ scene, mesh }, hash) {
    for (const { name, channel = name, fullWeight = 100, weight = 0, ...shape } of mesh.shapes) {
      hash
        .text(canonicalText([name, channel, fullWeight, Number(weight.toPrecision(6))]))
        .numbers(shape.points)
        .numbers(shape.offsets)
      // none are said by noughts too
      if (shape.normals?.some((value) => value !== 0)) hash.numbers(shape.normals)
      if (shape.tangents?.some((value) => value !== 0)) hash.text('tangents').numbers(shape.tangents)
    }
    const { skin } = mesh
    if (!skin) return
    hash
      .text(
        canonicalText([
          skin.method ?? null,
          [...skin.jointNodes].map((joint) => scene.nodes[joint]?.name ?? null),
        ]),
      )
      .numbers(skin.offsets)
      .numbers(skin.joints)
      .numbers(skin.weights)
    for (const binds of [skin.jointBinds, skin.meshBinds]) if (binds) hash.numbers(binds)
  },
  compare: ({ masterScene, master, returnedScene, returned, correspondence }) =>
    compareShapes(masterScene, master, returnedScene, returned, correspondence),
  carry: { kind: 'elements', carry: (target, source, { map }) => carryShapes(target, source, map) },
}
