import { describe, expect, test } from 'vitest'
import { cubeOf, sceneOf, withNodes } from '../../../../../tests/solids.ts'
import type { Scene, SceneCamera } from '../../../scene/scene.ts'
import { compareScenes } from '../../compare-scenes.ts'

const eye = (properties: SceneCamera['properties'] = { FieldOfView: 40 }): SceneCamera => ({
  name: 'eye',
  node: 0,
  properties,
})
const plain = sceneOf([cubeOf(), cubeOf()])
const withEye: Scene = { ...plain, cameras: [eye()], lights: [eye(), eye()] }
const said = (master: Scene, returned: Scene): string => {
  const { note, parameters } = compareScenes(master, returned).scene
  return `${note}: ${String(parameters.what ?? '')}`
}

describe('what belongs to the scene as a whole', () => {
  test('cameras and lights are counted', () => {
    expect(said(withEye, withEye)).toBe('same: ')
    expect(said(withEye, plain)).toBe('scene-changed: cameras (1 → 0), lights (2 → 0)')
    expect(said(plain, { ...plain, lights: [eye()] })).toBe('scene-changed: lights (0 → 1)')
  })
  test('their settings are looked at, in whatever order they stand', () => {
    const turned = { ...withEye, cameras: [eye({ FieldOfView: 50 })] }
    expect(said(withEye, turned)).toBe('scene-changed: settings of 1 camera')
    const two = { ...plain, cameras: [eye({ a: 1, b: 2 })] }
    expect(said(two, { ...plain, cameras: [eye({ b: 2, a: 1 })] })).toBe('same: ')
  })
  test('in another unit their numbers are others, and that is no change of theirs', () => {
    const metres = { ...plain.space, unitMeters: 1 }
    const respaced = {
      ...withEye,
      space: metres,
      cameras: [eye({ FieldOfView: 40, NearPlane: 0.1 })],
      meshes: plain.meshes.map((mesh) => ({ ...mesh, points: mesh.points.map((value) => value / 100) })),
    }
    expect(said(withEye, respaced)).toBe('scene-respaced: unit')
  })
  test('custom properties, of the scene and of parts', () => {
    const noted = withNodes({ ...plain, properties: { author: 'harbour' } }, (_node, at) =>
      at === 1 ? { properties: { keep: true } } : {},
    )
    expect(said(noted, noted)).toBe('same: ')
    expect(said(noted, plain)).toBe('scene-changed: custom properties, custom properties of 1 part')
  })
})
