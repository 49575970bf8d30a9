/** Which set of maps becomes which material's, and what is said of those that don't, without files. */
import { describe, expect, test } from 'vitest'
import { gridOf, materialOf, sceneOf } from '../../../../tests/solids.ts'
import { surfaceModelNamed } from '../registry.ts'
import type { ParameterReport } from '../convert/convert-surface.ts'
import { noteOf } from './remap-material.ts'
import { remapScene, type ImageFacts } from './remap-scene.ts'
import { NO_RULES } from './rules.ts'

const facts = (file: string): ImageFacts => ({
  file,
  width: 64,
  height: 64,
  bits: 8,
  says: null,
  problem: null,
  looksLikeNormals: null,
  direction: null,
})
const remapped = (materials: readonly string[], files: readonly string[]) =>
  remapScene(
    { ...sceneOf([gridOf(1, 1)]), materials: materials.map((name) => materialOf(name)) },
    { target: surfaceModelNamed('gltf'), files: files.map(facts), own: [], rules: NO_RULES },
  )

describe('sets of maps', () => {
  test('each names its material, the first as any other', () => {
    const { sets, materials } = remapped(
      ['brass', 'oak'],
      ['oak_BaseColor.png', 'oak_Roughness.png', 'brass_BaseColor.png'],
    )
    expect(sets.map(({ name, material, files, how }) => [name, material, files, how])).toEqual([
      ['brass', 'brass', 1, 'sure'],
      ['oak', 'oak', 2, 'sure'],
    ])
    const mapsOf = (at: number) => materials[at]!.parameters.flatMap(({ map }) => (map ? [map.file] : []))
    expect(mapsOf(0)).toEqual(['brass_BaseColor.png'])
    expect(mapsOf(1).sort()).toEqual(['oak_BaseColor.png', 'oak_Roughness.png'])
  })
  test('what no name finds has none, and what could be of two is left open', () => {
    const { sets } = remapped(
      ['left wall', 'right wall', 'floor'],
      ['wall_BaseColor.png', 'kettle_BaseColor.png'],
    )
    expect(sets.map(({ name, material, how }) => [name, material, how])).toEqual([
      ['kettle', null, 'none'],
      ['wall', null, 'doubtful'],
    ])
    expect(sets[1]!.others).toEqual(['left wall', 'right wall'])
  })
})

describe('what is said of a parameter that becomes several', () => {
  const note = (text: string, target: string): string =>
    noteOf({ parameter: 'shine', note: text } as ParameterReport, target)
  test('is what concerns the one, and what concerns all', () => {
    const text = 'base color: darker; would come back as 3; coat 2: left out: twice'
    expect(note(text, 'base color')).toBe('from shine: would come back as 3; darker')
    expect(note(text, 'coat 2')).toBe('from shine: would come back as 3; left out: twice')
    expect(note(text, 'other')).toBe('from shine: would come back as 3')
    expect(note('as “a: b” says', 'x')).toBe('from shine: as “a: b” says')
  })
  test('is all of it where nothing else is said', () => {
    expect(note('coat: left out', 'base')).toBe('from shine: coat: left out')
  })
})
