/** What a scene holds, in numbers: the object that `kelbo inspect --json` prints and the Bench lists. */
import type { Material, Slot } from '../scene/material.ts'
import { boundsOf, joinBoxes, type Box } from '../base/math/box.ts'
import { transformPoints, isIdentity } from '../base/math/matrix.ts'
import { messagePlace, type Finding, type Severity } from '../base/messages/catalogue.ts'
import { entryOf, messageText } from '../formats/catalogue.ts'
import { buildCornerFaces, edgesOf, findHardEdges } from '../mesh/relations/adjacency.ts'
import { cornerCountOf, faceCountOf, pointCountOf, type Mesh } from '../scene/mesh.ts'
import type { Scene } from '../scene/scene.ts'
import { nodePaths, worldMatrices } from '../scene/world.ts'
import type { SurfaceValues } from '../surfaces/model.ts'
import { recogniseSurface, type RecognisedSurface } from '../surfaces/recognise-surface.ts'
import { findIslands } from '../uv/find-islands.ts'

export interface MeshInspection {
  readonly id: string
  readonly name: string
  readonly vertices: number
  readonly faces: { readonly '3': number; readonly '4': number; readonly n: number }
  readonly corners: number
  readonly edges: number
  readonly uvSets: readonly { name: string; uvs: number; mappedCorners: number; islands: number }[]
  readonly normals: boolean
  readonly hardEdges: number
  readonly smoothingGroups: readonly { id: number; faces: number }[]
  readonly creases: { readonly edges: number; readonly corners: number; readonly maxSharpness: number }
  readonly subdivision: { readonly scheme: string; readonly levels: number }
  /** @param index in the scene's list; absent in what was kept before it was counted. */
  readonly materials: readonly { name: string; faces: number; index?: number }[]
  readonly groups: readonly { name: string; faces: number }[]
  readonly colorSets: readonly string[]
  readonly shapes: readonly string[]
  readonly lines: number
  readonly pointElements: number
  /** The mesh's own space, the file's unit; null for a mesh without points. */
  readonly bounds: Box | null
}

export interface SceneInspection {
  readonly format: string
  readonly formatVersion: string | null
  readonly unitMeters: number | null
  readonly upAxis: string
  readonly frontAxis: string
  readonly handedness: string
  readonly nodes: readonly {
    id: string
    path: string
    name: string
    visible: boolean
    mesh: number | null
    local: readonly number[]
    world: readonly number[]
  }[]
  readonly meshes: readonly MeshInspection[]
  readonly materials: readonly {
    id: string
    name: string
    model: string
    maps: readonly { slot: Slot; file: string; found: boolean }[]
    /** The surface model that it is of, how that is known, and its values in that model's words; older documents lack it. */
    surface?: {
      model: string
      how: RecognisedSurface['how']
      share: number
      parameters: SurfaceValues
      unknown: readonly string[]
    }
  }[]
  readonly cameras: number
  readonly lights: number
  /** Bounds of everything in world space, the file's unit. */
  readonly bounds: Box | null
  readonly messages: readonly {
    code: string
    severity: Severity
    message: string
    where: string
    total: number
  }[]
}

/** How often each number stands there, by rising number; mostly in long runs. */
function tally(keys: Int32Array | Uint32Array): [number, number][] {
  const counts = new Map<number, number>()
  for (let at = 0; at < keys.length;) {
    const start = at
    const key = keys[start]!
    do at++
    while (at < keys.length && keys[at] === key)
    counts.set(key, (counts.get(key) ?? 0) + at - start)
  }
  return [...counts].sort((a, b) => a[0] - b[0])
}

/** Bit k of a mask is group k + 1. */
function smoothingCounts(mesh: Mesh): { id: number; faces: number }[] {
  const smoothing = mesh.smoothing
  if (smoothing?.kind === 'groups')
    return tally(smoothing.faceGroups)
      .filter(([id]) => id > 0)
      .map(([id, faces]) => ({ id, faces }))
  if (smoothing?.kind !== 'masks') return []
  const counts = new Array<number>(32).fill(0)
  for (const mask of smoothing.faceMasks)
    for (let bit = 0; bit < 32; bit++) if (mask & (1 << bit)) counts[bit]!++
  return counts.flatMap((faces, bit) => (faces ? [{ id: bit + 1, faces }] : []))
}

/** What a mesh holds, in numbers; its bounds are in its own space. */
export function inspectMesh(scene: Scene, mesh: Mesh): MeshInspection {
  const faceCount = faceCountOf(mesh)
  const faces = { '3': 0, '4': 0, n: 0 }
  for (let face = 0; face < faceCount; face++) {
    const size = mesh.faceOffsets[face + 1]! - mesh.faceOffsets[face]!
    if (size === 3) faces['3']++
    else if (size === 4) faces['4']++
    else faces.n++
  }
  const edges = edgesOf(mesh)
  const hard = findHardEdges(mesh, edges, buildCornerFaces(mesh))
  let hardEdges = 0
  for (const flag of hard) hardEdges += flag
  const groupFaces = new Map<string, number>()
  if (mesh.groups)
    for (const [set, count] of tally(mesh.groups.faceSets))
      if (set >= 0)
        for (const name of mesh.groups.sets[set]!) {
          const text = mesh.groups.names[name]!
          groupFaces.set(text, (groupFaces.get(text) ?? 0) + count)
        }
  let maxSharpness = 0
  for (const sharpness of mesh.creases?.edgeSharpness ?? []) maxSharpness = Math.max(maxSharpness, sharpness)
  for (const sharpness of mesh.creases?.cornerSharpness ?? [])
    maxSharpness = Math.max(maxSharpness, sharpness)
  return {
    id: mesh.id,
    name: mesh.name,
    vertices: pointCountOf(mesh),
    faces,
    corners: cornerCountOf(mesh),
    edges: edges.edgeCount,
    uvSets: mesh.uvSets.map((set) => {
      let mappedCorners = 0
      for (const uv of set.indices) if (uv >= 0) mappedCorners++
      return {
        name: set.name,
        uvs: set.values.length / 2,
        mappedCorners,
        islands: findIslands(mesh, set).islandCount,
      }
    }),
    normals: mesh.normals !== null,
    hardEdges,
    smoothingGroups: smoothingCounts(mesh),
    creases: {
      edges: mesh.creases?.edgeSharpness.length ?? 0,
      corners: mesh.creases?.cornerSharpness.length ?? 0,
      maxSharpness,
    },
    subdivision: mesh.subdivision,
    materials: mesh.faceMaterials
      ? tally(mesh.faceMaterials)
          .filter(([material]) => material >= 0)
          .map(([material, count]) => ({
            name: scene.materials[material]!.name,
            faces: count,
            index: material,
          }))
      : [],
    groups: [...groupFaces].map(([name, count]) => ({ name, faces: count })),
    colorSets: mesh.colorSets.map((set) => set.name),
    shapes: mesh.shapes.map((shape) => shape.name),
    lines: mesh.lines ? mesh.lines.offsets.length - 1 : 0,
    pointElements: mesh.pointElements?.length ?? 0,
    bounds: boundsOf(mesh.points),
  }
}

/** What a scene holds, in numbers, with what reading it had to say. */
export function inspectScene(scene: Scene, findings: readonly Finding[] = []): SceneInspection {
  const paths = nodePaths(scene)
  const worlds = worldMatrices(scene)
  let bounds: Box | null = null
  scene.nodes.forEach((node, index) => {
    if (node.mesh < 0) return
    const points = scene.meshes[node.mesh]!.points
    const world = worlds[index]!
    bounds = joinBoxes(bounds, boundsOf(isIdentity(world) ? points : transformPoints(points, world)))
  })
  return {
    format: scene.format,
    formatVersion: scene.formatVersion,
    unitMeters: scene.space.unitMeters,
    upAxis: scene.space.upAxis,
    frontAxis: scene.space.frontAxis,
    handedness: scene.space.handedness,
    nodes: scene.nodes.map((node, index) => ({
      id: node.id,
      path: paths[index]!,
      name: node.name,
      visible: node.visible,
      mesh: node.mesh < 0 ? null : node.mesh,
      local: node.local,
      world: worlds[index]!,
    })),
    meshes: scene.meshes.map((mesh) => inspectMesh(scene, mesh)),
    materials: scene.materials.map((material) => ({
      id: material.id,
      name: material.name,
      model: material.model,
      maps: material.maps.map((map) => ({
        slot: map.slot,
        file: map.file,
        found: scene.images.some((image) => image.file === map.file && image.bytes !== null),
      })),
      surface: inspectSurface(material),
    })),
    cameras: scene.cameras.length,
    lights: scene.lights.length,
    bounds,
    messages: describeFindings(findings),
  }
}

function inspectSurface(material: Material): NonNullable<SceneInspection['materials'][number]['surface']> {
  const { model, how, share, values, unknown } = recogniseSurface(material)
  return {
    model: model.id,
    how,
    share,
    parameters: values,
    unknown,
  }
}

/** Findings in words, for edges that show them. */
export const describeFindings = (findings: readonly Finding[]): SceneInspection['messages'] =>
  findings.map((finding) => ({
    code: finding.code,
    severity: entryOf(finding.code).severity,
    message: messageText(finding.code, finding.parameters),
    where: messagePlace(finding),
    total: finding.total,
  }))
