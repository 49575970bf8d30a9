import { describe, expect, test } from 'vitest'
import { surfaceModelNamed, SURFACE_MODELS } from './registry.ts'
import { slotOfProperty, wordIn } from './wording.ts'

describe('words of surface models', () => {
  test('words are found by their last part, whatever their letters’ case', () => {
    expect(slotOfProperty('Any|thing|diffusecolor')).toBe('baseColor')
    expect(slotOfProperty('Shininess')).toBe('shininess')
    expect(slotOfProperty('Translucency')).toBeNull()
    const phong = surfaceModelNamed('fbx-phong')
    expect([wordIn(phong, 'kd'), wordIn(phong, 'Pr')]).toEqual(['DiffuseColor', 'Pr'])
  })
  test('each model has each slot once, under a name of its own', () => {
    for (const model of SURFACE_MODELS) {
      const slots = model.parameters.map(({ slot }) => slot)
      expect(new Set(slots).size).toBe(slots.length)
      const names = model.parameters.flatMap(({ name }) => name ?? [])
      expect(new Set(names.map((name) => name.toLowerCase())).size).toBe(names.length)
    }
  })
})
