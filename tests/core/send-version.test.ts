import { expect, test } from 'vitest'
import { sendVersion } from '../../src/app/send-version.ts'
import { completeIds } from '../../src/core/scene/ids.ts'
import { destinationOf } from '../../src/core/trips/destinations/registry.ts'
import { cubeOf, gridOf, sceneOf, withNodes } from '../solids.ts'

/** Two parts of one name. */
const scene = completeIds(withNodes(sceneOf([cubeOf(), gridOf(2, 2)]), () => ({ name: 'leaf' })))
const send = (selection: readonly string[] | null) =>
  sendVersion(scene, {
    assetName: 'leaves',
    versionNumber: 1,
    destination: destinationOf('sculpting')!,
    options: {},
    selection,
    withRecipe: true,
  })

test('of two parts of one name the chosen one leaves', async () => {
  const [first, second] = scene.nodes.map((node) => node.id)
  const text = async (id: string) => new TextDecoder().decode((await send([id])).files[0]!.bytes)
  expect((await text(first!)).match(/^v /gm)).toHaveLength(8)
  expect((await text(second!)).match(/^v /gm)).toHaveLength(9)
  expect((await send(null)).forecast.rows).toHaveLength(2)
})

test('a part that is not there is no part to leave out in silence: delivery.unknown-part', async () => {
  await expect(send([scene.nodes[0]!.id, 'node-of-another-version'])).rejects.toThrow(
    expect.objectContaining({ code: 'delivery.unknown-part', parameters: { count: 1 } }),
  )
})
