import { describe, expect, test } from 'vitest'
import type { Material } from '../../scene/material.ts'
import { sharedSurface } from '../../surfaces/wording/wording.ts'
import { inMtlWords } from './mtl-words.ts'

const brass: Material = {
  id: '',
  name: 'brass',
  model: 'phong',
  properties: [
    { name: 'DiffuseColor', values: [0.8, 0.6, 0.2], text: null },
    { name: 'Studio|Parameters|ShininessExponent', values: [40], text: null },
    { name: 'Translucency', values: [0.3], text: null },
  ],
  maps: [
    { property: 'DiffuseColor', slot: 'baseColor', file: 'brass.png', options: [] },
    {
      property: 'NormalMap',
      slot: 'normal',
      file: 'brass_n.png',
      options: [],
      placement: {
        name: 'n',
        uvSet: '',
        wrapU: 'clamp',
        wrapV: 'clamp',
        scale: [2, 3],
        offset: [0, 0.5],
        kept: [],
      },
    },
  ],
  kept: [],
}

describe('one material in two wordings', () => {
  test('in MTL’s words, with what it has none for', () => {
    const { material, lost } = inMtlWords(brass)
    expect(material.properties).toEqual([
      { name: 'Kd', values: [0.8, 0.6, 0.2], text: null },
      { name: 'Ns', values: [40], text: null },
    ])
    expect(material.maps.map((map) => [map.property, map.options])).toEqual([
      ['map_Kd', []],
      [
        'norm',
        [
          ['-s', '2', '3', '1'],
          ['-o', '0', '0.5', '0'],
          ['-clamp', 'on'],
        ],
      ],
    ])
    expect(lost).toEqual(['Translucency'])
  })
  test('a material in MTL’s words stays the very same', () => {
    const { material } = inMtlWords(brass)
    expect(inMtlWords(material)).toEqual({ material, lost: [] })
  })
  test('what both share is one text; another value makes another', () => {
    const { material } = inMtlWords(brass)
    expect(sharedSurface(material).text).toBe(sharedSurface(brass).text)
    expect([sharedSurface(material).own, sharedSurface(brass).own]).toEqual([0, 1])
    const darker = { ...material, properties: [{ name: 'Kd', values: [0.1, 0.1, 0.1], text: null }] }
    expect(sharedSurface(darker).text).not.toBe(sharedSurface(brass).text)
  })
})
