/** Symmetrical parts and sheets with both sides, whose places fit several answers: what nobody touched says which. */
import { describe, expect, test } from 'vitest'
import type { FaultName } from '../../../../tests/file-returns/faults.ts'
import { EDITS } from '../../../../tests/file-returns/edits.ts'
import { textOf, type FilePart } from '../../../../tests/file-returns/file-part.ts'
import { morePartOf } from '../../../../tests/file-returns/more-shapes.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { madeReturn, type FileReturn } from '../../../../tests/file-returns/make-return.ts'
import type { ShapeName } from '../../../../tests/file-returns/shapes.ts'
import { readText } from '../../../../tests/meshes.ts'
import { compareScenes } from '../compare-scenes.ts'
import type { TraitState } from '../traits/trait.ts'
import { recogniseReturn } from './recognise-return.ts'

interface Told {
  readonly materials: TraitState
  readonly groups: TraitState
  readonly turned: number
  readonly polygons: number
  readonly guess: boolean
  readonly whole: string
  /** Polygons whose counterpart has another material, whatever is told of it. */
  readonly otherMaterial: number
}

function toldOf({ master, came, digits }: Pick<FileReturn, 'master' | 'came' | 'digits'>): Told {
  const [own, other] = [readText(textOf(master)).scene, readText(textOf(came, digits)).scene]
  const { matching, returned } = recogniseReturn(own, other)
  const { rows, whole } = compareScenes(own, returned, () => {}, matching)
  const [part] = matching.matched
  const { correspondence } = part!
  const nameOf = (scene: typeof own, at: number | undefined): string => scene.materials[at ?? -1]?.name ?? ''
  return {
    materials: rows[0]!.cells.materials!.state,
    groups: rows[0]!.cells.groups!.state,
    turned: correspondence.turnedFaceCount,
    polygons: correspondence.matchedFaceCount,
    guess: correspondence.guess ?? false,
    whole: whole ? `${whole.mirror ?? '-'}` : 'none',
    otherMaterial: [...correspondence.faceToReturned].filter((face, at) => nameOf(returned, part!.returned.faceMaterials![face]) !== nameOf(own, part!.master.faceMaterials![at])).length, // prettier-ignore
  }
}
const made = (shape: ShapeName, faults: readonly FaultName[], seed: number): Told =>
  toldOf(madeReturn(shape, false, faults, seed))

describe.each([1, 2, 3, 4])('seed %i', (seed) => {
  test('a ring that was mirrored and numbered anew is not one that was moved and turned inside out', () => {
    const told = made('ring', ['mirrored', 'renumbered'], seed)
    expect(told).toMatchObject({ materials: 'same', groups: 'same', turned: 0, whole: 'X', otherMaterial: 0 })
  })

  test('a sheet with both sides: each goes with its own, turned over, cut up, in triangles or without some', () => {
    const sheet = made('sheet', [], seed)
    const turned = made('sheet', ['turnedOver', 'renumbered'], seed)
    expect(turned).toMatchObject({
      materials: 'same',
      turned: sheet.polygons,
      guess: false,
      otherMaterial: 0,
    })
    for (const faults of [
      ['turnedOver', 'triangulated'],
      ['turnedOver', 'unwelded'],
      ['turnedOver', 'sculpted'],
      ['triangulated', 'renumbered'],
    ] as const)
      expect(made('sheet', faults, seed)).toMatchObject({
        materials: 'same',
        groups: 'same',
        otherMaterial: 0,
      })
    const { came, ...kept } = madeReturn('sheet', false, ['renumbered'], seed)
    const [part] = came
    // one side of a place is gone: the other is not what it became
    const polygons = part!.polygons.filter(({ of }) => of !== 'sheet#0')
    const without = toldOf({ ...kept, came: [{ ...part!, polygons }] })
    expect(without).toMatchObject({ materials: 'without', polygons: sheet.polygons - 1, turned: 0 })
  })
})

test('materials that somebody exchanged on a ring stay changed: the order of the polygons says which is which', () => {
  const { master, ...rest } = madeReturn('ring', false, [], 3)
  const [part] = master
  const other = { one: 'other', other: 'one' } as Readonly<Record<string, string>>
  const came = [{ ...part!, polygons: part!.polygons.map((polygon) => ({ ...polygon, material: other[polygon.material]! })) }] // prettier-ignore
  const told = toldOf({ ...rest, master, came })
  expect(told).toMatchObject({ materials: 'changed', groups: 'same', turned: 0, whole: 'none' })
  expect(told.otherMaterial).toBe(part!.polygons.length)
})

/** Pushed through, of as many sides as its outline has; its first cap deleted and all of it numbered anew by that. */
const LETTER: FilePart = morePartOf('letter', false, 'letter', () => 0.5)
const withoutFirst = (part: FilePart): FilePart => {
  const polygons = part.polygons.slice(1)
  const order = [...new Set(polygons.flatMap(({ corners }) => corners.map(({ point }) => point)))]
  const numbers = new Map(order.map((old, now) => [old, now]))
  return {
    ...part,
    places: order.map((at) => part.places[at]!),
    ids: order.map((at) => part.ids[at]!),
    polygons: polygons.map((polygon) => ({ ...polygon, corners: polygon.corners.map(({ point, uv }) => ({ point: numbers.get(point)!, uv })) })), // prettier-ignore
  }
}

test('deleted in front, numbered anew and turned: nothing was mirrored, and no material changed', () => {
  const spun = EDITS.spun([withoutFirst(LETTER)], chanceOf(3))
  const told = toldOf({ master: [LETTER], came: spun, digits: 6 })
  // its order says that it was mirrored, its materials that it was not
  // the one that is gone has no counterpart
  expect(told).toMatchObject({ materials: 'without', turned: 0, otherMaterial: 1, guess: true, polygons: 7 })
})
