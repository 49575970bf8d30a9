import { invertAffine, multiplyMatrices, transformPoints, type Matrix } from '../../base/math/matrix.ts'
import { formatById } from '../../formats/registry.ts'
import { appendMeshes } from '../../mesh/rebuilding/append-meshes.ts'
import { removeFaces } from '../../mesh/rebuilding/edit-faces.ts'
import { plainSources, rebuildMesh } from '../../mesh/rebuilding/rebuild-mesh.ts'
import { transformMesh } from '../../mesh/rebuilding/transform-mesh.ts'
import { completeIds } from '../../scene/ids.ts'
import { faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { IDENTITY_MATRIX, plainNode, type Scene, type SceneNode } from '../../scene/scene.ts'
import { spaceMatrix } from '../../scene/space.ts'
import { partNodes, worldMatrices } from '../../scene/world.ts'
import type { PartMatch } from '../match/match-parts.ts'
import { levelsOf } from '../subdivided/find-cage.ts'
import { UNKNOWN_ALIGNMENT, type Alignment } from '../whole/find-alignment.ts'
import { determinant } from '../whole/similarity.ts'
import { assignFaces } from './assign-faces.ts'
import { haveOtherUvs, type StandingMesh } from './vote-faces.ts'

export interface Regrouping {
  /** The returned scene with the master's parts in place of the ones that hold pieces of several, or of one together. */
  readonly scene: Scene
  /** Parts of which the polygons say which they are, whatever they are called. */
  readonly pairs: readonly PartMatch[]
  /** Parts that came back in one, or one that came back in several: names of both. */
  readonly told: readonly { readonly parts: readonly string[]; readonly cameAs: readonly string[] }[]
}

/** Points and triangles: the same for parts that are the same, as long as neither was edited. */
const sizeText = (mesh: Mesh): string =>
  `${mesh.points.length / 3} ${mesh.faceVertices.length - 2 * (mesh.faceOffsets.length - 1)}`

const triangles = (mesh: Mesh): number => mesh.faceVertices.length - 2 * (mesh.faceOffsets.length - 1)

/** A part of a name that has fewer triangles than this share of the other's may be another one. */
const LEAST_ALIKE = 0.8
/** Share of a part's triangles from which on it counts as found whole. */
const ALL_THERE = 0.98
/** Share of both parts' triangles from which on what is of one says which it is, against its name. */
const MOSTLY_IT = 0.5

/** Whether names alone may not say which part is which: some have no partner, or one of quite another size. */
function isDoubtful(master: Scene, returned: Scene, matches: readonly PartMatch[]): boolean {
  const meshOf = (scene: Scene, node: number): Mesh => scene.meshes[scene.nodes[node]!.mesh]!
  const there = new Set(partNodes(returned).map((node) => sizeText(meshOf(returned, node))))
  return matches.some(({ masterNode, returnedNode, by }) => {
    if (masterNode < 0 || returnedNode < 0) return true
    const [own, other] = [meshOf(master, masterNode), meshOf(returned, returnedNode)]
    // what was refined has as many more as refining gives
    if (triangles(other) > 2 * triangles(own) && levelsOf(own, other)) return false
    const ratio = triangles(other) / Math.max(1, triangles(own))
    return (
      ((by === 'shape' || by === 'place') && haveOtherUvs(own, other)) ||
      ratio < LEAST_ALIKE ||
      ratio > 1 / LEAST_ALIKE ||
      (sizeText(own) !== sizeText(other) && there.has(sizeText(own)))
    )
  })
}

/** Whether both have one part, of one name, and less came back than has to be found before anything is told apart from it. */
function isLessOfOne(master: Scene, returned: Scene): boolean {
  const [own, ...others] = partNodes(master).map((node) => master.nodes[node]!)
  const [came, ...more] = partNodes(returned).map((node) => returned.nodes[node]!)
  if (!own || !came || others.length || more.length || own.name !== came.name) return false
  return triangles(returned.meshes[came.mesh]!) < ALL_THERE * triangles(master.meshes[own.mesh]!)
}

/** The numbers from 0 in an order that nothing else is in. */
function strewn(count: number): Int32Array {
  const divisor = (a: number, b: number): number => (b === 0 ? a : divisor(b, a % b))
  let step = Math.max(1, Math.round(count * 0.618))
  while (divisor(step, count) > 1) step++
  return Int32Array.from({ length: count }, (_number, at) => (at * step) % count)
}

/**
 * A part that was put together of several has no numbering of its own: where its pieces are alike, their order would be
 * taken for one and say what is not so.
 */
function withoutOrder(mesh: Mesh): Mesh {
  const points = strewn(pointCountOf(mesh))
  const faces = strewn(faceCountOf(mesh))
  const newOf = new Uint32Array(points.length)
  points.forEach((old, at) => (newOf[old] = at))
  const corners: number[] = []
  const faceOffsets = new Uint32Array(faces.length + 1)
  faces.forEach((face, at) => {
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++)
      corners.push(corner)
    faceOffsets[at + 1] = corners.length
  })
  return rebuildMesh(mesh, {
    pointSources: plainSources(points),
    faceOffsets,
    faceVertices: Uint32Array.from(corners, (corner) => newOf[mesh.faceVertices[corner]!]!),
    cornerSources: plainSources(Int32Array.from(corners)),
    faceSources: faces,
  })
}

/** Groups of parts of both sides that share polygons: which of the master's, which of the returned. */
function clusters(held: readonly ReadonlySet<number>[]): { masters: number[]; returned: number[] }[] {
  const groupOf = new Map<number, { masters: Set<number>; returned: Set<number> }>()
  held.forEach((owners, part) => {
    const group = { masters: new Set<number>(), returned: new Set([part]) }
    for (const owner of owners) {
      const known = groupOf.get(owner)
      if (known && known !== group) {
        for (const entry of known.masters) group.masters.add(entry)
        for (const entry of known.returned) group.returned.add(entry)
      }
      group.masters.add(owner)
    }
    for (const owner of group.masters) groupOf.set(owner, group)
  })
  return [...new Set(groupOf.values())].map(({ masters, returned }) => ({
    masters: [...masters].sort((a, b) => a - b),
    returned: [...returned].sort((a, b) => a - b),
  }))
}

/** How far entries of two ways may differ, by the size of the one, for them to be about the same. */
const ABOUT_THE_SAME = 0.1

/** Whether a way turns or mirrors otherwise than another. */
function isAnotherWay(way: Matrix, other: Matrix): boolean {
  const size = Math.cbrt(Math.abs(determinant([0, 1, 2].flatMap((row) => [0, 1, 2].map((column) => other[4 * column + row]!))))) // prettier-ignore
  return way.some((value, at) => at < 11 && Math.abs(value - other[at]!) > ABOUT_THE_SAME * size)
}

/**
 * Parts that came back merged, cut up, or regrouped otherwise, taken apart and put together again by their polygons.
 * Polygons that are of none of the master's parts stay with the part that they came in.
 *
 * @param matches what names, shapes and places say, as `matchParts` gives it.
 * @param doubts there is another reason not to believe them.
 * @param alignment how all of it stands otherwise than it stood.
 * @returns null where every part came back as one part, or nothing says otherwise.
 */
export function regroupParts(
  master: Scene,
  returned: Scene,
  matches: readonly PartMatch[],
  doubts = false,
  alignment: () => Alignment = () => UNKNOWN_ALIGNMENT,
): Regrouping | null {
  if (!doubts && !isDoubtful(master, returned, matches)) return null
  if (isLessOfOne(master, returned)) return null
  const change = spaceMatrix(returned.space, master.space)
  const masterWorlds = worldMatrices(master)
  const returnedWorlds = worldMatrices(returned)
  const standing = (
    scene: Scene,
    nodes: readonly number[],
    worldOf: (node: number) => Matrix,
  ): StandingMesh[] =>
    nodes.map((node) => {
      const mesh = scene.meshes[scene.nodes[node]!.mesh]!
      return {
        mesh,
        points: transformPoints(mesh.points, worldOf(node)),
        materials: scene.materials.map(({ name }) => name),
      }
    })
  const masterNodes = partNodes(master)
  const returnedNodes = partNodes(returned)
  const names = new Map<string, number>()
  masterNodes.forEach((node, part) => {
    const { name } = master.nodes[node]!
    names.set(name, names.has(name) ? -1 : part)
  })
  const { along, fits, others } = alignment()
  const brought = along ? multiplyMatrices(along, change) : change
  const { assigned, bySurface, oneOfSeveral } = assignFaces(
    standing(master, masterNodes, (node) => masterWorlds[node]!),
    standing(returned, returnedNodes, (node) => multiplyMatrices(brought, returnedWorlds[node]!)),
    returnedNodes.map((node) => names.get(returned.nodes[node]!.name) ?? -1),
    fits,
    others.some((other) => isAnotherWay(other, along ?? IDENTITY_MATRIX)),
  )
  const held = assigned.map((faces) => {
    const owners = new Set(faces)
    owners.delete(-1)
    return owners
  })
  const pairs: PartMatch[] = []
  const told: { parts: string[]; cameAs: string[] }[] = []
  const nodes: SceneNode[] = [...returned.nodes]
  const meshes: Mesh[] = [...returned.meshes]
  const baked = formatById(returned.format)?.hasTransforms === false
  const meshOfMaster = (part: number): Mesh => master.meshes[master.nodes[masterNodes[part]!]!.mesh]!
  /** Triangles of a returned part that are of one of the master's. */
  const foundIn = (part: number, other: number): number => {
    const { faceOffsets } = returned.meshes[returned.nodes[returnedNodes[other]!]!.mesh]!
    return assigned[other]!.reduce(
      (sum, owner, face) => sum + (owner === part ? faceOffsets[face + 1]! - faceOffsets[face]! - 2 : 0),
      0,
    )
  }
  /** Whether a part of its name came back that is as large as the one that was found, and of none of the master's. */
  const isFreeNamesake = (masterNode: number, found: Mesh): boolean => {
    const { name } = master.nodes[masterNode]!
    const at = returnedNodes.findIndex((node) => returned.nodes[node]!.name === name)
    return (
      at >= 0 &&
      held[at]!.size === 0 &&
      sizeText(returned.meshes[returned.nodes[returnedNodes[at]!]!.mesh]!) === sizeText(found)
    )
  }
  for (const cluster of clusters(held)) {
    const [part, other] = [cluster.masters[0]!, cluster.returned[0]!]
    const isWhole = !assigned[other]!.includes(-1)
    const isOne = cluster.masters.length === 1 && cluster.returned.length === 1
    // where all of the master's is there, what is there besides is something else
    const found = foundIn(part, other)
    if (isOne && (isWhole || found < ALL_THERE * triangles(meshOfMaster(part)))) {
      const masterNode = masterNodes[part]!
      const returnedNode = returnedNodes[other]!
      const came = returned.meshes[returned.nodes[returnedNode]!.mesh]!
      const isMostly = found >= MOSTLY_IT * Math.max(triangles(meshOfMaster(part)), triangles(came))
      if (master.nodes[masterNode]!.name === returned.nodes[returnedNode]!.name) continue
      // where all of it doesn't stand as it stood it may be either of two that are alike, one a copy: then names tell
      if ((along || !fits) && isFreeNamesake(masterNode, came)) continue
      if (isWhole || isMostly)
        pairs.push({ masterNode, returnedNode, by: bySurface.has(part) ? 'place' : 'shape' })
      continue
    }
    const cameAs = cluster.returned.map((part) => returned.nodes[returnedNodes[part]!]!.name)
    told.push({ parts: cluster.masters.map((part) => master.nodes[masterNodes[part]!]!.name), cameAs })
    for (const part of cluster.masters) {
      const masterNode = masterNodes[part]!
      // it stands where the master's stands, in the returned scene's own space
      const local = baked
        ? IDENTITY_MATRIX
        : multiplyMatrices(multiplyMatrices(invertAffine(change)!, masterWorlds[masterNode]!), change)
      const into = invertAffine(local) ?? IDENTITY_MATRIX
      const sources = cluster.returned.filter((other) => held[other]!.has(part))
      const pieces = sources.map((other) => {
        const node = returnedNodes[other]!
        const gone = Uint8Array.from(assigned[other]!, (owner) => Number(owner !== part))
        const piece = removeFaces(returned.meshes[returned.nodes[node]!.mesh]!, gone, { dropLoose: true })
        return transformMesh(piece, multiplyMatrices(into, returnedWorlds[node]!))
      })
      const { name } = master.nodes[masterNode]!
      const together = appendMeshes(name, pieces)
      meshes.push({ ...(pieces.length > 1 ? withoutOrder(together) : together), id: '' })
      nodes.push({ ...plainNode(name, { mesh: meshes.length - 1 }), local })
      pairs.push({
        masterNode,
        returnedNode: nodes.length - 1,
        by: 'pieces',
        ...(oneOfSeveral.has(part) && { guess: true }),
        from: sources.map((other) => returned.nodes[returnedNodes[other]!]!.name),
      })
    }
    for (const part of cluster.returned) {
      const node = returnedNodes[part]!
      const gone = Uint8Array.from(assigned[part]!, (owner) => Number(owner >= 0))
      const rest = gone.every(Boolean) ? -1 : meshes.length
      if (rest >= 0)
        meshes.push({
          ...removeFaces(returned.meshes[returned.nodes[node]!.mesh]!, gone, { dropLoose: true }),
          id: '',
        })
      nodes[node] = { ...nodes[node]!, mesh: rest }
    }
  }
  if (told.length === 0) return pairs.length ? { scene: returned, pairs, told } : null
  return { scene: completeIds({ ...returned, nodes, meshes }), pairs, told }
}
