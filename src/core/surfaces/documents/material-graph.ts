/**
 * A material as a network of nodes, as the standard library of MaterialX has them: what a document of it holds, and what
 * other files hold that take its nodes over. Source: MaterialX 1.39 specification (nodes `image`, `normalmap`, `extract`,
 * `invert`, `mix`, `multiply`, `displacement`; file names with `<UDIM>`) and the nodedefs of its standard library.
 */
import { difference } from '../convert/convert-surface.ts'
import type { SurfaceParameter, SurfaceValue } from '../model.ts'
import { PLAIN_PLACEMENT, type MapUse } from '../remap/map-use.ts'
import type { RemappedMaterial, RemappedParameter } from '../remap/remapped-material.ts'

export type GraphType =
  'color3' | 'color4' | 'float' | 'boolean' | 'integer' | 'vector2' | 'vector3' | 'filename' | 'string'

/** An input of a node: a value as text, numbers with commas between; or what another node gives. */
export interface GraphInput {
  readonly name: string
  readonly type: GraphType
  readonly value?: string
  readonly node?: string
  readonly colorSpace?: string
}

export interface GraphNode {
  readonly category: string
  readonly name: string
  readonly type: GraphType
  readonly inputs: readonly GraphInput[]
}

/** An input of a surface: a value, or an output of the material's nodes. */
export type SurfaceInput =
  | { readonly name: string; readonly type: GraphType; readonly value: string }
  | { readonly name: string; readonly type: GraphType; readonly output: string }

export interface MaterialGraph {
  readonly name: string
  /** Nodes and outputs that lie together under this name. */
  readonly nodesName: string
  readonly nodes: readonly GraphNode[]
  readonly outputs: readonly { readonly name: string; readonly type: GraphType; readonly node: string }[]
  readonly surface: {
    readonly category: string
    readonly name: string
    readonly inputs: readonly SurfaceInput[]
  }
  /** A height is no input of a surface: it hangs beside it at the material. */
  readonly displacement: { readonly name: string; readonly inputs: readonly SurfaceInput[] } | null
}

/** Gives names that nothing else has. */
export type UniqueNames = (wish: string) => string

/** Names are letters, digits and underscores, and don't begin with a digit. */
export function uniqueNames(): UniqueNames {
  const taken = new Set<string>()
  return (wish) => {
    const plain = wish
      .normalize('NFKD')
      .replace(/[^A-Za-z0-9_]/g, '_')
      .replace(/^(?=\d|$)/, '_')
    let name = plain
    for (let number = 2; taken.has(name); number++) name = `${plain}_${number}`
    taken.add(name)
    return name
  }
}

const number = (value: number): string => String(Number(value.toPrecision(15)))

function valueText(value: SurfaceValue, type: GraphType, parameter: SurfaceParameter): string {
  if (type === 'integer')
    return typeof value === 'string'
      ? String(Math.max(0, parameter.choices?.indexOf(value) ?? 0))
      : String(Math.round(Number(value)))
  if (type === 'boolean') return String(value === true || value === 1)
  return Array.isArray(value) ? (value as number[]).map(number).join(', ') : number(Number(value))
}

const said = (name: string, type: GraphType, value: string): GraphInput => ({ name, type, value })
const from = (name: string, type: GraphType, node: string): GraphInput => ({ name, type, node })

/** The nodes that give one map's values, and the name of the last of them. */
function mapNodes(
  use: MapUse,
  name: string,
  type: 'color3' | 'float' | 'vector3',
  value: SurfaceValue | null,
  normalIsVector: boolean,
  unique: UniqueNames,
): { nodes: GraphNode[]; last: string } {
  const nodes: GraphNode[] = []
  const node = (
    category: string,
    own: string,
    nodeType: GraphType,
    inputs: readonly GraphInput[],
  ): string => {
    nodes.push({ category, name: unique(own), type: nodeType, inputs })
    return nodes.at(-1)!.name
  }
  const isVector = type === 'vector3'
  const isOneOf = use.channel !== 'rgb'
  const imageType = isVector
    ? 'vector3'
    : use.channel === 'a'
      ? 'color4'
      : isOneOf || type === 'color3'
        ? 'color3'
        : 'float'
  const inputs: GraphInput[] = [
    {
      ...said('file', 'filename', use.file.replace(/\\/g, '/')),
      ...(use.colorSpace === 'sRGB' && !isVector ? { colorSpace: 'srgb_texture' } : {}),
    },
  ]
  const { wrapU, wrapV, scale: tiling, offset } = use.placement ?? PLAIN_PLACEMENT
  const isMoved = tiling.some((one) => one !== 1) || offset.some((one) => one !== 0)
  if (use.uvSet || isMoved) {
    let uv = use.uvSet
      ? node('geompropvalue', `${name}_uv`, 'vector2', [said('geomprop', 'string', use.uvSet)])
      : node('texcoord', `${name}_uv`, 'vector2', [said('index', 'integer', '0')])
    for (const [category, word, own] of [
      ['multiply', 'tiled', tiling],
      ['add', 'moved', offset],
    ] as const)
      if (isMoved)
        uv = node(category, `${name}_${word}`, 'vector2', [
          from('in1', 'vector2', uv),
          said('in2', 'vector2', own.map(number).join(', ')),
        ])
    inputs.push(from('texcoord', 'vector2', uv))
  }
  if (wrapU === 'clamp') inputs.push(said('uaddressmode', 'string', 'clamp'))
  if (wrapV === 'clamp') inputs.push(said('vaddressmode', 'string', 'clamp'))
  let last = node('image', `${name}_image`, imageType, inputs)
  if (isVector) {
    const worked = (category: string, word: string, by: string): string =>
      node(category, `${name}_${word}`, 'vector3', [from('in1', 'vector3', last), said('in2', 'vector3', by)])
    if (use.direction === 'down') {
      last = worked('multiply', 'turned', '1, -1, 1')
      last = worked('add', 'up', '0, 1, 0')
    }
    if (normalIsVector) {
      last = worked('multiply', 'doubled', '2, 2, 2')
      last = worked('subtract', 'vector', '1, 1, 1')
      return { nodes, last }
    }
    last = node('normalmap', `${name}_normals`, 'vector3', [
      from('in', 'vector3', last),
      ...(use.amount === 1 ? [] : [said('scale', 'float', number(use.amount))]),
    ])
    return { nodes, last }
  }
  if (isOneOf) {
    last = node('extract', `${name}_channel`, 'float', [
      from('in', imageType, last),
      said('index', 'integer', String('rgba'.indexOf(use.channel))),
    ])
    if (type === 'color3') last = node('convert', `${name}_grey`, 'color3', [from('in', 'float', last)])
  }
  if (use.inverted) last = node('invert', `${name}_inverted`, type, [from('in', type, last)])
  const scale = typeof value === 'number' ? [value] : Array.isArray(value) ? (value as number[]) : []
  if (use.isTimesValue && scale.some((one) => one !== 1))
    last = node('multiply', `${name}_times`, type, [
      from('in1', type, last),
      said('in2', type, scale.map(number).join(', ')),
    ])
  if (use.amount !== 1)
    last = node('mix', `${name}_share`, type, [
      from('fg', type, last),
      said('bg', type, (scale.length ? scale : type === 'color3' ? [1, 1, 1] : [1]).map(number).join(', ')),
      said('mix', 'float', number(use.amount)),
    ])
  return { nodes, last }
}

/** The network of a material; its target has a node in the standard. */
export function materialGraph(material: RemappedMaterial, unique: UniqueNames): MaterialGraph {
  const { target, parameters } = material
  const { category, without = [], integers = [], normalIsVector = false } = target.materialX!
  const nodes: GraphNode[] = []
  const outputs: { name: string; type: GraphType; node: string }[] = []
  const inputs: SurfaceInput[] = []
  let displacement: MaterialGraph['displacement'] = null
  const name = unique(material.name)
  const nodesName = unique(`${material.name}_maps`)
  const shader = unique(`${material.name}_surface`)
  const parameterOf = (row: RemappedParameter): SurfaceParameter =>
    target.parameters.find((own) => (own.name ?? own.mapName) === row.parameter)!
  const displaced = unique(`${material.name}_displacement`)
  for (const row of parameters) {
    const parameter = parameterOf(row)
    if (without.includes(row.parameter)) continue
    const isNormal = row.slot === 'normal' || row.slot === 'clearcoatNormal'
    const type = integers.includes(row.parameter)
      ? 'integer'
      : isNormal
        ? 'vector3'
        : parameter.kind === 'boolean'
          ? 'boolean'
          : parameter.width === 3
            ? 'color3'
            : 'float'
    const isDisplacement = row.slot === 'displacement' && parameter.name === null
    if (!row.map || type === 'boolean' || type === 'integer') {
      // what the node has by itself need not be said
      if (row.value === null || difference(row.value, parameter.standard ?? undefined) === 0) continue
      inputs.push({ name: row.parameter, type, value: valueText(row.value, type, parameter) })
      continue
    }
    const own = `${material.name}_${parameter.name ?? parameter.mapName}`
    const made = mapNodes(row.map, own, type, row.value, normalIsVector, unique)
    nodes.push(...made.nodes)
    // inputs are named by the node's words; a map alone has its own
    const word =
      isNormal && category === 'gltf_pbr'
        ? row.slot === 'normal'
          ? 'normal'
          : 'clearcoat_normal'
        : row.parameter
    const output = unique(`${own}_output`)
    outputs.push({ name: output, type, node: made.last })
    if (!isDisplacement) inputs.push({ name: word, type, output })
    else
      displacement = {
        name: displaced,
        inputs: [
          { name: 'displacement', type, output },
          { name: 'scale', type: 'float', value: number(row.map.amount) },
        ],
      }
  }
  return {
    name,
    nodesName,
    nodes,
    outputs,
    surface: { category, name: shader, inputs },
    displacement,
  }
}
