import { type PartTraitDescriptor } from '../trait.ts'
import { carryGroups } from './carry-groups.ts'
import { compareGroups } from './compare-groups.ts'
import { addNamedSets } from './fingerprint-groups.ts'

/** Named sets of faces. */
export const groups: PartTraitDescriptor = {
  id: 'groups',
  title: 'groups',
  scope: 'part',
  ofThePart: false,
  notes: {
    'groups-changed': {
      ledger: '{changed} of {total} polygons [is|are|changed] in other groups{names}.',
    },
  },
  fingerprint: ({ mesh }, hash) => addNamedSets(hash, mesh),
  compare: ({ master, returned, correspondence }) => compareGroups(master, returned, correspondence),
  carry: { kind: 'elements', carry: (target, source, { map }) => carryGroups(target, source, map) },
}
