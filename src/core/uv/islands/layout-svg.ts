/** How UVs lie, as a drawing to paint over. Source of the form: SVG 1.1 (Second Edition), W3C. */
import { createMeshFacts, nextCorner } from '../../mesh/relations/mesh-facts.ts'
import type { UvTile } from '../../scene/image-tiles.ts'
import type { Scene } from '../../scene/scene.ts'
import { isMapped } from '../uv-measures.ts'
import { islandsInSet, outlineOf } from './laid-island.ts'

export interface LayoutDrawing {
  /** Name of the set; empty: each part's first. */
  readonly set: string
  /** Pixels a side. */
  readonly size: number
  readonly tile: UvTile
  /** Parts by their nodes; null: all. */
  readonly nodes?: readonly number[] | null
}

/** Polygons beyond which only the islands' borders are drawn. */
const MOST_POLYGONS = 200000

const escaped = (text: string): string =>
  text
    .replace(/[&<>"']/g, (sign) => `&#${sign.charCodeAt(0)};`)
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f]/g, '')

/** @returns an SVG document, V upwards; null where no polygon of the parts lies in the tile. */
export function layoutSvg(
  scene: Scene,
  { set: name, size, tile, nodes = null }: LayoutDrawing,
): string | null {
  const seen = new Set<number>()
  const groups: string[] = []
  const place = (u: number, v: number): string =>
    `${Number(((u - tile.column) * size).toFixed(2))} ${Number((size - (v - tile.row) * size).toFixed(2))}`
  const polygonCount = scene.meshes.reduce((sum, mesh) => sum + mesh.faceOffsets.length - 1, 0)
  scene.nodes.forEach((node, index) => {
    if (node.mesh < 0 || seen.has(node.mesh) || (nodes && !nodes.includes(index))) return
    seen.add(node.mesh)
    const mesh = scene.meshes[node.mesh]!
    const set = name === '' ? mesh.uvSets[0] : mesh.uvSets.find((own) => own.name === name)
    if (!set) return
    const facts = createMeshFacts(mesh)
    const islands = islandsInSet(facts, set)
      .map(outlineOf)
      .filter(({ loops }) =>
        loops.some((loop) =>
          loop.some(
            (value, at) =>
              at % 2 === 0 &&
              value >= tile.column - 1e-6 &&
              value <= tile.column + 1 + 1e-6 &&
              loop[at + 1]! >= tile.row - 1e-6 &&
              loop[at + 1]! <= tile.row + 1 + 1e-6,
          ),
        ),
      )
    if (islands.length === 0) return
    const borders = islands.map(({ loops }) =>
      loops
        .map((loop) => {
          const corners: string[] = []
          for (let at = 0; at < loop.length; at += 2) corners.push(place(loop[at]!, loop[at + 1]!))
          return `M${corners.join('L')}Z`
        })
        .join(''),
    )
    const sides: string[] = []
    if (polygonCount <= MOST_POLYGONS) {
      const drawn = new Set<string>()
      for (let face = 0; face < facts.faceCount; face++) {
        if (!isMapped(mesh, set, face)) continue
        for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
          const [a, b] = [corner, nextCorner(mesh, face, corner)].map((own) => {
            const uv = 2 * set.indices[own]!
            return place(set.values[uv]!, set.values[uv + 1]!)
          }) as [string, string]
          const key = a < b ? `${a}L${b}` : `${b}L${a}`
          if (drawn.has(key)) continue
          drawn.add(key)
          sides.push(`M${key}`)
        }
      }
    }
    groups.push(
      [
        `<g><title>${escaped(node.name)}</title>`,
        `<path d="${borders.join('')}" fill="#7d8f96" fill-opacity="0.25" fill-rule="evenodd" stroke="none"/>`,
        sides.length
          ? `<path d="${sides.join('')}" fill="none" stroke="#223038" stroke-width="${thin(size)}" stroke-opacity="0.6"/>`
          : '',
        `<path d="${borders.join('')}" fill="none" stroke="#0b1418" stroke-width="${2 * thin(size)}" stroke-linejoin="round"/>`,
        '</g>',
      ].join(''),
    )
  })
  if (groups.length === 0) return null
  return `<?xml version="1.0" encoding="UTF-8"?>\n<svg xmlns="http://www.w3.org/2000/svg" width="${size}" height="${size}" viewBox="0 0 ${size} ${size}">${groups.join('\n')}</svg>\n`
}

const thin = (size: number): number => Math.max(0.5, size / 4096)
