import { isBare, surfaceText } from '../../scene/material-text.ts'
import type { Material } from '../../scene/material.ts'
import { outcome, type StepDescriptor, wordChoices } from '../step.ts'

/** A name without the number that programs put behind a doubled one: `brass.001`, `brass_2`, `brass 3`, `brass(4)`. */
const withoutNumber = (name: string): string =>
  name
    .trim()
    .toLowerCase()
    .replace(/(?:[ ._-]\d{1,4}|\s?\(\d{1,4}\))+$/, '')

export const mergeEqualMaterials: StepDescriptor = {
  id: 'merge-equal-materials',
  area: 'materials',
  title: 'Merge equal materials',
  description:
    'Materials with the same parameters and maps become one, under the name of the first: those whose names differ by a number alone, or whatever their names are. Materials that have nothing but a name are merged by the number alone.',
  changes: ['materials', 'surfaces'],
  parameters: [
    {
      id: 'names',
      title: 'Names',
      kind: 'choice',
      default: 'numbered',
      choices: wordChoices('numbered', 'any'),
    },
  ],
  run: (context) => {
    const { scene } = context
    const anyName = context.text('names') === 'any'
    const first = new Map<string, number>()
    const notes: string[] = []
    const materials: Material[] = []
    const newOf = Int32Array.from(scene.materials, (material) => {
      const name = anyName && !isBare(material) ? '' : withoutNumber(material.name)
      const key = JSON.stringify([name, surfaceText(material)])
      const known = first.get(key)
      if (known !== undefined) {
        notes.push(`“${material.name}” is “${materials[known]!.name}” now.`)
        return known
      }
      materials.push(material)
      first.set(key, materials.length - 1)
      return materials.length - 1
    })
    const merged = scene.materials.length - materials.length
    if (merged === 0) return outcome(scene, 0, 'materials')
    return {
      ...outcome(
        {
          ...scene,
          materials,
          meshes: scene.meshes.map((mesh) =>
            mesh.faceMaterials?.some((material) => material >= 0 && newOf[material] !== material)
              ? {
                  ...mesh,
                  faceMaterials: mesh.faceMaterials.map((material) => (material < 0 ? -1 : newOf[material]!)),
                }
              : mesh,
          ),
        },
        merged,
        'materials',
      ),
      notes,
    }
  },
}
