/** What steps that clear out take along, and what they leave. */
import { expect, test } from 'vitest'
import { gridOf, materialOf, sceneOf } from '../../../tests/solids.ts'
import { IDENTITY_MATRIX, plainNode, type Scene } from '../scene/scene.ts'
import { runStep } from './run-steps.ts'

const map = (file: string) => ({ property: 'map_Kd', slot: 'baseColor' as const, file, options: [] })

test('unused materials go, with the images that they alone name; others stay where they were', () => {
  const materials = [
    { ...materialOf('gone'), maps: [map('gone.png'), map('both.png')] },
    { ...materialOf('used'), maps: [map('both.png'), map('own.png')] },
    materialOf('gone too'),
    materialOf('last'),
  ]
  const images = ['gone.png', 'both.png', 'own.png', 'sheet.png'].map((file) => ({
    file,
    entry: null,
    bytes: null,
  }))
  const mesh = { ...gridOf(3, 1), faceMaterials: Int32Array.of(1, -1, 3) }
  const before: Scene = { ...sceneOf([mesh]), materials, images }
  const { scene, changedCount } = runStep(before, { step: 'remove-unused-materials', params: {} })
  expect(changedCount).toBe(2)
  expect(scene.materials.map(({ name }) => name)).toEqual(['used', 'last'])
  expect([...scene.meshes[0]!.faceMaterials!]).toEqual([0, -1, 1])
  // the last one no material named before either
  expect(scene.images.map(({ file }) => file)).toEqual(['both.png', 'own.png', 'sheet.png'])
})

test('cameras and lights go, and the nodes that carried nothing else', () => {
  const plain = sceneOf([gridOf(1, 1)])
  const camera = { name: 'camera', properties: {} } as unknown as Scene['cameras'][number]
  const light = { name: 'light', properties: {} } as unknown as Scene['lights'][number]
  const before: Scene = {
    ...plain,
    nodes: [
      ...plain.nodes,
      plainNode('rig', { parent: -1, mesh: -1, local: IDENTITY_MATRIX }),
      plainNode('view', { parent: 1, mesh: -1, local: IDENTITY_MATRIX }),
      plainNode('lamp', { parent: -1, mesh: -1, local: IDENTITY_MATRIX }),
    ],
    cameras: [{ ...camera, node: 2 }],
    lights: [
      { ...light, node: 3 },
      { ...light, node: 1 },
      { ...light, node: 0 },
      { ...light, node: -1 },
    ],
  }
  const { scene, changedCount } = runStep(before, { step: 'strip-cameras-and-lights', params: {} })
  expect(changedCount).toBe(5)
  expect([scene.cameras, scene.lights]).toEqual([[], []])
  // one that others hang under stays, and one that has a mesh
  expect(scene.nodes.map(({ name }) => name)).toEqual([plain.nodes[0]!.name, 'rig'])
})
