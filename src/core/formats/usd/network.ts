/**
 * Surfaces of MaterialX as shaders, beside the preview surface that every reader knows. Sources: UsdMtlx (the node of a
 * definition is its name; `outputs:mtlx:surface`), from memory; names and inputs of definitions: MaterialX 1.39 standard
 * library.
 */
import type { Material } from '../../scene/material.ts'
import type { SurfaceModel } from '../../surfaces/model.ts'
import { SURFACE_MODELS } from '../../surfaces/registry.ts'
import {
  materialGraph,
  uniqueNames,
  type GraphInput,
  type GraphNode,
  type GraphType,
  type MaterialGraph,
} from '../../surfaces/documents/material-graph.ts'
import { remapMaterial } from '../../surfaces/remap/remap-material.ts'
import type { StagePrim } from './compose.ts'
import { PREVIEW } from './preview-words.ts'
import { valueOf } from './read-transform.ts'
import { assetText, numberText, quote, type UsdWriter } from './write-text.ts'

/** Prims of a network below its material. */
const SURFACE = 'mtlx_surface'
const NODES = 'mtlx_maps'
const DISPLACEMENT = 'mtlx_displacement'

const modelOf = ({ model }: Material): SurfaceModel | null =>
  SURFACE_MODELS.find((own) => own.materialModel === model && own.materialX && own !== PREVIEW) ?? null

/**
 * The network of a material whose own surface model has a node in the standard; null for any other.
 * @param primvar what a UV set is called in the file.
 */
export function networkOf(material: Material, primvar: (uvSet: string) => string): MaterialGraph | null {
  const model = modelOf(material)
  if (!model) return null
  const remapped = remapMaterial(material, model, [], [])
  return materialGraph(
    {
      ...remapped,
      name: 'map',
      parameters: remapped.parameters.map((row) =>
        row.map?.uvSet ? { ...row, map: { ...row.map, uvSet: primvar(row.map.uvSet) } } : row,
      ),
    },
    uniqueNames(),
  )
}

/** Image files that a network reads. */
export const filesOf = ({ nodes }: MaterialGraph): string[] =>
  nodes.flatMap(({ inputs }) => inputs.flatMap(({ type, value }) => (type === 'filename' ? value! : [])))

const USD_TYPES: Readonly<Record<GraphType, string>> = {
  color3: 'color3f',
  color4: 'color4f',
  float: 'float',
  boolean: 'bool',
  integer: 'int',
  vector2: 'float2',
  vector3: 'float3',
  filename: 'asset',
  string: 'string',
}

/** The definition that a node is of. */
function definitionOf({ category, type, inputs }: GraphNode): string {
  if (category === 'extract') return `ND_extract_${inputs.find(({ name }) => name === 'in')!.type}`
  if (category === 'convert') return `ND_convert_${inputs.find(({ name }) => name === 'in')!.type}_${type}`
  if (category === 'normalmap') return 'ND_normalmap_float'
  return `ND_${category}_${type}`
}

const numbersOf = (text: string): number[] => text.split(',').map(Number)

function valueText(type: GraphType, value: string): string {
  if (type === 'filename') return assetText(value)
  if (type === 'string') return quote(value)
  if (type === 'boolean') return value
  const numbers = numbersOf(value).map(numberText)
  return numbers.length === 1 ? numbers[0]! : `(${numbers.join(', ')})`
}

function writeInput(writer: UsdWriter, path: string, input: GraphInput): void {
  const { name, type, value, node, colorSpace } = input
  const head = `${USD_TYPES[type]} inputs:${name}`
  if (node !== undefined) writer.line(`${head}.connect = <${path}/${node}.outputs:out>`)
  else
    writer.line(
      `${head} = ${valueText(type, value!)}${colorSpace ? ` ( colorSpace = ${quote(colorSpace)} )` : ''}`,
    )
}

/** What a material says of its network, before its prims. @param path of the material. */
export function writeNetworkOutputs(writer: UsdWriter, { displacement }: MaterialGraph, path: string): void {
  writer.line('uniform string config:mtlx:version = "1.39"')
  writer.line(`token outputs:mtlx:surface.connect = <${path}/${SURFACE}.outputs:out>`)
  if (displacement)
    writer.line(`token outputs:mtlx:displacement.connect = <${path}/${DISPLACEMENT}.outputs:out>`)
}

/** The prims of a network. @param path of the material that they stand below. */
export function writeNetwork(writer: UsdWriter, graph: MaterialGraph, path: string): void {
  const { nodes, outputs, surface, displacement } = graph
  const shader = (name: string, definition: string, inputs: MaterialGraph['surface']['inputs']): void =>
    writer.prim(`def Shader ${quote(name)}`, [], () => {
      writer.line(`uniform token info:id = ${quote(definition)}`)
      for (const input of inputs)
        if ('output' in input)
          writer.line(
            `${USD_TYPES[input.type]} inputs:${input.name}.connect = <${path}/${NODES}.outputs:${input.output}>`,
          )
        else writeInput(writer, path, input)
      writer.line('token outputs:out')
    })
  shader(SURFACE, `ND_${surface.category}_surfaceshader`, surface.inputs)
  if (displacement)
    shader(
      DISPLACEMENT,
      `ND_displacement_${displacement.inputs.find(({ name }) => name === 'displacement')!.type}`,
      displacement.inputs,
    )
  if (nodes.length === 0) return
  const below = `${path}/${NODES}`
  writer.prim(`def NodeGraph ${quote(NODES)}`, [], () => {
    for (const { name, type, node } of outputs)
      writer.line(`${USD_TYPES[type]} outputs:${name}.connect = <${below}/${node}.outputs:out>`)
    for (const node of nodes)
      writer.prim(`def Shader ${quote(node.name)}`, [], () => {
        writer.line(`uniform token info:id = ${quote(definitionOf(node))}`)
        for (const input of node.inputs) writeInput(writer, below, input)
        writer.line(`${USD_TYPES[node.type]} outputs:out`)
      })
  })
}

/** Numbers as a file of 32 bits gives them back. */
const rounded = (numbers: readonly number[]): string => numbers.map(Math.fround).join(' ')

/** Every input of a network that Kelbo would write, as lines that can be compared. */
function factsOfGraph({ nodes, outputs, surface, displacement }: MaterialGraph): string[] {
  const facts: string[] = []
  const add = (place: string, { name, type, value, node }: GraphInput): void => {
    const said =
      node !== undefined
        ? `<${node}`
        : type === 'filename' || type === 'string'
          ? value!
          : type === 'boolean'
            ? value === 'true'
              ? '1'
              : '0'
            : rounded(numbersOf(value!))
    facts.push(`${place} ${name} ${said}`)
  }
  const ofSurface = (place: string, inputs: MaterialGraph['surface']['inputs']): void => {
    for (const input of inputs)
      if ('output' in input)
        facts.push(`${place} ${input.name} <${outputs.find(({ name }) => name === input.output)!.node}`)
      else add(place, input)
  }
  facts.push(`${SURFACE} ND_${surface.category}_surfaceshader`)
  ofSurface(SURFACE, surface.inputs)
  if (displacement) ofSurface(DISPLACEMENT, displacement.inputs)
  for (const node of nodes) {
    facts.push(`${node.name} ${definitionOf(node)}`)
    for (const input of node.inputs) add(node.name, input)
  }
  return facts.sort()
}

/** The same of the prims below a material. */
function factsOfPrims(material: StagePrim): string[] {
  const facts: string[] = []
  const graph = material.children.find(({ name }) => name === NODES)
  const behind = (target: string): string => {
    const [path = '', output = ''] = target.split('.')
    if (graph && path === graph.path) return behind(graph.properties.get(output)?.targets[0] ?? '')
    return path.slice(path.lastIndexOf('/') + 1)
  }
  const add = (prim: StagePrim): void => {
    if (prim.name !== DISPLACEMENT)
      facts.push(`${prim.name} ${String(valueOf(prim.properties.get('info:id')) ?? '')}`)
    for (const [key, property] of prim.properties) {
      if (!key.startsWith('inputs:')) continue
      const [target] = property.targets
      const value = valueOf(property)
      const said =
        target !== undefined
          ? `<${behind(target)}`
          : typeof value === 'number'
            ? rounded([value])
            : value instanceof Float64Array
              ? rounded([...value])
              : typeof value === 'boolean'
                ? String(Number(value))
                : String(value)
      facts.push(`${prim.name} ${key.slice('inputs:'.length)} ${said}`)
    }
  }
  for (const child of material.children) if (child.name === SURFACE || child.name === DISPLACEMENT) add(child)
  graph?.children.forEach(add)
  return facts.sort()
}

/** Whether the network below a material's prim is the one that Kelbo writes for this material. */
export function isNetworkOf(
  prim: StagePrim,
  material: Material,
  primvar: (uvSet: string) => string,
): boolean {
  const graph = networkOf(material, primvar)
  if (!graph) return false
  const [own, found] = [factsOfGraph(graph), factsOfPrims(prim)]
  return own.length === found.length && own.every((fact, at) => fact === found[at])
}
