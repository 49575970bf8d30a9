/** How a mesh is refined, and what stays sharp then. Source: OpenUSD, UsdGeomMesh; sharpness as OpenSubdiv has it. */
import type { MessageCollector } from '../../base/messages/collector.ts'
import type { Creases, Subdivision } from '../../scene/mesh.ts'
import type { StagePrim } from './compose.ts'
import { numbersIn, textIn } from './read-transform.ts'

export function readCreases(prim: StagePrim, pointCount: number, messages: MessageCollector): Creases | null {
  const indices = numbersIn(prim, 'creaseIndices') ?? new Float64Array(0)
  const lengths = numbersIn(prim, 'creaseLengths') ?? new Float64Array(0)
  const sharpness = numbersIn(prim, 'creaseSharpnesses') ?? new Float64Array(0)
  const cornerIndices = numbersIn(prim, 'cornerIndices') ?? new Float64Array(0)
  const cornerSharpness = numbersIn(prim, 'cornerSharpnesses') ?? new Float64Array(0)
  const isPoint = (point: number | undefined): boolean =>
    point !== undefined && point >= 0 && point < pointCount && Number.isInteger(point)
  const edges: number[] = []
  const edgeSharpness: number[] = []
  // one for each chain, or one for each of its edges
  const byChain = sharpness.length === lengths.length
  let left = 0
  let at = 0
  let edge = 0
  lengths.forEach((length, chain) => {
    // a chain ends with the list, however long it says that it is
    for (let k = 0; k + 1 < length && at + k < indices.length; k++, edge++) {
      const [a, b] = [indices[at + k], indices[at + k + 1]]
      const value = sharpness[byChain ? chain : edge]
      if (!isPoint(a) || !isPoint(b) || value === undefined) left++
      else {
        edges.push(a!, b!)
        edgeSharpness.push(value)
      }
    }
    at += length
  })
  const corners: number[] = []
  const ofCorner: number[] = []
  cornerIndices.forEach((point, index) => {
    const value = cornerSharpness[cornerSharpness.length === 1 ? 0 : index]
    if (!isPoint(point) || value === undefined) left++
    else {
      corners.push(point)
      ofCorner.push(value)
    }
  })
  if (left > 0)
    messages.add('usd.values', {
      name: prim.name,
      what: `${left} of its creases`,
      found: edgeSharpness.length + corners.length,
      wanted: edgeSharpness.length + corners.length + left,
    })
  if (edges.length + corners.length === 0) return null
  return {
    edgePoints: Uint32Array.from(edges),
    edgeSharpness: Float64Array.from(edgeSharpness),
    cornerPoints: Uint32Array.from(corners),
    cornerSharpness: Float64Array.from(ofCorner),
  }
}

const SCHEMES: Readonly<Record<string, 'catmull-clark' | 'loop' | 'bilinear' | undefined>> = {
  catmullClark: 'catmull-clark',
  loop: 'loop',
  bilinear: 'bilinear',
}

export function readSubdivision(prim: StagePrim): Subdivision {
  const stated = textIn(prim, 'subdivisionScheme')
  // what a file doesn’t say is Catmull-Clark, as the schema has it
  const scheme = stated === '' ? 'catmull-clark' : SCHEMES[stated]
  if (scheme === undefined) return { scheme: 'none', levels: 0 }
  const boundary = textIn(prim, 'interpolateBoundary')
  return {
    scheme,
    levels: 0,
    ...(boundary === 'edgeOnly' ? { boundary: 'edge-only' as const } : {}),
    ...(boundary === 'edgeAndCorner' ? { boundary: 'edge-and-corner' as const } : {}),
  }
}
