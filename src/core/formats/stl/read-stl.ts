/** STL to a scene, text and binary. Source: 3D Systems, “StereoLithography Interface Specification” (1988). */
import { withDecimalPoint } from '../../base/bytes/decimal-commas.ts'
import { decodeLatin1, decodeUtf8, firstLetters, normalizeTextBytes } from '../../base/bytes/text.ts'
import type { Finding } from '../../base/messages/catalogue.ts'
import { collectMessages, KelboError, type MessageCollector } from '../../base/messages/collector.ts'
import { joinMesh } from '../../mesh/welds/join-mesh.ts'
import { EMPTY_MESH, type ColorSet, type Mesh } from '../../scene/mesh.ts'
import { EMPTY_SCENE, rootNodes, type Scene } from '../../scene/scene.ts'
import { stemOf, type PackageFile } from '../package/package-file.ts'
import { STL_READ_DEFAULTS, type StlReadOptions } from './options.ts'

export const HEADER_BYTES = 84
export const FACET_BYTES = 50
/** The spare bytes hold a colour of 15 bits where their highest bit says so (common practice). */
export const HAS_COLOR = 0x8000

interface Solid {
  readonly name: string
  /** 9 x triangle count; binary files hold 32 bits of each. */
  readonly points: Float32Array | Float64Array
  /** Triangles whose normal, as the file has it, points to their back. */
  readonly turned: number
  /** Spare bytes of each triangle; null where all are 0. */
  readonly attributes: Uint16Array | null
}

/** A binary file is as long as its count says; text begins with its word, which the heads of some binaries do too. */
function isBinary(bytes: Uint8Array): boolean {
  if (bytes.length < HEADER_BYTES) return false
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const stated = HEADER_BYTES + FACET_BYTES * view.getUint32(80, true)
  if (stated === bytes.length) return true
  const start = decodeLatin1(bytes, 0, Math.min(bytes.length, 1024))
  if (/^\s*solid\b/i.test(start) && /\b(facet|endsolid)\b/i.test(start)) return false
  // text has no zeros in it
  return bytes.subarray(0, 1024).includes(0)
}

/** Whether the normal of the triangle at a place points to its back. */
function isTurned(points: ArrayLike<number>, at: number, [x = 0, y = 0, z = 0]: readonly number[]): boolean {
  const ux = points[at + 3]! - points[at]!
  const uy = points[at + 4]! - points[at + 1]!
  const uz = points[at + 5]! - points[at + 2]!
  const vx = points[at + 6]! - points[at]!
  const vy = points[at + 7]! - points[at + 1]!
  const vz = points[at + 8]! - points[at + 2]!
  return (uy * vz - uz * vy) * x + (uz * vx - ux * vz) * y + (ux * vy - uy * vx) * z < 0
}

/** @param joins points are to be joined: until then there are so many that 32 bits of each are enough. */
function readBinary(bytes: Uint8Array, name: string, joins: boolean, messages: MessageCollector): Solid[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const stated = view.getUint32(80, true)
  const there = Math.floor((bytes.length - HEADER_BYTES) / FACET_BYTES)
  // programs that write as they go can't say beforehand how many it will be, and say none
  const count = stated > 0 ? Math.min(stated, there) : there
  if (count < stated) messages.add('stl.cut', { found: count, stated })
  if (count > stated) messages.add('stl.uncounted', { found: count })
  const behind = bytes.length - HEADER_BYTES - FACET_BYTES * count
  if (count >= stated && behind > 0) messages.add('stl.behind', { behind })
  const points = new (joins ? Float32Array : Float64Array)(9 * count)
  let attributes: Uint16Array | null = null
  let turned = 0
  const normal = [0, 0, 0]
  for (let facet = 0, at = HEADER_BYTES; facet < count; facet++, at += FACET_BYTES) {
    for (let k = 0; k < 3; k++) normal[k] = view.getFloat32(at + 4 * k, true)
    for (let k = 0; k < 9; k++) points[9 * facet + k] = view.getFloat32(at + 12 + 4 * k, true)
    if (isTurned(points, 9 * facet, normal)) turned++
    const attribute = view.getUint16(at + 48, true)
    if (attribute === 0) continue
    attributes ??= new Uint16Array(count)
    attributes[facet] = attribute
  }
  const end = bytes.indexOf(0)
  const stop = end < 0 ? 80 : Math.min(end, 80)
  const told = decodeUtf8(bytes, 0, stop) ?? decodeLatin1(bytes, 0, stop)
  const own = /^part (.+)$/.exec(told.trim())?.[1]
  return [{ name: own ?? name, points, turned, attributes }]
}

/** Words of a text, with the line that each stands in. */
function readText(bytes: Uint8Array, fileName: string, messages: MessageCollector): Solid[] {
  const solids: Solid[] = []
  let name = fileName
  let points: number[] = []
  let turned = 0
  let normal = [0, 0, 0]
  let corners: number[] = []
  let isOpen = false
  const close = (): void => {
    if (points.length)
      solids.push({
        name,
        points: Float64Array.from(points),
        turned,
        attributes: null,
      })
    points = []
    turned = 0
  }
  let line = 0
  for (let at = 0; at < bytes.length;) {
    line++
    let end = at
    while (end < bytes.length && bytes[end] !== 10 && bytes[end] !== 13) end++
    const stop = Math.min(end, at + 4096)
    const text = (decodeUtf8(bytes, at, stop) ?? decodeLatin1(bytes, at, stop)).trim()
    at = bytes[end] === 13 && bytes[end + 1] === 10 ? end + 2 : end + 1
    if (!text) continue
    const numberOf = (word: string): number => {
      const pointed = withDecimalPoint(word)
      if (pointed) messages.add('file.commas', {}, line)
      return Number(pointed ?? word)
    }
    const cornerOf = (list: readonly string[]): number[] => {
      if (list.length < 3) messages.add('stl.few-numbers', {}, line)
      return [0, 1, 2].map((axis) => {
        const word = list[axis]
        const value = word === undefined ? 0 : numberOf(word)
        if (Number.isFinite(value)) return value
        messages.add('stl.number', { text: firstLetters(word!, 30) }, line)
        return 0
      })
    }
    const words = text.split(/\s+/)
    const word = words[0]!.toLowerCase()
    if (word === 'vertex') corners.push(...cornerOf(words.slice(1, 4)))
    else if (word === 'facet') {
      // of a triangle without area many programs write none, or what is no number
      normal = words.slice(2, 5).map((one) => numberOf(one) || 0)
      corners = []
      isOpen = true
    } else if (word === 'endfacet' || (word === 'endloop' && !isOpen)) {
      // what is larger than a triangle is none that the format knows
      if (corners.length === 9) {
        for (const value of corners) points.push(value)
        if (isTurned(corners, 0, normal)) turned++
      } else messages.add('stl.short-face', { corners: corners.length / 3 }, line)
      corners = []
      isOpen = false
    } else if (word === 'solid') {
      close()
      name = text.slice(5).trim() || fileName
    } else if (word === 'endsolid') close()
    else if (!['outer', 'endloop'].includes(word))
      messages.add('stl.word', { text: firstLetters(text, 30) }, line)
  }
  if (isOpen || corners.length) messages.add('stl.short-face', { corners: corners.length / 3 }, line)
  close()
  return solids
}

function colorsOf(attributes: Uint16Array | null): ColorSet[] {
  if (!attributes || !attributes.some((attribute) => attribute & HAS_COLOR)) return []
  const numbers = new Map<number, number>()
  const values: number[] = []
  const indices = new Int32Array(3 * attributes.length).fill(-1)
  attributes.forEach((attribute, facet) => {
    if (!(attribute & HAS_COLOR)) return
    let number = numbers.get(attribute)
    if (number === undefined) {
      number = numbers.size
      numbers.set(attribute, number)
      values.push(((attribute >> 10) & 31) / 31, ((attribute >> 5) & 31) / 31, (attribute & 31) / 31)
    }
    indices.fill(number, 3 * facet, 3 * facet + 3)
  })
  return [{ name: 'colour', components: 3, per: 'corners', values: Float64Array.from(values), indices }]
}

/** A mesh without its points: a place of its own for each corner. */
function meshOf({ name, points, attributes }: Solid): Mesh {
  const faceCount = points.length / 9
  const colorSets = colorsOf(attributes)
  const faceOffsets = new Uint32Array(faceCount + 1)
  const faceVertices = new Uint32Array(3 * faceCount)
  for (let face = 0; face < faceCount; face++) faceOffsets[face + 1] = 3 * (face + 1)
  for (let corner = 0; corner < faceVertices.length; corner++) faceVertices[corner] = corner
  return {
    ...EMPTY_MESH,
    name,
    faceOffsets,
    faceVertices,
    colorSets,
    // spare bytes that are no colours mean what only their program knows
    ...(attributes && colorSets.length === 0
      ? {
          layers: [
            {
              kind: 'attribute',
              name: '',
              per: 'faces' as const,
              width: 1,
              values: Float64Array.from(attributes),
              indices: null,
              edgePoints: null,
              whole: true,
            },
          ],
        }
      : {}),
  }
}

/**
 * The file says nothing of unit and axes: the options do; tools for printing have Z up (common practice). Normals of
 * triangles follow from their corners and are not kept.
 *
 * Findings: `stl.*`.
 * @throws KelboError `file.empty`, `file.not-a-model`.
 */
export function readStl(
  file: PackageFile,
  options: Partial<StlReadOptions> = {},
): { scene: Scene; findings: readonly Finding[] } {
  const settings: StlReadOptions = { ...STL_READ_DEFAULTS, ...options }
  const messages = collectMessages(file.name)
  if (file.bytes.length === 0) throw new KelboError('file.empty', {}, file.name)
  const text = normalizeTextBytes(file.bytes)
  const bytes = /^\s*solid/i.test(decodeLatin1(text, 0, Math.min(text.length, 80))) ? text : file.bytes
  const binary = isBinary(bytes)
  const name = stemOf(file.name)
  const solids = binary ? readBinary(bytes, name, settings.join, messages) : readText(bytes, name, messages)
  if (solids.every(({ points }) => points.length === 0))
    throw new KelboError('file.not-a-model', {}, file.name)
  const turned = solids.reduce((sum, solid) => sum + solid.turned, 0)
  const total = solids.reduce((sum, { points }) => sum + points.length / 9, 0)
  if (turned > 0) messages.add('stl.turned', { count: turned, total })
  let joinedCount = 0
  const meshes = solids.map((solid) => {
    const mesh = meshOf(solid)
    if (!settings.join)
      return {
        ...mesh,
        points: solid.points instanceof Float64Array ? solid.points : new Float64Array(solid.points),
      }
    const { mesh: own, joined } = joinMesh(mesh, solid.points)
    joinedCount += joined
    return own
  })
  if (joinedCount > 0)
    messages.add('stl.joined', {
      joined: joinedCount,
      points: meshes.reduce((sum, mesh) => sum + mesh.points.length / 3, 0),
    })
  return {
    scene: {
      ...EMPTY_SCENE,
      format: 'stl',
      formatVersion: binary ? 'binary' : 'text',
      space: {
        unitMeters: settings.unitMeters,
        upAxis: settings.upAxis,
        frontAxis: settings.frontAxis,
        handedness: settings.mirrored ? 'left' : 'right',
      },
      nodes: rootNodes(meshes),
      meshes,
    },
    findings: messages.list(),
  }
}
