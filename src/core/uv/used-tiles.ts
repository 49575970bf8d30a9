/** Which unit squares of the UVs are used. */
import type { Mesh, UvSet } from '../scene/mesh.ts'
import type { Scene } from '../scene/scene.ts'
import type { UvTile } from '../scene/image-tiles.ts'

/** Columns and rows beyond this are no tiles but UVs astray. */
const FARTHEST = 10000

/**
 * The square of each polygon: the one that the middle of its corners lies in, so that corners on a border belong to
 * the side on which the polygon is.
 *
 * @param wanted faces to look at.
 */
export function usedTiles(mesh: Mesh, set: UvSet, wanted: (face: number) => boolean): UvTile[] {
  const tiles = new Map<string, UvTile>()
  for (let face = 0; face + 1 < mesh.faceOffsets.length; face++) {
    if (!wanted(face)) continue
    const [start, end] = [mesh.faceOffsets[face]!, mesh.faceOffsets[face + 1]!]
    let [u, v, count] = [0, 0, 0]
    for (let corner = start; corner < end; corner++) {
      const at = set.indices[corner]!
      if (at < 0) continue
      u += set.values[2 * at]!
      v += set.values[2 * at + 1]!
      count++
    }
    const tile = { column: Math.floor(u / count), row: Math.floor(v / count) }
    if (count && Math.abs(tile.column) < FARTHEST && Math.abs(tile.row) < FARTHEST)
      tiles.set(`${tile.column} ${tile.row}`, tile)
  }
  return [...tiles.values()].sort((a, b) => a.row - b.row || a.column - b.column)
}

/** Squares that faces of a material lie in. @param uvSet the set that its map asks for; the first where it isn't there. */
export function tilesWithMaterial(scene: Scene, material: number, uvSet: string | undefined): UvTile[] {
  const tiles = new Map<string, UvTile>()
  for (const mesh of scene.meshes) {
    const { faceMaterials } = mesh
    const set = mesh.uvSets.find(({ name }) => name === uvSet) ?? mesh.uvSets[0]
    if (!set || !faceMaterials?.includes(material)) continue
    for (const tile of usedTiles(mesh, set, (face) => faceMaterials[face] === material))
      tiles.set(`${tile.column} ${tile.row}`, tile)
  }
  return [...tiles.values()].sort((a, b) => a.row - b.row || a.column - b.column)
}
