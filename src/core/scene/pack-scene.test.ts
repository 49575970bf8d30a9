import { readFileSync } from 'node:fs'
import { expect, test } from 'vitest'
import { cubeOf, sceneOf, withNodes } from '../../../tests/solids.ts'
import { readFbx } from '../formats/fbx/read-fbx.ts'
import { completeIds } from './ids.ts'
import { packScene, unpackScene } from './pack-scene.ts'

/** As a store has it: JSON and arrays. */
const stored = (scene: Parameters<typeof packScene>[0]) => {
  const { document, arrays } = packScene(scene)
  const text = JSON.stringify(document)
  return { text, scene: unpackScene({ document: JSON.parse(text) as unknown, arrays }) }
}

test('a scene with everything that an FBX keeps comes back the same, and each array is there once', () => {
  const bytes = readFileSync('/usr/share/assimp/models/FBX/huesitos.fbx')
  const scene = completeIds(readFbx({ name: 'a.fbx', bytes }).scene)
  expect(scene.kept!.objects.length).toBeGreaterThan(100)
  const { arrays, document } = packScene(scene)
  const again = packScene(stored(scene).scene)
  // JSON knows no negative zero, which beside arrays means nothing
  expect(JSON.stringify(again.document)).toBe(JSON.stringify(document))
  expect(again.arrays).toEqual(arrays)
  expect(new Set(arrays).size).toBe(arrays.length)
})

test('letters that a store refuses are told by number', () => {
  const odd = withNodes(sceneOf([cubeOf()]), () => ({ name: 'a\0b \ud800 鷺 \u{1F426}' }))
  const { text, scene } = stored(odd)
  expect(text).not.toMatch(/\\u0000|\\ud800/)
  expect(scene).toEqual(completeIds(odd))
})
