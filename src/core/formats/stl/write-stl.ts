/** A scene to STL: triangles in world space, a solid a part in text, all in one in binary. */
import { encodeUtf8 } from '../../base/bytes/text.ts'
import type { Finding } from '../../base/messages/catalogue.ts'
import { collectMessages } from '../../base/messages/collector.ts'
import { createMeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { triangulateFace } from '../../mesh/triangles/triangulate-face.ts'
import type { Mesh } from '../../scene/mesh.ts'
import type { Scene, Space } from '../../scene/scene.ts'
import { targetSpace } from '../../scene/space.ts'
import { partsInWorld } from '../arrange/parts-in-world.ts'
import type { PackageFile } from '../package/package-file.ts'
import { STL_WRITE_DEFAULTS, type StlWriteOptions } from './options.ts'
import { FACET_BYTES, HAS_COLOR, HEADER_BYTES } from './read-stl.ts'

interface Facets {
  readonly name: string
  /** 9 x triangle count. */
  readonly points: Float64Array
  /** Spare bytes of each triangle. */
  readonly attributes: Uint16Array
}

function facetsOf(name: string, mesh: Mesh, settings: StlWriteOptions): Facets {
  const facts = createMeshFacts(mesh)
  const points: number[] = []
  const attributes: number[] = []
  const [set] = mesh.colorSets
  const attribute = mesh.layers?.find(
    ({ kind, per, width }) => kind === 'attribute' && per === 'faces' && width === 1,
  )
  const cut: number[] = []
  for (let face = 0; face < facts.faceCount; face++) {
    cut.length = 0
    triangulateFace(mesh, face, facts.faceNormals(), cut)
    const start = mesh.faceOffsets[face]!
    for (const corner of cut) {
      const point = 3 * mesh.faceVertices[start + corner]!
      points.push(mesh.points[point]!, mesh.points[point + 1]!, mesh.points[point + 2]!)
    }
    let spare = attribute ? attribute.values[face]! : 0
    if (set && settings.colors) {
      const index = set.per === 'points' ? mesh.faceVertices[start]! : set.indices[start]!
      if (index >= 0) {
        const [r, g, b] = [0, 1, 2].map((k) =>
          Math.max(0, Math.min(31, Math.round(31 * set.values[set.components * index + k]!))),
        ) as [number, number, number]
        spare = HAS_COLOR | (r << 10) | (g << 5) | b
      }
    }
    for (let k = 0; k < cut.length; k += 3) attributes.push(spare)
  }
  return { name, points: Float64Array.from(points), attributes: Uint16Array.from(attributes) }
}

/** Unit normal of a triangle; zero where it has no area. */
function normalOf(points: Float64Array, at: number): [number, number, number] {
  const [ux, uy, uz] = [0, 1, 2].map((k) => points[at + 3 + k]! - points[at + k]!) as [number, number, number]
  const [vx, vy, vz] = [0, 1, 2].map((k) => points[at + 6 + k]! - points[at + k]!) as [number, number, number]
  const x = uy * vz - uz * vy
  const y = uz * vx - ux * vz
  const z = ux * vy - uy * vx
  const length = Math.hypot(x, y, z)
  return length > 0 ? [x / length, y / length, z / length] : [0, 0, 0]
}

/** Text breaks lines at what its names may not hold. */
const lineName = (name: string): string => name.replace(/[\r\n]+/g, ' ').trim()

function writeText(parts: readonly Facets[]): Uint8Array {
  const lines: string[] = []
  const number = (value: number): string => {
    const float = Math.fround(value)
    if (!Number.isFinite(float)) return '0'
    for (let digits = 6; digits < 9; digits++) {
      const text = String(Number(float.toPrecision(digits)))
      if (Math.fround(Number(text)) === float) return text
    }
    return String(Number(float.toPrecision(9)))
  }
  for (const { name, points } of parts) {
    lines.push(`solid ${lineName(name)}`)
    for (let at = 0; at < points.length; at += 9) {
      lines.push(` facet normal ${normalOf(points, at).map(number).join(' ')}`, '  outer loop')
      for (let k = 0; k < 9; k += 3)
        lines.push(`   vertex ${[0, 1, 2].map((axis) => number(points[at + k + axis]!)).join(' ')}`)
      lines.push('  endloop', ' endfacet')
    }
    lines.push(`endsolid ${lineName(name)}`)
  }
  return encodeUtf8(`${lines.join('\n')}\n`)
}

function writeBinary(parts: readonly Facets[]): Uint8Array {
  const count = parts.reduce((sum, { points }) => sum + points.length / 9, 0)
  const bytes = new Uint8Array(HEADER_BYTES + FACET_BYTES * count)
  const view = new DataView(bytes.buffer)
  // the head must not begin as text does
  const head = encodeUtf8(parts.length === 1 ? `part ${lineName(parts[0]!.name)}` : `${parts.length} parts`)
  bytes.set(head.subarray(0, 80))
  view.setUint32(80, count, true)
  let at = HEADER_BYTES
  for (const { points, attributes } of parts)
    for (let from = 0; from < points.length; from += 9, at += FACET_BYTES) {
      normalOf(points, from).forEach((value, k) => view.setFloat32(at + 4 * k, value, true))
      for (let k = 0; k < 9; k++) view.setFloat32(at + 12 + 4 * k, points[from + k]!, true)
      view.setUint16(at + 48, attributes[from / 9]!, true)
    }
  return bytes
}

function lossesOf(mesh: Mesh, settings: StlWriteOptions): string[] {
  return [
    ...(mesh.faceOffsets.some((end, face) => face > 0 && end - mesh.faceOffsets[face - 1]! > 3)
      ? ['polygons; they are triangles in it']
      : []),
    ...(mesh.uvSets.length ? ['UVs'] : []),
    ...(mesh.smoothing || mesh.normals ? ['smoothing and normals of corners'] : []),
    ...(mesh.creases || mesh.subdivision.scheme !== 'none' ? ['creases and subdivision'] : []),
    ...(mesh.groups ? ['face groups'] : []),
    ...(mesh.faceMaterials ? ['materials'] : []),
    ...(mesh.shapes.length || mesh.skin ? ['shapes and skins'] : []),
    ...(mesh.colorSets.length && (settings.form === 'text' || !settings.colors) ? ['vertex colours'] : []),
    ...(mesh.colorSets.length && settings.form === 'binary' && settings.colors
      ? ['colours finer than one a polygon and 32 steps']
      : []),
    ...(mesh.lines || mesh.pointElements ? ['lines and single points'] : []),
  ]
}

/**
 * Writes triangles in the unit and axes of the options; the file says neither.
 *
 * Findings: `write.not-carried`, `write.part-skipped`.
 */
export function writeStl(
  scene: Scene,
  fileName: string,
  options: Partial<StlWriteOptions> = {},
): { files: PackageFile[]; findings: readonly Finding[]; space: Space } {
  const settings: StlWriteOptions = { ...STL_WRITE_DEFAULTS, ...options }
  const messages = collectMessages(fileName)
  const space = targetSpace(scene.space, settings)
  const lost = new Set<string>()
  const hasNoFaces = ({ faceOffsets }: Mesh): boolean => faceOffsets.length < 2
  const parts = partsInWorld(scene, space, settings, hasNoFaces, messages, lost).map(({ name, mesh }) => {
    for (const what of lossesOf(mesh, settings)) lost.add(what)
    return facetsOf(name, mesh, settings)
  })
  if (parts.length > 1 && settings.form === 'binary') lost.add('parts; they are one in it')
  for (const what of lost) messages.add('write.not-carried', { format: 'STL', what })
  const bytes = settings.form === 'text' ? writeText(parts) : writeBinary(parts)
  return { files: [{ name: fileName, bytes }], findings: messages.list(), space }
}
