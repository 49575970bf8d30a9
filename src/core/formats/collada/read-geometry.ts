/** Geometries: polygons of every element that the format has for them. Source: COLLADA 1.4.1, “mesh” and its children. */
import { EMPTY_MESH, type ColorSet, type KeptLayer, type Mesh, type UvSet } from '../../scene/mesh.ts'
import { growingInt32, type GrowingInt32 } from '../../base/bytes/growing.ts'
import { orderOf, readNotes } from '../notes/mesh-notes.ts'
import { listOf, textOf } from '../notes/json.ts'
import type { ColladaDocument } from './document.ts'
import { readPrimitive, type Channel, type Gathering, type Input } from './read-primitive.ts'
import { readSource, type Source } from './read-source.ts'
import { notesOf } from './extra-notes.ts'
import { childOf, childrenOf, type XmlElement } from './xml.ts'

export interface ReadGeometry {
  readonly mesh: Mesh
  /** What its polygons name for materials, in the order of their numbers; a node says which these are. */
  readonly symbols: readonly string[]
  /** Sets of UVs by their numbers in the file, for who binds images to them. */
  readonly uvSetNames: ReadonlyMap<number, string>
}

export const uvName = (place: number): string => (place === 0 ? 'uv' : `uv${place + 1}`)

/** @returns null where the geometry is none of polygons, which is told. */
export function readGeometry(
  document: ColladaDocument,
  geometry: XmlElement,
  name: string,
): ReadGeometry | null {
  const { messages } = document
  const mesh = childOf(geometry, 'mesh')
  if (!mesh) {
    const what = childOf(geometry, 'spline')
      ? 'curves'
      : childOf(geometry, 'brep')
        ? 'curved surfaces'
        : 'something else'
    messages.add('collada.geometry', { name, what })
    return null
  }
  const sources = new Map<string, Source | null>()
  const sourceAt = (address: string | undefined): Source | null => {
    const id = address ?? ''
    if (!sources.has(id)) {
      const element = document.find(id, `“${name}”`)
      sources.set(id, element?.name === 'source' ? readSource(document, element) : null)
    }
    return sources.get(id)!
  }
  const vertices = childOf(mesh, 'vertices')
  const ofVertices = childrenOf(vertices, 'input')
  const positions = sourceAt(
    ofVertices.find(({ attributes }) => attributes.semantic === 'POSITION')?.attributes.source,
  )
  if (!positions || positions.width !== 3 || positions.count === 0) {
    messages.add('collada.part', { place: `The geometry “${name}”`, why: 'it has no points' })
    return null
  }
  const gathering: Gathering = {
    sizes: growingInt32(),
    vertices: growingInt32(),
    materials: growingInt32(),
    channels: new Map(),
    lines: [],
    holes: 0,
  }
  const symbols: string[] = []
  for (const element of mesh.children) {
    if (
      !['triangles', 'polylist', 'polygons', 'tristrips', 'trifans', 'lines', 'linestrips'].includes(
        element.name,
      )
    )
      continue
    const symbol = element.attributes.material
    let material = -1
    if (symbol !== undefined) {
      material = symbols.indexOf(symbol)
      if (material < 0) material = symbols.push(symbol) - 1
    }
    const inputs: Input[] = []
    let stride = 1
    let vertexOffset = -1
    const later: (() => void)[] = []
    for (const { attributes } of childrenOf(element, 'input')) {
      const offset = Math.max(0, Number(attributes.offset ?? 0) || 0)
      stride = Math.max(stride, offset + 1)
      const add = (semantic: string | undefined, source: string | undefined, set: number): void => {
        const found = sourceAt(source)
        // of two that say the same the first
        if (!found || !semantic || inputs.some((own) => own.semantic === semantic && own.set === set)) return
        inputs.push({ semantic, offset, set, source: found })
      }
      if (attributes.semantic === 'VERTEX') {
        vertexOffset = offset
        // what stands with the points goes by their numbers, where the corners don't say it themselves
        for (const own of ofVertices)
          if (own.attributes.semantic !== 'POSITION')
            later.push(() => add(own.attributes.semantic, own.attributes.source, 0))
      } else add(attributes.semantic, attributes.source, Number(attributes.set ?? 0) || 0)
    }
    for (const add of later) add()
    if (vertexOffset < 0) {
      messages.add('collada.part', {
        place: `In “${name}” an element of ${element.name}`,
        why: 'it names no points',
      })
      continue
    }
    readPrimitive(
      document,
      element,
      {
        name,
        stride,
        vertexOffset,
        inputs,
        material,
        pointCount: positions.count,
        positions: positions.values,
      },
      gathering,
    )
  }
  if (gathering.holes > 0) messages.add('collada.hole', { name, count: gathering.holes })
  return finish(document, geometry, name, positions, gathering, symbols)
}

/** Colours and UVs of corners, as sets; anything else with values a corner is carried. */
function finish(
  document: ColladaDocument,
  geometry: XmlElement,
  name: string,
  positions: Source,
  gathering: Gathering,
  symbols: readonly string[],
): ReadGeometry {
  const { sizes, materials, channels, lines } = gathering
  const notes = notesOf(geometry)
  const faceCount = sizes.length
  const cornerCount = gathering.vertices.length
  const order = notes?.polygonOrder === undefined ? null : orderOf(notes.polygonOrder, faceCount)
  const faceOffsets = new Uint32Array(faceCount + 1)
  const faceMaterials = new Int32Array(faceCount)
  for (let face = 0; face < faceCount; face++) {
    const own = order ? order[face]! : face
    faceOffsets[own + 1] = sizes.array[face]!
    faceMaterials[own] = materials.array[face]!
  }
  for (let face = 0; face < faceCount; face++) faceOffsets[face + 1]! += faceOffsets[face]!
  /** Each corner's place in the file; null where they stand as they do there. */
  const from = order && new Uint32Array(cornerCount)
  for (let face = 0, start = 0; from && face < faceCount; face++) {
    const size = sizes.array[face]!
    const to = faceOffsets[order[face]!]!
    for (let k = 0; k < size; k++) from[to + k] = start + k
    start += size
  }
  const inOrder = (given: GrowingInt32): Int32Array => {
    // nearly always one list has all corners as they stand: it is taken as it is
    if (!from && given.length === cornerCount && given.array.length === cornerCount) return given.array
    const found = new Int32Array(cornerCount).fill(-1, given.length)
    if (!from) found.set(given.array.subarray(0, given.length))
    else
      for (let corner = 0; corner < cornerCount; corner++)
        found[corner] = from[corner]! < given.length ? given.array[from[corner]!]! : -1
    return found
  }
  const byCorner = ({ indices }: Channel): Int32Array => inOrder(indices)
  const noted = readNotes(
    notes,
    positions.count,
    faceCount,
    order !== null || notes?.polygonOrder === undefined,
  )
  const stale = [...noted.stale]
  if (notes?.polygonOrder !== undefined && !order) stale.push('the order of its polygons')
  if (stale.length) document.messages.add('collada.stale', { name, what: stale.join(', ') })

  const setsOf = (semantic: string): { number: number; channel: Channel }[] =>
    [...channels]
      .filter(([key]) => key.startsWith(`${semantic} `))
      .map(([key, channel]) => ({ number: Number(key.slice(semantic.length + 1)), channel }))
      .sort((a, b) => a.number - b.number)
  const setNames = listOf(notes?.uvSetNames).map(textOf)
  const colorNames = listOf(notes?.colorSetNames).map(textOf)
  const uvSetNames = new Map<number, string>()
  const uvSets = setsOf('TEXCOORD').flatMap(({ number, channel }, place): UvSet[] => {
    const indices = byCorner(channel)
    if (channel.width < 2 || indices.every((index) => index < 0)) return []
    const own = setNames[place] || uvName(place)
    uvSetNames.set(number, own)
    if (channel.width === 2) return [{ name: own, values: channel.values, indices, depths: null }]
    const count = channel.values.length / channel.width
    const values = new Float64Array(2 * count)
    const depths = new Float64Array(count)
    for (let at = 0; at < count; at++) {
      values[2 * at] = channel.values[channel.width * at]!
      values[2 * at + 1] = channel.values[channel.width * at + 1]!
      depths[at] = channel.values[channel.width * at + 2]!
    }
    return [{ name: own, values, indices, depths: depths.some((depth) => depth !== 0) ? depths : null }]
  })
  const colorSets = setsOf('COLOR').flatMap(({ channel }, place): ColorSet[] => {
    if (channel.width !== 3 && channel.width !== 4) return []
    return [
      {
        name: colorNames[place] || (place === 0 ? 'colour' : `colour${place + 1}`),
        components: channel.width,
        per: 'corners',
        values: channel.values,
        indices: byCorner(channel),
      },
    ]
  })
  const normals = channels.get('NORMAL 0') ?? setsOf('NORMAL')[0]?.channel
  const layers = (['TEXTANGENT', 'TEXBINORMAL'] as const).flatMap((semantic): KeptLayer[] => {
    const channel = setsOf(semantic)[0]?.channel
    const indices = channel && byCorner(channel)
    return channel && channel.width === 3 && indices!.every((index) => index >= 0)
      ? [
          {
            kind: semantic === 'TEXTANGENT' ? 'tangents' : 'binormals',
            name: uvSets[0]?.name ?? '',
            per: 'corners',
            width: 3,
            values: channel.values,
            indices: indices!,
            edgePoints: null,
            whole: false,
          },
        ]
      : []
  })
  return {
    symbols,
    uvSetNames,
    mesh: {
      ...EMPTY_MESH,
      name,
      points: positions.values,
      faceOffsets,
      faceVertices: new Uint32Array(inOrder(gathering.vertices).buffer),
      uvSets,
      normals: normals && normals.width === 3 ? { values: normals.values, indices: byCorner(normals) } : null,
      smoothing: noted.smoothing,
      creases: noted.creases,
      groups: noted.groups,
      subdivision: noted.subdivision,
      faceMaterials: symbols.length ? faceMaterials : null,
      colorSets,
      lines: lines.length
        ? {
            offsets: Uint32Array.from([
              0,
              ...lines.map(
                (
                  (sum) => (line: number[]) =>
                    (sum += line.length)
                )(0),
              ),
            ]),
            points: Uint32Array.from(lines.flat()),
            uvs: new Int32Array(lines.flat().length).fill(-1),
          }
        : null,
      ...(layers.length ? { layers } : {}),
      source: geometry.attributes.id ?? '',
      ...(geometry.attributes.name && geometry.attributes.name !== name
        ? { ownName: geometry.attributes.name }
        : {}),
    },
  }
}
