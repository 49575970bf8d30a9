import { canonicalText } from '../canonical-text.ts'
import { type PartTraitDescriptor } from '../trait.ts'
import { carryMaterials } from './carry-materials.ts'
import { compareMaterials } from './compare-materials.ts'
import { usedMaterials } from './used-materials.ts'

/** Which material each face has, and the materials' names. */
export const materials: PartTraitDescriptor = {
  id: 'materials',
  title: 'materials',
  scope: 'part',
  ofThePart: false,
  notes: {
    'materials-changed': { ledger: '{changed} of {total} polygons [has|have|changed] another material.' },
    'materials-named-otherwise': {
      ledger:
        'The same polygons have the same materials, {count} of them under another name: {names}. Those of the master stay unless they are taken.',
      forecast: 'The same polygons have the same materials, {count} of them under another name: {names}.',
      toolsOwn: true,
    },
    'materials-merged': {
      ledger: '{count} materials came back as one, “{as}”: {names}. The master still tells them apart.',
      forecast: '{count} [material leaves|materials leave] as one, “{as}”: {names}.',
    },
    'materials-split': {
      ledger: '“{name}” came back as {count} materials: {as}. In the master it is still one.',
      forecast: '“{name}” leaves as {count} materials: {as}.',
    },
    'materials-renamed': {
      ledger: 'The same polygons have the same materials, {count} of them under another name.',
      otherForm: 'They are known by their own names again on return.',
    },
  },
  fingerprint({ scene, mesh }, hash) {
    const used = usedMaterials(mesh)
    hash.text(canonicalText(used.map((material) => scene.materials[material]!.name)))
    if (!mesh.faceMaterials || used.length === 0) return
    const newOf = new Int32Array(scene.materials.length).fill(-1)
    used.forEach((material, index) => (newOf[material] = index))
    hash.numbers(mesh.faceMaterials.map((material) => (material < 0 ? -1 : newOf[material]!)))
  },
  compare: ({ masterScene, master, returnedScene, returned, correspondence }) =>
    compareMaterials(masterScene, master, returnedScene, returned, correspondence),
  carry: {
    kind: 'elements',
    carry: (target, source, { map, materialOf }) => carryMaterials(target, source, map, materialOf),
  },
}
