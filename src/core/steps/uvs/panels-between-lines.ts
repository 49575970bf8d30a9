import { readPng } from '../../image/codecs/read-png.ts'
import { groupFaces } from '../../mesh/relations/group-faces.ts'
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import type { Scene } from '../../scene/scene.ts'
import { linesOnColors, linesOnMap, parseColor, type DrawnLines } from '../../uv/panels/drawn-lines.ts'
import { regionsBetween } from '../../uv/panels/regions-between.ts'
import { edgesWithPoints, givenSeams, type GivenSeams } from '../../uv/seams/given-seams.ts'
import { changeMeshes, outcome, StepRefusal, type StepContext, type StepDescriptor } from '../step.ts'
import { setNamed, UV_SET } from '../shared/place-on-tiles.ts'

const DRAWN = ['pointColors', 'map']

export const panelsBetweenLines: StepDescriptor = {
  id: 'panels-between-lines',
  area: 'uvs',
  title: 'Panels between lines',
  description:
    'A face group for each region between lines: chosen edges, a colour on points or on a map, hard edges, creases or the seams of the UVs. A broad line is shared out between its neighbours, so that panels meet. Old groups go.',
  changes: ['groups'],
  parameters: [
    {
      id: 'lines',
      title: 'Lines',
      kind: 'choice',
      default: 'chosen',
      choices: [
        { value: 'chosen', title: 'chosen edges' },
        { value: 'pointColors', title: 'a colour on points' },
        { value: 'map', title: 'a colour on a map' },
        { value: 'hardEdges', title: 'hard edges' },
        { value: 'creases', title: 'creases' },
        { value: 'existing', title: 'seams of the UVs' },
      ],
    },
    {
      id: 'color',
      title: 'Colour of the lines',
      kind: 'text',
      default: '',
      none: 'what most of it has not',
      most: 7,
      when: [{ option: 'lines', is: DRAWN }],
    },
    {
      id: 'tolerance',
      title: 'Colours are one within',
      kind: 'number',
      unit: '%',
      default: 20,
      min: 0,
      max: 99,
      when: [{ option: 'lines', is: DRAWN }],
    },
    {
      id: 'file',
      title: 'Image',
      kind: 'text',
      default: '',
      most: 500,
      when: [{ option: 'lines', is: ['map'] }],
    },
    {
      id: 'least',
      title: 'Smallest panel',
      kind: 'number',
      unit: 'polygons',
      default: 4,
      min: 1,
      max: 100000,
      whole: true,
    },
    { id: 'name', title: 'Names begin with', kind: 'text', default: 'panel', most: 100 },
    UV_SET,
  ],
  run: (context) => {
    const lines = context.text('lines')
    if (lines === 'chosen' && !context.only)
      return outcome(context.scene, 0, 'polygons', { notes: ['No edges are chosen.'] })
    const wish = context.text('color').trim()
    const color = wish ? parseColor(wish) : null
    if (wish && !color) throw new StepRefusal(`“${wish}” is no colour; write it like #c8102e.`)
    const pixels = lines === 'map' ? pixelsOf(context) : null
    return changeMeshes(context, 'polygons', (mesh, facts, node) => {
      if (facts.faceCount === 0) return null
      const found = linesOf(context, facts, node, color, pixels)
      if (typeof found === 'string') return { mesh, changedCount: 0, notes: [found] }
      if (!found) return null
      const { faceRegions, count, joined } = regionsBetween(facts, found, context.number('least'))
      const name = context.text('name').trim() || 'panel'
      const groups = groupFaces(faceRegions, (_key, order) => `${name}_${order + 1}`)
      return {
        mesh: { ...mesh, groups },
        changedCount: facts.faceCount,
        notes: [
          `“${mesh.name}” has ${count === 1 ? 'one panel' : `${count} panels`} now${joined ? `; ${joined} smaller ${joined === 1 ? 'piece' : 'pieces'} went to ${joined === 1 ? 'its neighbour' : 'their neighbours'}` : ''}.`,
        ],
      }
    })
  },
}

/** The image that is meant, or the base colour map of the first material that has one. */
function pixelsOf({ scene, text }: StepContext): {
  pixels: NonNullable<ReturnType<typeof readPng>>
  file: string
} {
  const wish = text('file').trim()
  const file = wish || baseColorFile(scene)
  const image = scene.images.find((one) => one.file === file)
  if (!file || !image?.bytes)
    throw new StepRefusal(
      wish ? `There is no image “${wish}” in this model.` : 'This model has no colour map.',
    )
  const pixels = readPng(image.bytes)
  if (!pixels) throw new StepRefusal(`“${file}” is no PNG that can be read.`)
  return { pixels, file }
}

const baseColorFile = (scene: Scene): string | undefined =>
  scene.materials.flatMap(({ maps }) => maps).find(({ slot }) => slot === 'baseColor')?.file

/** A sentence where a part has nothing to go by; null where the step isn't about it. */
function linesOf(
  context: StepContext,
  facts: MeshFacts,
  node: number,
  color: ReturnType<typeof parseColor>,
  image: ReturnType<typeof pixelsOf> | null,
): DrawnLines | string | null {
  const { mesh } = facts
  const lines = context.text('lines')
  const none = new Uint8Array(facts.faceCount)
  const tolerance = context.number('tolerance') / 100
  if (lines === 'chosen') {
    const limit = context.only?.get(node)
    if (limit?.element !== 'edges') return null
    return { edges: edgesWithPoints(facts, limit.elements), faces: none }
  }
  if (lines === 'pointColors') {
    const [set] = mesh.colorSets
    return set ? linesOnColors(facts, set, color, tolerance) : `“${mesh.name}” has no colours on its points.`
  }
  const set = setNamed(mesh, context.text('set'))
  if (lines === 'map')
    return set ? linesOnMap(facts, set, image!.pixels, color, tolerance) : `“${mesh.name}” has no such UVs.`
  if (lines === 'existing' && !set) return `“${mesh.name}” has no such UVs.`
  return { edges: givenSeams(facts, lines as GivenSeams, 0, set), faces: none }
}
