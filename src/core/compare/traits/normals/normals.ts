import { addShared } from '../hash-values.ts'
import { type PartTraitDescriptor } from '../trait.ts'
import { carryNormals } from './carry-normals.ts'
import { compareNormals } from './compare-normals.ts'

/** Authored corner normals. */
export const normals: PartTraitDescriptor = {
  id: 'normals',
  title: 'normals',
  scope: 'part',
  ofThePart: false,
  notes: {
    'normals-turned': {
      ledger: '{changed} of {total} corner normals turned, the farthest by {degrees}°.',
    },
  },
  fingerprint({ mesh }, hash) {
    if (mesh.normals) addShared(hash, mesh.normals.indices, mesh.normals.values, 3)
  },
  compare: ({ master, returned, correspondence }) => compareNormals(master, returned, correspondence),
  carry: { kind: 'elements', carry: (target, source, { map }) => carryNormals(target, source, map) },
}
