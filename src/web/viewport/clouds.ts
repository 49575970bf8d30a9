/** Parts without polygons, drawn as the points that they are: scans, and what has lost its polygons. */
import * as THREE from 'three'
import type { Mesh } from '../../core/scene/mesh.ts'
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

export function buildCloud({ mesh, drawn }: LoadedPart): THREE.Points {
  const geometry = new THREE.BufferGeometry()
  geometry.setAttribute('position', new THREE.BufferAttribute(drawn.pointPositions, 3))
  const colors = colorsOf(mesh)
  if (colors) geometry.setAttribute('color', new THREE.BufferAttribute(colors, 3))
  return new THREE.Points(
    geometry,
    new THREE.PointsMaterial({
      color: colors ? 0xffffff : VIEW_COLORS.edge,
      vertexColors: colors !== null,
      size: POINT_SIZE,
      sizeAttenuation: false,
    }),
  )
}
