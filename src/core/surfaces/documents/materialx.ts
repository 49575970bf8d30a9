/** Materials as a MaterialX document. Source: MaterialX 1.39 specification (elements). */
import type { RemappedMaterial } from '../remap/remapped-material.ts'
import { escapeXml } from './escape-xml.ts'
import { materialGraph, uniqueNames, type GraphInput, type GraphNode, type MaterialGraph, type SurfaceInput } from './material-graph.ts' // prettier-ignore

const attribute = (name: string, value: string): string => ` ${name}="${escapeXml(value)}"`

const nodeInput = ({ name, type, value, node, colorSpace }: GraphInput): string =>
  `<input name="${name}" type="${type}"${node === undefined ? attribute('value', value ?? '') : attribute('nodename', node)}${colorSpace ? attribute('colorspace', colorSpace) : ''} />`

const nodeLines = ({ category, name, type, inputs }: GraphNode): string[] => [
  `<${category} name="${name}" type="${type}">`,
  ...inputs.map((input) => `  ${nodeInput(input)}`),
  `</${category}>`,
]

const indented = (lines: readonly string[], depth: number): string[] =>
  lines.map((line) => `${'  '.repeat(depth)}${line}`)

function materialLines({ name, nodesName, nodes, outputs, surface, displacement }: MaterialGraph): string[] {
  const surfaceInput = (input: SurfaceInput): string =>
    'output' in input
      ? `<input name="${input.name}" type="${input.type}" nodegraph="${nodesName}" output="${input.output}" />`
      : `<input name="${input.name}" type="${input.type}"${attribute('value', input.value)} />`
  // each map's output stands behind its nodes
  const graph: string[] = []
  const waiting = [...outputs]
  for (const node of nodes) {
    graph.push(...nodeLines(node))
    while (waiting[0]?.node === node.name) {
      const output = waiting.shift()!
      graph.push(`<output name="${output.name}" type="${output.type}" nodename="${output.node}" />`)
    }
  }
  return [
    ...(graph.length ? [`<nodegraph name="${nodesName}">`, ...indented(graph, 1), '</nodegraph>'] : []),
    `<${surface.category} name="${surface.name}" type="surfaceshader">`,
    ...indented(surface.inputs.map(surfaceInput), 1),
    `</${surface.category}>`,
    ...(displacement
      ? [
          `<displacement name="${displacement.name}" type="displacementshader">`,
          ...indented(displacement.inputs.map(surfaceInput), 1),
          '</displacement>',
        ]
      : []),
    `<surfacematerial name="${name}" type="material">`,
    `  <input name="surfaceshader" type="surfaceshader" nodename="${surface.name}" />`,
    ...(displacement
      ? [`  <input name="displacementshader" type="displacementshader" nodename="${displacement.name}" />`]
      : []),
    '</surfacematerial>',
  ]
}

/** @returns null where the target has no node in the standard. */
export function writeMaterialX(materials: readonly RemappedMaterial[]): string | null {
  if (materials.some(({ target }) => !target.materialX)) return null
  const unique = uniqueNames()
  return [
    '<?xml version="1.0"?>',
    '<materialx version="1.39" colorspace="lin_rec709">',
    ...indented(
      materials.flatMap((material) => materialLines(materialGraph(material, unique))),
      1,
    ),
    '</materialx>',
    '',
  ].join('\n')
}
