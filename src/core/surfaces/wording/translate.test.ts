/** Materials of models that no file has words for, through files and back. */
import { describe, expect, test } from 'vitest'
import { cubeOf, sceneOf } from '../../../../tests/solids.ts'
import { compareScenes } from '../../compare/compare-scenes.ts'
import { writeFbx } from '../../formats/fbx/write-fbx.ts'
import { writeObj } from '../../formats/obj/write-obj.ts'
import { readPackage } from '../../formats/package/read-package.ts'
import type { Material } from '../../scene/material.ts'
import type { Scene } from '../../scene/scene.ts'
import { surfaceText } from '../../scene/material-text.ts'
import type { SurfaceValue } from '../model.ts'
import { SURFACE_MODELS } from '../registry.ts'
import { fromFileModel, propertyOf } from './translate.ts'
import { surfaceModelNamed } from '../registry.ts'

const FOREIGN = SURFACE_MODELS.filter(({ id }) => !['mtl', 'fbx-phong', 'fbx-lambert'].includes(id))
/** A material with every parameter of a model, none at its standard, and a map in every slot. */
function materialOf(id: string): Material {
  const model = surfaceModelNamed(id)
  const properties = model.parameters.flatMap(({ name, kind, width, range, choices }, at) => {
    if (name === null) return []
    const [least, most] = range ?? [0, 1]
    const one = least + ((most ?? least + 2) - least) * (0.21 + 0.017 * at)
    const value: SurfaceValue =
      kind === 'boolean'
        ? true
        : kind === 'choice'
          ? choices!.at(-1)!
          : width === 3
            ? [one, one / 2, one / 3]
            : one
    return [propertyOf(name, value)]
  })
  const maps = model.parameters.flatMap(({ slot, mapName }) =>
    slot && mapName ? [{ property: mapName, slot, file: `maps/${slot}.png`, options: [] }] : [],
  )
  return { id: 'm1', name: 'hull', model: model.materialModel, properties, maps, kept: [] }
}
const sceneWith = (material: Material): Scene => ({
  ...sceneOf([{ ...cubeOf(), faceMaterials: new Int32Array(6) }]),
  materials: [material],
})

describe.each(FOREIGN.map(({ id }) => id))('%s', (id) => {
  const scene = sceneWith(materialOf(id))
  const cellOf = (back: Scene) => compareScenes(scene, back).rows[0]!.cells.surfaces!
  test('FBX holds it beside its own model: the very values come back, binary and text', () => {
    for (const form of ['binary', 'text'] as const) {
      const back = readPackage(writeFbx(scene, 'a.fbx', { form }).files).scene
      const [material] = back.materials
      expect(material!.model).toBe(scene.materials[0]!.model)
      expect(material!.properties).toEqual(scene.materials[0]!.properties)
      expect(material!.maps.map(({ slot, file }) => `${slot} ${file}`).sort()).toEqual(
        scene.materials[0]!.maps.map(({ slot, file }) => `${slot} ${file}`).sort(),
      )
      expect(['same', 'within']).toContain(cellOf(back).state)
    }
  })
  test('MTL says it in its own words, what it can’t say is told, and nothing is called the same that is not', () => {
    const { files, findings } = writeObj(scene, 'a.obj')
    const back = readPackage(files).scene
    expect(back.materials[0]!.model).toBe('mtl')
    expect(back.materials[0]!.properties.find(({ name }) => name === 'Kd')!.values).toHaveLength(3)
    expect(cellOf(back).state).not.toBe('same')
    expect(findings.length).toBeGreaterThan(0)
  })
  test('a file whose own model was changed by a tool is taken as it stands', () => {
    const back = readPackage(writeFbx(scene, 'a.fbx').files).scene.materials[0]!
    expect(surfaceText(back)).not.toBe('')
    const prefix = `${back.model}|`
    const phong: Material = {
      ...back,
      model: 'phong',
      properties: [
        propertyOf('DiffuseColor', [0.9, 0.1, 0.1]),
        ...back.properties.map((property) => ({ ...property, name: `${prefix}${property.name}` })),
      ],
    }
    expect(fromFileModel(phong, surfaceModelNamed('fbx-phong')).model).toBe('phong')
  })
})
test('materials that a file is written of as they are stay untouched', () => {
  const phong: Material = {
    ...materialOf('openpbr'),
    model: 'phong',
    properties: [propertyOf('Any|thing', 1)],
  }
  expect(fromFileModel(phong, surfaceModelNamed('fbx-phong'))).toBe(phong)
})
