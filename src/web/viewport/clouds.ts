/** What has no surface: lines as lines, and parts without polygons as the points that they are. */
import * as THREE from 'three'
import type { Mesh, PolyLines } from '../../core/scene/mesh.ts'
import { isBare } from '../../core/view/is-bare.ts'
import type { LoadedPart } from './loaded-part.ts'
import { VIEW_COLORS } from './view-colors.ts'

/** Pixels across. */
const POINT_SIZE = 2.5

/** 3 x pointCount; null where the points have no colours of their own. */
function colorsOf({ colorSets, points }: Mesh): Float32Array | null {
  const set = colorSets.find(({ per }) => per === 'points')
  if (!set) return null
  const colors = new Float32Array(points.length)
  const own = new THREE.Color()
  for (let point = 0; 3 * point < points.length; point++) {
    const at = set.components * point
    // as they are to be seen
    own.setRGB(set.values[at]!, set.values[at + 1]!, set.values[at + 2]!, THREE.SRGBColorSpace)
    own.toArray(colors, 3 * point)
  }
  return colors
}

/** Two points a stretch of each line. */
function stretchesOf({ offsets, points }: PolyLines): Uint32Array {
  const pairs: number[] = []
  for (let line = 0; line + 1 < offsets.length; line++)
    for (let at = offsets[line]! + 1; at < offsets[line + 1]!; at++) pairs.push(points[at - 1]!, points[at]!)
  return Uint32Array.from(pairs)
}

/** @returns null where a part has neither lines nor points alone. */
export function buildCloud({ mesh, drawn }: LoadedPart): THREE.Points | THREE.LineSegments | null {
  if (mesh.points.length === 0 || (!mesh.lines?.points.length && !isBare(mesh))) return null
  const geometry = new THREE.BufferGeometry()
  geometry.setAttribute('position', new THREE.BufferAttribute(drawn.pointPositions, 3))
  const colors = colorsOf(mesh)
  if (colors) geometry.setAttribute('color', new THREE.BufferAttribute(colors, 3))
  const look = { color: colors ? 0xffffff : VIEW_COLORS.edge, vertexColors: colors !== null }
  if (!isBare(mesh)) geometry.setIndex(new THREE.BufferAttribute(stretchesOf(mesh.lines!), 1))
  const cloud = isBare(mesh)
    ? new THREE.Points(geometry, new THREE.PointsMaterial({ ...look, size: POINT_SIZE, sizeAttenuation: false })) // prettier-ignore
    : new THREE.LineSegments(geometry, new THREE.LineBasicMaterial(look))
  cloud.userData.ownsMaterial = true
  return cloud
}
