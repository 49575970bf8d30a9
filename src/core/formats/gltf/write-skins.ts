/** Skins, by which joints hold a mesh where its node stands. Source: glTF 2.0, section 3.7.3. */
import { invertAffine, multiplyMatrices, type Matrix } from '../../base/math/matrix.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { IDENTITY_MATRIX, type Scene } from '../../scene/scene.ts'
import type { BufferWriter } from './buffer-writer.ts'
import { heldPlace, samePlace } from './place-skinned.ts'

/** Matrices from the mesh's own space to each joint's, by which the joints hold it where its node stands. */
function bindsOf(mesh: Mesh, worlds: readonly Matrix[], node: number): Float32Array {
  const skin = mesh.skin!
  const binds = new Float32Array(16 * skin.jointNodes.length)
  skin.jointNodes.forEach((jointNode, joint) => {
    const stated = skin.meshBinds?.subarray(16 * joint, 16 * joint + 16)
    const here =
      skin.jointBinds && !stated
        ? [...skin.jointBinds.subarray(16 * joint, 16 * joint + 16)]
        : jointNode >= 0
          ? worlds[jointNode]!
          : IDENTITY_MATRIX
    const bind = stated ?? multiplyMatrices(invertAffine(here) ?? IDENTITY_MATRIX, worlds[node]!)
    binds.set(bind, 16 * joint)
    // the last row of what places something is fixed
    for (const at of [3, 7, 11]) binds[16 * joint + at] = 0
    binds[16 * joint + 15] = 1
  })
  const held = heldPlace({ ...skin, meshBinds: Float64Array.from(binds) }, worlds)
  const back = held && !samePlace(held.place, worlds[node]!) ? invertAffine(held.place) : null
  if (back) {
    const moved = multiplyMatrices(back, worlds[node]!)
    for (let at = 0; at < binds.length; at += 16)
      binds.set(multiplyMatrices([...binds.subarray(at, at + 16)], moved), at)
  }
  return binds
}

export interface WrittenSkins {
  readonly skins: readonly object[]
  /** The skin of each node; -1 for none. */
  readonly ofNode: readonly number[]
  /** There were joints that are no nodes: these skins are not written. */
  readonly areBroken: boolean
}

/** @param isWritten whether a mesh is. */
export function writeSkins(
  scene: Scene,
  worlds: readonly Matrix[],
  writer: BufferWriter,
  isWritten: (mesh: number) => boolean,
): WrittenSkins {
  const skins: object[] = []
  const made = new Map<number, { readonly place: Matrix; readonly skin: number }[]>()
  let areBroken = false
  const ofNode = scene.nodes.map(({ mesh }, node) => {
    const skin = mesh < 0 || !isWritten(mesh) ? null : scene.meshes[mesh]!.skin
    if (!skin) return -1
    if (skin.jointNodes.length === 0 || skin.jointNodes.some((joint) => joint < 0)) {
      areBroken = true
      return -1
    }
    const known = made.get(mesh) ?? []
    made.set(mesh, known)
    const same = known.find(({ place }) => samePlace(place, worlds[node]!))
    if (same) return same.skin
    const binds = bindsOf(scene.meshes[mesh]!, worlds, node)
    const number = skins.push({ inverseBindMatrices: writer.floats(binds, 'MAT4'), joints: [...skin.jointNodes] }) - 1 // prettier-ignore
    known.push({ place: worlds[node]!, skin: number })
    return number
  })
  return { skins, ofNode, areBroken }
}
