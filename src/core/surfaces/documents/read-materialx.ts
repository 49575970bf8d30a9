/**
 * Materials of a MaterialX document: nodes of the surface models that are known, with the values of their inputs, and
 * the image files that inputs lead to. Source: MaterialX 1.39 specification. Entities are not resolved, nothing is
 * fetched.
 */
import { SaxesParser } from 'saxes'
import { KelboError } from '../../base/messages/collector.ts'
import type { SurfaceModel, SurfaceValue } from '../model.ts'
import { SURFACE_MODELS } from '../registry.ts'

export interface DocumentMaterial {
  readonly name: string
  readonly model: SurfaceModel
  readonly values: Readonly<Record<string, SurfaceValue>>
  /** Image files by the parameter that they feed, whatever lies between. */
  readonly maps: Readonly<Record<string, string>>
  /** Inputs that neither hold a value nor lead to an image. */
  readonly open: readonly string[]
}

interface Element {
  readonly tag: string
  readonly attributes: Readonly<Record<string, string>>
  readonly children: Element[]
}

/** Elements of a document at most, and how deep they lie. */
const MOST_ELEMENTS = 200000
const DEEPEST = 64

/** @throws KelboError remap.bad-surface. */
function readXml(text: string): Element {
  const root: Element = { tag: '', attributes: {}, children: [] }
  const path = [root]
  let count = 0
  const parser = new SaxesParser({ xmlns: false })
  parser.on('error', (error) => {
    throw new KelboError('remap.bad-surface', { what: `it is no XML that can be read (${error.message})` })
  })
  parser.on('opentag', ({ name, attributes }) => {
    if (++count > MOST_ELEMENTS || path.length > DEEPEST)
      throw new KelboError('remap.bad-surface', { what: 'it is too large or too deep' })
    const element: Element = { tag: name, attributes, children: [] }
    path.at(-1)!.children.push(element)
    path.push(element)
  })
  parser.on('closetag', () => void path.pop())
  parser.write(text).close()
  return root
}

function valueOf(text: string, type: string): SurfaceValue | null {
  if (type === 'boolean') return text.trim() === 'true'
  if (type === 'string' || type === 'filename') return text
  const numbers = text
    .split(/[\s,]+/)
    .filter(Boolean)
    .map(Number)
  if (numbers.length === 0 || numbers.some((one) => !Number.isFinite(one))) return null
  return numbers.length === 1 ? numbers[0]! : numbers
}

/** @throws KelboError remap.bad-surface where it is no such document. */
export function readMaterialX(text: string): DocumentMaterial[] {
  const document = readXml(text).children.find(({ tag }) => tag === 'materialx')
  if (!document) throw new KelboError('remap.bad-surface', { what: 'it is no MaterialX document' })
  const graphs = new Map(
    document.children
      .filter(({ tag }) => tag === 'nodegraph')
      .map((graph) => [graph.attributes['name'] ?? '', graph]),
  )
  const inputsOf = (element: Element): Element[] => element.children.filter(({ tag }) => tag === 'input')

  /** The image that an input leads to, at whatever depth; null for none. */
  const imageOf = (input: Element, scope: Element, seen: ReadonlySet<string>): string | null => {
    const { nodename, nodegraph, output, value, type, interfacename } = input.attributes
    if (type === 'filename' && value) return value
    if (interfacename) return null
    const graph = nodegraph === undefined ? scope : graphs.get(nodegraph)
    if (!graph) return null
    let target = nodename
    if (nodegraph !== undefined) {
      const outputs = graph.children.filter(({ tag }) => tag === 'output')
      target = (outputs.find(({ attributes }) => attributes['name'] === output) ?? outputs[0])?.attributes[
        'nodename'
      ]
    }
    const key = `${graph.attributes['name'] ?? ''} ${target}`
    if (!target || seen.has(key)) return null
    const node = graph.children.find(
      ({ attributes, tag }) => attributes['name'] === target && tag !== 'output',
    )
    for (const inner of node ? inputsOf(node) : []) {
      const found = imageOf(inner, graph, new Set([...seen, key]))
      if (found) return found
    }
    return null
  }

  const materials = document.children.filter(({ tag }) => tag === 'surfacematerial')
  return document.children.flatMap((element): DocumentMaterial[] => {
    const model = SURFACE_MODELS.find(({ materialX }) => materialX?.category === element.tag)
    if (!model) return []
    const values: Record<string, SurfaceValue> = {}
    const maps: Record<string, string> = {}
    const open: string[] = []
    for (const input of inputsOf(element)) {
      const { name = '', type = 'float', value } = input.attributes
      const parameter = model.parameters.find((one) => one.name === name)
      if (value !== undefined) {
        const read = valueOf(value, type)
        if (read === null) open.push(name)
        else if (parameter?.choices && typeof read === 'number')
          values[name] = parameter.choices[read] ?? parameter.choices[0]!
        else values[name] = read
        continue
      }
      const file = imageOf(input, document, new Set())
      if (file) maps[name] = file
      else open.push(name)
    }
    const own = element.attributes['name'] ?? ''
    const material = materials.find((one) =>
      inputsOf(one).some(
        ({ attributes }) => attributes['name'] === 'surfaceshader' && attributes['nodename'] === own,
      ),
    )
    return [{ name: material?.attributes['name'] ?? own, model, values, maps, open }]
  })
}
