/** The heron to a sculpting tablet and back: what came home is found again, whatever the tablet did to it on the way. */
import { expect, test } from 'vitest'
import { compareScenes } from '../../compare/compare-scenes.ts'
import { readPackage } from '../../formats/package/read-package.ts'
import { boundsOf } from '../../base/math/box.ts'
import { transformPoints } from '../../base/math/matrix.ts'
import { completeIds } from '../../scene/ids.ts'
import type { Scene } from '../../scene/scene.ts'
import { worldMatrices } from '../../scene/world.ts'
import { deliver } from '../../trips/deliver.ts'
import { destinationOf } from '../../trips/destinations/registry.ts'
import { buildCourierHeron } from '../demo/courier-heron.ts'
import { runStandIn, standInOf } from './registry.ts'

const heron = completeIds(buildCourierHeron())
const { files, forecast, findings } = deliver(heron, {
  destination: destinationOf('tablet')!,
  stem: 'heron',
  codec: null,
  options: {},
  withRecipe: true,
})
const sent = (options: Record<string, unknown>) => {
  const { files: made, log } = runStandIn(standInOf('tablet')!, files, options)
  return { scene: readPackage(made).scene, log, names: made.map(({ name }) => name) }
}
const highest = (scene: Scene): number =>
  Math.max(
    ...scene.nodes.flatMap((node, index) =>
      node.mesh < 0
        ? []
        : [boundsOf(transformPoints(scene.meshes[node.mesh]!.points, worldMatrices(scene)[index]!))!.max[1]],
    ),
  )

test('one file leaves, in metres, and says what it can’t hold as it lies', () => {
  expect(files.map(({ name }) => name)).toEqual(['heron.glb'])
  expect(findings.map(({ code }) => code)).toEqual(['gltf.map-channels'])
  const states = forecast.rows.flatMap(({ name, cells }) =>
    Object.entries(cells).map(([trait, { state }]) =>
      /same|within/.test(state) ? 'fine' : `${name} ${trait}`,
    ),
  )
  // the parts of brass, whose roughness would have to be put into another channel
  expect([...new Set(states)]).toEqual(['fine', 'satchel surfaces', 'goggles surfaces'])
})
test('moved by hand: every part is found, points moved, polygons in triangles, UVs the same', () => {
  const { scene, log, names } = sent({})
  expect(names).toEqual(['heron.glb'])
  expect(log).toHaveLength(2)
  const { rows } = compareScenes(heron, scene)
  expect(rows).toHaveLength(12)
  for (const { cells } of rows) {
    expect(cells.topology!.note ?? cells.topology!.state).toMatch(/polygons-cut|changed/)
    expect(cells.uvs!.state).toBe('within')
    expect(cells.points!.state).toBe('changed')
  }
})
test('with nothing moved the points are the same within what 32 bits round', () => {
  for (const { cells } of compareScenes(heron, sent({ strength: 0 }).scene).rows)
    expect(cells.points!.state).toBe('within')
})
test('under the floor, halves mirrored by their scale, lights along', () => {
  const { scene, log } = sent({ strength: 0, sinks: true, mirrors: true, lights: true })
  expect(highest(scene)).toBeLessThan(0)
  expect(scene.lights.map(({ name }) => name)).toEqual(['key light', 'fill light'])
  const right = scene.nodes.find(({ name }) => name === 'wing_right')!
  const left = scene.nodes.find(({ name }) => name === 'wing_left')!
  expect(right.mesh).toBe(left.mesh)
  expect(right.local[0]).toBe(-1)
  expect(log.join(' ')).toContain('right halves were replaced')
  // the wing is where it was, as far as the two halves are alike
  const { rows } = compareScenes(heron, scene)
  expect(rows.filter(({ match }) => match.masterNode >= 0 && match.returnedNode >= 0)).toHaveLength(12)
})
