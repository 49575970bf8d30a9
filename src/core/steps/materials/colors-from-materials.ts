import type { ColorSet } from '../../scene/mesh.ts'
import { hexOf, idColor } from '../../surfaces/id-colors.ts'
import { changeMeshes, type StepDescriptor } from '../step.ts'

export const colorsFromMaterials: StepDescriptor = {
  id: 'colors-from-materials',
  area: 'materials',
  title: 'Colours for materials',
  description:
    'Writes a colour for each material into vertex colours, corner by corner, so that a tool without materials can tell them apart. The materials stay; the colours can be read back.',
  changes: ['colours'],
  parameters: [{ id: 'set', title: 'Colour set', kind: 'text', default: 'material_id', most: 200 }],
  run: (context) => {
    const name = context.text('set').trim() || 'material_id'
    const used = new Set<number>()
    const done = changeMeshes(context, 'polygons', (mesh, facts) => {
      if (!mesh.faceMaterials || facts.faceCount === 0) return null
      const places = [...new Set(mesh.faceMaterials)].sort((a, b) => a - b)
      for (const place of places) if (place >= 0) used.add(place)
      // what has no material is black
      const values = Float64Array.from(
        places.flatMap((place) => (place < 0 ? [0, 0, 0] : idColor(place).map((one) => one / 255))),
      )
      const indices = new Int32Array(mesh.faceVertices.length)
      for (let face = 0; face < facts.faceCount; face++)
        indices.fill(
          places.indexOf(mesh.faceMaterials[face]!),
          mesh.faceOffsets[face]!,
          mesh.faceOffsets[face + 1]!,
        )
      const set: ColorSet = { name, components: 3, values, per: 'corners', indices }
      const before = mesh.colorSets.find((known) => known.name === name)
      if (before && isSame(before, set)) return null
      return {
        mesh: { ...mesh, colorSets: [set, ...mesh.colorSets.filter((known) => known.name !== name)] },
        changedCount: facts.faceCount,
      }
    })
    const notes = [...used]
      .sort((a, b) => a - b)
      .map((place) => `“${context.scene.materials[place]!.name}” is ${hexOf(idColor(place))}.`)
    return done.changedCount ? { ...done, notes: [...done.notes, ...notes] } : done
  },
}

const isSame = (a: ColorSet, b: ColorSet): boolean =>
  a.per === b.per &&
  a.components === b.components &&
  a.values.length === b.values.length &&
  a.values.every((value, at) => value === b.values[at]) &&
  a.indices.length === b.indices.length &&
  a.indices.every((value, at) => value === b.indices[at])
