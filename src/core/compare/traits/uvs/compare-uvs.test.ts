/** What is said of UVs that are there on one side only. */
import { describe, expect, test } from 'vitest'
import { gridOf, sceneOf, uvsOf } from '../../../../../tests/solids.ts'
import { completeIds } from '../../../scene/ids.ts'
import type { Scene } from '../../../scene/scene.ts'
import { compareScenes } from '../../compare-scenes.ts'
import { noteText } from '../registry.ts'

const UVS = uvsOf(
  Array.from({ length: 16 }, (_uv, corner) => [corner / 16, (corner % 4) / 4] as [number, number]),
)
const sheet = (change: (corner: number, uv: number) => number, shift = 0): Scene =>
  completeIds(
    sceneOf([
      gridOf(2, 2, {
        uvSets: [
          {
            ...UVS,
            values: UVS.values.map((value, at) => (at < 8 ? value + shift : value)),
            indices: UVS.indices.map((uv, corner) => change(corner, uv)),
          },
        ],
      }),
    ]),
  )
const said = (returned: Scene): string => {
  const cell = compareScenes(
    sheet((_corner, uv) => uv),
    returned,
  ).rows[0]!.cells.uvs!
  expect(cell.state).toBe('changed')
  return noteText(cell.note, cell.parameters)
}

describe('UVs that one side lacks', () => {
  test('are not said to have moved by 0', () => {
    expect(said(sheet((corner, uv) => (corner < 4 ? -1 : uv)))).toBe(
      '4 of 16 corners have a UV on one side only.',
    )
  })
  test('are told beside those that moved', () => {
    expect(said(sheet((corner, uv) => (corner >= 12 ? -1 : uv), 0.25))).toMatch(
      /^4 of 16 corners have another UV, the farthest by 0\.25.*; 4 more have none on one side\.$/,
    )
  })
})
