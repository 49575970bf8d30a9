/** Sources: lists of numbers with how they are read. Source: COLLADA 1.4.1, “source” and “accessor”. */
import type { ColladaDocument } from './document.ts'
import { childOf, childrenOf, descend, type XmlElement } from './xml.ts'

/** Numbers of a source, some an element. */
export interface Source {
  readonly width: number
  readonly count: number
  readonly values: Float64Array
}

/** What an attribute says, which may be any text; null where it is no number. */
function wholeNumber(text: string | undefined): number | null {
  const value = text === undefined ? NaN : Math.floor(Number(text))
  return Number.isFinite(value) ? value : null
}

export function readSource(document: ColladaDocument, element: XmlElement | null): Source | null {
  if (!element) return null
  const accessor = descend(element, 'technique_common', 'accessor')
  const list = childOf(element, 'float_array') ?? childOf(element, 'int_array')
  if (!list) return null
  const all = document.numbers(list)
  const params = childrenOf(accessor, 'param')
  const stride = Math.max(1, wholeNumber(accessor?.attributes.stride) ?? (params.length || 1))
  const offset = Math.max(0, wholeNumber(accessor?.attributes.offset) ?? 0)
  const there = Math.floor((all.length - offset) / stride)
  const stated =
    accessor?.attributes.count === undefined ? there : (wholeNumber(accessor.attributes.count) ?? 0)
  const count = Math.max(0, Math.min(stated, there))
  // parameters without a name are passed over
  const used = params.length
    ? params.flatMap(({ attributes }, at) =>
        attributes.name === undefined && params.some((one) => one.attributes.name !== undefined) ? [] : [at],
      )
    : Array.from({ length: stride }, (_none, at) => at)
  const places = used.filter((place) => place < stride)
  const width = places.length
  if (width === stride && offset === 0 && count * stride === all.length) return { width, count, values: all }
  const values = new Float64Array(width * count)
  for (let at = 0; at < count; at++)
    places.forEach((place, k) => (values[width * at + k] = all[offset + stride * at + place]!))
  return { width, count, values }
}
