/** Materials that a tool gave another name: taking the name loses nothing of what the master says of them. */
import { describe, expect, test } from 'vitest'
import { fullScene } from '../../../tests/full-scene.ts'
import type { Trait } from '../compare/traits/registry.ts'
import type { Material } from '../scene/material.ts'
import type { Scene } from '../scene/scene.ts'
import { reconcile } from './reconcile.ts'

const base = fullScene()
const [brass, glass] = base.materials as [Material, Material]
const withMaterials = (materials: readonly Material[]): Scene => ({ ...base, materials })
const taken = (returned: Scene, take: readonly Trait[]) => {
  const { scene } = reconcile(base, returned, { take })
  const used = new Set(scene.meshes[0]!.faceMaterials!)
  return { scene, used: scene.materials.filter((_material, at) => used.has(at)) }
}
const descriptionOf = ({ properties, maps, kept }: Material) => ({ properties, maps, kept })
/** As a tool leaves it that writes a colour of its own. */
const plain: Material = {
  ...brass,
  name: 'gold',
  maps: [],
  properties: [{ name: 'Kd', values: [0.2, 0.2, 0.2], text: null }],
}

describe('another name', () => {
  test.each([
    ['with nothing said', { ...plain, properties: [], kept: [] }],
    ['with something else said', plain],
  ])('%s: the assignment alone is taken', (_what, renamed) => {
    const { scene, used } = taken(withMaterials([renamed, glass]), ['materials'])
    expect(used.map(({ name }) => name).sort()).toEqual(['glass', 'gold'])
    expect(descriptionOf(used.find(({ name }) => name === 'gold')!)).toEqual(descriptionOf(brass))
    expect(scene.images).toEqual(base.images)
  })
  test('and what is said of it is taken where that is asked for', () => {
    const { used } = taken(withMaterials([plain, glass]), ['materials', 'surfaces'])
    expect(descriptionOf(used.find(({ name }) => name === 'gold')!)).toEqual(descriptionOf(plain))
  })
})

test('of several that became one it is what came back that is taken', () => {
  const one = withMaterials([plain])
  const returned = {
    ...one,
    meshes: one.meshes.map((mesh) => ({ ...mesh, faceMaterials: mesh.faceMaterials!.map(() => 0) })),
  }
  const { used } = taken(returned, ['materials'])
  expect(used.map(descriptionOf)).toEqual([descriptionOf(plain)])
})

test('polygons that got another of the master’s materials have that one', () => {
  const returned = {
    ...base,
    meshes: base.meshes.map((mesh) => ({
      ...mesh,
      faceMaterials: mesh.faceMaterials!.map((material) => 1 - material),
    })),
  }
  const { scene, used } = taken(returned, ['materials'])
  expect(used).toEqual(base.materials)
  expect([...scene.meshes[0]!.faceMaterials!]).toEqual([...returned.meshes[0]!.faceMaterials!])
})
