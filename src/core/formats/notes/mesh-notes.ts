/**
 * What a format has no words for, as notes beside a mesh, under plain names: a file that still has the mesh as it was
 * written gives it back whole. Numbers are those of points, polygons and sides in the scene.
 */
import type { BlendShape, Creases, FaceGroups, Mesh, Smoothing, Subdivision } from '../../scene/mesh.ts'
import { NO_SUBDIVISION } from '../../scene/mesh.ts'
import { anyNumbersOf, listOf, objectOf, partOf, textOf, wholeOf, type Json } from './json.ts'

/** Names under which notes stand; whatever else stands in a mesh's extras is somebody else's. */
export const NOTE_NAMES = [
  'points',
  'polygons',
  'bare',
  'polygonOrder',
  'normals',
  'tangents',
  'uvSetNames',
  'colorSetNames',
  'targetNames',
  'smoothing',
  'creases',
  'groups',
  'subdivision',
  'channels',
] as const

/** The attribute that says which point a vertex was split from. A double that a file stores in 32 bits is exact so far. */
export const POINT_ATTRIBUTE = '_POINT'
export const MOST_NUMBERED = 1 << 24

/** Layers that a scan's normals are in, which no polygon has, as PLY calls them (common practice). */
export const CLOUD_NORMALS = ['nx', 'ny', 'nz'] as const

/** A list as runs: a value, how often it stands there, the next value, ... */
export function runsOf(values: ArrayLike<number>): number[] {
  const runs: number[] = []
  for (let at = 0; at < values.length; at++)
    if (at > 0 && values[at] === values[at - 1]) runs[runs.length - 1]!++
    else runs.push(values[at]!, 1)
  return runs
}

/** Null where the runs are not of so many values. */
function valuesOfRuns(value: unknown, count: number): number[] | null {
  const runs = anyNumbersOf(value)
  if (!runs || runs.length % 2 !== 0) return null
  const values: number[] = []
  for (let at = 0; at < runs.length; at += 2) {
    const repeats = wholeOf(runs[at + 1])
    if (repeats === null || values.length + repeats > count || !Number.isInteger(runs[at])) return null
    for (let k = 0; k < repeats; k++) values.push(runs[at]!)
  }
  return values.length === count ? values : null
}

/** A list as stretches that rise by one: where each begins, how long it is. */
export function stretchesOf(values: ArrayLike<number>): number[] {
  const stretches: number[] = []
  for (let at = 0; at < values.length; at++)
    if (at > 0 && values[at] === values[at - 1]! + 1) stretches[stretches.length - 1]!++
    else stretches.push(values[at]!, 1)
  return stretches
}

/** A list in which each number below `count` stands once; null for any other. */
export function orderOf(value: unknown, count: number): Uint32Array | null {
  const stretches = anyNumbersOf(value)
  if (!stretches || stretches.length % 2 !== 0) return null
  const order = new Uint32Array(count)
  const seen = new Uint8Array(count)
  let used = 0
  for (let at = 0; at < stretches.length; at += 2) {
    const first = wholeOf(stretches[at])
    const length = wholeOf(stretches[at + 1])
    if (first === null || length === null || used + length > count || first + length > count) return null
    for (let k = 0; k < length; k++) {
      if (seen[first + k]) return null
      seen[first + k] = 1
      order[used++] = first + k
    }
  }
  return used === count ? order : null
}

export interface NoteWishes {
  readonly smoothing: boolean
  readonly creases: boolean
  readonly groups: boolean
}

/** The notes of a mesh as they are written; empty where the format says all of it. */
export function notesOf(mesh: Mesh, wishes: NoteWishes): Record<string, unknown> {
  const notes: Record<string, unknown> = {}
  const { smoothing, creases, groups, subdivision } = mesh
  if (wishes.smoothing && smoothing)
    notes.smoothing =
      smoothing.kind === 'edges'
        ? { kind: 'edges', points: [...smoothing.hardEdgePoints] }
        : {
            kind: smoothing.kind,
            runs: runsOf(smoothing.kind === 'groups' ? smoothing.faceGroups : smoothing.faceMasks),
          }
  if (wishes.creases && creases)
    notes.creases = {
      edges: [...creases.edgePoints],
      sharpness: [...creases.edgeSharpness],
      corners: [...creases.cornerPoints],
      cornerSharpness: [...creases.cornerSharpness],
    }
  if (wishes.creases && subdivision.scheme !== 'none') notes.subdivision = { ...subdivision }
  if (wishes.groups && groups)
    notes.groups = { names: [...groups.names], sets: groups.sets, runs: runsOf(groups.faceSets) }
  const channels = mesh.shapes.map(({ channel, fullWeight }) => ({
    ...(channel === undefined ? {} : { channel }),
    ...(fullWeight === undefined ? {} : { fullWeight }),
  }))
  if (channels.some((channel) => Object.keys(channel).length > 0)) notes.channels = channels
  return notes
}

export interface NotedMesh {
  readonly smoothing: Smoothing | null
  readonly creases: Creases | null
  readonly groups: FaceGroups | null
  readonly subdivision: Subdivision
  /** What stood there and is not of this mesh, in words. */
  readonly stale: readonly string[]
}

/**
 * What notes say of a mesh of so many points and polygons, checked against them.
 * @param hasNumbers its points and polygons are numbered as when the notes were made.
 */
export function readNotes(
  extras: Json | null,
  pointCount: number,
  faceCount: number,
  hasNumbers: boolean,
): NotedMesh {
  const stale: string[] = []
  const fits = hasNumbers && wholeOf(extras?.points) === pointCount && wholeOf(extras?.polygons) === faceCount
  const take = <Found>(what: string, name: string, read: (note: Json) => Found | null): Found | null => {
    const note = partOf(extras, name)
    if (!note) return null
    const found = fits ? read(note) : null
    if (found === null) stale.push(what)
    return found
  }
  const pointsIn = (value: unknown): Uint32Array | null => {
    const numbers = anyNumbersOf(value)
    return numbers?.every((point) => Number.isInteger(point) && point >= 0 && point < pointCount)
      ? Uint32Array.from(numbers)
      : null
  }
  const smoothing = take('smoothing', 'smoothing', (note): Smoothing | null => {
    const kind = textOf(note.kind)
    if (kind === 'edges') {
      const hardEdgePoints = pointsIn(note.points)
      return hardEdgePoints && hardEdgePoints.length % 2 === 0 ? { kind, hardEdgePoints } : null
    }
    const values = valuesOfRuns(note.runs, faceCount)
    if (!values) return null
    if (kind === 'groups') return { kind, faceGroups: Int32Array.from(values) }
    return kind === 'masks' ? { kind, faceMasks: Uint32Array.from(values) } : null
  })
  const creases = take('creases', 'creases', (note): Creases | null => {
    const edgePoints = pointsIn(note.edges)
    const cornerPoints = pointsIn(note.corners)
    const edgeSharpness = anyNumbersOf(note.sharpness)
    const cornerSharpness = anyNumbersOf(note.cornerSharpness)
    return edgePoints &&
      cornerPoints &&
      edgeSharpness?.length === edgePoints.length / 2 &&
      cornerSharpness?.length === cornerPoints.length
      ? {
          edgePoints,
          cornerPoints,
          edgeSharpness: Float64Array.from(edgeSharpness),
          cornerSharpness: Float64Array.from(cornerSharpness),
        }
      : null
  })
  const groups = take('face groups', 'groups', (note): FaceGroups | null => {
    const names = listOf(note.names)
    const sets = listOf(note.sets).map((set) => anyNumbersOf(set))
    const faceSets = valuesOfRuns(note.runs, faceCount)
    return names.every((name) => typeof name === 'string') &&
      sets.every((set) => set?.every((name) => wholeOf(name) !== null && name < names.length)) &&
      faceSets?.every((set) => set >= -1 && set < sets.length)
      ? {
          names: names as string[],
          sets: sets as number[][],
          faceSets: Int32Array.from(faceSets),
        }
      : null
  })
  // it is of the whole mesh and doesn't go by numbers
  const stated = partOf(extras, 'subdivision')
  const scheme = (['catmull-clark', 'loop', 'bilinear'] as const).find((known) => known === stated?.scheme)
  const levels = wholeOf(stated?.levels)
  const renderLevels = wholeOf(stated?.renderLevels)
  const boundary = (['edge-only', 'edge-and-corner'] as const).find((known) => known === stated?.boundary)
  return {
    smoothing,
    creases,
    groups,
    subdivision:
      scheme && levels !== null && levels < 20
        ? {
            scheme,
            levels,
            ...(renderLevels === null || renderLevels > 20 ? {} : { renderLevels }),
            ...(boundary ? { boundary } : {}),
          }
        : NO_SUBDIVISION,
    stale,
  }
}

/** Shapes with what a note says of their channels, and of their present weights where the format has no place for them. */
export function withChannels(given: readonly BlendShape[], extras: Json | null): BlendShape[] {
  const weights = listOf(extras?.weights)
  const shapes =
    weights.length === given.length
      ? given.map((shape, at) =>
          typeof weights[at] === 'number' && Number.isFinite(weights[at]) && weights[at] !== 0
            ? { ...shape, weight: shape.weight ?? weights[at] }
            : shape,
        )
      : [...given]
  const channels = listOf(extras?.channels)
  if (channels.length !== shapes.length) return shapes
  return shapes.map((shape, at) => {
    const note = objectOf(channels[at])
    const full = note?.fullWeight
    return {
      ...shape,
      ...(typeof note?.channel === 'string' ? { channel: note.channel } : {}),
      ...(typeof full === 'number' && Number.isFinite(full) ? { fullWeight: full } : {}),
    }
  })
}
