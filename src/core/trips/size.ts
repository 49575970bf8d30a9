/** What size a model has on its way: where the size stands in the file, and what the receiving tool makes of it. */
import { joinBoxes, type Box } from '../base/math/box.ts'
import { drawnBounds } from '../scene/mesh-bounds.ts'
import type { Scene } from '../scene/scene.ts'
import { worldMatrices } from '../scene/world.ts'
import type { SizeReading } from './destinations/destination.ts'

export interface SizeReport {
  /** Height in metres of what leaves of the version; null where its unit is unknown. */
  readonly meters: number | null
  /** Metres in one unit as the file states it; null where its format has no word for it. */
  readonly statedUnit: number | null
  /** Scale of the roots; 1 where they have none, and where they differ. */
  readonly rootScale: number
  /** Height as the points' numbers have it, before any transform of the roots. */
  readonly pointsHeight: number
  /** Height in numbers as the file's world has it. */
  readonly height: number
  /** What the tool will show, in metres. */
  readonly seenMeters: number | null
  /** By how much the file would have to be larger for the tool to show the version's height; 1: it is right. */
  readonly factor: number | null
}

/** World bounds of all parts, in the scene's own unit and axes. */
export function sceneBox(scene: Scene, of: (node: number) => boolean = () => true): Box | null {
  const worlds = worldMatrices(scene)
  let box: Box | null = null
  scene.nodes.forEach((node, index) => {
    if (node.mesh < 0 || !of(index)) return
    box = joinBoxes(box, drawnBounds(scene.meshes[node.mesh]!, worlds[index]!))
  })
  return box
}

const AXIS_PLACES: Readonly<Record<string, number>> = { x: 0, y: 1, z: 2 }

/** Height along the scene’s up axis of what is drawn, the file’s unit; 0 for nothing. */
export function heightOf(scene: Scene, box: Box | null = sceneBox(scene)): number {
  if (!box) return 0
  const up = AXIS_PLACES[scene.space.upAxis.slice(-1)]!
  return box.max[up]! - box.min[up]!
}

function rootScaleOf(scene: Scene): number {
  const scales = scene.nodes
    .filter((node) => node.parent < 0)
    .map((node) => Math.hypot(node.local[0]!, node.local[1]!, node.local[2]!))
  const [first] = scales
  return first !== undefined && scales.every((scale) => Math.abs(scale - first) <= 1e-9 * first) ? first : 1
}

/** A factor that rounding has left a little off a round number. */
const rounded = (value: number): number => {
  const round = Number(value.toPrecision(6))
  return Math.abs(round / value - 1) < 1e-9 ? round : value
}

/**
 * @param version what is sent, for its true height: that of the nodes that `leaves` says yes to.
 * @param written the file as read back, in its own unit and axes.
 * @param stated the unit that stands in the file itself; null for a format that has no word for it.
 */
export function measureSize(
  version: Scene,
  leaves: (node: number) => boolean,
  written: Scene,
  stated: number | null,
  reading: SizeReading,
): SizeReport {
  const { unitMeters } = version.space
  const meters = unitMeters === null ? null : heightOf(version, sceneBox(version, leaves)) * unitMeters
  const height = heightOf(written)
  const rootScale = rootScaleOf(written)
  const seenUnit = reading.unit === 'stated' && stated !== null ? stated : reading.unitMeters
  const seenMeters = height > 0 ? height * seenUnit : null
  return {
    meters,
    statedUnit: stated,
    rootScale: rounded(rootScale),
    pointsHeight: rootScale > 0 ? height / rootScale : height,
    height,
    seenMeters,
    factor: meters !== null && seenMeters ? rounded(meters / seenMeters) : null,
  }
}

/** The scale that makes a tool show a model at an entered height. */
export const scaleForHeight = (report: SizeReport, wantedMeters: number, scale: number): number | null =>
  report.seenMeters ? rounded((wantedMeters / report.seenMeters) * scale) : null
