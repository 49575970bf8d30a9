import type { FlattenMethod } from '../../uv/flatten/distortion.ts'
import { findOverlaps } from '../../uv/find-overlaps.ts'
import {
  islandsInSet,
  outlineOf,
  withIslands,
  withUvSet,
  type LaidIsland,
} from '../../uv/islands/laid-island.ts'
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { layFaces } from '../../uv/islands/lay-faces.ts'
import { relaxIsland } from '../../uv/islands/relax-island.ts'
import { findSeams } from '../../uv/uv-measures.ts'
import { isSound } from '../../uv/flatten/flatten-net.ts'
import { packOutlines } from '../../uv/pack/pack-outlines.ts'
import { changeMeshes, chosenFaces, type StepContext, type StepDescriptor } from '../step.ts'
import { FLATTEN_METHODS, MAP_SIZE, PADDING, setNamed, UV_SET, evenScale } from '../shared/place-on-tiles.ts'

export const relaxUvs: StepDescriptor = {
  id: 'relax-uvs',
  area: 'uvs',
  title: 'Relax the UVs',
  description:
    'Evens out the stretch of islands where they lie; their seams stay. Islands that are folded or have no area are laid flat anew, and packed into the room that is left.',
  changes: ['uvs'],
  parameters: [
    { id: 'method', title: 'For', kind: 'choice', default: 'leastDistortion', choices: FLATTEN_METHODS },
    { id: 'rounds', title: 'Rounds', kind: 'number', default: 40, min: 1, max: 1000, whole: true },
    {
      id: 'borders',
      title: 'Borders',
      kind: 'choice',
      default: 'free',
      choices: [
        { value: 'free', title: 'free' },
        { value: 'kept', title: 'kept where they are' },
      ],
    },
    {
      id: 'onlyBroken',
      title: 'Only islands that are folded or have no area',
      kind: 'boolean',
      default: false,
    },
    UV_SET,
    PADDING,
    MAP_SIZE,
  ],
  run: (context) =>
    changeMeshes(context, 'polygons', (mesh, facts, node) => {
      const set = setNamed(mesh, context.text('set'))
      if (!set)
        return mesh.uvSets.length
          ? { mesh, changedCount: 0, notes: [`“${mesh.name}” has no UV set “${context.text('set')}”.`] }
          : { mesh, changedCount: 0, notes: [`“${mesh.name}” has no UVs; unwrap it first.`] }
      const seams = findSeams(facts, set)
      const all = islandsInSet(facts, set, null, null, false)
      const wanted = new Set(
        islandsInSet(facts, set, chosenFaces(context, node, mesh), null, false).map(
          ({ net }) => net.faces[0]!,
        ),
      )
      const stays: LaidIsland[] = []
      const relaxed: LaidIsland[] = []
      const anew: LaidIsland[] = []
      let hopeless = 0
      for (const island of all) {
        const isBroken = !isSound(island.net, island.flat) && !isSound(island.net, mirrored(island.flat))
        if (!wanted.has(island.net.faces[0]!) || (context.flag('onlyBroken') && !isBroken)) {
          stays.push(island)
          continue
        }
        const done = relaxIsland(facts, island, seams, {
          method: context.text('method') as FlattenMethod,
          rounds: context.number('rounds'),
          keepBorder: context.text('borders') === 'kept',
        })
        if (!done) {
          // closed, or with such holes: it is cut first
          const cut = context.text('borders') === 'free' ? laidApart(facts, island, seams, context) : null
          if (cut) for (const one of cut) anew.push(one)
          else {
            hopeless++
            stays.push(island)
          }
        } else if (done.isAnew) anew.push(done.island)
        else if (differs(done.island.flat, island.flat)) relaxed.push(done.island)
        else stays.push(island)
      }
      const notes: string[] = []
      if (hopeless)
        notes.push(
          `${hopeless} ${hopeless === 1 ? 'island' : 'islands'} of “${mesh.name}” can’t lie flat with ${context.text('borders') === 'kept' ? 'that border' : 'those seams'}: unwrap it.`,
        )
      const placed = anew.length
        ? intoTheRest(
            anew,
            [...stays, ...relaxed],
            context.number('padding') / context.number('mapSize'),
            densityScale(all, (one) => evenScale(one, facts, 1)),
          )
        : []
      if (anew.length)
        notes.push(
          `${anew.length} ${anew.length === 1 ? 'island was folded or had no area and was' : 'islands were folded or had no area and were'} laid flat anew.`,
        )
      const islands = [...relaxed, ...placed]
      if (islands.length === 0) return { mesh, changedCount: 0, notes }
      const faces = islands.flatMap(({ net }) => Array.from(net.faces))
      const made = withUvSet(mesh, withIslands(mesh, set, set.name, islands))
      const [before, after] = [mesh, made].map(
        (own) =>
          findOverlaps([{ mesh: own, set: setNamed(own, context.text('set'))!, chosen: null }]).pairCount,
      ) as [number, number]
      if (after > before) notes.push(`Islands of “${mesh.name}” reach into one another now; pack them.`)
      return { mesh: made, changedCount: faces.length, element: 'faces', elements: faces, notes }
    }),
}

function laidApart(
  facts: MeshFacts,
  { net }: LaidIsland,
  seams: Uint8Array,
  context: StepContext,
): readonly LaidIsland[] | null {
  const isOwn = new Uint8Array(facts.faceCount)
  for (let at = 0; at < net.faces.length; at++) isOwn[net.faces[at]!] = 1
  const { islands } = layFaces(facts, isOwn, seams, null, {
    method: context.text('method') as FlattenMethod,
    distortion: DISTORTION,
    rounds: context.number('rounds'),
  })
  return islands.length ? islands : null
}

/** How much an island may be stretched where seams have to be found. */
const DISTORTION = 0.08

const mirrored = (flat: Float64Array): Float64Array => flat.map((value, at) => (at % 2 ? -value : value))

/** UVs that are written with six digits are off by as much. */
const SAME = 1e-7
const differs = (a: Float64Array, b: Float64Array): boolean =>
  a.some((value, at) => Math.abs(value - b[at]!) > SAME * Math.max(1, Math.abs(value)))

/** UV units to one of the model's, as most islands have it; 0 where none says. */
function densityScale(all: readonly LaidIsland[], evenOf: (island: LaidIsland) => number): number {
  const known = all
    .filter(({ net, flat }) => isSound(net, flat) || isSound(net, mirrored(flat)))
    .map((island) => 1 / evenOf(island))
    .filter((scale) => Number.isFinite(scale) && scale > 0)
    .sort((a, b) => a - b)
  return known[known.length >> 1] ?? 0
}

/** Islands laid anew where nothing lies, as dense as the others if there is room for it. */
function intoTheRest(
  anew: readonly LaidIsland[],
  others: readonly LaidIsland[],
  padding: number,
  wanted: number,
): LaidIsland[] {
  const locked = others.map(outlineOf)
  const outlines = anew.map(outlineOf)
  const attempts = wanted > 0 ? [wanted, null] : [null]
  for (const scale of attempts) {
    const packed = packOutlines(outlines, {
      padding,
      turn: 'quarter',
      scale,
      locked: (tile) => (tile === 0 ? locked : []),
    })
    if (scale !== null && packed.tileCount > 1) continue
    return anew.map((island, at) => {
      const { angle, shiftU, shiftV } = packed.placements[at]!
      const [c, s] = [Math.cos(angle) * packed.scale, Math.sin(angle) * packed.scale]
      const flat = new Float64Array(island.flat.length)
      for (let k = 0; k < flat.length; k += 2) {
        flat[k] = c * island.flat[k]! - s * island.flat[k + 1]! + shiftU
        flat[k + 1] = s * island.flat[k]! + c * island.flat[k + 1]! + shiftV
      }
      return { ...island, flat }
    })
  }
  return [...anew]
}
