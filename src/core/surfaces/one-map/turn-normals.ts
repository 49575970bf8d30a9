/**
 * Normals of a map for other UVs: a map says how far a normal leans along its own U and V, which lie otherwise on the
 * surface in another set. From one set's frame to the model's space and into the other's, with tangents as MikkTSpace
 * has them at the corners, straight between them: what a renderer undoes on its way is what is done here.
 */
import { meshTangents } from '../../mesh/normals/mesh-tangents.ts'
import { computeNormals } from '../../mesh/normals/compute-normals.ts'
import type { CornerNormals, Mesh } from '../../scene/mesh.ts'
import { texelCorners } from '../../uv/texels/cover-texels.ts'
import { setOf, type TileSurface } from './drawn-surface.ts'

export interface MeshFrames {
  /** @param normal 0.5 + 0.5 x each part; changed in place. */
  readonly turn: (surface: TileSurface, triangle: number, x: number, y: number, normal: Float64Array) => void
}

interface Frames {
  /** 3 x cornerCount each. */
  readonly tangents: Float64Array
  readonly binormals: Float64Array
}

/** Frames of meshes by set, each computed once. */
export function createFrames(meshes: readonly Mesh[]): (from: string, to: string) => MeshFrames | null {
  const kept = new Map<string, Frames | null>()
  const normalsOf = new Map<number, CornerNormals>()
  const framesOf = (mesh: number, name: string): Frames | null => {
    const key = `${mesh} ${name}`
    const known = kept.get(key)
    if (known !== undefined) return known
    const own = meshes[mesh]!
    const layers = meshTangents(own, setOf(own, name) ?? own.uvSets[0])
    const found = layers ? { tangents: layers[0]!.values, binormals: layers[1]!.values } : null
    kept.set(key, found)
    return found
  }
  const normalsIn = (mesh: number): CornerNormals => {
    const known = normalsOf.get(mesh)
    if (known) return known
    const own = meshes[mesh]!
    const found = own.normals ?? computeNormals(own, null)
    normalsOf.set(mesh, found)
    return found
  }
  return (from, to) => {
    if (meshes.every((mesh) => (setOf(mesh, from) ?? mesh.uvSets[0]) === (setOf(mesh, to) ?? mesh.uvSets[0])))
      return null
    const frame = new Float64Array(15)
    return {
      turn(surface, triangle, x, y, normal) {
        const mesh = surface.meshes[triangle]!
        const source = framesOf(mesh, from)
        const target = framesOf(mesh, to)
        if (!source || !target) return
        const normals = normalsIn(mesh)
        const [ax, ay, bx, by, cx, cy] = texelCorners(surface.uvs, triangle, surface.cover.size)
        const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
        const shareB = ((x - ax) * (cy - ay) - (y - ay) * (cx - ax)) / area
        const shareC = ((bx - ax) * (y - ay) - (by - ay) * (x - ax)) / area
        frame.fill(0)
        for (let k = 0; k < 3; k++) {
          const share = k === 0 ? 1 - shareB - shareC : k === 1 ? shareB : shareC
          const corner = surface.corners[3 * triangle + k]!
          const at = normals.indices[corner]!
          for (let axis = 0; axis < 3; axis++) {
            frame[axis]! += share * source.tangents[3 * corner + axis]!
            frame[3 + axis]! += share * source.binormals[3 * corner + axis]!
            frame[6 + axis]! += share * target.tangents[3 * corner + axis]!
            frame[9 + axis]! += share * target.binormals[3 * corner + axis]!
            if (at >= 0) frame[12 + axis]! += share * normals.values[3 * at + axis]!
          }
        }
        const [lean, rise, out] = [normal[0]! * 2 - 1, normal[1]! * 2 - 1, normal[2]! * 2 - 1]
        const part = (axis: number): number =>
          lean * frame[axis]! + rise * frame[3 + axis]! + out * frame[12 + axis]!
        const solved = solve(frame, [part(0), part(1), part(2)])
        const length = solved ? Math.hypot(...solved) : 0
        if (!solved || !(length > 1e-9)) return
        for (let axis = 0; axis < 3; axis++) normal[axis] = (solved[axis]! / length) * 0.5 + 0.5
      },
    }
  }
}

/** How much of the target's tangent, binormal and normal makes a vector; null where they lie in one plane. */
function solve(
  frame: Float64Array,
  [x, y, z]: readonly [number, number, number],
): [number, number, number] | null {
  const [tx, ty, tz] = [frame[6]!, frame[7]!, frame[8]!]
  const [bx, by, bz] = [frame[9]!, frame[10]!, frame[11]!]
  const [nx, ny, nz] = [frame[12]!, frame[13]!, frame[14]!]
  const volume = tx * (by * nz - bz * ny) - ty * (bx * nz - bz * nx) + tz * (bx * ny - by * nx)
  if (Math.abs(volume) < 1e-9) return null
  return [
    (x * (by * nz - bz * ny) - y * (bx * nz - bz * nx) + z * (bx * ny - by * nx)) / volume,
    (tx * (y * nz - z * ny) - ty * (x * nz - z * nx) + tz * (x * ny - y * nx)) / volume,
    (tx * (by * z - bz * y) - ty * (bx * z - bz * x) + tz * (bx * y - by * x)) / volume,
  ]
}
