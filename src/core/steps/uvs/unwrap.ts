import { invertAffine, meanScale, transformPoints, type Matrix } from '../../base/math/matrix.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { axisVector } from '../../scene/space.ts'
import { worldMatrices } from '../../scene/world.ts'
import { isMapped } from '../../uv/uv-measures.ts'
import type { FlattenMethod } from '../../uv/flatten/distortion.ts'
import { islandsInSet, outlineOf, type LaidIsland } from '../../uv/islands/laid-island.ts'
import { layFaces, type LaidFaces } from '../../uv/islands/lay-faces.ts'
import { layTwin } from '../../uv/islands/lay-twin.ts'
import { findTwins, isRigid } from '../../compare/match/find-twins.ts'
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { between, edgesWithPoints, givenSeams, type GivenSeams } from '../../uv/seams/given-seams.ts'
import type { Outline } from '../../uv/pack/outline.ts'
import { chosenFaces, outcome, type StepContext, type StepDescriptor } from '../step.ts'
import {
  chosenMeshes,
  evenScale,
  FLATTEN_METHODS,
  lockedIslands,
  MAP_SIZE,
  NEW_SET_NAME,
  packTogether,
  PADDING,
  setNamed,
  UV_SET,
  worldScale,
  writeIslands,
  type MeshIslands,
} from '../shared/place-on-tiles.ts'

/** Rounds of relaxation; islands are done long before. */
const ROUNDS = 60

export const unwrap: StepDescriptor = {
  id: 'unwrap',
  area: 'uvs',
  title: 'Unwrap',
  description:
    'Lays the surface flat along seams, found ones or those of edges, groups, materials, bends or UVs. Islands never turn over; all get one texel density, copies one layout.',
  changes: ['uvs'],
  parameters: [
    {
      id: 'seams',
      title: 'Seams',
      kind: 'choice',
      default: 'found',
      choices: [
        { value: 'found', title: 'found by themselves' },
        { value: 'chosen', title: 'chosen edges' },
        { value: 'hardEdges', title: 'hard edges' },
        { value: 'groups', title: 'borders of face groups' },
        { value: 'materials', title: 'borders of materials' },
        { value: 'angle', title: 'bends' },
        { value: 'existing', title: 'those of the UVs' },
      ],
    },
    {
      id: 'angle',
      title: 'Bends beyond',
      kind: 'number',
      unit: 'degrees',
      default: 60,
      min: 1,
      max: 180,
      when: [{ option: 'seams', is: ['angle'] }],
    },
    {
      id: 'distortion',
      title: 'Most stretch of an island',
      kind: 'number',
      unit: '%',
      default: 6,
      min: 0.5,
      max: 50,
      when: [{ option: 'seams', is: ['found'] }],
    },
    {
      id: 'halve',
      title: 'Cut long, curved islands across',
      kind: 'boolean',
      default: true,
      when: [{ option: 'seams', is: ['found'] }],
    },
    {
      id: 'keepGroups',
      title: 'No island across face groups',
      kind: 'boolean',
      default: false,
      when: [{ option: 'seams', is: ['found'] }],
    },
    {
      id: 'method',
      title: 'Flattened for',
      kind: 'choice',
      default: 'leastDistortion',
      choices: FLATTEN_METHODS,
    },
    {
      id: 'worst',
      title: 'Cut beyond a stretch of',
      kind: 'number',
      unit: 'times',
      none: 'not at all',
      default: null,
      min: 1.1,
      max: 1000,
    },
    { id: 'onlyMissing', title: 'Only polygons without UVs', kind: 'boolean', default: false },
    UV_SET,
    { id: 'pack', title: 'Pack into the tile', kind: 'boolean', default: true },
    { ...PADDING, when: [{ option: 'pack', is: [true] }] },
    { ...MAP_SIZE, when: [{ option: 'pack', is: [true] }] },
    {
      id: 'density',
      title: 'Texel density',
      kind: 'number',
      unit: 'pixels a file unit',
      none: 'as it fits',
      default: null,
      min: 1e-9,
      max: 1e12,
      when: [{ option: 'pack', is: [true] }],
    },
  ],
  // its places are the seams, so that they are seen before it is applied
  run: (context) => {
    const seams = context.text('seams')
    const name = context.text('set')
    const onlyMissing = context.flag('onlyMissing')
    if (seams === 'chosen' && !context.only)
      return outcome(context.scene, 0, 'polygons', { notes: ['No edges are chosen.'] })
    const laidParts: MeshIslands[] = []
    const others = context.flag('pack') ? lockedIslands(context, name) : null
    const locked: Outline[] = others?.outlines ?? []
    const notes = new Map<number, string[]>()
    const twins = twinsOf(context)
    /** Parts that were laid as a whole, for their twins. */
    const wholes = new Map<number, { facts: MeshFacts; laid: LaidFaces; given: Uint8Array | null }>()
    let loose = 0
    for (const { mesh: index, node } of chosenMeshes(context)) {
      const mesh = context.scene.meshes[index]!
      const facts = context.factsOf(mesh)
      if (facts.faceCount === 0) continue
      const set = setNamed(mesh, name)
      const edges = seams === 'chosen' ? edgesChosen(context, node) : null
      if (seams === 'chosen' && !edges) continue
      // edges say where to cut, and not what is laid out
      const chosen = edges ? null : chosenFaces(context, node, mesh)
      const isOwn =
        onlyMissing && set
          ? Uint8Array.from({ length: facts.faceCount }, (_, face) =>
              (!chosen || chosen[face]) && !isMapped(mesh, set, face) ? 1 : 0,
            )
          : chosen
      if (isOwn && !isOwn.includes(1)) continue
      const isSeam =
        seams === 'found'
          ? null
          : edges
            ? edgesWithPoints(facts, edges)
            : givenSeams(facts, seams as GivenSeams, (context.number('angle') * Math.PI) / 180, set)
      const isBarrier = context.flag('keepGroups') ? between(facts, mesh.groups?.faceSets ?? null) : null
      const given = isSeam ?? isBarrier
      const twin = isOwn ? null : (twins.get(index) ?? null)
      const kept = twin && wholes.get(twin.mesh)
      const laid =
        (kept && layTwin(kept.facts, kept.laid, facts, twin.points, kept.given, given)) ??
        layFaces(facts, isOwn, isSeam, isBarrier, {
          method: context.text('method') as FlattenMethod,
          distortion: context.number('distortion') / 100,
          rounds: ROUNDS,
          worst: context.numberOrNull('worst'),
          halves: context.flag('halve'),
          up: upIn(context, node),
        })
      if (!isOwn) wholes.set(index, { facts, laid, given })
      const world = worldScale(context, node)
      laidParts.push({
        mesh: index,
        node,
        islands: laid.islands,
        scales: laid.islands.map((island) => evenScale(island, facts, world)),
        groups: laid.islands.map(() => 0),
      })
      if (isOwn && set) for (const one of stays(isOwn, islandsInSet(facts, set))) locked.push(one)
      notes.set(index, notesOf(mesh, laid))
      loose += facts.brokenPoints().length
    }
    if (laidParts.every(({ islands }) => islands.length === 0)) return outcome(context.scene, 0, 'polygons')
    let islands: Map<number, readonly LaidIsland[]>
    const more: string[] = []
    if (context.flag('pack')) {
      const density = context.numberOrNull('density')
      const packed = packTogether(laidParts, {
        padding: context.number('padding') / context.number('mapSize'),
        turn: 'free',
        scale: density === null ? null : density / context.number('mapSize'),
        mostScale: others?.scale ?? null,
        locked,
      })
      islands = packed.islands
      more.push(...packed.notes)
    } else
      islands = new Map(
        laidParts.map(({ mesh, islands: own, scales }) => [
          mesh,
          own.map((island, at) => ({ ...island, flat: island.flat.map((value) => value * scales[at]!) })),
        ]),
      )
    if (loose > 0)
      more.push(
        `${loose} ${loose === 1 ? 'point has' : 'points have'} coordinates that are no numbers, and ${loose === 1 ? 'was' : 'were'} taken to lie at the origin.`,
      )
    const done = writeIslands(
      context,
      islands,
      (mesh) => ({
        name: name || (mesh.uvSets[0]?.name ?? NEW_SET_NAME),
        before: setNamed(mesh, name),
      }),
      (index) => notes.get(index) ?? [],
      true,
    )
    return { ...done, notes: [...more, ...done.notes] }
  },
}

/** For the mesh of a moved or mirrored copy the mesh that it is a copy of, where that comes first. */
function twinsOf(context: StepContext): Map<number, { mesh: number; points: Int32Array | null }> {
  const { nodes } = context.scene
  const order = new Map(chosenMeshes(context).map(({ mesh }, at) => [mesh, at]))
  const found = new Map<number, { mesh: number; points: Int32Array | null }>()
  if (order.size < 2) return found
  const worlds = worldMatrices(context.scene)
  for (const { node, twin, points } of findTwins(context.scene)) {
    const [mesh, copy] = [nodes[node]!.mesh, nodes[twin]!.mesh]
    const [first, later] = [order.get(mesh), order.get(copy)]
    if (first === undefined || later === undefined || first >= later || found.has(copy)) continue
    // alike in the world, and in their own space only where their nodes don't stretch them
    if (isEven(worlds[node]!) && isEven(worlds[twin]!)) found.set(copy, { mesh, points })
  }
  return found
}

/** Whether a matrix makes everything as much larger along each axis. */
function isEven(world: Matrix): boolean {
  const factor = meanScale(world)
  return (
    factor > 0 &&
    isRigid(
      world.map((value, at) => (at < 12 ? value / factor : value)),
      1e-6,
    )
  )
}

/** Which way is up for a part, in its own space; null where it is flattened there. */
function upIn({ scene }: StepContext, node: number): [number, number, number] | null {
  const back = invertAffine(worldMatrices(scene)[node]!)
  if (!back) return null
  const [x, y, z] = transformPoints(Float64Array.from(axisVector(scene.space.upAxis)), [
    ...back.slice(0, 12),
    0,
    0,
    0,
    1,
  ])
  return [x!, y!, z!]
}

/** Edges that were chosen of a part, as pairs of points; null: none. */
function edgesChosen({ only }: StepContext, node: number): Uint32Array | null {
  const limit = only?.get(node)
  return limit?.element === 'edges' ? limit.elements : null
}

/** Outlines of the islands that no chosen face is in. */
const stays = (isOwn: Uint8Array, islands: readonly LaidIsland[]): Outline[] =>
  islands.filter(({ net }) => !Array.from(net.faces).some((face) => isOwn[face])).map(outlineOf)

function notesOf(mesh: Mesh, laid: ReturnType<typeof layFaces>): string[] {
  const said: string[] = []
  const many = (count: number, one: string, more: string): string =>
    `${count.toLocaleString('en-US')} ${count === 1 ? one : more}`
  if (laid.cutOpen)
    said.push(
      `“${mesh.name}”: ${many(laid.cutOpen, 'piece was closed or had holes and was', 'pieces were closed or had holes and were')} cut open.`,
    )
  if (laid.cutApart)
    said.push(
      `“${mesh.name}”: ${many(laid.cutApart, 'piece would have been stretched too much or have lain over itself, and was', 'pieces would have been stretched too much or have lain over themselves, and were')} cut further.`,
    )
  if (laid.cutEdges)
    said.push(
      `“${mesh.name}”: cut at ${many(laid.cutEdges, 'edge', 'edges')} where polygons meet in no flat way.`,
    )
  if (laid.shapeless.length)
    said.push(
      `“${mesh.name}”: ${many(laid.shapeless.length, 'polygon has no shape that can be laid flat and lies as a small regular one', 'polygons have no shape that can be laid flat and lie as small regular ones')}.`,
    )
  return said
}
