import { addShared } from '../hash-values.ts'
import { type PartTraitDescriptor } from '../trait.ts'
import { carryUvs } from './carry-uvs.ts'
import { compareUvs } from './compare-uvs.ts'

/** Every UV set: its name, its coordinates, and which corners share them. */
export const uvs: PartTraitDescriptor = {
  id: 'uvs',
  title: 'UVs',
  scope: 'part',
  ofThePart: false,
  notes: {
    'uvs-moved': {
      ledger:
        '{changed} of {total} corners [has|have|changed] another UV, the farthest by {deviation}{also}.',
    },
    'uvs-as-whole': {
      ledger: 'Every corner has another UV, all of them alike: the layout is {how}.',
      forecast: 'The layout in the file is {how}.',
    },
    'uvs-missing': {
      ledger: '{missing} of {total} corners [has|have|missing] a UV on one side only.',
    },
    'uv-depths': {
      ledger: 'The UVs are the same; the third coordinate of {changed} of {total} corners is another one.',
    },
    'uv-sets-lost': {
      ledger: '{lost} of {total} UV sets did not come back: {names}.',
      forecast: 'The file will not carry {lost} of {total} UV sets: {names}.',
    },
    'uv-sets-gained': {
      ledger: 'The UVs are the same, and further UV sets came back: {names}.',
      forecast: 'The file has further UV sets: {names}.',
      toolsOwn: true,
    },
    'uv-set-renamed': {
      ledger: 'The coordinates are the same; the UV set is called “{to}” instead of “{from}”.',
      otherForm: 'The tool knows the set by its other name; Kelbo pairs them again on return.',
      toolsOwn: true,
    },
  },
  fingerprint({ mesh }, hash) {
    for (const set of mesh.uvSets) {
      hash.text(set.name)
      addShared(hash, set.indices, set.values, 2)
      if (set.depths) addShared(hash, set.indices, set.depths, 1)
    }
  },
  compare: ({ master, returned, correspondence }) => compareUvs(master, returned, correspondence),
  carry: {
    kind: 'elements',
    carry: (target, source, { map, ontoMaster }) => carryUvs(target, source, map, ontoMaster),
  },
}
