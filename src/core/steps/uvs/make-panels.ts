import type { MapPlacement, MaterialMap } from '../../scene/material.ts'
import type { Mesh, UvSet } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { worldMatrices } from '../../scene/world.ts'
import type { FlattenMethod } from '../../uv/flatten/distortion.ts'
import type { LaidIsland } from '../../uv/islands/laid-island.ts'
import { islandsInSet, outlineOf } from '../../uv/islands/laid-island.ts'
import { layFaces } from '../../uv/islands/lay-faces.ts'
import { turnedBy, turnTo, upOf } from '../../uv/islands/turn-upright.ts'
import { outlineArea, turnedBox, type Outline } from '../../uv/pack/outline.ts'
import { panelsOf } from '../../uv/panels/panels-of.ts'
import { baseName, statedLength, withLength } from '../../uv/panels/uv-length.ts'
import { between } from '../../uv/seams/given-seams.ts'
import { chosenFaces, outcome, type StepContext, type StepDescriptor } from '../step.ts'
import {
  chosenMeshes,
  evenScale,
  FLATTEN_METHODS,
  packTogether,
  worldScale,
  writeIslands,
  type MeshIslands,
} from '../shared/place-on-tiles.ts'

/** What is said of the room that islands use: panels are to have their size, whatever they use. */
const USE = 'packed by their boxes'
/** Rounds of relaxation; panels are done long before. */
const ROUNDS = 60
/** Lengths of a UV unit that are tried: 1, 2 and 5 times a power of ten. */
const LENGTHS = Array.from({ length: 60 }, (_, at) => [1, 2, 5][at % 3]! * 10 ** (Math.floor(at / 3) - 6))
/** Share of a tile that panels fill when they are laid side by side, at most. */
const MOST_FILLED = 0.9

export const makePanels: StepDescriptor = {
  id: 'make-panels',
  area: 'uvs',
  title: 'Lay out panels',
  description:
    'Lays each face group flat as a panel of one piece with one border, upright as the cloth falls, at its true size: one UV unit is a length that the UV set’s name states.',
  changes: ['uvs', 'surfaces'],
  parameters: [
    {
      id: 'length',
      title: 'One UV unit is',
      kind: 'number',
      unit: 'metres',
      none: 'as short as all fit',
      default: null,
      min: 1e-6,
      max: 1e6,
    },
    {
      id: 'gap',
      title: 'Between panels',
      kind: 'number',
      unit: 'millimetres',
      default: 20,
      min: 0,
      max: 10000,
    },
    {
      id: 'upright',
      title: 'Upright by',
      kind: 'choice',
      default: 'up',
      choices: [
        { value: 'up', title: 'the fall of the cloth' },
        { value: 'longestBorder', title: 'the longest straight border' },
      ],
    },
    {
      id: 'method',
      title: 'Flattened for',
      kind: 'choice',
      default: 'leastDistortion',
      choices: FLATTEN_METHODS,
    },
    { id: 'set', title: 'UV set', kind: 'text', default: 'panels', most: 200 },
    { id: 'first', title: 'In front of other UV sets', kind: 'boolean', default: true },
  ],
  run: (context) => {
    const { scene } = context
    const name = context.text('set').trim() || 'panels'
    const metres = scene.space.unitMeters ?? 0.01
    const given: MeshIslands[] = []
    const notes = new Map<number, string[]>()
    const without: string[] = []
    /** Faces that are laid out, by mesh. */
    const anew = new Map<number, Uint8Array>()
    let [panelCount, islandCount] = [0, 0]
    for (const { mesh: index, node } of chosenMeshes(context)) {
      const mesh = scene.meshes[index]!
      const facts = context.factsOf(mesh)
      if (facts.faceCount === 0) continue
      const panels = panelsOf(facts)
      if (panels.length === 0) {
        without.push(mesh.name)
        continue
      }
      const chosen = chosenFaces(context, node, mesh)
      const isOwn = Uint8Array.from(mesh.groups!.faceSets, (set, face) =>
        set >= 0 && (!chosen || chosen[face]) ? 1 : 0,
      )
      if (!isOwn.includes(1)) continue
      anew.set(index, isOwn)
      const laid = layFaces(facts, isOwn, between(facts, mesh.groups!.faceSets), null, {
        method: context.text('method') as FlattenMethod,
        distortion: 0.06,
        rounds: ROUNDS,
        ringsWhole: false,
      })
      const world = worldScale(context, node)
      const up = upOf(scene.space.upAxis, worldMatrices(scene)[node]!)
      const islands = laid.islands.map((island) => {
        const by =
          context.text('upright') === 'up' && risesAtAll(island, up, facts.points()) ? 'up' : 'longestBorder'
        return turnedBy(island, turnTo(by, island, facts, up))
      })
      panelCount += panels.filter(({ faces }) => faces.some((face) => isOwn[face])).length
      islandCount += islands.length
      given.push({
        mesh: index,
        node,
        islands,
        scales: islands.map((island) => evenScale(island, facts, world)),
        groups: islands.map(() => 0),
      })
      const said = laid.cutOpen + laid.cutApart
      if (said)
        notes.set(index, [
          `“${mesh.name}”: ${said === 1 ? 'one panel was closed, a ring, or could not lie flat in one piece, and was cut' : `${said} panels were closed, rings, or could not lie flat in one piece, and were cut`}.`,
        ])
    }
    const left = without.length
      ? [
          `${without.length === 1 ? `“${without[0]}” has` : `${without.length} parts have`} no face groups to make panels of.`,
        ]
      : []
    if (given.length === 0) return outcome(scene, 0, 'polygons', { notes: left })
    // what stays of an earlier layout keeps its size and its place
    const stays = panelsThatStay(context, name, anew)
    const length = stays.isBound ? stays.length : (context.numberOrNull('length') ?? stays.length)
    const pack = (metresPerUnit: number) => {
      const scale = metres / metresPerUnit
      const gap = context.number('gap') / 1000 / metresPerUnit
      return isLargerThanTile(given, scale, gap)
        ? inRows(given, scale, gap, stays.outlines)
        : packTogether(given, { padding: Math.min(0.5, gap), turn: 'none', scale, locked: stays.outlines })
    }
    let unit = length ?? leastLength(given, metres)
    let packed = pack(unit)
    for (
      let at = LENGTHS.indexOf(unit);
      length === null && at + 1 < LENGTHS.length && !fitsOneTile(packed);
      at++
    ) {
      unit = LENGTHS[at + 1]!
      packed = pack(unit)
    }
    const done = writeIslands(
      context,
      packed.islands,
      (mesh) => ({ name: withLength(name, unit), before: context.only ? panelSet(mesh, name) : null }),
      (index) => notes.get(index) ?? [],
      true,
    )
    return {
      ...done,
      scene: inPlace(done.scene, scene, withLength(name, unit), context.flag('first')),
      notes: [
        `${panelCount === 1 ? 'One panel' : `${panelCount} panels`}${islandCount > panelCount ? ` in ${islandCount} pieces` : ''}; one UV unit is ${unit} m.`,
        ...packed.notes.filter((note) => !note.includes(USE)),
        ...left,
        ...done.notes,
      ],
    }
  },
}

/** The set of panels of that name that a mesh has, whatever its length. */
const panelSet = (mesh: Mesh, name: string): UvSet | null =>
  mesh.uvSets.find((set) => baseName(set.name) === name && statedLength(set.name) !== null) ?? null

interface StayingPanels {
  readonly outlines: readonly Outline[]
  /** Metres to one UV unit; null where none stay. */
  readonly length: number | null
  /** Some lie on a mesh of which other polygons are laid anew: one set has one length. */
  readonly isBound: boolean
}

/** Panels of the name that are not laid out anew. @param anew faceCount flags of what is, by mesh. */
function panelsThatStay(
  context: StepContext,
  name: string,
  anew: ReadonlyMap<number, Uint8Array>,
): StayingPanels {
  const outlines: Outline[] = []
  let length: number | null = null
  let isBound = false
  context.scene.meshes.forEach((mesh, index) => {
    const set = panelSet(mesh, name)
    if (!set) return
    const isOwn = anew.get(index)
    const left = islandsInSet(context.factsOf(mesh), set).filter(
      ({ net }) => !isOwn || !Array.from(net.faces).some((face) => isOwn[face]),
    )
    if (left.length === 0) return
    if (isOwn && !isBound) {
      isBound = true
      length = statedLength(set.name)
    }
    length ??= statedLength(set.name)
    outlines.push(...left.map(outlineOf))
  })
  return { outlines, length, isBound }
}

/** Earlier panels of the name go; the new ones stand where they stood, or in front of all, and maps stay on their set. */
function inPlace(done: Scene, before: Scene, own: string, isFirst: boolean): Scene {
  const firsts = new Set<string>()
  const meshes = done.meshes.map((mesh, index) => {
    if (mesh === before.meshes[index]) return mesh
    const made = mesh.uvSets.find((set) => set.name === own)
    if (!made) return mesh
    const others = mesh.uvSets
      .filter(
        (set) => set !== made && !(baseName(set.name) === baseName(own) && statedLength(set.name) !== null),
      )
      .map((set, at) => (at === 0 && set.name === '' ? { ...set, name: UNNAMED } : set))
    if (!isFirst) return { ...mesh, uvSets: [...others, made] }
    if (others[0]) firsts.add(others[0].name)
    const { lines } = mesh
    return {
      ...mesh,
      uvSets: [made, ...others],
      // lines go by the first set's values, and have none among panels
      lines: lines && { ...lines, uvs: lines.uvs.map(() => -1) },
    }
  })
  const [first] = firsts.size === 1 ? firsts : []
  if (!isFirst || first === undefined) return { ...done, meshes }
  const materials = done.materials.map((material) => ({
    ...material,
    maps: material.maps.map((map): MaterialMap => {
      if (map.placement)
        return map.placement.uvSet === '' ? { ...map, placement: { ...map.placement, uvSet: first } } : map
      return { ...map, placement: { ...PLAIN_PLACEMENT, uvSet: first } }
    }),
  }))
  return { ...done, meshes, materials }
}

/** What a first set without a name is called once another stands in front of it. */
const UNNAMED = 'uv'
const PLAIN_PLACEMENT: MapPlacement = {
  name: '',
  uvSet: '',
  wrapU: 'repeat',
  wrapV: 'repeat',
  scale: [1, 1],
  offset: [0, 0],
  kept: [],
}

function isLargerThanTile(given: readonly MeshIslands[], scale: number, gap: number): boolean {
  return given.some(({ islands, scales }) =>
    islands.some((island, at) => {
      const { low, high } = turnedBox(outlineOf(island), 0)
      return Math.max(high[0] - low[0], high[1] - low[1]) * scales[at]! * scale + gap > 1
    }),
  )
}

/** Panels that are larger than a tile lie in rows over the plane, above what stays: none may lie over another. */
function inRows(
  given: readonly MeshIslands[],
  scale: number,
  gap: number,
  stays: readonly Outline[],
): { islands: Map<number, LaidIsland[]>; notes: string[] } {
  const all = given.flatMap(({ mesh, islands, scales }) =>
    islands.map((island, at) => {
      const own = { ...island, flat: island.flat.map((value) => value * scales[at]! * scale) }
      const { low, high } = turnedBox(outlineOf(own), 0)
      return { mesh, own, low, wide: high[0] - low[0], tall: high[1] - low[1] }
    }),
  )
  const most = all.reduce((sum, { wide }) => Math.max(sum, wide + gap), 1)
  const top = stays.reduce((sum, outline) => Math.max(sum, Math.ceil(turnedBox(outline, 0).high[1])), 0)
  const placed = new Map<(typeof all)[number], LaidIsland>()
  let [u, v, tall] = [gap / 2, top + gap / 2, 0]
  for (const one of [...all].sort((a, b) => b.tall - a.tall)) {
    if (u > gap / 2 && u + one.wide + gap / 2 > most) {
      u = gap / 2
      v += tall + gap
      tall = 0
    }
    const shift = [u - one.low[0], v - one.low[1]] as const
    placed.set(one, { ...one.own, flat: one.own.flat.map((value, at) => value + shift[at % 2]!) })
    u += one.wide + gap
    tall = Math.max(tall, one.tall)
  }
  const islands = new Map<number, LaidIsland[]>()
  for (const one of all) islands.set(one.mesh, [...(islands.get(one.mesh) ?? []), placed.get(one)!])
  return { islands, notes: ['Panels are longer than one UV unit: they lie in rows over the tiles’ borders.'] }
}

const fitsOneTile = ({ islands }: { islands: ReadonlyMap<number, readonly LaidIsland[]> }): boolean =>
  [...islands.values()].every((own) =>
    own.every(({ flat }) => flat.every((value) => value >= -1e-9 && value <= 1 + 1e-9)),
  )

/** The shortest of the lengths at which the panels might fit, by their area and their longest side. */
function leastLength(given: readonly MeshIslands[], metres: number): number {
  let [area, side] = [0, 0]
  for (const { islands, scales } of given)
    islands.forEach((island, at) => {
      const outline = outlineOf(island)
      const { low, high } = turnedBox(outline, 0)
      const scale = scales[at]! * metres
      area += outlineArea(outline) * scale * scale
      side = Math.max(side, (high[0] - low[0]) * scale, (high[1] - low[1]) * scale)
    })
  const least = Math.max(side, Math.sqrt(area / MOST_FILLED))
  return LENGTHS.find((length) => length >= least) ?? LENGTHS.at(-1)!
}

/** Sine of the angle below which a panel lies level and has no way up. */
const LEVEL = 0.05

function risesAtAll(
  { net }: LaidIsland,
  up: readonly [number, number, number],
  points: Float64Array,
): boolean {
  let [least, most, size] = [Infinity, -Infinity, 0]
  const first = 3 * net.vertexPoints[0]!
  for (const point of net.vertexPoints) {
    const [x, y, z] = [0, 1, 2].map((axis) => points[3 * point + axis]! - points[first + axis]!) as [
      number,
      number,
      number,
    ]
    const height = (x * up[0] + y * up[1] + z * up[2]) / (Math.hypot(...up) || 1)
    least = Math.min(least, height)
    most = Math.max(most, height)
    size = Math.max(size, Math.hypot(x, y, z))
  }
  return most - least > LEVEL * size
}
