import { type PartTraitDescriptor } from '../trait.ts'
import { carrySmoothing } from './carry-smoothing.ts'
import { compareSmoothing } from './compare-smoothing.ts'
import { canonicalEdges } from './fingerprint-smoothing.ts'

/** Smoothing as stored, and the hard edges that follow from it. */
export const smoothing: PartTraitDescriptor = {
  id: 'smoothing',
  title: 'smoothing',
  scope: 'part',
  ofThePart: false,
  notes: {
    'edges-softened': {
      ledger:
        '{changed} of {total} hard [edge|edges|total] came back soft[?added|, {added} [is|are|added] new]; [it|they|changed] can be restored.',
      forecast:
        '{changed} of {total} hard edges [leaves|leave|changed] soft[?added|, {added} [is|are|added] new].',
    },
    'smoothing-lost': {
      ledger: '{total} hard [edge|edges|total] came back without smoothing; [it|they|total] can be restored.',
      forecast: 'The file will not carry the {total} hard [edge|edges|total].',
    },
    'smoothing-renumbered': {
      ledger: 'The hard edges are the same; the group numbers differ.',
      otherForm: 'The edges stay hard and soft as they are; the groups’ own numbers are not in the file.',
    },
  },
  fingerprint({ mesh: { smoothing } }, hash) {
    if (!smoothing) return
    hash.text(smoothing.kind)
    if (smoothing.kind === 'groups') hash.numbers(smoothing.faceGroups)
    else if (smoothing.kind === 'masks') hash.numbers(smoothing.faceMasks)
    else hash.numbers(canonicalEdges(smoothing.hardEdgePoints))
  },
  compare: ({ master, returned, correspondence }) => compareSmoothing(master, returned, correspondence),
  carry: { kind: 'elements', carry: (target, source, { map }) => carrySmoothing(target, source, map) },
}
