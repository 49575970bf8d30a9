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

/** Less than a step of 16 bits. */
const ALIKE = 1e-5

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
    /** Of the triangle that was asked for last, and of which surface: 15 numbers a corner, and where its corners lie. */
    const held = new Float64Array(45)
    const places = new Float64Array(7)
    let heldSurface: TileSurface | null = null
    let heldTriangle = -1
    let isKnown = false
    /** The source's frame is the target's, turned in the surface by this, at all corners alike: two numbers for U, two for V. */
    const turned = new Float64Array(4)
    let isTurnedAlike = false
    function hold(surface: TileSurface, triangle: number): void {
      heldSurface = surface
      heldTriangle = triangle
      const mesh = surface.meshes[triangle]!
      const source = framesOf(mesh, from)
      const target = framesOf(mesh, to)
      isKnown = source !== null && target !== null
      if (!source || !target) return
      const normals = normalsIn(mesh)
      const [ax, ay, bx, by, cx, cy] = texelCorners(surface.uvs, triangle, surface.cover.size)
      places.set([ax, ay, bx - ax, by - ay, cx - ax, cy - ay, (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)])
      for (let k = 0; k < 3; k++) {
        const corner = 3 * surface.corners[3 * triangle + k]!
        const at = 3 * normals.indices[corner / 3]!
        for (let axis = 0; axis < 3; axis++) {
          held[15 * k + axis] = source.tangents[corner + axis]!
          held[15 * k + 3 + axis] = source.binormals[corner + axis]!
          held[15 * k + 6 + axis] = target.tangents[corner + axis]!
          held[15 * k + 9 + axis] = target.binormals[corner + axis]!
          held[15 * k + 12 + axis] = at >= 0 ? normals.values[at + axis]! : 0
        }
      }
      isTurnedAlike = true
      for (let k = 0; k < 3 && isTurnedAlike; k++)
        for (let part = 0; part < 4; part++) {
          // how much of the target's tangent and binormal is in the source's
          const [ofSource, ofTarget] = [15 * k + (part < 2 ? 0 : 3), 15 * k + (part % 2 ? 9 : 6)]
          const own =
            held[ofSource]! * held[ofTarget]! +
            held[ofSource + 1]! * held[ofTarget + 1]! +
            held[ofSource + 2]! * held[ofTarget + 2]!
          if (k === 0) turned[part] = own
          else if (Math.abs(turned[part]! - own) > ALIKE) isTurnedAlike = false
        }
      for (const row of [0, 2])
        if (Math.abs(turned[row]! ** 2 + turned[row + 1]! ** 2 - 1) > ALIKE) isTurnedAlike = false
    }
    return {
      turn(surface, triangle, x, y, normal) {
        if (heldTriangle !== triangle || heldSurface !== surface) hold(surface, triangle)
        if (!isKnown) return
        if (isTurnedAlike) {
          const lean = normal[0]! * 2 - 1
          const rise = normal[1]! * 2 - 1
          normal[0] = (lean * turned[0]! + rise * turned[2]!) * 0.5 + 0.5
          normal[1] = (lean * turned[1]! + rise * turned[3]!) * 0.5 + 0.5
          return
        }
        const [toX, toY] = [x - places[0]!, y - places[1]!]
        const shareB = (toX * places[5]! - toY * places[4]!) / places[6]!
        const shareC = (places[2]! * toY - places[3]! * toX) / places[6]!
        const shareA = 1 - shareB - shareC
        for (let at = 0; at < 15; at++)
          frame[at] = shareA * held[at]! + shareB * held[15 + at]! + shareC * held[30 + at]!
        const [lean, rise, out] = [normal[0]! * 2 - 1, normal[1]! * 2 - 1, normal[2]! * 2 - 1]
        const solved = solve(
          frame,
          lean * frame[0]! + rise * frame[3]! + out * frame[12]!,
          lean * frame[1]! + rise * frame[4]! + out * frame[13]!,
          lean * frame[2]! + rise * frame[5]! + out * frame[14]!,
          normal,
        )
        if (!solved) return
        const length = Math.sqrt(normal[0]! ** 2 + normal[1]! ** 2 + normal[2]! ** 2)
        if (!(length > 1e-9)) {
          normal.set([0.5, 0.5, 1])
          return
        }
        for (let axis = 0; axis < 3; axis++) normal[axis] = (normal[axis]! / length) * 0.5 + 0.5
      },
    }
  }
}

/** How much of the target's tangent, binormal and normal makes a vector; false where they lie in one plane. */
function solve(frame: Float64Array, x: number, y: number, z: number, into: Float64Array): boolean {
  const tx = frame[6]!
  const ty = frame[7]!
  const tz = frame[8]!
  const bx = frame[9]!
  const by = frame[10]!
  const bz = frame[11]!
  const nx = frame[12]!
  const ny = frame[13]!
  const nz = frame[14]!
  const volume = tx * (by * nz - bz * ny) - ty * (bx * nz - bz * nx) + tz * (bx * ny - by * nx)
  if (Math.abs(volume) < 1e-9) return false
  into[0] = (x * (by * nz - bz * ny) - y * (bx * nz - bz * nx) + z * (bx * ny - by * nx)) / volume
  into[1] = (tx * (y * nz - z * ny) - ty * (x * nz - z * nx) + tz * (x * ny - y * nx)) / volume
  into[2] = (tx * (by * z - bz * y) - ty * (bx * z - bz * x) + tz * (bx * y - by * x)) / volume
  return true
}
