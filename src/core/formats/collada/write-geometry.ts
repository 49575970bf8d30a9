/** Geometries: points, values of corners by their own numbers, and polygons by materials. */
import { turnsTangents, type ColorSet, type Mesh } from '../../scene/mesh.ts'
import { notesOf, stretchesOf } from '../notes/mesh-notes.ts'
import { NOTES_PROFILE } from './extra-notes.ts'
import type { ColladaWriteOptions } from './options.ts'
import { uvName } from './read-geometry.ts'
import type { XmlWriter } from './xml-writer.ts'

/** Values that corners have, with what they are called in the file. */
interface Channel {
  readonly semantic: string
  readonly set: number | null
  readonly source: string
  readonly params: readonly string[]
  readonly values: Float64Array
  readonly indices: ArrayLike<number>
}

/** Symbol by which polygons name a material; a node says which it is. */
export const symbolOf = (material: number): string => `material${material}`

export function writeSource(
  xml: XmlWriter,
  id: string,
  values: ArrayLike<number>,
  params: readonly string[],
  type = 'float',
): void {
  const width = type === 'float4x4' ? 16 : params.length
  xml.element('source', { id }, () => {
    xml.numbers('float_array', { id: `${id}-array`, count: values.length }, values, width)
    xml.element('technique_common', {}, () =>
      xml.element('accessor', { source: `#${id}-array`, count: values.length / width, stride: width }, () => {
        for (const name of params) xml.leaf('param', { name, type })
      }),
    )
  })
}

const pointIndices = (set: ColorSet, mesh: Mesh): ArrayLike<number> =>
  set.per === 'points' ? mesh.faceVertices : set.indices

const TANGENT_CHANNELS = [
  ['tangents', 'TEXTANGENT'],
  ['binormals', 'TEXBINORMAL'],
] as const

/** What COLLADA has no place for on a mesh, as the end of a sentence. */
export function lossesOf(mesh: Mesh, settings: ColladaWriteOptions): string[] {
  const lost: string[] = []
  if (mesh.pointElements) lost.push('single points as such')
  if (mesh.pointWeights) lost.push('rational weights of points')
  if (settings.colors && mesh.colorSets.length && mesh.faceVertices.length === 0)
    lost.push('colours of points that no polygon has')
  for (const { kind, per, width } of mesh.layers ?? []) {
    const isTangent = TANGENT_CHANNELS.some(([own]) => own === kind) && per === 'corners' && width === 3
    if (!isTangent || (settings.normals && !mesh.normals)) lost.push(`the layer “${kind}” of its ${per}`)
  }
  if (settings.shapes && mesh.shapes.some(({ normals }) => normals?.some((value) => value !== 0)))
    lost.push('how blend shapes turn normals')
  if (settings.shapes && turnsTangents(mesh)) lost.push('how blend shapes turn tangents')
  if (settings.shapes && mesh.skin?.method !== undefined) lost.push('the way in which skins are blended')
  return lost
}

function channelsOf(mesh: Mesh, id: string, settings: ColladaWriteOptions): Channel[] {
  const channels: Channel[] = []
  if (settings.normals && mesh.normals)
    channels.push({
      semantic: 'NORMAL',
      set: null,
      source: `${id}-normals`,
      params: ['X', 'Y', 'Z'],
      ...mesh.normals,
    })
  if (settings.uvs)
    mesh.uvSets.forEach(({ values, indices, depths }, set) => {
      const all = depths
        ? Float64Array.from({ length: 3 * depths.length }, (_none, at) =>
            at % 3 === 2 ? depths[(at - 2) / 3]! : values[2 * Math.floor(at / 3) + (at % 3)]!,
          )
        : values
      channels.push({
        semantic: 'TEXCOORD',
        set,
        source: `${id}-uv${set}`,
        params: depths ? ['S', 'T', 'P'] : ['S', 'T'],
        values: all,
        indices,
      })
    })
  if (settings.colors)
    mesh.colorSets.forEach((colors, set) =>
      channels.push({
        semantic: 'COLOR',
        set,
        source: `${id}-colours${set}`,
        params: ['R', 'G', 'B', 'A'].slice(0, colors.components),
        values: colors.values,
        indices: pointIndices(colors, mesh),
      }),
    )
  for (const [kind, semantic] of TANGENT_CHANNELS) {
    const layer = mesh.layers?.find((own) => own.kind === kind && own.per === 'corners' && own.width === 3)
    // tangents say nothing without the normals that they lie on
    if (layer && settings.normals && mesh.normals)
      channels.push({
        semantic,
        set: 0,
        source: `${id}-${kind}`,
        params: ['X', 'Y', 'Z'],
        values: layer.values,
        indices: layer.indices ?? Int32Array.from({ length: mesh.faceVertices.length }, (_none, at) => at),
      })
  }
  return channels
}

interface FaceGroup {
  readonly material: number
  readonly faces: number[]
  /** The channels that all corners of its faces have. */
  readonly channels: readonly Channel[]
}

/** Polygons that stand in one list: of one material, with the same channels on all corners. */
function groupFaces(mesh: Mesh, channels: readonly Channel[], lost: Set<string>): FaceGroup[] {
  const groups = new Map<string, FaceGroup>()
  for (let face = 0; face + 1 < mesh.faceOffsets.length; face++) {
    const material = mesh.faceMaterials?.[face] ?? -1
    let mask = ''
    const own = channels.filter(({ indices }) => {
      let has = 0
      const size = mesh.faceOffsets[face + 1]! - mesh.faceOffsets[face]!
      for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++)
        if (indices[corner]! >= 0) has++
      if (has > 0 && has < size) lost.add('values of polygons that have them on some corners alone')
      mask += has === size ? '1' : '0'
      return has === size
    })
    const key = `${material} ${mask}`
    let group = groups.get(key)
    if (!group) {
      group = { material, faces: [], channels: own }
      groups.set(key, group)
    }
    group.faces.push(face)
  }
  return [...groups.values()]
}

/** @param id of the geometry; those of its sources begin with it. */
export function writeGeometry(
  xml: XmlWriter,
  mesh: Mesh,
  id: string,
  settings: ColladaWriteOptions,
  lost: Set<string>,
): void {
  const channels = channelsOf(mesh, id, settings)
  const groups = groupFaces(mesh, channels, lost)
  const order = groups.flatMap(({ faces }) => faces)
  xml.element('geometry', { id, name: mesh.ownName ?? mesh.name }, () => {
    xml.element('mesh', {}, () => {
      writeSource(xml, `${id}-points`, mesh.points, ['X', 'Y', 'Z'])
      for (const { source, values, params } of channels) writeSource(xml, source, values, params)
      xml.element('vertices', { id: `${id}-vertices` }, () =>
        xml.leaf('input', { semantic: 'POSITION', source: `#${id}-points` }),
      )
      for (const { material, faces, channels: own } of groups) {
        const stride = 1 + own.length
        const sizes = faces.map((face) => mesh.faceOffsets[face + 1]! - mesh.faceOffsets[face]!)
        const list = new Uint32Array(stride * sizes.reduce((sum, size) => sum + size, 0))
        let at = 0
        for (const face of faces)
          for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
            list[at++] = mesh.faceVertices[corner]!
            for (const { indices } of own) list[at++] = indices[corner]!
          }
        const attributes = {
          material: material >= 0 && settings.materials !== 'none' ? symbolOf(material) : undefined,
          count: faces.length,
        }
        xml.element('polylist', attributes, () => {
          xml.leaf('input', { semantic: 'VERTEX', source: `#${id}-vertices`, offset: 0 })
          own.forEach(({ semantic, source, set }, place) =>
            xml.leaf('input', { semantic, source: `#${source}`, offset: place + 1, set: set ?? undefined }),
          )
          xml.numbers('vcount', {}, sizes, 40)
          xml.numbers('p', {}, list, 4 * stride)
        })
      }
      writeLines(xml, mesh, id)
    })
    const notes = {
      points: mesh.points.length / 3,
      polygons: mesh.faceOffsets.length - 1,
      ...(order.every((face, at) => face === at) ? {} : { polygonOrder: stretchesOf(order) }),
      ...(settings.uvs && mesh.uvSets.some(({ name }, set) => name !== uvName(set))
        ? { uvSetNames: mesh.uvSets.map(({ name }) => name) }
        : {}),
      ...(settings.colors && mesh.colorSets.length
        ? {
            colorSetNames: mesh.colorSets.map(({ name }) => name),
            colorsBy: mesh.colorSets.map(({ per }) => per),
          }
        : {}),
      ...notesOf(mesh, settings),
    }
    writeNotes(xml, notes)
  })
}

function writeLines(xml: XmlWriter, { lines }: Mesh, id: string): void {
  if (!lines) return
  const all = Array.from({ length: lines.offsets.length - 1 }, (_none, line) =>
    lines.points.subarray(lines.offsets[line]!, lines.offsets[line + 1]!),
  ).filter((line) => line.length > 1)
  if (all.length === 0) return
  xml.element('linestrips', { count: all.length }, () => {
    xml.leaf('input', { semantic: 'VERTEX', source: `#${id}-vertices`, offset: 0 })
    for (const line of all) xml.numbers('p', {}, line, 40)
  })
}

/** Notes beside an element, as one text. */
export function writeNotes(xml: XmlWriter, notes: object): void {
  xml.element('extra', {}, () =>
    xml.element('technique', { profile: NOTES_PROFILE }, () => xml.leaf('notes', {}, JSON.stringify(notes))),
  )
}
