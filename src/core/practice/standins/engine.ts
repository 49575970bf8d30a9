/**
 * The engine: a small simulated real-time engine. It draws triangles: it cuts polygons, gives every corner that
 * differs in UV or normal a point of its own, merges all parts into one, and answers with a log of what it
 * found wrong.
 */
import { appendMeshes } from '../../mesh/rebuilding/append-meshes.ts'
import { rebuildMesh } from '../../mesh/rebuilding/rebuild-mesh.ts'
import { transformMesh } from '../../mesh/rebuilding/transform-mesh.ts'
import { triangulateScene } from '../../formats/arrange/arrange-scene.ts'
import { fileNameOf, stemOf } from '../../formats/package/package-file.ts'
import { formatNamed, formatOf, optionsFor } from '../../formats/registry.ts'
import { readColorSpace } from '../../image/read-color-space.ts'
import { computeNormals } from '../../mesh/normals/compute-normals.ts'
import { faceCountOf, type Mesh } from '../../scene/mesh.ts'
import { plainNode, type Scene } from '../../scene/scene.ts'
import { SLOT_WORDS } from '../../surfaces/wording/slot-words.ts'
import type { Slot } from '../../scene/material.ts'
import { worldMatrices } from '../../scene/world.ts'
import type { StandInDescriptor } from './standin.ts'

/** Slots whose values are numbers and no colours. */
const DATA_SLOTS: ReadonlySet<Slot> = new Set([
  'normal',
  'bump',
  'displacement',
  'roughness',
  'metalness',
  'opacity',
  'shininess',
  'anisotropy',
  'anisotropyRotation',
  'clearcoatRoughness',
  'occlusion',
])

/** A point for every corner that differs from the others at its place in UV or normal. */
export function splitCorners(mesh: Mesh): Mesh {
  const normals = mesh.normals ?? computeNormals(mesh, null)
  const [set] = mesh.uvSets
  const pointOf = new Map<string, number>()
  const sources: number[] = []
  const faceVertices = Uint32Array.from(mesh.faceVertices, (point, corner) => {
    const uv = set ? set.indices[corner]! : -1
    const normal = normals.indices[corner]!
    const key = [
      point,
      ...(uv < 0 ? [] : [set!.values[2 * uv], set!.values[2 * uv + 1]]),
      ...(normal < 0 ? [] : normals.values.subarray(3 * normal, 3 * normal + 3)),
    ].join()
    let split = pointOf.get(key)
    if (split === undefined) pointOf.set(key, (split = sources.push(point) - 1))
    return split
  })
  const corners = Int32Array.from({ length: faceVertices.length }, (_value, corner) => corner)
  return rebuildMesh(
    { ...mesh, normals, smoothing: null, creases: null, groups: null },
    {
      pointSources: { first: Int32Array.from(sources) },
      faceOffsets: mesh.faceOffsets,
      faceVertices,
      cornerSources: { first: corners },
      faceSources: Int32Array.from({ length: faceCountOf(mesh) }, (_value, face) => face),
    },
  )
}

/** Triangles whose UVs span no area: a tangent follows from nothing there. */
function degenerateTangents(mesh: Mesh): number {
  const [set] = mesh.uvSets
  if (!set) return faceCountOf(mesh)
  let count = 0
  for (let face = 0; face < faceCountOf(mesh); face++) {
    const [a, b, c] = [0, 1, 2].map((k) => set.indices[mesh.faceOffsets[face]! + k]!) as [
      number,
      number,
      number,
    ]
    const at = (uv: number, axis: number): number => (uv < 0 ? 0 : set.values[2 * uv + axis]!)
    const area = (at(b, 0) - at(a, 0)) * (at(c, 1) - at(a, 1)) - (at(c, 0) - at(a, 0)) * (at(b, 1) - at(a, 1))
    if (Math.abs(area) < 1e-12) count++
  }
  return count
}

/** What the engine complains of, a line each. */
export function engineLog(scene: Scene, materialLimit: number): string[] {
  const log: string[] = []
  const plural = (count: number, word: string): string => `${count} ${word}${count === 1 ? '' : 's'}`
  for (const node of scene.nodes) {
    if (node.mesh < 0) continue
    const count = degenerateTangents(scene.meshes[node.mesh]!)
    if (count)
      log.push(
        `warning: ${node.name}: degenerate tangents at ${plural(count, 'triangle')}, the UVs have no area there`,
      )
  }
  const used = new Set(
    scene.nodes.flatMap((node) => (node.mesh < 0 ? [] : [...(scene.meshes[node.mesh]!.faceMaterials ?? [])])),
  )
  used.delete(-1)
  if (used.size > materialLimit)
    log.push(`warning: ${used.size} materials, each is drawn apart; ${materialLimit} are meant for a prop`)
  for (const index of used)
    for (const map of scene.materials[index]!.maps) {
      const image = scene.images.find((candidate) => candidate.file === map.file)
      if (!image?.bytes) {
        log.push(`error: ${scene.materials[index]!.name}: the map “${map.file}” is missing`)
        continue
      }
      const says = readColorSpace(image.bytes)
      if (DATA_SLOTS.has(map.slot) && says === 'sRGB')
        log.push(
          `warning: ${scene.materials[index]!.name}: “${map.file}” holds numbers (${SLOT_WORDS[map.slot]}) and says it is sRGB`,
        )
      if (!DATA_SLOTS.has(map.slot) && says === 'linear')
        log.push(
          `warning: ${scene.materials[index]!.name}: “${map.file}” holds colours (${SLOT_WORDS[map.slot]}) and says it is linear`,
        )
    }
  return log
}

/** All parts as one, in world space. */
function mergeParts(scene: Scene, name: string): Scene {
  const worlds = worldMatrices(scene)
  const parts = scene.nodes.flatMap((node, index) =>
    node.mesh < 0 ? [] : [transformMesh(scene.meshes[node.mesh]!, worlds[index]!)],
  )
  if (parts.length === 0) return scene
  return {
    ...scene,
    kept: null,
    cameras: [],
    lights: [],
    meshes: [appendMeshes(name, parts)],
    nodes: [plainNode(name, { mesh: 0 })],
  }
}

export const engine: StandInDescriptor = {
  id: 'engine',
  name: 'The engine',
  description:
    'It takes the file in as a real-time engine would: cuts everything into triangles, gives corners at seams and hard edges points of their own, merges the parts, and answers with a log: degenerate tangents, missing maps, maps in the wrong colour space, too many materials.',
  action: 'Take it in and bring it back',
  suffix: '_engine',
  reads: ['fbx', 'obj'],
  parameters: [
    { id: 'splits', title: 'Splits points at seams and hard edges', kind: 'boolean', default: true },
    { id: 'merges', title: 'Merges the parts into one', kind: 'boolean', default: false },
    {
      id: 'materialLimit',
      title: 'Materials it takes without complaint',
      kind: 'number',
      default: 2,
      min: 1,
      max: 32,
      step: 1,
    },
  ],
  run(model, beside, { value, readOptions, codec }) {
    const format = formatOf(model.name)!
    const read = format.read(model, beside, { ...optionsFor(format, readOptions), codec }).scene
    const stem = stemOf(fileNameOf(model.name))
    let scene = triangulateScene(read)
    const log = engineLog(scene, Number(value('materialLimit')))
    scene = { ...scene, meshes: scene.meshes.map((mesh) => (value('splits') ? splitCorners(mesh) : mesh)) }
    if (value('merges')) scene = mergeParts(scene, stem)
    const written = formatNamed('fbx').write(scene, `${stem}.fbx`, {
      maps: false,
      codec,
    })
    return { files: written.files, log }
  },
}
