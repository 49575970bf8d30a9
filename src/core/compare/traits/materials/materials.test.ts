/** What a tool did to the materials of a part, told as what it was. */
import { describe, expect, test } from 'vitest'
import { readText } from '../../../../../tests/meshes.ts'
import { compareScenes } from '../../compare-scenes.ts'
import { reconcile } from '../../../reconcile/reconcile.ts'
import type { Scene } from '../../../scene/scene.ts'

/** A row of squares, each of the material that is said. */
function row(materials: readonly (string | null)[]): Scene {
  const points = materials
    .concat([null])
    .map((_, at) => `v ${at} 0 0\nv ${at} ${1 + at * 0.1} 0`)
    .join('\n')
  const faces = materials
    .map(
      (name, at) =>
        `${name === null ? '' : `usemtl ${name}\n`}f ${2 * at + 1} ${2 * at + 3} ${2 * at + 4} ${2 * at + 2}`,
    )
    .join('\n')
  return readText(`o row\n${points}\n${faces}\n`).scene
}
const cellOf = (master: Scene, returned: Scene) => compareScenes(master, returned).rows[0]!.cells.materials!
const MASTER = row(['hull', 'hull', 'keel', 'keel', 'mast'])

describe('materials that a tool', () => {
  test('gave other names', () => {
    const cell = cellOf(MASTER, row(['hull_SG', 'hull_SG', 'keel_SG', 'keel_SG', 'mast']))
    expect([cell.state, cell.note]).toEqual(['changed', 'materials-named-otherwise'])
    expect(cell.parameters).toEqual({ count: 2, names: '“hull → hull_SG”, “keel → keel_SG”' })
  })
  test('made one of, under one of their names or a new one', () => {
    for (const name of ['hull', 'all']) {
      const cell = cellOf(MASTER, row([name, name, name, name, 'mast']))
      expect([cell.note, cell.parameters]).toEqual([
        'materials-merged',
        { count: 2, as: name, names: '“hull”, “keel”' },
      ])
    }
  })
  test('made several of', () => {
    const cell = cellOf(MASTER, row(['hull', 'hull.001', 'keel', 'keel', 'mast']))
    expect([cell.note, cell.parameters]).toEqual([
      'materials-split',
      { name: 'hull', count: 2, as: '“hull”, “hull.001”' },
    ])
  })
  test.each([
    ['a polygon was painted with another of the master’s', ['keel', 'hull', 'keel', 'keel', 'mast']],
    ['two have changed places', ['keel', 'keel', 'hull', 'hull', 'mast']],
    ['both at once', ['all', 'x', 'all', 'all', 'mast']],
    ['two became one and a third has another name', ['all', 'all', 'all', 'all', 'mast_SG']],
    ['one became two and a third has another name', ['hull', 'hull.001', 'keel', 'keel', 'mast_SG']],
    ['one has none', [null, 'hull', 'keel', 'keel', 'mast']],
  ])('%s: counted by polygons', (_, materials) => {
    expect(cellOf(MASTER, row(materials as (string | null)[])).note).toBe('materials-changed')
  })
  test('what isn’t taken stays as the master has it', () => {
    const { scene } = reconcile(MASTER, row(['all', 'all', 'all', 'all', 'mast']), { take: ['points'] })
    const [mesh] = scene.meshes
    expect([...mesh!.faceMaterials!].map((material) => scene.materials[material]!.name)).toEqual([
      'hull',
      'hull',
      'keel',
      'keel',
      'mast',
    ])
  })
})
