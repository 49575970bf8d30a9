import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import type { Mesh, UvSet } from '../../scene/mesh.ts'
import { islandsInSet } from '../../uv/islands/laid-island.ts'
import { placeByHand, type Alignment, type HandMove, type Pivot } from '../../uv/islands/place-by-hand.ts'
import { pullIsland } from '../../uv/islands/pull-island.ts'
import { uvAreas } from '../../uv/uv-measures.ts'
import { changeMeshes, chosenFaces, outcome, type StepContext, type StepDescriptor } from '../step.ts'
import { chosenMeshes, setNamed, UV_SET } from '../shared/place-on-tiles.ts'

const tiles = (id: string, title: string) =>
  ({ id, title, kind: 'number', unit: 'tiles', default: 0, min: -1000, max: 1000 }) as const
const times = (id: string, title: string) =>
  ({ id, title, kind: 'number', unit: 'times', default: 1, min: 0.0001, max: 10000 }) as const

export const moveUvs: StepDescriptor = {
  id: 'move-uvs',
  area: 'uvs',
  title: 'Move the UVs',
  description:
    'Mirrors, scales, turns, lines up and moves chosen islands as wholes, or chosen corners by themselves, by figures.',
  changes: ['uvs'],
  parameters: [
    {
      id: 'what',
      title: 'What moves',
      kind: 'choice',
      default: 'islands',
      choices: [
        { value: 'islands', title: 'whole islands' },
        { value: 'corners', title: 'chosen corners alone' },
      ],
    },
    tiles('moveU', 'To the right'),
    tiles('moveV', 'Up'),
    {
      id: 'turn',
      title: 'Turned to the left',
      kind: 'number',
      unit: 'degrees',
      default: 0,
      min: -360,
      max: 360,
    },
    times('scaleU', 'Wider'),
    times('scaleV', 'Taller'),
    {
      id: 'mirror',
      title: 'Mirrored',
      kind: 'choice',
      default: 'none',
      choices: [
        { value: 'none', title: 'no' },
        { value: 'u', title: 'left and right' },
        { value: 'v', title: 'up and down' },
      ],
    },
    {
      id: 'about',
      title: 'About the middle of',
      kind: 'choice',
      default: 'all',
      choices: [
        { value: 'all', title: 'all of them' },
        { value: 'each', title: 'each one' },
        { value: 'tile', title: 'the tile' },
      ],
    },
    {
      id: 'align',
      title: 'Lined up',
      kind: 'choice',
      default: 'none',
      choices: [
        { value: 'none', title: 'no' },
        { value: 'left', title: 'at the left' },
        { value: 'right', title: 'at the right' },
        { value: 'bottom', title: 'at the bottom' },
        { value: 'top', title: 'at the top' },
        { value: 'middleU', title: 'one above the other, by their middles' },
        { value: 'middleV', title: 'side by side, by their middles' },
      ],
    },
    {
      id: 'rest',
      title: 'What lies around',
      kind: 'choice',
      default: 'stays',
      choices: [
        { value: 'stays', title: 'stays' },
        { value: 'givesWay', title: 'gives way' },
      ],
      when: [{ option: 'what', is: ['corners'] }],
    },
    {
      id: 'reach',
      title: 'As far as',
      kind: 'number',
      unit: 'tiles',
      default: 0.1,
      min: 0,
      max: 1000,
      when: [{ option: 'rest', is: ['givesWay'] }],
    },
    UV_SET,
  ],
  run: (context) => {
    const name = context.text('set')
    const isWhole = context.text('what') === 'islands'
    if (!isWhole && !context.only)
      return outcome(context.scene, 0, 'corners', { notes: ['No corners are chosen.'] })
    const movers = chosenMeshes(context).flatMap(({ mesh: index, node }) => {
      const mesh = context.scene.meshes[index]!
      const set = setNamed(mesh, name)
      return set
        ? [
            {
              index,
              things: isWhole ? islandUvs(context, mesh, set, node) : cornerUvs(context, mesh, set, node),
            },
          ]
        : []
    })
    const all = movers.flatMap(({ index, things }) => things.map((uvs) => ({ index, uvs })))
    if (all.length === 0) return outcome(context.scene, 0, 'corners')
    const valuesOf = ({ index, uvs }: { index: number; uvs: Uint32Array }): Float64Array => {
      const { values } = setNamed(context.scene.meshes[index]!, name)!
      return Float64Array.from({ length: 2 * uvs.length }, (_, at) => values[2 * uvs[at >> 1]! + (at & 1)]!)
    }
    const placed = placeByHand(all.map(valuesOf), handMoveOf(context))
    const byMesh = new Map<number, { uvs: Uint32Array; flat: Float64Array }[]>()
    all.forEach(({ index, uvs }, at) => {
      const own = byMesh.get(index) ?? []
      own.push({ uvs, flat: placed[at]! })
      byMesh.set(index, own)
    })
    return changeMeshes(context, 'corners', (mesh, facts, node) => {
      const moved = byMesh.get(context.scene.nodes[node]!.mesh)
      const set = setNamed(mesh, name)
      if (!moved || !set) return null
      const isMirrored = context.text('mirror') !== 'none'
      if (isWhole || context.text('rest') === 'stays') return movedIn(mesh, set, moved, isMirrored)
      const { all: drawn, notes } = givenWay(facts, set, moved, context.number('reach'))
      const change = movedIn(mesh, set, drawn, isMirrored)
      return change
        ? { ...change, notes: [...change.notes, ...notes] }
        : notes.length
          ? { mesh, changedCount: 0, notes }
          : null
    })
  },
}

const handMoveOf = (context: StepContext): HandMove => ({
  mirror: context.text('mirror') as HandMove['mirror'],
  scaleU: context.number('scaleU'),
  scaleV: context.number('scaleV'),
  turn: (context.number('turn') * Math.PI) / 180,
  about: context.text('about') as Pivot,
  align: context.text('align') as Alignment,
  moveU: context.number('moveU'),
  moveV: context.number('moveV'),
})

/** Numbers of the UVs of each chosen island. */
function islandUvs(context: StepContext, mesh: Mesh, set: UvSet, node: number): Uint32Array[] {
  const facts = context.factsOf(mesh)
  return islandsInSet(facts, set, chosenFaces(context, node, mesh)).map(({ net }) => {
    const uvs = new Set<number>()
    for (const face of Array.from(net.faces))
      for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++)
        uvs.add(set.indices[corner]!)
    return Uint32Array.from(uvs)
  })
}

/** Numbers of the UVs of chosen corners, of the ends of chosen edges or of chosen polygons; each moves by itself. */
function cornerUvs(context: StepContext, mesh: Mesh, set: UvSet, node: number): Uint32Array[] {
  const limit = context.only?.get(node)
  if (!limit) return []
  const uvs = new Set<number>()
  const add = (corner: number): void => {
    const uv = set.indices[corner]!
    if (uv >= 0 && Number.isFinite(set.values[2 * uv]! + set.values[2 * uv + 1]!)) uvs.add(uv)
  }
  if (limit.element === 'corners') for (const corner of limit.elements) add(corner)
  else {
    const points = new Set(limit.element === 'faces' ? [] : limit.elements)
    const faces = limit.element === 'faces' ? new Set(limit.elements) : null
    for (let face = 0; face + 1 < mesh.faceOffsets.length; face++)
      for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++)
        if (faces ? faces.has(face) : points.has(mesh.faceVertices[corner]!)) add(corner)
  }
  // turned and scaled together, lined up one by one
  return context.text('align') === 'none'
    ? uvs.size
      ? [Uint32Array.from(uvs)]
      : []
    : Array.from(uvs, (uv) => Uint32Array.of(uv))
}

/** Rounds of drawing corners on; most are there after a few. */
const PULL_ROUNDS = 60
/** Share of the way below which they are there. */
const THERE = 1e-6

/** Where everything lies when corners are drawn and what is near gives way. */
function givenWay(
  facts: MeshFacts,
  set: UvSet,
  moved: readonly { uvs: Uint32Array; flat: Float64Array }[],
  reach: number,
): { all: { uvs: Uint32Array; flat: Float64Array }[]; notes: string[] } {
  const { mesh } = facts
  const targetOf = new Map<number, readonly [number, number]>()
  for (const { uvs, flat } of moved)
    uvs.forEach((uv, at) => targetOf.set(uv, [flat[2 * at]!, flat[2 * at + 1]!]))
  const all: { uvs: Uint32Array; flat: Float64Array }[] = []
  let [short, folded] = [0, 0]
  for (const island of islandsInSet(facts, set)) {
    const { net } = island
    const uvOf = new Map<number, number>()
    const vertexOf = new Map<number, number>()
    for (let at = 0; at < net.faces.length; at++) {
      const start = mesh.faceOffsets[net.faces[at]!]! - net.faceStarts[at]!
      for (let k = net.faceStarts[at]!; k < net.faceStarts[at + 1]!; k++) {
        vertexOf.set(set.indices[start + k]!, net.vertices[k]!)
        uvOf.set(net.vertices[k]!, set.indices[start + k]!)
      }
    }
    const dragged = [...uvOf].filter(([, uv]) => targetOf.has(uv)).map(([vertex]) => vertex)
    if (dragged.length === 0) continue
    const pull = pullIsland(facts, island, dragged, reach, 'leastDistortion')
    if (!pull) {
      folded++
      continue
    }
    const targets = Float64Array.from(dragged.flatMap((vertex) => [...targetOf.get(uvOf.get(vertex)!)!]))
    const way = dragged.reduce(
      (most, vertex, at) =>
        Math.max(
          most,
          Math.hypot(
            targets[2 * at]! - island.flat[2 * vertex]!,
            targets[2 * at + 1]! - island.flat[2 * vertex + 1]!,
          ),
        ),
      0,
    )
    const { flat, left } = pull.to(targets, PULL_ROUNDS)
    if (left > THERE * way) short++
    const uvs = Uint32Array.from(vertexOf.keys())
    all.push({
      uvs,
      flat: Float64Array.from(
        [...vertexOf.values()].flatMap((vertex) => [flat[2 * vertex]!, flat[2 * vertex + 1]!]),
      ),
    })
  }
  return {
    all,
    notes: [
      ...(short
        ? [`“${mesh.name}”: corners were drawn as far as no polygon turns over, and no farther.`]
        : []),
      ...(folded
        ? [
            `“${mesh.name}”: ${folded === 1 ? 'an island is' : `${folded} islands are`} folded already and can’t give way; unfold by relaxing first.`,
          ]
        : []),
    ],
  }
}

function movedIn(
  mesh: Mesh,
  set: UvSet,
  moved: readonly { uvs: Uint32Array; flat: Float64Array }[],
  isMirrored: boolean,
) {
  const values = set.values.slice()
  const changed = new Set<number>()
  for (const { uvs, flat } of moved)
    uvs.forEach((uv, at) => {
      if (values[2 * uv] === flat[2 * at] && values[2 * uv + 1] === flat[2 * at + 1]) return
      values[2 * uv] = flat[2 * at]!
      values[2 * uv + 1] = flat[2 * at + 1]!
      changed.add(uv)
    })
  const elements: number[] = []
  set.indices.forEach((uv, corner) => {
    if (changed.has(uv)) elements.push(corner)
  })
  if (elements.length === 0) return null
  const put: UvSet = { ...set, values }
  const uvSets = mesh.uvSets.map((own) => (own === set ? put : own))
  const [before, after] = [uvAreas(mesh, set), uvAreas(mesh, put)]
  let [over, flatNow] = [0, 0]
  for (let face = 0; face < before.length; face++) {
    if (before[face]! > 0 && after[face]! < 0) over++
    else if (before[face] !== 0 && after[face] === 0) flatNow++
  }
  const many = (count: number): string => (count === 1 ? 'one polygon lies' : `${count} polygons lie`)
  return {
    mesh: { ...mesh, uvSets },
    changedCount: elements.length,
    element: 'corners' as const,
    elements,
    notes: over && isMirrored ? [`“${mesh.name}”: ${many(over)} mirrored now.`] : [],
    warning:
      flatNow || (over && !isMirrored)
        ? `“${mesh.name}”: ${[over && !isMirrored ? `${many(over)} turned over` : '', flatNow ? `${many(flatNow)} without area` : ''].filter(Boolean).join(' and ')} then.`
        : null,
  }
}
