import { drawIdMap } from '../../surfaces/id-map.ts'
import { outcome, StepRefusal, wordChoices, type StepDescriptor } from '../step.ts'

export const idMapFromMaterials: StepDescriptor = {
  id: 'id-map-from-materials',
  area: 'materials',
  title: 'An ID map',
  description:
    'Draws a colour for each material, or for each group, into an image in the UVs and gives it to all materials, so that a painter can choose by it. Colours of materials are read back as these, those of groups as a material for each.',
  changes: ['surfaces'],
  parameters: [
    {
      id: 'by',
      title: 'A colour for each',
      kind: 'choice',
      default: 'materials',
      choices: wordChoices('materials', 'groups'),
    },
    { id: 'set', title: 'UV set', kind: 'text', default: '', most: 200 },
    { id: 'size', title: 'Pixels on a side', kind: 'number', default: 1024, min: 16, max: 4096, whole: true },
    {
      id: 'padding',
      title: 'Padding',
      kind: 'number',
      unit: 'pixels',
      default: 4,
      min: 0,
      max: 64,
      whole: true,
    },
    { id: 'file', title: 'File', kind: 'text', default: 'maps/id.png', most: 200 },
  ],
  run: (context) => {
    const { scene } = context
    const file = context.text('file').trim()
    if (!/\.png$/i.test(file)) throw new StepRefusal('An ID map is a PNG file: its name ends in “.png”.')
    const map = drawIdMap(scene, context.text('by') as 'materials' | 'groups', {
      set: context.text('set').trim() || null,
      size: context.number('size'),
      padding: context.number('padding'),
      file,
    })
    if (!map) throw new StepRefusal('No polygons lie in this UV set, or they lie in too many squares.')
    const own = { property: 'map_id', slot: 'id', file: map.image.file, options: [] } as const
    const placed = {
      name: 'id',
      uvSet: map.set,
      wrapU: 'repeat',
      wrapV: 'repeat',
      scale: [1, 1],
      offset: [0, 0],
      kept: [],
    } as const
    const isFirst = scene.meshes.every(({ uvSets }) => !uvSets.length || uvSets[0]!.name === map.set)
    return outcome(
      {
        ...scene,
        materials: scene.materials.map((material) => ({
          ...material,
          maps: [
            ...material.maps.filter(({ slot }) => slot !== 'id'),
            isFirst ? own : { ...own, placement: placed },
          ],
        })),
        images: [...scene.images.filter((image) => image.file !== map.image.file), map.image],
      },
      scene.materials.length,
      'materials',
      {
        notes: [
          ...map.colors.map(({ name, color }) => `“${name}” is ${color}.`),
          ...(map.sharedCount ? ['Islands lie over each other: the first polygon has the pixels.'] : []),
        ],
      },
    )
  },
}
