/**
 * Normals of a map for other UVs: a map says how far a normal leans along its own U and V, which lie otherwise on the
 * surface in another set. From one set's frame to the model's space and into the other's, with tangents as MikkTSpace
 * has them at the corners, straight between them: what a renderer undoes on its way is what is done here.
 */
import { createMeshFacts, type MeshFacts } from '../../mesh/relations/mesh-facts.ts'
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
  const factsOf = new Map<number, MeshFacts>()
  const framesOf = (mesh: number, name: string): Frames | null => {
    const key = `${mesh} ${name}`
    const known = kept.get(key)
    if (known !== undefined) return known
    const own = meshes[mesh]!
    const facts = factsOf.get(mesh) ?? createMeshFacts(own)
    factsOf.set(mesh, facts)
    const layers = meshTangents(own, setOf(own, name) ?? own.uvSets[0], facts, normalsIn(mesh))
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
        // source's tangent and binormal, the target's, the normal; written out, since this runs for every pixel
        const sx = shareA * held[0]! + shareB * held[15]! + shareC * held[30]!
        const sy = shareA * held[1]! + shareB * held[16]! + shareC * held[31]!
        const sz = shareA * held[2]! + shareB * held[17]! + shareC * held[32]!
        const rx = shareA * held[3]! + shareB * held[18]! + shareC * held[33]!
        const ry = shareA * held[4]! + shareB * held[19]! + shareC * held[34]!
        const rz = shareA * held[5]! + shareB * held[20]! + shareC * held[35]!
        const tx = shareA * held[6]! + shareB * held[21]! + shareC * held[36]!
        const ty = shareA * held[7]! + shareB * held[22]! + shareC * held[37]!
        const tz = shareA * held[8]! + shareB * held[23]! + shareC * held[38]!
        const bx = shareA * held[9]! + shareB * held[24]! + shareC * held[39]!
        const by = shareA * held[10]! + shareB * held[25]! + shareC * held[40]!
        const bz = shareA * held[11]! + shareB * held[26]! + shareC * held[41]!
        const nx = shareA * held[12]! + shareB * held[27]! + shareC * held[42]!
        const ny = shareA * held[13]! + shareB * held[28]! + shareC * held[43]!
        const nz = shareA * held[14]! + shareB * held[29]! + shareC * held[44]!
        const volume = tx * (by * nz - bz * ny) - ty * (bx * nz - bz * nx) + tz * (bx * ny - by * nx)
        // the target's frame lies in one plane
        if (Math.abs(volume) < 1e-9) return
        const lean = normal[0]! * 2 - 1
        const rise = normal[1]! * 2 - 1
        const out = normal[2]! * 2 - 1
        const px = lean * sx + rise * rx + out * nx
        const py = lean * sy + rise * ry + out * ny
        const pz = lean * sz + rise * rz + out * nz
        // how much of the target's tangent, binormal and normal makes it
        const u = (px * (by * nz - bz * ny) - py * (bx * nz - bz * nx) + pz * (bx * ny - by * nx)) / volume
        const v = (tx * (py * nz - pz * ny) - ty * (px * nz - pz * nx) + tz * (px * ny - py * nx)) / volume
        const w = (tx * (by * pz - bz * py) - ty * (bx * pz - bz * px) + tz * (bx * py - by * px)) / volume
        const length = Math.sqrt(u * u + v * v + w * w)
        if (!(length > 1e-9)) {
          normal.set([0.5, 0.5, 1])
          return
        }
        normal[0] = (u / length) * 0.5 + 0.5
        normal[1] = (v / length) * 0.5 + 0.5
        normal[2] = (w / length) * 0.5 + 0.5
      },
    }
  }
}
