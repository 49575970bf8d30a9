import { canonicalText } from '../canonical-text.ts'
import { type PartTraitDescriptor } from '../trait.ts'
import { carryCreases } from './carry-creases.ts'
import { compareCreases } from './compare-creases.ts'
import { creaseLines } from './fingerprint-creases.ts'

/** Sharpness of edges and of vertices, subdivision scheme and levels. */
export const creases: PartTraitDescriptor = {
  id: 'creases',
  title: 'creases',
  scope: 'part',
  ofThePart: false,
  notes: {
    'creases-changed': {
      ledger:
        '{changed} of {total} creased [edge or corner|edges and corners|total] changed[?added|, {added} [is|are|added] new]; [it|they|changed] can be restored.',
      forecast:
        '{changed} of {total} creased [edge or corner|edges and corners|total] [leaves|leave|changed] with another sharpness[?added|, {added} [is|are|added] new].',
    },
    'subdivision-changed': {
      ledger: 'It is subdivided otherwise: {from} in the master, {to} in what came back.',
      forecast: 'It is subdivided otherwise in the file: {to} instead of {from}.',
    },
    'creases-lost': {
      ledger:
        '{total} creased [edge or corner|edges and corners|total] came back smooth; [it|they|total] can be restored.',
      forecast: 'The file will not carry the {total} [crease|creases|total].',
    },
  },
  fingerprint({ mesh }, hash) {
    hash.text(canonicalText([creaseLines(mesh), mesh.subdivision]))
  },
  compare: ({ master, returned, correspondence }) => compareCreases(master, returned, correspondence),
  carry: { kind: 'elements', carry: (target, source, { map }) => carryCreases(target, source, map) },
}
