/** What tools do to a whole model on a trip, with the truth of every point kept with it as a colour. */
import { multiplyMatrices, type Matrix } from '../../base/math/matrix.ts'
import { appendMeshes } from '../../mesh/rebuilding/append-meshes.ts'
import { removeFaces } from '../../mesh/rebuilding/edit-faces.ts'
import { transformMesh } from '../../mesh/rebuilding/transform-mesh.ts'
import { findShells } from '../../compare/regroup/shells.ts'
import { completeIds } from '../../scene/ids.ts'
import { faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { IDENTITY_MATRIX, plainNode, type Scene } from '../../scene/scene.ts'
import { partNodes, worldMatrices } from '../../scene/world.ts'
import { damage, type FaultName } from './mesh-faults.ts'

const scaled = (x: number, y: number, z: number): Matrix => [x, 0, 0, 0, 0, y, 0, 0, 0, 0, z, 0, 0, 0, 0, 1]
const moved = (x: number, y: number, z: number): Matrix => [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, x, y, z, 1]

const TRUTH = 'truth'

/** The part and the point that each point of a returned mesh came from, or null where it is new. */
export function truthOf(mesh: Mesh): (point: number) => { part: number; point: number } | null {
  const set = mesh.colorSets.find(({ name }) => name === TRUTH)
  return (point) =>
    set && set.values[3 * point + 2] === 1
      ? { part: set.values[3 * point]!, point: set.values[3 * point + 1]! }
      : null
}

/** A scene as a format without transforms has it: every part in the world, at the top. */
export function flatten(scene: Scene): Scene {
  const worlds = worldMatrices(scene)
  const parts = partNodes(scene)
  return completeIds({
    ...scene,
    format: 'obj',
    cameras: [],
    lights: [],
    meshes: parts.map((node) => ({
      ...transformMesh(scene.meshes[scene.nodes[node]!.mesh]!, worlds[node]!),
      name: scene.nodes[node]!.name,
      skin: null,
      shapes: [],
      creases: null,
      lines: null,
      pointElements: null,
    })),
    nodes: parts.map((node, mesh) => plainNode(scene.nodes[node]!.name, { mesh })),
  })
}

export const SCENE_FAULTS = ['merged', 'cutUp', 'renamed', 'swapped', 'reordered', 'added', 'dropped', 'sized', 'mirrored', 'turned', 'moved'] as const // prettier-ignore
export type SceneFault = (typeof SCENE_FAULTS)[number]

const MESH_FAULTS: readonly FaultName[] = ['sculpted', 'bumped', 'rounded', 'triangulated', 'unwelded', 'renumbered', 'deleted'] // prettier-ignore

export interface SceneReturn {
  readonly returned: Scene
  readonly faults: readonly (SceneFault | FaultName)[]
  /** Parts of the master that are not in it. */
  readonly dropped: ReadonlySet<number>
  /** What was done to all of it, in words of the generator. */
  readonly whole: { readonly factor: number; readonly mirrors: boolean }
}

const shuffle = <Item>(items: readonly Item[], chance: () => number): Item[] => {
  const left = [...items]
  for (let at = left.length - 1; at > 0; at--) {
    const other = Math.floor(chance() * (at + 1))
    ;[left[at], left[other]] = [left[other]!, left[at]!]
  }
  return left
}

/** Polygons on one side of a plane through the middle, or every other piece where there are several. */
function cut(mesh: Mesh, chance: () => number): Mesh[] {
  const shells = findShells(mesh)
  const axis = Math.floor(chance() * 3)
  const middles = Float64Array.from({ length: faceCountOf(mesh) }, (_face, face) => {
    const [start, end] = [mesh.faceOffsets[face]!, mesh.faceOffsets[face + 1]!]
    let sum = 0
    for (let corner = start; corner < end; corner++)
      sum += mesh.points[3 * mesh.faceVertices[corner]! + axis]!
    return sum / (end - start)
  })
  const half = Float64Array.from(middles).sort()[middles.length >> 1]!
  const first = Uint8Array.from(middles, (value, face) =>
    Number(shells.count > 3 ? shells.ofFace[face]! % 2 === 0 : value < half),
  )
  if (first.every(Boolean) || !first.some(Boolean)) return [mesh]
  return [first, first.map((value) => 1 - value)].map((gone) => removeFaces(mesh, gone, { dropLoose: true }))
}

export function damageScene(
  master: Scene,
  sceneFaults: readonly SceneFault[],
  meshFaults: readonly FaultName[],
  chance: () => number,
): SceneReturn {
  let parts = master.meshes.map((mesh, part) => {
    const { mesh: damaged, truth } = damage(mesh, meshFaults, chance)
    return {
      name: mesh.name,
      mesh: {
        ...damaged,
        colorSets: [
          {
            name: TRUTH,
            per: 'points' as const,
            components: 3 as const,
            indices: new Int32Array(0),
            values: Float64Array.from(truth.points.flatMap(({ from }) => [part, from, from < 0 ? 0 : 1])),
          },
        ],
      } as Mesh,
    }
  })
  const has = (fault: SceneFault): boolean => sceneFaults.includes(fault)
  const dropped = new Set<number>()
  if (has('dropped') && parts.length > 2) {
    const gone = Math.floor(chance() * parts.length)
    dropped.add(gone)
    parts = parts.filter((_part, at) => at !== gone)
  }
  if (has('swapped') && parts.length > 2) {
    const [a, b] = shuffle(
      parts.map((_part, at) => at),
      chance,
    )
    const names = parts.map(({ name }) => name)
    parts = parts.map((part, at) => ({
      ...part,
      name: at === a ? names[b!]! : at === b ? names[a!]! : part.name,
    }))
  }
  if (has('cutUp')) {
    const chosen = Math.floor(chance() * parts.length)
    parts = parts.flatMap((part, at) =>
      at === chosen
        ? cut(part.mesh, chance).map((mesh, piece) => ({
            name: piece ? `${part.name}.00${piece}` : part.name,
            mesh,
          }))
        : [part],
    )
  }
  if (has('merged') && parts.length > 1) {
    const order = shuffle(
      parts.map((_part, at) => at),
      chance,
    )
    const count = chance() < 0.3 ? parts.length : 2 + Math.floor(chance() * (parts.length - 1))
    const chosen = order.slice(0, count).map((at) => parts[at]!)
    const meshes = chosen.map(({ mesh }) => mesh)
    const merged = { name: chosen[0]!.name, mesh: appendMeshes(chosen[0]!.name, meshes) }
    parts = [...parts.filter((part) => !chosen.includes(part)), merged]
  }
  if (has('added')) {
    const { mesh } = parts[0]!
    const mere = {
      ...mesh,
      uvSets: [],
      colorSets: mesh.colorSets.map((set) => ({ ...set, values: set.values.map(() => 0) })),
    }
    // a flat sheet of its own that no part is like
    const sheet = removeFaces(
      mere,
      Uint8Array.from({ length: faceCountOf(mere) }, (_face, face) => Number(face > faceCountOf(mere) / 5)),
      { dropLoose: true },
    )
    parts = [...parts, { name: 'brand_new', mesh: transformMesh(sheet, moved(40, 3, 9)) }]
  }
  if (has('renamed')) parts = parts.map((part, at) => ({ ...part, name: `object_${at + 1}` }))
  if (has('reordered')) parts = shuffle(parts, chance)
  let matrix: Matrix = IDENTITY_MATRIX
  let factor = 1
  if (has('sized')) {
    factor = [100, 0.01, 2.54, 39.37007874015748][Math.floor(chance() * 4)]!
    matrix = scaled(factor, factor, factor)
  }
  const mirrors = has('mirrored')
  if (mirrors) matrix = multiplyMatrices(scaled(-1, 1, 1), matrix)
  if (has('turned')) matrix = multiplyMatrices([1, 0, 0, 0, 0, 0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 1], matrix)
  if (has('moved')) matrix = multiplyMatrices(moved(30 * factor, 0, 0), matrix)
  const returned = completeIds({
    ...master,
    meshes: parts.map(({ name, mesh }) => ({ ...transformMesh(mesh, matrix), name, id: '' })),
    nodes: parts.map(({ name }, mesh) => plainNode(name, { mesh })),
  })
  return { returned, faults: [...sceneFaults, ...meshFaults], dropped, whole: { factor, mirrors } }
}

/** A mix of faults of parts and of polygons. */
export function anySceneReturn(master: Scene, chance: () => number): SceneReturn {
  const sceneFaults = SCENE_FAULTS.filter(() => chance() < 0.25)
  const meshFaults = MESH_FAULTS.filter(() => chance() < 0.3)
  return damageScene(master, sceneFaults, meshFaults, chance)
}

export interface SceneScore {
  readonly right: number
  readonly undecided: number
  readonly wrong: readonly string[]
}

/** Every point of the master against what it became. */
export function scoreScene(
  master: Scene,
  { dropped }: SceneReturn,
  matched: readonly {
    match: { masterNode: number }
    returned: Mesh
    correspondence: { pointToReturned: Int32Array; joinedPoints: Uint32Array | null }
  }[],
): SceneScore {
  let right = 0
  const wrong: string[] = []
  const found = new Set<number>()
  for (const { match, returned, correspondence } of matched) {
    const part = master.nodes[match.masterNode]!.mesh
    found.add(part)
    const truth = truthOf(returned)
    const of = new Map<number, number[]>()
    for (let point = 0; point < pointCountOf(returned); point++) {
      const from = truth(point)
      if (from?.part === part) of.set(from.point, [...(of.get(from.point) ?? []), point])
    }
    const same = (a: number, b: number): boolean =>
      [0, 1, 2].every(
        (axis) =>
          Math.abs(returned.points[3 * a + axis]! - returned.points[3 * b + axis]!) <
          1e-9 * (1 + Math.abs(returned.points[3 * a + axis]!)),
      )
    correspondence.pointToReturned.forEach((other, point) => {
      if (other < 0) return
      const ends = of.get(point) ?? []
      if (ends.some((end) => end === other || same(end, other))) right++
      else wrong.push(`${master.nodes[match.masterNode]!.name} point ${point}`)
    })
  }
  let total = 0
  master.meshes.forEach((mesh, part) => (total += dropped.has(part) ? 0 : pointCountOf(mesh)))
  for (const part of found)
    if (dropped.has(part)) wrong.push(`${master.meshes[part]!.name} did not come back`)
  return { right, undecided: total - right - wrong.length, wrong }
}
