import type { Mesh } from '../../scene/mesh.ts'
import { worldMatrices } from '../../scene/world.ts'
import { applySimilarity } from '../../uv/islands/fit-flat.ts'
import { findTwinIslands } from '../../uv/islands/find-twin-islands.ts'
import { islandsInSet, outlineOf, type LaidIsland } from '../../uv/islands/laid-island.ts'
import { turnedBy, turnTo, upOf } from '../../uv/islands/turn-upright.ts'
import { outlineArea } from '../../uv/pack/outline.ts'
import { chosenFaces, outcome, type StepContext, type StepDescriptor } from '../step.ts'
import {
  chosenMeshes,
  evenScale,
  lockedIslands,
  MAP_SIZE,
  packTogether,
  PADDING,
  setNamed,
  UV_SET,
  worldScale,
  writeIslands,
  type MeshIslands,
} from '../shared/place-on-tiles.ts'

export const packIslands: StepDescriptor = {
  id: 'pack-islands',
  area: 'uvs',
  title: 'Pack the islands',
  description:
    'Lays islands side by side by their outlines, as large as they fit, with room between them. Their shapes and seams stay.',
  changes: ['uvs'],
  parameters: [
    PADDING,
    MAP_SIZE,
    {
      id: 'turn',
      title: 'Turn islands',
      kind: 'choice',
      default: 'free',
      choices: [
        { value: 'none', title: 'not at all' },
        { value: 'upright', title: 'upright as on the part' },
        { value: 'free', title: 'as they need least room' },
      ],
    },
    {
      id: 'density',
      title: 'Texel density',
      kind: 'choice',
      default: 'even',
      choices: [
        { value: 'even', title: 'the same everywhere' },
        { value: 'kept', title: 'as islands have it now' },
      ],
    },
    { id: 'tiles', title: 'Tiles', kind: 'number', default: 1, min: 1, max: 100, whole: true },
    {
      id: 'by',
      title: 'Into tiles by',
      kind: 'choice',
      default: 'room',
      choices: [
        { value: 'room', title: 'room' },
        { value: 'material', title: 'material' },
        { value: 'part', title: 'part' },
      ],
    },
    {
      id: 'stackTwins',
      title: 'Twins on each other',
      kind: 'choice',
      default: 'no',
      choices: [
        { value: 'no', title: 'no' },
        { value: 'yes', title: 'yes' },
        { value: 'mirrored', title: 'yes, mirrored ones too' },
      ],
    },
    UV_SET,
  ],
  run: (context) => {
    const name = context.text('set')
    const byMesh: { mesh: number; node: number; own: Mesh; islands: LaidIsland[]; scales: number[] }[] = []
    const without: string[] = []
    const others = lockedIslands(context, name)
    const locked = others.outlines
    for (const { mesh: index, node } of chosenMeshes(context)) {
      const mesh = context.scene.meshes[index]!
      const set = setNamed(mesh, name)
      if (!set) {
        if (mesh.faceOffsets.length > 1) without.push(mesh.name)
        continue
      }
      const facts = context.factsOf(mesh)
      const chosen = chosenFaces(context, node, mesh)
      const all = islandsInSet(facts, set)
      const islands = chosen ? islandsInSet(facts, set, chosen) : all
      const firsts = new Set(islands.map(({ net }) => net.faces[0]!))
      if (chosen) for (const one of all) if (!firsts.has(one.net.faces[0]!)) locked.push(outlineOf(one))
      const world = worldScale(context, node)
      const turned =
        context.text('turn') === 'upright'
          ? islands.map((island) =>
              turnedBy(
                island,
                turnTo(
                  'up',
                  island,
                  facts,
                  upOf(context.scene.space.upAxis, worldMatrices(context.scene)[node]!),
                ),
              ),
            )
          : islands
      const isEven = context.text('density') === 'even'
      byMesh.push({
        mesh: index,
        node,
        own: mesh,
        islands: turned,
        scales: turned.map((island) => (isEven ? evenScale(island, facts, world) : 1)),
      })
    }
    const notes = without.length
      ? [
          `${without
            .map((one) => `“${one}”`)
            .slice(0, 3)
            .join(
              ', ',
            )}${without.length > 3 ? ` and ${without.length - 3} more` : ''} ${without.length === 1 ? 'has' : 'have'} no such UVs and ${without.length === 1 ? 'was' : 'were'} left out.`,
        ]
      : []
    const islands = byMesh.flatMap((one) => one.islands)
    if (islands.length === 0) return outcome(context.scene, 0, 'polygons', { notes })
    const scales = byMesh.flatMap((one) => one.scales)
    const groups = groupsOf(context, byMesh, islands, scales)
    // twins go where the first of them goes
    const stack = context.text('stackTwins')
    const twins = stack === 'no' ? null : findTwinIslands(islands, scales, stack === 'mirrored')
    const firsts = islands.map((_, at) => !twins || twins[at]!.of === at)
    const given: MeshIslands[] = [
      {
        mesh: -1,
        node: -1,
        islands: islands.filter((_, at) => firsts[at]),
        scales: scales.filter((_, at) => firsts[at]),
        groups: groups.filter((_, at) => firsts[at]),
      },
    ]
    const packed = packTogether(given, {
      padding: context.number('padding') / context.number('mapSize'),
      turn: context.text('turn') === 'free' ? 'free' : 'none',
      scale: null,
      mostScale: context.text('density') === 'even' ? others.scale : null,
      // who packs for its own sake would rather wait than waste room
      patience: 4,
      locked,
    })
    const placed: LaidIsland[] = []
    let next = 0
    const placedFirsts = packed.islands.get(-1)!
    islands.forEach((_, at) => {
      if (firsts[at]) placed[at] = placedFirsts[next++]!
    })
    islands.forEach((island, at) => {
      if (firsts[at]) return
      const { of, by } = twins![at]!
      const sized = island.flat.map((value) => value * scales[at]!)
      // onto the first as it was, and with it to its place
      placed[at] = {
        ...island,
        flat: followTo(applySimilarity(sized, by!), islands[of]!, scales[of]!, placed[of]!),
      }
    })
    const islandsOf = new Map<number, LaidIsland[]>()
    let at = 0
    for (const one of byMesh) {
      islandsOf.set(one.mesh, placed.slice(at, at + one.islands.length))
      at += one.islands.length
    }
    const stacked = firsts.filter((first) => !first).length
    if (stacked)
      notes.push(`${stacked} ${stacked === 1 ? 'island lies on its twin' : 'islands lie on their twins'}.`)
    const done = writeIslands(context, islandsOf, (mesh) => {
      const set = setNamed(mesh, name)!
      return { name: set.name, before: set }
    })
    return { ...done, notes: [...packed.notes, ...notes, ...done.notes] }
  },
}

/** What lay as the first did before goes with it. */
function followTo(flat: Float64Array, first: LaidIsland, scale: number, placed: LaidIsland): Float64Array {
  // two corners far apart say how it went
  const count = first.flat.length / 2
  let [a, b] = [0, 0]
  for (let at = 1; at < count; at++)
    if (first.flat[2 * at]! < first.flat[2 * a]!) a = at
    else if (first.flat[2 * at]! > first.flat[2 * b]!) b = at
  if (first.flat[2 * a] === first.flat[2 * b])
    for (let at = 1; at < count; at++)
      if (first.flat[2 * at + 1]! < first.flat[2 * a + 1]!) a = at
      else if (first.flat[2 * at + 1]! > first.flat[2 * b + 1]!) b = at
  const of = (own: Float64Array, times: number): [number, number, number, number] => [
    own[2 * a]! * times,
    own[2 * a + 1]! * times,
    own[2 * b]! * times,
    own[2 * b + 1]! * times,
  ]
  const [pu, pv, qu, qv] = of(first.flat, scale)
  const [ru, rv, su, sv] = of(placed.flat, 1)
  const squared = (qu - pu) ** 2 + (qv - pv) ** 2 || 1
  const c = ((qu - pu) * (su - ru) + (qv - pv) * (sv - rv)) / squared
  const s = ((qu - pu) * (sv - rv) - (qv - pv) * (su - ru)) / squared
  const moved = new Float64Array(flat.length)
  for (let at = 0; at < flat.length; at += 2) {
    const [u, v] = [flat[at]! - pu, flat[at + 1]! - pv]
    moved[at] = c * u - s * v + ru
    moved[at + 1] = s * u + c * v + rv
  }
  return moved
}

/** Which tiles each island goes into. */
function groupsOf(
  context: StepContext,
  byMesh: readonly { mesh: number; own: Mesh; islands: LaidIsland[] }[],
  islands: readonly LaidIsland[],
  scales: readonly number[],
): number[] {
  const by = context.text('by')
  if (by === 'part') return byMesh.flatMap(({ islands: own }, at) => own.map(() => at))
  if (by === 'material')
    return byMesh.flatMap(({ own: mesh, islands: own }) =>
      own.map(({ net }) => mesh.faceMaterials?.[net.faces[0]!] ?? -1),
    )
  const tiles = context.number('tiles')
  if (tiles <= 1) return islands.map(() => 0)
  // the largest first, each where least is
  const areas = islands.map((island, at) => outlineArea(outlineOf(island)) * scales[at]! ** 2)
  const sums = new Float64Array(tiles)
  const groups = new Array<number>(islands.length).fill(0)
  for (const at of areas.map((_, number) => number).sort((a, b) => areas[b]! - areas[a]!)) {
    let least = 0
    for (let tile = 1; tile < tiles; tile++) if (sums[tile]! < sums[least]!) least = tile
    groups[at] = least
    sums[least]! += areas[at]!
  }
  return groups
}
