/** Seams that were drawn on a surface with a colour: on its points, or on a map. */
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { nextCorner } from '../../mesh/relations/mesh-facts.ts'
import type { ColorSet, UvSet } from '../../scene/mesh.ts'

export type Color = readonly [number, number, number]

/** How far two colours are apart, 0 to 1: the largest difference of a channel. */
const apart = (a: Color, b: Color): number =>
  Math.max(Math.abs(a[0] - b[0]), Math.abs(a[1] - b[1]), Math.abs(a[2] - b[2]))

/** `#rrggbb` as numbers from 0 to 1; null where it is none. */
export function parseColor(text: string): Color | null {
  const found = /^#?([0-9a-f]{2})([0-9a-f]{2})([0-9a-f]{2})$/i.exec(text.trim())
  return found ? (found.slice(1).map((two) => parseInt(two, 16) / 255) as unknown as Color) : null
}

/** The colour that most have, in steps of a sixteenth. */
function commonest(colors: Iterable<Color>): Color | null {
  const counts = new Map<number, { count: number; color: Color }>()
  for (const color of colors) {
    const key = color.reduce((sum, channel) => 16 * sum + Math.min(15, Math.floor(channel * 16)), 0)
    const own = counts.get(key)
    if (own) own.count++
    else counts.set(key, { count: 1, color })
  }
  let best: { count: number; color: Color } | null = null
  for (const own of counts.values()) if (!best || own.count > best.count) best = own
  return best?.color ?? null
}

/** An image's pixels, row after row from the top. */
export interface LineImage {
  readonly width: number
  readonly height: number
  readonly channels: number
  readonly bits: number
  readonly values: ArrayLike<number>
}

export interface DrawnLines {
  /** edgeCount. */
  readonly edges: Uint8Array
  /** faceCount: polygons that a broad line covers wholly. */
  readonly faces: Uint8Array
}

/** Whether a corner's or a place's colour is the line's: the given one, or any far from what most have. */
function lineTest(
  color: Color | null,
  tolerance: number,
  all: () => Iterable<Color>,
): (own: Color) => boolean {
  if (color) return (own) => apart(own, color) <= tolerance
  const ground = commonest(all())
  return (own) => ground !== null && apart(own, ground) > tolerance
}

/**
 * Lines on the colours of points or corners: edges both of whose ends have the line's colour. Where such edges fill
 * polygons, the polygons are the line.
 * @param color null: any that differs from what most have. @param tolerance 0 to 1, a channel.
 */
export function linesOnColors(
  facts: MeshFacts,
  set: ColorSet,
  color: Color | null,
  tolerance: number,
): DrawnLines {
  const { mesh } = facts
  const read = (at: number): Color => [
    set.values[set.components * at]!,
    set.values[set.components * at + 1]!,
    set.values[set.components * at + 2]!,
  ]
  const colorAt = (corner: number): Color | null => {
    const at = set.per === 'points' ? mesh.faceVertices[corner]! : set.indices[corner]!
    return at >= 0 && set.components * at + 2 < set.values.length ? read(at) : null
  }
  const isLine = lineTest(color, tolerance, function* () {
    for (let corner = 0; corner < mesh.faceVertices.length; corner++) {
      const own = colorAt(corner)
      if (own) yield own
    }
  })
  const painted = Uint8Array.from(mesh.faceVertices, (_, corner) => {
    const own = colorAt(corner)
    return own && isLine(own) ? 1 : 0
  })
  return fromSides(facts, (from, to) => painted[from] === 1 && painted[to] === 1)
}

/** Looks along a side. */
const SAMPLES = 9
/** Share of them that has to be on the line. */
const MOST = 0.7

/**
 * Lines on an image through a UV set: edges most of which lie on the line. V runs upwards, the image repeats.
 * @param color null: any that differs from what most have.
 */
export function linesOnMap(
  facts: MeshFacts,
  uvs: UvSet,
  image: LineImage,
  color: Color | null,
  tolerance: number,
): DrawnLines {
  const full = image.bits === 16 ? 65535 : 255
  const read = (u: number, v: number): Color => {
    const x = Math.min(image.width - 1, Math.floor((u - Math.floor(u)) * image.width))
    const y = Math.min(image.height - 1, Math.floor((1 - (v - Math.floor(v))) * image.height))
    const at = image.channels * (y * image.width + x)
    const channel = (k: number): number => image.values[at + (image.channels < 3 ? 0 : k)]! / full
    return [channel(0), channel(1), channel(2)]
  }
  const isLine = lineTest(color, tolerance, function* () {
    const step = Math.max(1, Math.floor(Math.sqrt((image.width * image.height) / 40000)))
    for (let y = 0; y < image.height; y += step)
      for (let x = 0; x < image.width; x += step)
        yield read((x + 0.5) / image.width, 1 - (y + 0.5) / image.height)
  })
  return fromSides(facts, (from, to) => {
    const [a, b] = [uvs.indices[from]!, uvs.indices[to]!]
    if (a < 0 || b < 0) return false
    let on = 0
    for (let at = 0; at < SAMPLES; at++) {
      const share = (at + 0.5) / SAMPLES
      const [u, v] = [0, 1].map((k) => {
        const [from, to] = [uvs.values[2 * a + k]!, uvs.values[2 * b + k]!]
        return from + share * (to - from)
      }) as [number, number]
      if (Number.isFinite(u) && Number.isFinite(v) && isLine(read(u, v))) on++
    }
    return on >= MOST * SAMPLES
  })
}

/** A polygon all of whose sides are on the line is part of it; other edges of it are no seams of their own. */
function fromSides(facts: MeshFacts, isOn: (from: number, to: number) => boolean): DrawnLines {
  const { mesh, faceCount } = facts
  const { edgeCount, cornerEdges, edgeCorners } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const edges = new Uint8Array(edgeCount)
  const faces = new Uint8Array(faceCount)
  for (let face = 0; face < faceCount; face++) {
    let all = 1
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
      if (isOn(corner, nextCorner(mesh, face, corner))) edges[cornerEdges[corner]!] = 1
      else all = 0
    }
    faces[face] = all
  }
  for (let edge = 0; edge < edgeCount; edge++)
    if (edges[edge])
      for (const corner of [edgeCorners[2 * edge]!, edgeCorners[2 * edge + 1]!])
        if (corner >= 0 && faces[cornerFaces[corner]!]) edges[edge] = 0
  return { edges, faces }
}
