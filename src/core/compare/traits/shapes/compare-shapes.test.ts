/** What is told of blend shapes and skins: shapes by name, weights by joints, joints by name and then by order. */
import { describe, expect, test } from 'vitest'
import { square } from '../../../../../tests/check-shapes.ts'
import { sceneOf } from '../../../../../tests/solids.ts'
import { renderText } from '../../../base/messages/render.ts'
import type { BlendShape, Mesh, Skin } from '../../../scene/mesh.ts'
import type { Scene } from '../../../scene/scene.ts'
import { sameNumbering } from '../../match/correspond.ts'
import { compareShapes } from './compare-shapes.ts'
import { shapes as trait } from './shapes.ts'

/** Each point of the square is held by two joints. */
const skin = (more: Partial<Skin> = {}): Skin => ({
  jointNodes: Int32Array.of(1, 2),
  offsets: Uint32Array.of(0, 2, 4, 6, 8),
  joints: Uint32Array.of(0, 1, 0, 1, 0, 1, 0, 1),
  weights: Float64Array.of(0.5, 0.5, 0.25, 0.75, 1, 0, 0.1, 0.9),
  ...more,
})
const shape = (name: string, by: number): BlendShape => ({
  name,
  points: Uint32Array.of(1),
  offsets: Float64Array.of(0, by, 0),
  normals: null,
})
const scene = (mesh: Mesh, joints: readonly string[]): Scene => {
  const [first] = sceneOf([mesh]).nodes
  const plain = sceneOf([mesh])
  return { ...plain, nodes: [first!, ...joints.map((name) => ({ ...first!, name, mesh: -1 }))] }
}
const told = (own: Partial<Mesh>, came: Partial<Mesh>, joints = ['hip', 'knee'], cameJoints = joints) => {
  const [master, returned] = [square(own), square(came)]
  const match = sameNumbering(master)
  const found = compareShapes(scene(master, joints), master, scene(returned, cameJoints), returned, match)
  const { ledger = '' } = trait.notes[found.note] ?? {}
  return { ...found, text: renderText(ledger, found.parameters ?? {}) }
}

test('the same, however the weights are listed', () => {
  const listed = skin({
    offsets: Uint32Array.of(0, 2, 4, 5, 7),
    joints: Uint32Array.of(1, 0, 1, 0, 0, 1, 0),
    weights: Float64Array.of(0.5, 0.5, 0.75, 0.25, 1, 0.9, 0.1),
  })
  expect(told({ skin: skin() }, { skin: listed }).state).toBe('same')
})

test('weights that differ are counted, with the most, and have their places', () => {
  const other = skin({ weights: Float64Array.of(0.5, 0.5, 0.75, 0.25, 1, 0, 0, 1) })
  const found = told({ skin: skin() }, { skin: other })
  expect(found).toMatchObject({ state: 'changed', note: 'skin-weights', changedCount: 2, totalCount: 4 })
  expect(found.text).toBe('The skin’s weights of 2 of 4 points changed, the most by 0.5.')
  expect([...found.places!.master]).toEqual([1, 3])
  expect(
    told({ skin: skin() }, { skin: skin({ weights: skin().weights.map(() => NaN) }) }).changedCount,
  ).toBe(4)
})

test('joints under other names hold what they held', () => {
  const found = told({ skin: skin() }, { skin: skin() }, ['hip', 'knee'], ['rig_hip', 'knee'])
  expect(found.text).toBe('The weights are the same; 1 joint has another name, “hip” is now “rig_hip”.')
  // by name before order
  const turned = skin({ joints: Uint32Array.of(1, 0, 1, 0, 1, 0, 1, 0) })
  expect(told({ skin: skin() }, { skin: turned }, ['hip', 'knee'], ['knee', 'hip']).state).toBe('same')
})

test('a joint more holds what it holds', () => {
  const more = skin({ jointNodes: Int32Array.of(1, 2, 3), joints: Uint32Array.of(0, 1, 0, 1, 2, 1, 0, 1) })
  expect(told({ skin: skin() }, { skin: more }, ['hip', 'knee', 'foot'])).toMatchObject({ note: 'skin-weights', changedCount: 1, deviation: 1 }) // prettier-ignore
})

describe('bound otherwise', () => {
  const binds = (by: number): Float64Array =>
    Float64Array.from({ length: 32 }, (_value, at) => (at % 5 ? 0 : 1) + (at === 28 ? by : 0))
  test('is told where both say how, by joints of the same name', () => {
    expect(told({ skin: skin({ jointBinds: binds(0) }) }, { skin: skin({ jointBinds: binds(2) }) }).note).toBe('skin-bound-otherwise') // prettier-ignore
    expect(told({ skin: skin({ meshBinds: binds(0) }) }, { skin: skin({ meshBinds: binds(2) }) }).note).toBe('skin-bound-otherwise') // prettier-ignore
    expect(told({ skin: skin({ jointBinds: binds(0) }) }, { skin: skin() }).state).toBe('same')
    expect(told({ skin: skin({ method: 'linear' }) }, { skin: skin({ method: 'dualQuaternion' }) }).note).toBe('skin-bound-otherwise') // prettier-ignore
  })
})

test('a skin that did not come back, or is new, beside shapes and alone', () => {
  const shapes = [shape('smile', 1)]
  expect(told({ skin: skin(), shapes }, { shapes }).note).toBe('skin-lost')
  expect(told({ shapes }, { skin: skin(), shapes }).note).toBe('skin-new')
  expect(told({ skin: skin() }, {}).state).toBe('lost')
  expect(told({}, { skin: skin() }).state).toBe('gained')
})

test('shapes that differ are told beside what became of the skin', () => {
  const own = { shapes: [shape('smile', 1), shape('frown', 2)], skin: skin() }
  const came = [shape('smile', 1), shape('frown', 3)]
  expect(told(own, { shapes: came, skin: skin() }).text).toBe('1 of 2 blend shapes changed.')
  expect(told(own, { shapes: came }).text).toBe('1 of 2 blend shapes changed; the skin did not come back.')
  const weights = skin({ weights: skin().weights.map((weight) => 1 - weight) })
  expect(told(own, { shapes: [...came, shape('wink', 1)], skin: weights }).text).toBe(
    '1 of 2 blend shapes changed; 1 blend shape is new; so did the skin’s weights of 3 of 4 points, the most by 1.',
  )
  expect(told(own, { shapes: [...own.shapes, shape('wink', 1)], skin: skin() }).text).toBe('1 blend shape is new.') // prettier-ignore
})

test('shapes under other names move what they moved', () => {
  const own = [shape('smile', 1), shape('frown', 2)]
  const found = told({ shapes: own }, { shapes: [shape('frown', 2), shape('Smile', 1)] })
  expect(found.text).toBe('The shapes are the same; 1 is called something else, “smile” now “Smile”.')
  expect(told({ shapes: own }, { shapes: [shape('', 1), shape('', 2)] }).text).toBe('The shapes are the same; 2 are called something else, “smile” now “(no name)”.') // prettier-ignore
  expect(told({ shapes: own }, { shapes: [shape('', 2), shape('', 1)] }).text).toBe(
    '2 of 2 blend shapes changed.',
  )
  const steps = own.map((one) => ({ ...one, channel: 'mouth', fullWeight: 50 }))
  expect(told({ shapes: own }, { shapes: steps }).text).toBe('The shapes are the same; 2 are called something else, “smile” now “mouth/smile at 50”.') // prettier-ignore
})

test('a shape that is on otherwise', () => {
  const on = { ...shape('smile', 1), weight: 40 }
  expect(told({ shapes: [on] }, { shapes: [{ ...on, weight: 60 }] }).text).toBe('The shapes are the same; 1 of 1 is set to another weight.') // prettier-ignore
  expect(told({ shapes: [on] }, { shapes: [on] }).state).toBe('same')
})
