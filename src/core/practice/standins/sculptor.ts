/**
 * The sculptor: a small simulated sculpting tool. It reads an OBJ as such tools do, moves the surface with a
 * carve that follows from position alone, and writes an OBJ that has forgotten what such tools forget.
 */
import type { ReadOptions } from '../../formats/descriptor.ts'
import { formatOf, optionsFor } from '../../formats/registry.ts'
import { wrapsFiles } from '../../formats/package/read-package.ts'
import { readZip } from '../../formats/package/read-zip.ts'
import { fileNameOf, type PackageFile } from '../../formats/package/package-file.ts'
import { KelboError } from '../../base/messages/collector.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { faceCountOf, pointCountOf, type FaceGroups, type Mesh } from '../../scene/mesh.ts'
import { subdivideMesh } from '../../mesh/subdividing/subdivide-mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { carvePoints } from '../faults/carve-points.ts'
import { lightenMesh } from '../faults/lighten-mesh.ts'
import type { StandInDescriptor } from './standin.ts'

export interface SculptorOptions {
  /** Largest movement of a point as a share of its part's diagonal; 0 moves nothing. */
  readonly strength: number
  /** Give vertices and polygons new numbers, as tools do that keep them in their own order. */
  readonly renumber: boolean
  /** Decides the new order. */
  readonly seed: number
  /** Put every part's polygons into a group of the tool's own. */
  readonly addGroups: boolean
  /** Forget which material a polygon has. */
  readonly dropMaterials: boolean
  /** How many times everything is subdivided, before it is moved. */
  readonly levels: number
  /** Cells along a part's diagonal whose points become one, before all else; 0 leaves the polygons as they are. */
  readonly cells: number
  /** What all numbers are multiplied by. */
  readonly factor: number
}

export const SCULPTOR_DEFAULTS: SculptorOptions = {
  strength: 0.015,
  renumber: true,
  seed: 7,
  addGroups: true,
  dropMaterials: true,
  levels: 0,
  cells: 0,
  factor: 1,
}

function shuffled(length: number, random: () => number): Uint32Array {
  const order = Uint32Array.from({ length }, (_value, index) => index)
  for (let index = length - 1; index > 0; index--) {
    const other = Math.floor(random() * (index + 1))
    const kept = order[index]!
    order[index] = order[other]!
    order[other] = kept
  }
  return order
}

/** The same polygons with points and faces in another order, and each face starting at another corner. */
export function renumberMesh(mesh: Mesh, seed: number): Mesh {
  const random = chanceOf(seed)
  const pointOrder = shuffled(pointCountOf(mesh), random)
  const faceOrder = shuffled(faceCountOf(mesh), random)
  const pointOldToNew = new Uint32Array(pointOrder.length)
  const points = new Float64Array(mesh.points.length)
  pointOrder.forEach((old, index) => {
    pointOldToNew[old] = index
    for (let axis = 0; axis < 3; axis++) points[3 * index + axis] = mesh.points[3 * old + axis]!
  })
  const faceOffsets = new Uint32Array(mesh.faceOffsets.length)
  const cornerFrom: number[] = []
  faceOrder.forEach((old, index) => {
    const start = mesh.faceOffsets[old]!
    const size = mesh.faceOffsets[old + 1]! - start
    const turn = Math.floor(random() * size)
    for (let step = 0; step < size; step++) cornerFrom.push(start + ((step + turn) % size))
    faceOffsets[index + 1] = cornerFrom.length
  })
  const byCorner = (indices: Int32Array): Int32Array =>
    Int32Array.from(cornerFrom, (corner) => indices[corner]!)
  return {
    ...mesh,
    points,
    faceOffsets,
    faceVertices: Uint32Array.from(cornerFrom, (corner) => pointOldToNew[mesh.faceVertices[corner]!]!),
    uvSets: mesh.uvSets.map((set) => ({ ...set, indices: byCorner(set.indices) })),
    normals: mesh.normals && { ...mesh.normals, indices: byCorner(mesh.normals.indices) },
    smoothing:
      mesh.smoothing?.kind === 'groups'
        ? {
            kind: 'groups',
            faceGroups: Int32Array.from(
              faceOrder,
              (old) => (mesh.smoothing as { faceGroups: Int32Array }).faceGroups[old]!,
            ),
          }
        : null,
    creases: mesh.creases && {
      ...mesh.creases,
      edgePoints: mesh.creases.edgePoints.map((point) => pointOldToNew[point]!),
      cornerPoints: mesh.creases.cornerPoints.map((point) => pointOldToNew[point]!),
    },
    faceMaterials: mesh.faceMaterials && Int32Array.from(faceOrder, (old) => mesh.faceMaterials![old]!),
    groups: mesh.groups && {
      ...mesh.groups,
      faceSets: Int32Array.from(faceOrder, (old) => mesh.groups!.faceSets[old]!),
    },
    colorSets: [],
    lines: null,
    pointElements: null,
  }
}

/** What the sculptor does to a scene. */
export function sculptScene(scene: Scene, options: Partial<SculptorOptions> = {}): Scene {
  const settings = { ...SCULPTOR_DEFAULTS, ...options }
  const meshes = scene.meshes.map((whole, index): Mesh => {
    const own = settings.cells > 0 ? lightened(whole, settings.cells) : whole
    const mesh =
      settings.levels > 0
        ? subdivideMesh(
            { ...own, creases: null },
            { levels: settings.levels, uvMode: 'boundaries', sharpCorners: false },
          )
        : own
    const carved: Mesh = {
      ...mesh,
      points: carvePoints(mesh, settings.strength).map((value) => value * settings.factor),
      uvSets: mesh.uvSets.slice(0, 1),
      smoothing: null,
      creases: null,
      normals: null,
      pointWeights: null,
      faceMaterials: settings.dropMaterials ? null : mesh.faceMaterials,
      groups: settings.addGroups ? ownGroups(mesh, index) : mesh.groups,
    }
    return settings.renumber ? renumberMesh(carved, settings.seed + index) : carved
  })
  return { ...scene, meshes, materials: settings.dropMaterials ? [] : scene.materials }
}

const lightened = (mesh: Mesh, cells: number): Mesh =>
  lightenMesh(mesh, Math.max(diagonalOf(boundsOf(mesh.points)), Number.MIN_VALUE) / cells)

/** One group over all polygons, beside those that were there. */
function ownGroups(mesh: Mesh, index: number): FaceGroups {
  const own = `region_${index + 1}`
  const names = [...(mesh.groups?.names ?? []), own]
  const sets = [...(mesh.groups?.sets ?? []).map((set) => [...set, names.length - 1]), [names.length - 1]]
  const faceSets = new Int32Array(faceCountOf(mesh)).fill(sets.length - 1)
  if (mesh.groups)
    mesh.groups.faceSets.forEach((set, face) => (faceSets[face] = set < 0 ? sets.length - 1 : set))
  return { names, sets, faceSets }
}

/** The whole tool: files in, files out. */
export const sculptFiles = (
  files: readonly PackageFile[],
  options: Partial<SculptorOptions> = {},
  readOptions: ReadOptions = {},
): PackageFile[] => {
  const model = unpackedModel(files)
  return sculptModel(model, { ...SCULPTOR_DEFAULTS, ...options }, readOptions)
}

function unpackedModel(files: readonly PackageFile[]): PackageFile {
  const unpacked = files.flatMap((file) => (wrapsFiles(file) ? readZip(file).files : [file]))
  const model = unpacked.find((file) => formatOf(file.name)?.id === 'obj')
  if (!model) throw new KelboError('package.no-model')
  return model
}

function sculptModel(model: PackageFile, options: SculptorOptions, readOptions: ReadOptions): PackageFile[] {
  const format = formatOf(model.name)!
  const { scene } = format.read(model, [], { ...optionsFor(format, readOptions), materials: 'names' })
  const written = format.write(sculptScene(scene, options), fileNameOf(model.name), {
    materials: 'names',
    normals: false,
    // programs of this kind write six digits
    digits: 6,
  })
  return written.files.filter((file) => formatOf(file.name))
}

/** What it did, in words. */
const doneBy = ({
  strength,
  levels,
  cells,
  factor,
  renumber,
  seed,
  addGroups,
  dropMaterials,
}: SculptorOptions): string[] => [
  ...(cells > 0
    ? [
        `Polygons were made fewer: points of one of ${cells} cells along each part became one, and UVs were forgotten.`,
      ]
    : []),
  ...(levels > 0 ? [`Everything was subdivided ${levels === 1 ? 'once' : `${levels} times`}.`] : []),
  ...(strength > 0
    ? [`Points were moved by up to ${Math.round(strength * 1000) / 10} % of their part’s size.`]
    : []),
  ...(factor === 1 ? [] : [`All numbers were multiplied by ${factor}.`]),
  ...(renumber ? [`Vertices and polygons were given new numbers, by seed ${seed}.`] : []),
  ...(addGroups ? ['Groups of its own were added.'] : []),
  ...(dropMaterials ? ['The materials were forgotten.'] : []),
  'Smoothing, creases and further UV sets were forgotten, and numbers written with six digits.',
]

export const sculptor: StandInDescriptor = {
  id: 'sculptor',
  name: 'The sculptor',
  description:
    'It reads the OBJ as a sculpting tool would: the first UV set only, no smoothing groups, no creases. It moves the surface with a carve that follows from position alone, gives vertices and polygons new numbers, adds groups of its own, and writes an OBJ with six digits.',
  action: 'Sculpt and bring it back',
  suffix: '_sculpted',
  // it knows OBJ only, as such a tool may
  reads: ['obj'],
  parameters: [
    {
      id: 'strength',
      title: 'How far it moves points',
      kind: 'number',
      default: SCULPTOR_DEFAULTS.strength,
      min: 0,
      max: 0.06,
      step: 0.001,
      percent: true,
    },
    { id: 'renumber', title: 'Gives vertices and polygons new numbers', kind: 'boolean', default: true },
    { id: 'addGroups', title: 'Adds groups of its own', kind: 'boolean', default: true },
    { id: 'dropMaterials', title: 'Forgets the materials', kind: 'boolean', default: true },
    {
      id: 'levels',
      title: 'Subdivides, so many times',
      kind: 'number',
      default: 0,
      min: 0,
      max: 3,
      step: 1,
    },
    {
      id: 'cells',
      title: 'Lightens, to so many cells',
      kind: 'number',
      default: 0,
      min: 0,
      max: 120,
      step: 10,
    },
    { id: 'hundredfold', title: 'Makes it a hundred times as large', kind: 'boolean', default: false },
    { id: 'seed', title: 'Seed of the new numbers', kind: 'number', default: 7, min: 1, max: 40, step: 1 },
  ],
  run: (model, _beside, { value, readOptions }) => {
    const settings: SculptorOptions = {
      ...SCULPTOR_DEFAULTS,
      strength: Number(value('strength')),
      renumber: Boolean(value('renumber')),
      addGroups: Boolean(value('addGroups')),
      dropMaterials: Boolean(value('dropMaterials')),
      levels: Math.round(Number(value('levels'))),
      cells: Math.round(Number(value('cells'))),
      factor: value('hundredfold') ? 100 : 1,
      seed: Math.round(Number(value('seed'))),
    }
    return { files: sculptModel(model, settings, readOptions), log: doneBy(settings) }
  },
}
