/** The bollard into a scene and back: what was done there is told, and nothing else is called changed. */
import { describe, expect, test } from 'vitest'
import { compareScenes } from '../../compare/compare-scenes.ts'
import { recogniseReturn } from '../../compare/recognise/recognise-return.ts'
import { readPackage } from '../../formats/package/read-package.ts'
import { completeIds } from '../../scene/ids.ts'
import { deliver } from '../../trips/deliver.ts'
import { destinationOf } from '../../trips/destinations/registry.ts'
import { buildMooringBollard } from '../demo/mooring-bollard.ts'
import { runStandIn, standInOf } from './registry.ts'

const bollard = completeIds(buildMooringBollard())
const { files, forecast } = deliver(bollard, {
  destination: destinationOf('scene-assembly')!,
  stem: 'bollard',
  codec: null,
  options: {},
  withRecipe: true,
})
const back = (options: Record<string, unknown>) => {
  const { files: made, log } = runStandIn(standInOf('assembler')!, files, options)
  return { names: made.map(({ name }) => name), log, scene: readPackage(made).scene }
}
const statesOf = (rows: ReturnType<typeof compareScenes>['rows'], trait: string): string[] => [
  ...new Set(
    rows.map(({ cells }) => (cells as Record<string, { state: string } | undefined>)[trait]?.state ?? ''),
  ),
]

describe('into a scene and back', () => {
  test('one package leaves, by its own ending, with all that travels', () => {
    expect(files.map(({ name }) => name)).toEqual(['bollard.usdz'])
    for (const { name, cells } of forecast.rows)
      for (const [trait, { state }] of Object.entries(cells))
        expect([
          name,
          trait,
          /same|within|carried/.test(state) || ['smoothing', 'names'].includes(trait),
        ]).toEqual([name, trait, true])
  })
  test.each([
    [true, true],
    [true, false],
    [false, true],
  ])('put elsewhere: %s, undone: %s: the rest is the same, and each bolt is itself', (moves, undoWhole) => {
    const { scene, names } = back({ colours: false, moves })
    expect(names).toEqual(['bollard.usdz'])
    // turned by a quarter its four bolts stand where others stood
    const { returned, matching } = recogniseReturn(bollard, scene, { undoWhole })
    const { rows } = compareScenes(bollard, returned, () => {}, matching)
    expect(rows).toHaveLength(6)
    for (const trait of ['topology', 'creases', 'groups', 'points'])
      expect([trait, statesOf(rows, trait).filter((state) => !/same|within/.test(state))]).toEqual([
        trait,
        [],
      ])
    // the set is called as the format calls it, and lies where it lay
    for (const { cells } of rows)
      expect([cells.uvs!.note, cells.uvs!.changedCount]).toEqual(['uv-set-renamed', 0])
  })
  test('its colours are told, and what it hid', () => {
    const { scene, log } = back({ hides: true })
    expect(log).toHaveLength(4)
    const { rows } = compareScenes(bollard, scene)
    expect(statesOf(rows, 'surfaces')).toEqual(['changed'])
    expect(scene.nodes.filter(({ visible }) => !visible)).toHaveLength(1)
  })
})
