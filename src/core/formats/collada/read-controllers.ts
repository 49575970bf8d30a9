/** Controllers: skins and blend shapes over a geometry. Source: COLLADA 1.4.1, “controller”, “skin”, “morph”. */
import { invertAffine, multiplyMatrices, type Matrix } from '../../base/math/matrix.ts'
import type { BlendShape, Skin } from '../../scene/mesh.ts'
import { IDENTITY_MATRIX } from '../../scene/scene.ts'
import type { ColladaDocument } from './document.ts'
import { childOf, childrenOf, descend, shortNumbers, type XmlElement } from './xml.ts'

export interface Controlled {
  readonly geometry: XmlElement
  readonly skin: XmlElement | null
  readonly morph: XmlElement | null
}

/** The geometry that a controller leads to, through a skin and a morph; null where it leads nowhere. */
export function controlledBy(
  document: ColladaDocument,
  controller: XmlElement,
  place: string,
): Controlled | null {
  let skin: XmlElement | null = null
  let morph: XmlElement | null = null
  let held: XmlElement | null = controller
  for (let depth = 0; held && depth < 8; depth++) {
    if (held.name === 'geometry') return { geometry: held, skin, morph }
    const own: XmlElement | null = childOf(held, 'skin') ?? childOf(held, 'morph')
    if (!own) return null
    if (own.name === 'skin') skin ??= own
    else morph ??= own
    held = document.find(own.attributes.source, place)
  }
  return null
}

/** Words of a source: names or ids. */
function namesOf(document: ColladaDocument, address: string | undefined, place: string): string[] {
  const source = address === undefined ? null : document.find(address, place)
  const list = childOf(source, 'Name_array') ?? childOf(source, 'IDREF_array')
  return list ? list.text.trim().split(/\s+/).filter(Boolean) : []
}

const inputOf = (element: XmlElement | null, semantic: string): XmlElement | null =>
  childrenOf(element, 'input').find(({ attributes }) => attributes.semantic === semantic) ?? null

function numbersAt(document: ColladaDocument, address: string | undefined, place: string): Float64Array {
  const source = address === undefined ? null : document.find(address, place)
  return document.numbers(childOf(source, 'float_array'))
}

const transposed = (rows: ArrayLike<number>, from = 0): number[] =>
  Array.from({ length: 16 }, (_none, at) => rows[from + 4 * (at % 4) + Math.floor(at / 4)]!)

/** @param nodeOf a joint's node by the word that the skin has for it; -1 where there is none. */
export function readSkin(
  document: ColladaDocument,
  skin: XmlElement,
  name: string,
  pointCount: number,
  nodeOf: (word: string) => number,
): Skin | null {
  const place = `The skin of “${name}”`
  const joints = childOf(skin, 'joints')
  const words = namesOf(document, inputOf(joints, 'JOINT')?.attributes.source, place)
  const inverse = numbersAt(document, inputOf(joints, 'INV_BIND_MATRIX')?.attributes.source, place)
  const shape = shortNumbers(childOf(skin, 'bind_shape_matrix'))
  const bindShape: Matrix = shape.length >= 16 ? transposed(shape) : IDENTITY_MATRIX
  const weights = childOf(skin, 'vertex_weights')
  const jointInput = inputOf(weights, 'JOINT')
  const weightInput = inputOf(weights, 'WEIGHT')
  const shares = numbersAt(document, weightInput?.attributes.source, place)
  const counts = document.indices(childOf(weights, 'vcount'))
  const list = document.indices(childOf(weights, 'v'))
  if (words.length === 0 || !jointInput || !weightInput) {
    document.messages.add('collada.part', { place, why: 'it names no joints or no weights' })
    return null
  }
  const inputs = childrenOf(weights, 'input').map(({ attributes }) => Number(attributes.offset ?? 0) || 0)
  const stride = Math.max(...inputs) + 1
  const jointAt = Number(jointInput.attributes.offset ?? 0) || 0
  const weightAt = Number(weightInput.attributes.offset ?? 0) || 0
  const meshBinds = new Float64Array(16 * words.length)
  const jointBinds = new Float64Array(16 * words.length)
  words.forEach((_word, joint) => {
    const bind = inverse.length >= 16 * (joint + 1) ? transposed(inverse, 16 * joint) : IDENTITY_MATRIX
    meshBinds.set(multiplyMatrices(bind, bindShape), 16 * joint)
    jointBinds.set(invertAffine(bind) ?? IDENTITY_MATRIX, 16 * joint)
  })
  const offsets = new Uint32Array(pointCount + 1)
  const own: number[] = []
  const amounts: number[] = []
  let at = 0
  let isWhole = true
  for (let point = 0; point < pointCount; point++) {
    const count = isWhole ? (counts[point] ?? 0) : 0
    // a count may be any number, and more than there are
    if (!Number.isInteger(count) || count < 0 || at + count * stride > list.length) {
      document.messages.add('collada.part', {
        place: `The rest of the weights of “${name}”`,
        why: 'there are fewer than it says',
      })
      isWhole = false
    }
    for (let k = 0; isWhole && k < count; k++, at += stride) {
      const joint = list[at + jointAt]
      const weight = shares[list[at + weightAt] ?? -1]
      // joint -1 is the shape as it was bound
      if (joint === undefined || weight === undefined || joint < 0 || joint >= words.length) continue
      own.push(joint)
      amounts.push(weight)
    }
    offsets[point + 1] = own.length
  }
  return {
    jointNodes: Int32Array.from(words, nodeOf),
    jointBinds,
    meshBinds,
    offsets,
    joints: Uint32Array.from(own),
    weights: Float64Array.from(amounts),
  }
}

/** @param pointsOf the points of a geometry by its element; null where it has none. */
export function readMorph(
  document: ColladaDocument,
  morph: XmlElement,
  name: string,
  points: Float64Array,
  pointsOf: (geometry: XmlElement) => { points: Float64Array; name: string } | null,
): BlendShape[] {
  const place = `The shapes of “${name}”`
  const targets = childOf(morph, 'targets')
  const ids = namesOf(document, inputOf(targets, 'MORPH_TARGET')?.attributes.source, place)
  const weights = numbersAt(document, inputOf(targets, 'MORPH_WEIGHT')?.attributes.source, place)
  const isRelative = morph.attributes.method === 'RELATIVE'
  return ids.flatMap((id, index): BlendShape[] => {
    const geometry = document.find(id, place)
    const target = geometry && pointsOf(geometry)
    if (!target || target.points.length !== points.length) {
      if (target)
        document.messages.add('collada.part', {
          place: `The shape “${target.name}”`,
          why: 'it has other points',
        })
      return []
    }
    const moved: number[] = []
    const offsets: number[] = []
    for (let point = 0; point < points.length / 3; point++) {
      const by = [0, 1, 2].map(
        (axis) => target.points[3 * point + axis]! - (isRelative ? 0 : points[3 * point + axis]!),
      )
      if (by.every((value) => value === 0)) continue
      moved.push(point)
      offsets.push(...by)
    }
    return [
      {
        name: target.name,
        points: Uint32Array.from(moved),
        offsets: Float64Array.from(offsets),
        ...(weights[index] ? { weight: weights[index] * 100 } : {}),
      },
    ]
  })
}

/** Points of a geometry, for shapes of another. */
export function pointsOfGeometry(
  document: ColladaDocument,
  geometry: XmlElement,
): { points: Float64Array; name: string } | null {
  const vertices = descend(geometry, 'mesh', 'vertices')
  const address = inputOf(vertices, 'POSITION')?.attributes.source
  const { name, id } = geometry.attributes
  const points = numbersAt(document, address, `“${name ?? id ?? ''}”`)
  return points.length ? { points, name: name || id || '' } : null
}
