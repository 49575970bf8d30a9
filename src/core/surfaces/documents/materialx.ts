/**
 * Materials as a MaterialX document. Source: MaterialX 1.39 specification (elements, nodes `image`, `normalmap`,
 * `extract`, `invert`, `mix`, `multiply`, `displacement`, `surfacematerial`; file names with `<UDIM>`) and the nodedefs
 * of its standard library.
 */
import { difference } from '../convert/convert-surface.ts'
import type { SurfaceParameter, SurfaceValue } from '../model.ts'
import { PLAIN_PLACEMENT, type MapUse } from '../remap/map-use.ts'
import type { RemappedMaterial, RemappedParameter } from '../remap/remapped-material.ts'
import { escapeXml } from './escape-xml.ts'

interface Names {
  /** A name of the document's own kind that nothing else has. */
  readonly unique: (wish: string) => string
}

/** Names are letters, digits and underscores, and don't begin with a digit. */
function documentNames(): Names {
  const taken = new Set<string>()
  return {
    unique: (wish) => {
      const plain = wish
        .normalize('NFKD')
        .replace(/[^A-Za-z0-9_]/g, '_')
        .replace(/^(?=\d|$)/, '_')
      let name = plain
      for (let number = 2; taken.has(name); number++) name = `${plain}_${number}`
      taken.add(name)
      return name
    },
  }
}

type Type = 'color3' | 'float' | 'boolean' | 'integer' | 'vector3'

const number = (value: number): string => String(Number(value.toPrecision(15)))

function valueText(value: SurfaceValue, type: Type, parameter: SurfaceParameter): string {
  if (type === 'integer')
    return typeof value === 'string'
      ? String(Math.max(0, parameter.choices?.indexOf(value) ?? 0))
      : String(Math.round(Number(value)))
  if (type === 'boolean') return String(value === true || value === 1)
  return Array.isArray(value) ? (value as number[]).map(number).join(', ') : number(Number(value))
}

const attribute = (name: string, value: string): string => ` ${name}="${escapeXml(value)}"`
const input = (name: string, type: string, how: string, value: string, more = ''): string =>
  `<input name="${name}" type="${type}"${attribute(how, value)}${more} />`

/** The nodes that give one map's values, and the name of the last of them. */
function mapNodes(
  use: MapUse,
  name: string,
  type: 'color3' | 'float' | 'vector3',
  value: SurfaceValue | null,
  normalIsVector: boolean,
  names: Names,
): { lines: string[]; last: string } {
  const lines: string[] = []
  const node = (category: string, own: string, nodeType: string, inputs: readonly string[]): string => {
    const unique = names.unique(own)
    lines.push(
      `<${category} name="${unique}" type="${nodeType}">`,
      ...inputs.map((one) => `  ${one}`),
      `</${category}>`,
    )
    return unique
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
  const space = use.colorSpace === 'sRGB' && !isVector ? attribute('colorspace', 'srgb_texture') : ''
  const inputs = [input('file', 'filename', 'value', use.file.replace(/\\/g, '/'), space)]
  const { wrapU, wrapV, scale: tiling, offset } = use.placement ?? PLAIN_PLACEMENT
  const isMoved = tiling.some((one) => one !== 1) || offset.some((one) => one !== 0)
  if (use.uvSet || isMoved) {
    let uv = use.uvSet
      ? node('geompropvalue', `${name}_uv`, 'vector2', [input('geomprop', 'string', 'value', use.uvSet)])
      : node('texcoord', `${name}_uv`, 'vector2', [input('index', 'integer', 'value', '0')])
    for (const [category, word, own] of [
      ['multiply', 'tiled', tiling],
      ['add', 'moved', offset],
    ] as const)
      if (isMoved)
        uv = node(category, `${name}_${word}`, 'vector2', [
          input('in1', 'vector2', 'nodename', uv),
          input('in2', 'vector2', 'value', own.map(number).join(', ')),
        ])
    inputs.push(input('texcoord', 'vector2', 'nodename', uv))
  }
  if (wrapU === 'clamp') inputs.push(input('uaddressmode', 'string', 'value', 'clamp'))
  if (wrapV === 'clamp') inputs.push(input('vaddressmode', 'string', 'value', 'clamp'))
  let last = node('image', `${name}_image`, imageType, inputs)
  if (isVector) {
    if (use.direction === 'down') {
      last = node('multiply', `${name}_turned`, 'vector3', [
        input('in1', 'vector3', 'nodename', last),
        input('in2', 'vector3', 'value', '1, -1, 1'),
      ])
      last = node('add', `${name}_up`, 'vector3', [
        input('in1', 'vector3', 'nodename', last),
        input('in2', 'vector3', 'value', '0, 1, 0'),
      ])
    }
    if (normalIsVector) {
      last = node('multiply', `${name}_doubled`, 'vector3', [
        input('in1', 'vector3', 'nodename', last),
        input('in2', 'vector3', 'value', '2, 2, 2'),
      ])
      last = node('subtract', `${name}_vector`, 'vector3', [
        input('in1', 'vector3', 'nodename', last),
        input('in2', 'vector3', 'value', '1, 1, 1'),
      ])
      return { lines, last }
    }
    return {
      lines,
      last: node('normalmap', `${name}_normals`, 'vector3', [
        input('in', 'vector3', 'nodename', last),
        ...(use.amount === 1 ? [] : [input('scale', 'float', 'value', number(use.amount))]),
      ]),
    }
  }
  if (isOneOf) {
    last = node('extract', `${name}_channel`, 'float', [
      input('in', imageType, 'nodename', last),
      input('index', 'integer', 'value', String('rgba'.indexOf(use.channel))),
    ])
    if (type === 'color3')
      last = node('convert', `${name}_grey`, 'color3', [input('in', 'float', 'nodename', last)])
  }
  if (use.inverted) last = node('invert', `${name}_inverted`, type, [input('in', type, 'nodename', last)])
  const scale = typeof value === 'number' ? [value] : Array.isArray(value) ? (value as number[]) : []
  if (use.isTimesValue && scale.some((one) => one !== 1))
    last = node('multiply', `${name}_times`, type, [
      input('in1', type, 'nodename', last),
      input('in2', type, 'value', scale.map(number).join(', ')),
    ])
  if (use.amount !== 1)
    last = node('mix', `${name}_share`, type, [
      input('fg', type, 'nodename', last),
      input(
        'bg',
        type,
        'value',
        (scale.length ? scale : type === 'color3' ? [1, 1, 1] : [1]).map(number).join(', '),
      ),
      input('mix', 'float', 'value', number(use.amount)),
    ])
  return { lines, last }
}

const indented = (lines: readonly string[], depth: number): string[] =>
  lines.map((line) => `${'  '.repeat(depth)}${line}`)

function materialLines(material: RemappedMaterial, names: Names): string[] {
  const { target, parameters } = material
  const { category, without = [], integers = [], normalIsVector = false } = target.materialX!
  const graph: string[] = []
  const inputs: string[] = []
  let displacement: string[] = []
  const materialName = names.unique(material.name)
  const graphName = names.unique(`${material.name}_maps`)
  const shader = names.unique(`${material.name}_surface`)
  const parameterOf = (row: RemappedParameter): SurfaceParameter =>
    target.parameters.find(({ name, mapName }) => (name ?? mapName) === row.parameter)!
  const displaced = names.unique(`${material.name}_displacement`)
  for (const row of parameters) {
    const parameter = parameterOf(row)
    if (without.includes(row.parameter)) continue
    const isNormal = row.slot === 'normal' || row.slot === 'clearcoatNormal'
    const type: Type = integers.includes(row.parameter)
      ? 'integer'
      : isNormal
        ? 'vector3'
        : parameter.kind === 'boolean'
          ? 'boolean'
          : parameter.width === 3
            ? 'color3'
            : 'float'
    // a height is no input of a surface: it hangs beside it at the material
    const isDisplacement = row.slot === 'displacement' && parameter.name === null
    if (!row.map || type === 'boolean' || type === 'integer') {
      // what the node has by itself need not be said
      if (row.value === null || difference(row.value, parameter.standard ?? undefined) === 0) continue
      inputs.push(input(row.parameter, type, 'value', valueText(row.value, type, parameter)))
      continue
    }
    const name = `${material.name}_${parameter.name ?? parameter.mapName}`
    const { lines, last } = mapNodes(row.map, name, type, row.value, normalIsVector, names)
    graph.push(...lines)
    // inputs are named by the node's words; a map alone has its own
    const word =
      isNormal && category === 'gltf_pbr'
        ? row.slot === 'normal'
          ? 'normal'
          : 'clearcoat_normal'
        : row.parameter
    const output = names.unique(`${name}_output`)
    graph.push(`<output name="${output}" type="${type}" nodename="${last}" />`)
    const link = `<input name="${word}" type="${type}" nodegraph="${graphName}" output="${output}" />`
    if (!isDisplacement) inputs.push(link)
    else
      displacement = [
        `<displacement name="${displaced}" type="displacementshader">`,
        `  <input name="displacement" type="${type}" nodegraph="${graphName}" output="${output}" />`,
        `  ${input('scale', 'float', 'value', number(row.map.amount))}`,
        '</displacement>',
      ]
  }
  return [
    ...(graph.length ? [`<nodegraph name="${graphName}">`, ...indented(graph, 1), '</nodegraph>'] : []),
    `<${category} name="${shader}" type="surfaceshader">`,
    ...indented(inputs, 1),
    `</${category}>`,
    ...displacement,
    `<surfacematerial name="${materialName}" type="material">`,
    `  <input name="surfaceshader" type="surfaceshader" nodename="${shader}" />`,
    ...(displacement.length
      ? [`  <input name="displacementshader" type="displacementshader" nodename="${displaced}" />`]
      : []),
    '</surfacematerial>',
  ]
}

/** @returns null where the target has no node in the standard. */
export function writeMaterialX(materials: readonly RemappedMaterial[]): string | null {
  if (materials.some(({ target }) => !target.materialX)) return null
  const names = documentNames()
  return [
    '<?xml version="1.0"?>',
    '<materialx version="1.39" colorspace="lin_rec709">',
    ...indented(
      materials.flatMap((material) => materialLines(material, names)),
      1,
    ),
    '</materialx>',
    '',
  ].join('\n')
}
