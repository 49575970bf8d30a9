import { tileLabel } from '../../scene/image-tiles.ts'
import { islandsInSet, outlineOf, type LaidIsland } from '../../uv/islands/laid-island.ts'
import { turnedBox } from '../../uv/pack/outline.ts'
import { changeMeshes, chosenFaces, type StepDescriptor } from '../step.ts'
import { islandsChanged, setNamed, UV_SET } from '../shared/place-on-tiles.ts'

const FIRST_TILE = 1001
/** UVs on a tile's border belong to either side. */
const ON_BORDER = 1e-9

export const islandsIntoTile: StepDescriptor = {
  id: 'islands-into-tile',
  area: 'uvs',
  title: 'Islands into the tile',
  description:
    'Moves islands that lie outside a tile, or across its border, into it: by whole tiles where that does, so that a map that repeats looks the same.',
  changes: ['uvs'],
  parameters: [
    {
      id: 'tile',
      title: 'Tile',
      kind: 'number',
      default: FIRST_TILE,
      min: FIRST_TILE,
      max: 1999,
      whole: true,
    },
    UV_SET,
  ],
  run: (context) =>
    changeMeshes(context, 'polygons', (mesh, facts, node) => {
      const set = setNamed(mesh, context.text('set'))
      if (!set) return null
      const number = context.number('tile') - FIRST_TILE
      const [column, row] = [number % 10, Math.floor(number / 10)]
      const moved: LaidIsland[] = []
      let [large, shifted] = [0, 0]
      for (const island of islandsInSet(facts, set, chosenFaces(context, node, mesh))) {
        const { low, high } = turnedBox(outlineOf(island), 0)
        const [u, shiftsU] = moveInto(low[0], high[0], column)
        const [v, shiftsV] = moveInto(low[1], high[1], row)
        if (Number.isNaN(u) || Number.isNaN(v)) {
          large++
          continue
        }
        if (u === 0 && v === 0) continue
        if (shiftsU || shiftsV) shifted++
        moved.push({ ...island, flat: island.flat.map((value, at) => value + (at % 2 ? v : u)) })
      }
      const label = tileLabel('<UDIM>', { column, row })
      const notes = [
        ...(large
          ? [
              `${large} ${large === 1 ? 'island of' : 'islands of'} “${mesh.name}” ${large === 1 ? 'is' : 'are'} larger than a tile and ${large === 1 ? 'stays' : 'stay'}: pack them.`,
            ]
          : []),
        ...(shifted
          ? [
              `${shifted} ${shifted === 1 ? 'island' : 'islands'} of “${mesh.name}” lay across a border and ${shifted === 1 ? 'was' : 'were'} moved by a part of tile ${label}: what was painted there doesn’t fit any more.`,
            ]
          : []),
      ]
      return islandsChanged(mesh, set, moved, notes)
    }),
}

/** @returns by how much it has to be moved, and whether that is no whole tile; NaN where it is larger than one. */
function moveInto(low: number, high: number, tile: number): [number, boolean] {
  if (low >= tile - ON_BORDER && high <= tile + 1 + ON_BORDER) return [0, false]
  if (high - low > 1 + ON_BORDER) return [NaN, false]
  const whole = tile - Math.floor((low + high) / 2)
  if (low + whole >= tile - ON_BORDER && high + whole <= tile + 1 + ON_BORDER) return [whole, false]
  return [low + whole < tile ? tile - low : tile + 1 - high, true]
}
