import { usedMaterials } from '../materials/used-materials.ts'
import { type PartTraitDescriptor } from '../trait.ts'
import { compareSurfaces } from './compare-surfaces.ts'
import { surfaceText } from '../../../scene/material-text.ts'

/** The materials' parameters and their maps. */
export const surfaces: PartTraitDescriptor = {
  id: 'surfaces',
  title: 'surfaces',
  scope: 'part',
  ofThePart: true,
  notes: {
    'surfaces-reworded': {
      ledger: 'The same values under another format’s names.',
      otherForm: 'A tool that knows the one wording only has to be told the other.',
    },
    'surfaces-partly': {
      ledger: 'The same values under another format’s names; {own} more [has|have|own] none there.',
      otherForm: 'What only the master’s format has a name for stays in the master.',
    },
    'surfaces-changed': {
      ledger: 'The parameters or maps of {changed} of {total} [material|materials|total] changed.',
    },
  },
  fingerprint({ scene, mesh }, hash) {
    for (const material of usedMaterials(mesh)) hash.text(surfaceText(scene.materials[material]!))
  },
  compare: compareSurfaces,
  carry: { kind: 'part', take: 'surfaces' },
}
