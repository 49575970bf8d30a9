/** Skeletons and skins. Source: OpenUSD, UsdSkel (Skeleton, binding of skins). */
import { invertAffine, multiplyMatrices, type Matrix } from '../../base/math/matrix.ts'
import type { Skin } from '../../scene/mesh.ts'
import { IDENTITY_MATRIX, type Scene } from '../../scene/scene.ts'
import { usdNames } from './names.ts'
import { valueText, type UsdWriter } from './write-text.ts'

/** Joints that hang under one node, as one skeleton. */
export interface PlannedSkeleton {
  /** The node that it hangs under; -1: none. */
  readonly parent: number
  /** Nodes, a parent before its own. */
  readonly joints: readonly number[]
  /** Their words: paths of joints. */
  readonly words: readonly string[]
}

export interface SkeletonPlan {
  readonly skeletons: readonly PlannedSkeleton[]
  /** The skeleton of each node that is a joint. */
  readonly of: ReadonlyMap<number, PlannedSkeleton>
}

const isSound = (skin: Skin | null): skin is Skin =>
  skin !== null && skin.jointNodes.length > 0 && skin.jointNodes.every((joint) => joint >= 0)

/** Every node that moves points, with what lies between, in as few skeletons as there are places that they hang under. */
export function planSkeletons({ nodes, meshes }: Scene): SkeletonPlan {
  const joints = new Set<number>()
  const chainOf = (node: number): number[] => {
    const chain: number[] = []
    for (let at = node; at >= 0; at = nodes[at]!.parent) chain.unshift(at)
    return chain
  }
  for (const { skin } of meshes) {
    if (!isSound(skin)) continue
    const chains = [...skin.jointNodes].map(chainOf)
    // what all of them hang under, none of them itself
    let shared = 0
    while (chains.every((chain) => shared < chain.length - 1 && chain[shared] === chains[0]![shared]))
      shared++
    for (const chain of chains) for (const node of chain.slice(shared)) joints.add(node)
  }
  const topParent = (node: number): number => {
    let at = node
    while (at >= 0 && joints.has(at)) at = nodes[at]!.parent
    return at
  }
  const groups = new Map<number, number[]>()
  for (const node of [...joints].sort((a, b) => a - b)) {
    const parent = topParent(node)
    const list = groups.get(parent)
    if (list) list.push(node)
    else groups.set(parent, [node])
  }
  const of = new Map<number, PlannedSkeleton>()
  const skeletons = [...groups].map(([parent, list]): PlannedSkeleton => {
    const wordOf = new Map<number, string>()
    const taken = new Map<string, Set<string>>()
    for (const node of list) {
      const above = wordOf.get(nodes[node]!.parent) ?? ''
      const siblings = taken.get(above) ?? new Set<string>()
      taken.set(above, siblings)
      const word = usdNames.unique(nodes[node]!.name || 'joint', siblings)
      wordOf.set(node, above ? `${above}/${word}` : word)
    }
    const skeleton = { parent, joints: list, words: list.map((node) => wordOf.get(node)!) }
    for (const node of list) of.set(node, skeleton)
    return skeleton
  })
  return { skeletons, of }
}

/** The joints of a skeleton with their places. @param binds world matrices of joints when they were bound, by node. */
export function writeSkeleton(
  writer: UsdWriter,
  { nodes }: Scene,
  { joints, words }: PlannedSkeleton,
  worlds: readonly Matrix[],
  binds: ReadonlyMap<number, Matrix>,
): void {
  const all = (matrices: readonly Matrix[]): string =>
    valueText(Float64Array.from(matrices.flat()), 'matrix4d[]')
  writer.line(`uniform token[] joints = ${valueText(words, 'token[]')}`)
  writer.line(`uniform token[] jointNames = ${valueText(joints.map((node) => nodes[node]!.name), 'token[]')}`) // prettier-ignore
  writer.line(
    `uniform matrix4d[] bindTransforms = ${all(joints.map((node) => binds.get(node) ?? worlds[node]!))}`,
  )
  writer.line(`uniform matrix4d[] restTransforms = ${all(joints.map((node) => nodes[node]!.local))}`)
}

/** Where each joint was bound, as skins say it; the first that says it decides. */
export function bindsOf(
  { meshes, nodes }: Scene,
  worlds: readonly Matrix[],
  lost: Set<string>,
): Map<number, Matrix> {
  const binds = new Map<number, Matrix>()
  meshes.forEach(({ skin }, mesh) => {
    if (!isSound(skin)) {
      if (skin) lost.add('skins with joints that are not there')
      return
    }
    skin.jointNodes.forEach((node, joint) => {
      const stated = skin.jointBinds ? [...skin.jointBinds.subarray(16 * joint, 16 * joint + 16)] : null
      const known = binds.get(node)
      const own = stated ?? jointFromMesh(skin, joint, worlds, nodes.findIndex((one) => one.mesh === mesh)) // prettier-ignore
      if (!known) binds.set(node, own ?? worlds[node]!)
      else if (own && own.some((value, at) => Math.abs(value - known[at]!) > 1e-6 * (1 + Math.abs(value))))
        lost.add('joints that several skins bind in different places')
    })
  })
  return binds
}

function jointFromMesh(
  { meshBinds }: Skin,
  joint: number,
  worlds: readonly Matrix[],
  node: number,
): Matrix | null {
  if (!meshBinds) return null
  const inverse = invertAffine([...meshBinds.subarray(16 * joint, 16 * joint + 16)])
  return inverse ? multiplyMatrices(worlds[node] ?? IDENTITY_MATRIX, inverse) : null
}

/** The skin of a mesh: which joints move its points. @returns whether there is one that can be written. */
export function writeSkin(
  writer: UsdWriter,
  skin: Skin | null,
  plan: SkeletonPlan,
  paths: ReadonlyMap<PlannedSkeleton, string>,
  binds: ReadonlyMap<number, Matrix>,
): boolean {
  if (!isSound(skin)) return false
  const skeleton = plan.of.get(skin.jointNodes[0]!)!
  const pointCount = skin.offsets.length - 1
  let perPoint = 1
  for (let point = 0; point < pointCount; point++)
    perPoint = Math.max(perPoint, skin.offsets[point + 1]! - skin.offsets[point]!)
  const indices = new Int32Array(perPoint * pointCount)
  const weights = new Float64Array(perPoint * pointCount)
  for (let point = 0; point < pointCount; point++)
    for (let at = skin.offsets[point]!, to = perPoint * point; at < skin.offsets[point + 1]!; at++, to++) {
      indices[to] = skin.joints[at]!
      weights[to] = skin.weights[at]!
    }
  const settings = ` (\n${'    '.repeat(writer.depth() + 1)}elementSize = ${perPoint}\n${'    '.repeat(writer.depth() + 1)}interpolation = "vertex"\n${'    '.repeat(writer.depth())})` // prettier-ignore
  // where the mesh was when it was bound: seen from its first joint
  const stated = skin.meshBinds ? [...skin.meshBinds.subarray(0, 16)] : null
  const shape = stated ? multiplyMatrices(binds.get(skin.jointNodes[0]!) ?? IDENTITY_MATRIX, stated) : null
  if (shape)
    writer.line(
      `matrix4d primvars:skel:geomBindTransform = ${valueText(Float64Array.from(shape), 'matrix4d')}`,
    )
  const words = [...skin.jointNodes].map((node) => skeleton.words[skeleton.joints.indexOf(node)]!)
  writer.line(`uniform token[] skel:joints = ${valueText(words, 'token[]')}`)
  writer.array('int[] primvars:skel:jointIndices', indices, 1, settings)
  writer.array('float[] primvars:skel:jointWeights', weights, 1, settings)
  if (skin.method)
    writer.line(`uniform token primvars:skel:skinningMethod = ${valueText(skin.method, 'token')}`)
  writer.line(`rel skel:skeleton = <${paths.get(skeleton)!}>`)
  return true
}
