import { expect, test } from 'vitest'
import { gridOf, sceneOf } from '../../../../tests/solids.ts'
import { surfaceModelNamed } from '../registry.ts'
import { remapScene } from '../remap/remap-scene.ts'
import { sheetsOf } from './material-sheet.ts'

test('materials of one name, and renamed ones, are counted by their own polygons, on every node that shows them', () => {
  const grid = gridOf(3, 3)
  const mesh = { ...grid, faceMaterials: Int32Array.of(0, 0, 1, 1, 1, 2, -1, -1, -1) }
  const material = { id: '', model: 'gltf', properties: [], maps: [], kept: [] }
  const scene = {
    ...sceneOf([mesh]),
    materials: ['brass', 'brass', 'glass', 'unused'].map((name) => ({ ...material, name })),
  }
  const twice = { ...scene, nodes: [...scene.nodes, { ...scene.nodes[0]!, id: 'again', name: 'again' }] }
  const { materials } = remapScene(twice, {
    target: surfaceModelNamed('openpbr'),
    files: [],
    own: [],
    rules: { rules: [], rename: { glass: 'pane' } },
  })
  expect(sheetsOf(materials, twice).map(({ material: name, polygons }) => [name, polygons])).toEqual([
    ['brass', 4],
    ['brass_2', 6],
    ['pane', 2],
    ['unused', 0],
  ])
})
