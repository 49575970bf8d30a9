import { tryProblems } from '../../../../tests/checks.ts'
import { encodeUtf8 } from '../../base/bytes/text.ts'
import { cellUvs, mapped, one, png, square } from '../../../../tests/check-shapes.ts'
import { uvsOf } from '../../../../tests/solids.ts'
import type { Scene } from '../../scene/scene.ts'

/** A square in the tile at (u, v) with a map of which the given tiles are there. */
const tiled = (u: number, v: number, file: string, ...labels: string[]): Scene => {
  const { materials } = mapped([file, null])
  return {
    ...one(square({ faceMaterials: Int32Array.of(0), uvSets: [uvsOf(cellUvs(u, v, 1))] })),
    materials,
    images: [
      {
        file,
        entry: labels[0] ?? null,
        bytes: labels.length ? png(4, 4) : null,
        tiles: labels.map((label) => ({ label, entry: label, bytes: png(4, 4) })),
      },
    ],
  }
}

tryProblems('missing-maps', {
  missing: {
    bad: mapped(['color.png', null]),
    count: 1,
    near: mapped(['color.png', png(4, 4)]),
  },
  unreadable: {
    bad: mapped(['color.png', encodeUtf8('<!doctype html> not found')]),
    count: 1,
    near: mapped(['color.png', png(4, 4)]),
  },
  'tile-missing': {
    bad: tiled(1, 2, 'paint.<UDIM>.png', '1001'),
    count: 1,
    near: tiled(1, 2, 'paint.<UDIM>.png', '1001', '1022'),
  },
  'tile-unnumbered': {
    bad: tiled(12, 0, 'paint.<UDIM>.png', '1001'),
    count: 1,
    // rows of the other numbering have no end
    near: tiled(12, 0, 'paint.<UVTILE>.png', 'u13_v1'),
  },
})
