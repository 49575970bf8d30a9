import { between, edgesWithPoints, givenSeams, type GivenSeams } from '../../uv/seams/given-seams.ts'
import { outcome, type StepDescriptor } from '../step.ts'
import { cutAndPack } from '../shared/cut-and-pack.ts'
import { MAP_SIZE, PADDING, UV_SET } from '../shared/place-on-tiles.ts'

export const cutUvs: StepDescriptor = {
  id: 'cut-uvs',
  area: 'uvs',
  title: 'Cut the UVs',
  description:
    'Cuts islands along chosen edges, hard edges, bends, or borders of groups or materials. What comes apart keeps its shape and is packed anew.',
  changes: ['uvs'],
  parameters: [
    {
      id: 'along',
      title: 'Along',
      kind: 'choice',
      default: 'chosen',
      choices: [
        { value: 'chosen', title: 'chosen edges' },
        { value: 'hardEdges', title: 'hard edges' },
        { value: 'creases', title: 'creases' },
        { value: 'angle', title: 'bends' },
        { value: 'groups', title: 'borders of face groups' },
        { value: 'materials', title: 'borders of materials' },
      ],
    },
    {
      id: 'angle',
      title: 'Bends beyond',
      kind: 'number',
      unit: 'degrees',
      default: 60,
      min: 1,
      max: 180,
      when: [{ option: 'along', is: ['angle'] }],
    },
    UV_SET,
    PADDING,
    MAP_SIZE,
  ],
  run: (context) => {
    const along = context.text('along')
    if (along === 'chosen' && !context.only)
      return outcome(context.scene, 0, 'polygons', { notes: ['No edges are chosen.'] })
    return cutAndPack(context, (_mesh, facts, node) => {
      if (along !== 'chosen')
        return givenSeams(facts, along as GivenSeams, (context.number('angle') * Math.PI) / 180, null)
      const limit = context.only!.get(node)
      if (!limit) return null
      if (limit.element === 'edges') return edgesWithPoints(facts, limit.elements)
      if (limit.element !== 'faces') return null
      // the border of chosen faces
      const isChosen = new Uint8Array(facts.faceCount)
      for (const face of limit.elements) isChosen[face] = 1
      return between(facts, isChosen)
    })
  },
}
