/**
 * Fingerprints: one hash a trait, equal where a file carries exactly the same.
 * What has no meaning is left out of them: the order and the doubles of UV and normal values (what counts is
 * which value a corner has and with which corners it shares it), the numbering of materials, and the order of
 * hard edges.
 */
import { createContentHash, type ContentHash } from '../../base/bytes/hash.ts'
import type { Matrix } from '../../base/math/matrix.ts'
import { edgeKey } from '../../mesh/relations/adjacency.ts'
import { worldMatrices } from '../../scene/world.ts'
import type { Material } from '../../scene/material.ts'
import type { Mesh } from '../../scene/mesh.ts'
import type { Scene, TransformParts } from '../../scene/scene.ts'
import { canonicalText } from './canonical-text.ts'
import { TRAITS, type Trait } from './trait.ts'

export type Fingerprints = Readonly<Record<Trait, string>>

/** Indices renumbered by first use, and the values in that order; unused values drop out. */
function canonicalIndices(
  indices: Int32Array,
  values: Float64Array,
  width: number,
): { indices: Int32Array; values: Float64Array } {
  const valueCount = values.length / width
  const newOf = new Int32Array(valueCount).fill(-1)
  const renumbered = new Int32Array(indices.length)
  const ordered = new Float64Array(values.length)
  let used = 0
  for (let at = 0; at < indices.length; at++) {
    const old = indices[at]!
    if (old < 0) {
      renumbered[at] = -1
      continue
    }
    let index = newOf[old]!
    if (index < 0) {
      index = used++
      newOf[old] = index
      for (let part = 0; part < width; part++) ordered[index * width + part] = values[old * width + part]!
    }
    renumbered[at] = index
  }
  return { indices: renumbered, values: ordered.subarray(0, used * width) }
}

function addShared(hash: ContentHash, indices: Int32Array, values: Float64Array, width: number): void {
  const canonical = canonicalIndices(indices, values, width)
  hash.numbers(canonical.indices).numbers(canonical.values)
}

/** Where a map lies, as far as it says more than the map itself. */
function placementText({ placement }: Material['maps'][number]): unknown {
  if (!placement) return null
  const { uvSet, wrapU, wrapV, scale, offset, stack } = placement
  const says =
    uvSet ||
    stack ||
    wrapU !== 'repeat' ||
    wrapV !== 'repeat' ||
    scale.some((value) => value !== 1) ||
    offset.some(Boolean)
  return says ? [uvSet, wrapU, wrapV, scale, offset, stack ?? null] : null
}

/** A material's parameters and maps as text; equal texts describe equal surfaces. */
export function surfaceText(material: Material): string {
  return JSON.stringify([
    material.model,
    material.properties.map((property) => [property.name, property.values, property.text]),
    material.maps.map((map) => [map.property, map.file, map.options, placementText(map)]),
    material.kept,
  ])
}

/** What a transform says beyond its matrix: pivots and their like, and the order of turning. */
export function transformText(parts: TransformParts | null): string {
  if (!parts) return ''
  const { translation: _translation, rotation: _rotation, scale: _scale, ...rest } = parts
  const says =
    rest.rotationOrder !== 'xyz' ||
    rest.inherits !== 'scale-then-turn' ||
    Object.values(rest).some((value) => typeof value !== 'string' && value.some((number) => number !== 0))
  return says ? canonicalText(rest) : ''
}

/** Names of the groups of each face, as one number a face into a list of texts, by first use. */
function addNamedSets(hash: ContentHash, mesh: Mesh): void {
  const groups = mesh.groups
  // a list of groups that no face is in says nothing
  if (!groups || groups.faceSets.every((set) => set < 0)) return
  const newOf = new Map<number, number>()
  const renumbered = new Int32Array(groups.faceSets.length)
  for (let face = 0; face < renumbered.length; face++) {
    const set = groups.faceSets[face]!
    if (set >= 0 && !newOf.has(set)) {
      newOf.set(set, newOf.size)
      hash.text(JSON.stringify(groups.sets[set]!.map((name) => groups.names[name])))
    }
    renumbered[face] = set < 0 ? -1 : newOf.get(set)!
  }
  hash.numbers(renumbered)
}

/** Indices of the materials that a mesh's faces use, by first use. */
export function usedMaterials(mesh: Mesh): number[] {
  const used: number[] = []
  if (!mesh.faceMaterials) return used
  const seen = new Set<number>()
  for (const material of mesh.faceMaterials)
    if (material >= 0 && !seen.has(material)) {
      seen.add(material)
      used.push(material)
    }
  return used
}

/** Edges as a set: neither their order nor which end comes first says anything. */
function canonicalEdges(pairs: Uint32Array): Float64Array {
  const keys = new Float64Array(pairs.length / 2)
  for (let at = 0; at < keys.length; at++) keys[at] = edgeKey(pairs[2 * at]!, pairs[2 * at + 1]!)
  return keys.sort()
}

function creaseLines(mesh: Mesh): number[][] {
  if (!mesh.creases) return []
  const { edgePoints, edgeSharpness, cornerPoints, cornerSharpness } = mesh.creases
  const lines: number[][] = []
  for (let edge = 0; edge < edgeSharpness.length; edge++) {
    const from = edgePoints[2 * edge]!
    const to = edgePoints[2 * edge + 1]!
    lines.push([Math.min(from, to), Math.max(from, to), edgeSharpness[edge]!])
  }
  for (let corner = 0; corner < cornerSharpness.length; corner++)
    lines.push([cornerPoints[corner]!, -1, cornerSharpness[corner]!])
  return lines.sort((a, b) => a[0]! - b[0]! || a[1]! - b[1]!)
}

/** The fingerprint of each trait of one node with a mesh. 'scene' covers the whole scene's settings. */
export function fingerprintPart(
  scene: Scene,
  nodeIndex: number,
  worlds: readonly Matrix[] = worldMatrices(scene),
): Fingerprints {
  const node = scene.nodes[nodeIndex]!
  const mesh = scene.meshes[node.mesh]!
  const prints = {} as Record<Trait, string>
  const print = (trait: Trait, fill: (hash: ContentHash) => void): void => {
    const hash = createContentHash()
    fill(hash)
    prints[trait] = hash.digest()
  }
  print('topology', (hash) => {
    hash.integer(mesh.points.length).numbers(mesh.faceOffsets).numbers(mesh.faceVertices)
    if (mesh.lines) hash.numbers(mesh.lines.offsets).numbers(mesh.lines.points)
    if (mesh.pointElements) hash.numbers(mesh.pointElements)
  })
  print('points', (hash) => {
    hash.numbers(mesh.points)
    if (mesh.pointWeights) hash.numbers(mesh.pointWeights)
  })
  print('uvs', (hash) => {
    for (const set of mesh.uvSets) {
      hash.text(set.name)
      addShared(hash, set.indices, set.values, 2)
      if (set.depths) addShared(hash, set.indices, set.depths, 1)
    }
  })
  print('smoothing', (hash) => {
    const smoothing = mesh.smoothing
    if (!smoothing) return
    hash.text(smoothing.kind)
    if (smoothing.kind === 'groups') hash.numbers(smoothing.faceGroups)
    else if (smoothing.kind === 'masks') hash.numbers(smoothing.faceMasks)
    else hash.numbers(canonicalEdges(smoothing.hardEdgePoints))
  })
  print('normals', (hash) => {
    if (mesh.normals) addShared(hash, mesh.normals.indices, mesh.normals.values, 3)
  })
  print('creases', (hash) => {
    hash.text(canonicalText([creaseLines(mesh), mesh.subdivision]))
  })
  print('transforms', (hash) => {
    const parent = node.parent < 0 ? null : scene.nodes[node.parent]!.name
    hash.text(canonicalText([parent, node.local, transformText(node.transform)]))
    hash.numbers(Float64Array.from(worlds[nodeIndex]!))
  })
  print('names', (hash) => {
    hash.text(node.name)
  })
  print('materials', (hash) => {
    const used = usedMaterials(mesh)
    hash.text(canonicalText(used.map((material) => scene.materials[material]!.name)))
    if (mesh.faceMaterials && used.length) {
      const newOf = new Int32Array(scene.materials.length).fill(-1)
      used.forEach((material, index) => (newOf[material] = index))
      hash.numbers(mesh.faceMaterials.map((material) => (material < 0 ? -1 : newOf[material]!)))
    }
  })
  print('surfaces', (hash) => {
    for (const material of usedMaterials(mesh)) hash.text(surfaceText(scene.materials[material]!))
  })
  print('groups', (hash) => addNamedSets(hash, mesh))
  print('colours', (hash) => {
    for (const set of mesh.colorSets)
      hash.text(set.name).integer(set.components).numbers(set.values).numbers(set.indices)
  })
  print('shapes', (hash) => {
    for (const shape of mesh.shapes)
      hash
        .text(canonicalText([shape.name, shape.channel ?? shape.name, shape.fullWeight ?? 100]))
        .numbers(shape.points)
        .numbers(shape.offsets)
    if (mesh.skin)
      hash
        .text(canonicalText([...mesh.skin.jointNodes].map((joint) => scene.nodes[joint]?.name ?? null)))
        .numbers(mesh.skin.offsets)
        .numbers(mesh.skin.joints)
        .numbers(mesh.skin.weights)
  })
  print('scene', (hash) => {
    hash.text(
      canonicalText([scene.space, scene.properties, ...[scene.cameras, scene.lights].map(attributeTexts)]),
    )
  })
  return prints
}

const attributeTexts = (items: Scene['cameras']): unknown[] =>
  items.map(({ name, properties }) => [name, properties])

/** One fingerprint a trait over all parts, in node order. */
export function fingerprintScene(scene: Scene): Fingerprints {
  const prints = {} as Record<Trait, string>
  const worlds = worldMatrices(scene)
  const parts = scene.nodes.flatMap((node, index) =>
    node.mesh < 0 ? [] : [fingerprintPart(scene, index, worlds)],
  )
  for (const trait of TRAITS) {
    const hash = createContentHash()
    for (const part of parts) hash.text(part[trait])
    if (trait === 'scene') hash.text(canonicalText([scene.space, scene.properties]))
    prints[trait] = hash.digest()
  }
  return prints
}
