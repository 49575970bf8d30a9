/** All primitives of a mesh in one numbering of vertices. */
import type { Accessor, Accessors } from './read-accessor.ts'
import { readDraco } from './read-draco.ts'
import type { GltfReading } from './read-buffers.ts'
import { anyNumbersOf, extensionOf, listOf, objectOf, partOf, wholeOf, type Json } from '../notes/json.ts'
import { MODES, readFaces, readLines, type PolygonCut } from './read-primitive.ts'

export interface Attribute {
  readonly width: number
  /** width x vertexCount; 0 where a primitive doesn't have it. */
  readonly values: Float64Array
  /** Values are whole or given as floats: nothing was divided. */
  readonly isWhole: boolean
}

export interface Gathered {
  readonly vertexCount: number
  readonly positions: Float64Array
  readonly attributes: ReadonlyMap<string, Attribute>
  /** Attributes that each primitive has. */
  readonly primitives: readonly ReadonlySet<string>[]
  /** Vertices of each polygon, and which they are one polygon after the other. */
  readonly sizes: Uint32Array
  readonly vertices: Uint32Array
  readonly facePrimitives: Uint32Array
  /** Index of a material, -1 for none; null where no polygon has one. */
  readonly materials: Int32Array | null
  readonly lines: readonly (readonly number[])[]
  readonly pointElements: readonly number[]
  /** Every vertex is a corner of a polygon. */
  readonly isFull: boolean
  /** 3 x vertexCount moves of each target. */
  readonly targets: readonly Target[]
  /** A note of how polygons were cut no longer fits. */
  readonly isStale: boolean
}

/** What a shape changes: 3 x vertexCount each. */
interface Target {
  readonly offsets: Float64Array
  readonly normals: Float64Array | null
  readonly tangents: Float64Array | null
}
const TARGET_KINDS: ReadonlySet<string> = new Set(['POSITION', 'NORMAL', 'TANGENT'])

const TYPES: readonly (readonly [RegExp, readonly string[]])[] = [
  [/^NORMAL$/, ['VEC3']],
  [/^TANGENT$/, ['VEC4']],
  [/^TEXCOORD_\d{1,3}$/, ['VEC2']],
  [/^COLOR_\d{1,3}$/, ['VEC3', 'VEC4']],
  [/^(JOINTS|WEIGHTS)_\d{1,2}$/, ['VEC4']],
  [/^_/, ['SCALAR', 'VEC2', 'VEC3', 'VEC4']],
]
const typesOf = (semantic: string): readonly string[] | null =>
  TYPES.find(([pattern]) => pattern.test(semantic))?.[1] ?? null

/** Vertices that one or several primitives draw from. */
interface Base {
  readonly start: number
  /** Vertex count; 1 for those that polygons have. */
  readonly isUsed: Uint8Array
  readonly positions: Accessor
  /** The accessor of each attribute; what several primitives name differently is not shared. */
  readonly stated: Map<string, unknown>
  readonly attributes: Map<string, Accessor>
  readonly targets: readonly Target[]
  /** What the file says of them, to tell whether another primitive has the same. */
  readonly targetText: string
}

/** How polygons were cut that are no fans, by the number of their first triangle. */
function cutsOf(primitive: Json): ReadonlyMap<number, PolygonCut> | null {
  const listed = partOf(primitive, 'extras')?.polygonCuts
  if (!Array.isArray(listed)) return null
  const cuts = new Map<number, PolygonCut>()
  for (const entry of listed) {
    const numbers = anyNumbersOf(entry)
    if (!numbers?.every((number) => wholeOf(number) !== null) || numbers.length < 5) continue
    const [first, triangles, ...corners] = numbers as [number, number, ...number[]]
    cuts.set(first, { triangles, corners })
  }
  return cuts
}

export function gatherPrimitives(
  index: number,
  source: Json,
  { messages, decoders, document, ...rest }: GltfReading,
  accessors: Accessors,
  materialCount: number,
): Gathered {
  const bases: Base[] = []
  const primitives: Set<string>[] = []
  const sizes: (readonly number[] | Uint32Array)[] = []
  const vertices: Uint32Array[] = []
  const faceMaterials: number[] = []
  const lines: number[][] = []
  const pointElements: number[] = []
  let vertexCount = 0
  let isStale = false

  const attributesOf = (stated: Json, count: number, place: string): Map<string, Accessor> => {
    const attributes = new Map<string, Accessor>()
    for (const [semantic, accessor] of Object.entries(stated)) {
      if (semantic === 'POSITION') continue
      const types = typesOf(semantic)
      if (!types) {
        messages.add('gltf.value', { place: `“${semantic.slice(0, 60)}” of ${place}` })
        continue
      }
      const read = accessors.read(accessor, types, count)
      if (read && read.count !== count)
        messages.add('gltf.part', {
          place: `${semantic} of ${place}`,
          why: `it has ${read.count} values for ${count} vertices`,
        })
      else if (read) attributes.set(semantic, read)
    }
    return attributes
  }
  const targetsOf = (primitive: Json, count: number, place: string): Base['targets'] =>
    listOf(primitive.targets).map((target, at) => {
      const moves = (semantic: string): Float64Array | null => {
        const stated = objectOf(target)?.[semantic]
        if (stated === undefined) return null
        const read = accessors.read(stated, ['VEC3'], count)
        if (read && read.count !== count)
          messages.add('gltf.part', {
            place: `Shape ${at + 1} of ${place}`,
            why: `it has ${read.count} values for ${count} vertices`,
          })
        return read?.count === count ? read.values : null
      }
      for (const semantic of Object.keys(objectOf(target) ?? {}))
        if (!TARGET_KINDS.has(semantic))
          messages.add('gltf.shape-values', { place: `${at + 1} of ${place}`, what: semantic.slice(0, 60) })
      return {
        offsets: moves('POSITION') ?? new Float64Array(3 * count),
        normals: moves('NORMAL'),
        tangents: moves('TANGENT'),
      }
    })

  listOf(source.primitives).forEach((entry, number) => {
    const place = `mesh ${index}, primitive ${number}`
    const primitive = objectOf(entry)
    const all = partOf(primitive, 'attributes')
    const madeUp = listOf(partOf(primitive, 'extras')?.madeUp)
    const stated =
      all && madeUp.length
        ? Object.fromEntries(Object.entries(all).filter(([semantic]) => !madeUp.includes(semantic)))
        : all
    if (!primitive || !stated) {
      messages.add('gltf.part', { place: `In mesh ${index} primitive ${number}`, why: 'it has no vertices' })
      return
    }
    const mode = primitive.mode === undefined ? MODES.triangles : wholeOf(primitive.mode)
    if (mode === null || mode > MODES.fan) {
      messages.add('gltf.part', {
        place: `In mesh ${index} primitive ${number}`,
        why: 'its mode is not known',
      })
      return
    }
    const packed = extensionOf(primitive, 'KHR_draco_mesh_compression')
    // what a file says uncompressed beside is for readers without the decoder
    const isBeside = accessors.stated(wholeOf(stated.POSITION) ?? -1)?.bufferView !== undefined
    const unpacked =
      packed && (decoders.draco || !isBeside)
        ? readDraco(packed, stated, { document, decoders, messages, ...rest }, accessors, place)
        : null
    if (packed && !unpacked && !isBeside) return
    const positions = unpacked?.attributes.get('POSITION') ?? accessors.read(stated.POSITION, ['VEC3'])
    if (!positions) {
      if (wholeOf(stated.POSITION) === null)
        messages.add('gltf.part', {
          place: `In mesh ${index} primitive ${number}`,
          why: 'it has no positions',
        })
      return
    }
    const targetText = JSON.stringify(primitive.targets ?? null)
    let base = unpacked
      ? undefined
      : bases.find(
          (known) =>
            known.stated.get('POSITION') === stated.POSITION &&
            Object.entries(stated).every(
              ([semantic, accessor]) => (known.stated.get(semantic) ?? accessor) === accessor,
            ) &&
            known.targetText === targetText,
        )
    if (!base) {
      base = {
        start: vertexCount,
        isUsed: new Uint8Array(positions.count),
        positions,
        stated: new Map(),
        attributes: new Map(),
        targets: targetsOf(primitive, positions.count, place),
        targetText,
      }
      bases.push(base)
      vertexCount += positions.count
    }
    const own = attributesOf(
      unpacked
        ? Object.fromEntries(
            Object.entries(stated).filter(([semantic]) => !unpacked.attributes.has(semantic)),
          )
        : Object.fromEntries(Object.entries(stated).filter(([semantic]) => !base.attributes.has(semantic))),
      positions.count,
      place,
    )
    for (const [semantic, accessor] of Object.entries(stated)) base.stated.set(semantic, accessor)
    for (const [semantic, read] of [...own, ...(unpacked?.attributes ?? [])])
      if (semantic !== 'POSITION') base.attributes.set(semantic, read)

    let indices: Uint32Array
    if (unpacked) indices = unpacked.indices
    else if (primitive.indices === undefined) {
      indices = new Uint32Array(positions.count)
      for (let vertex = 0; vertex < indices.length; vertex++) indices[vertex] = vertex
    } else {
      const read = accessors.readWhole(primitive.indices)
      if (!read) {
        if (wholeOf(primitive.indices) === null)
          messages.add('gltf.part', {
            place: `In mesh ${index} primitive ${number}`,
            why: 'what it draws is not said rightly',
          })
        return
      }
      indices = read
    }
    const { start } = base
    if (mode === MODES.points) {
      for (const vertex of indices) if (vertex < positions.count) pointElements.push(start + vertex)
      return
    }
    if (mode < MODES.triangles) {
      for (const line of readLines(mode, indices, positions.count))
        lines.push(line.map((vertex) => start + vertex))
      return
    }
    const faces = readFaces(
      mode,
      indices,
      base.isUsed,
      extensionOf(primitive, 'FB_ngon_encoding') !== null,
      cutsOf(primitive),
      place,
      messages,
    )
    isStale ||= faces.isStale
    primitives.push(new Set(Object.keys(stated).filter((semantic) => base.attributes.has(semantic))))
    sizes.push(faces.sizes)
    vertices.push(start === 0 ? faces.vertices : faces.vertices.map((vertex) => vertex + start))
    const material = primitive.material === undefined ? null : wholeOf(primitive.material)
    if (primitive.material !== undefined && (material === null || material >= materialCount))
      messages.add('gltf.value', { place: `The material of ${place}` })
    faceMaterials.push(material !== null && material < materialCount ? material : -1)
  })

  return {
    vertexCount,
    positions: joinBases(bases, vertexCount, 3, (base) => base.positions.values),
    attributes: joinAttributes(bases, vertexCount),
    primitives,
    ...joinFaces(sizes, vertices, faceMaterials),
    lines,
    pointElements,
    isFull: !bases.some(({ isUsed }) => isUsed.includes(0)),
    targets: joinTargets(bases, vertexCount),
    isStale,
  }
}

/** Values of all vertices, 0 for those of primitives that have none. */
function joinBases(
  bases: readonly Base[],
  vertexCount: number,
  width: number,
  valuesOf: (base: Base) => Float64Array | null | undefined,
): Float64Array {
  const only = bases.length === 1 ? valuesOf(bases[0]!) : null
  if (only) return only
  const values = new Float64Array(width * vertexCount)
  for (const base of bases) {
    const own = valuesOf(base)
    if (own) values.set(own, width * base.start)
  }
  return values
}

function joinAttributes(bases: readonly Base[], vertexCount: number): Map<string, Attribute> {
  const attributes = new Map<string, Attribute>()
  for (const semantic of new Set(bases.flatMap((base) => [...base.attributes.keys()]))) {
    const all = bases.flatMap((base) => base.attributes.get(semantic) ?? [])
    const width = Math.max(...all.map((own) => own.width))
    attributes.set(semantic, {
      width,
      isWhole: bases.every((base) => base.attributes.has(semantic)),
      values: joinBases(bases, vertexCount, width, (base) => {
        const own = base.attributes.get(semantic)
        if (!own || own.width === width) return own?.values
        // a colour without opacity among some with it is opaque
        return Float64Array.from({ length: width * own.count }, (_none, at) =>
          at % width < own.width ? own.values[Math.floor(at / width) * own.width + (at % width)]! : 1,
        )
      }),
    })
  }
  return attributes
}

function joinFaces(
  sizes: readonly (readonly number[] | Uint32Array)[],
  vertices: readonly Uint32Array[],
  faceMaterials: readonly number[],
): Pick<Gathered, 'sizes' | 'vertices' | 'facePrimitives' | 'materials'> {
  const hasMaterials = faceMaterials.some((material, at) => material >= 0 && sizes[at]!.length > 0)
  const [only] = sizes
  if (only && sizes.length === 1)
    return {
      sizes: only instanceof Uint32Array ? only : Uint32Array.from(only),
      vertices: vertices[0]!,
      facePrimitives: new Uint32Array(only.length),
      materials: hasMaterials ? new Int32Array(only.length).fill(faceMaterials[0]!) : null,
    }
  const faceCount = sizes.reduce((sum, list) => sum + list.length, 0)
  const joined = {
    sizes: new Uint32Array(faceCount),
    vertices: new Uint32Array(vertices.reduce((sum, list) => sum + list.length, 0)),
    facePrimitives: new Uint32Array(faceCount),
    materials: hasMaterials ? new Int32Array(faceCount) : null,
  }
  let face = 0
  let corner = 0
  sizes.forEach((list, primitive) => {
    joined.sizes.set(list, face)
    joined.facePrimitives.fill(primitive, face, face + list.length)
    joined.materials?.fill(faceMaterials[primitive]!, face, face + list.length)
    joined.vertices.set(vertices[primitive]!, corner)
    face += list.length
    corner += vertices[primitive]!.length
  })
  return joined
}

function joinTargets(bases: readonly Base[], vertexCount: number): Gathered['targets'] {
  const count = Math.max(0, ...bases.map((base) => base.targets.length))
  return Array.from({ length: count }, (_none, target) => {
    const turns = (kind: 'normals' | 'tangents'): Float64Array | null =>
      bases.some((base) => base.targets[target]?.[kind])
        ? joinBases(bases, vertexCount, 3, (base) => base.targets[target]?.[kind])
        : null
    return {
      offsets: joinBases(bases, vertexCount, 3, (base) => base.targets[target]?.offsets),
      normals: turns('normals'),
      tangents: turns('tangents'),
    }
  })
}
