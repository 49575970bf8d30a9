/** Islands of a model as an operation on images asks for them: by the image's name, its size and how far. */
import { squareOf } from '../core/image/operations/join-tiles.ts'
import type { IslandPadding } from '../core/image/operations/operation.ts'
import type { Scene } from '../core/scene/scene.ts'
import { drawnSurface, tileUvs } from '../core/surfaces/one-map/drawn-surface.ts'
import { coverTexels } from '../core/uv/texels/cover-texels.ts'
import { padTexels } from '../core/uv/texels/pad-texels.ts'

/** @param set name of the UV set; empty: that of most parts, in which the least lies over each other. */
export function islandsOf(scene: Scene, set: string): IslandPadding {
  const surface = drawnSurface(scene, set || null, () => true)
  const known = new Map<string, ReturnType<IslandPadding>>()
  return (name, size, width) => {
    const { column, row } = squareOf(name) ?? { column: 0, row: 0 }
    const tile = surface.tiles.find(({ tile: own }) => own.column === column && own.row === row)
    if (!tile) return null
    const key = `${tile.label} ${size} ${width}`
    const before = known.get(key)
    if (before !== undefined) return before
    const { owners } = coverTexels(tileUvs(surface.uvs, tile.tile, tile.triangles), size)
    // whether a tool drew a pixel that an island only touches isn't known: it repeats the nearest one within
    const padding = padTexels(
      owners.map((owner) => Math.max(0, owner)),
      size,
      width,
    )
    known.set(key, padding)
    return padding
  }
}
