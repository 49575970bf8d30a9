import { LineMaterial } from 'three/addons/lines/LineMaterial.js'
import { LineSegments2 } from 'three/addons/lines/LineSegments2.js'
import { LineSegmentsGeometry } from 'three/addons/lines/LineSegmentsGeometry.js'

export interface ThickLineOptions {
  readonly color: number
  /** Pixels. */
  readonly lineWidth: number
  readonly opacity: number
  readonly depthTest: boolean
  /** Size of the view, pixels. */
  readonly width: number
  readonly height: number
}

/**
 * Lines of a width in pixels, which plain lines can't have.
 * @param positions `dimensions` numbers a point; @param pairs two points a line.
 */
export function thickLines(
  positions: Float32Array,
  dimensions: 2 | 3,
  pairs: Uint32Array,
  options: ThickLineOptions,
): LineSegments2 {
  const ends = new Float32Array(pairs.length * 3)
  pairs.forEach((point, place) => {
    for (let axis = 0; axis < dimensions; axis++)
      ends[3 * place + axis] = positions[dimensions * point + axis]!
  })
  const geometry = new LineSegmentsGeometry()
  geometry.setPositions(ends)
  const material = new LineMaterial({
    color: options.color,
    linewidth: options.lineWidth,
    // drawn with the transparent things, which come last: a map must not cover them
    transparent: true,
    opacity: options.opacity,
    depthTest: options.depthTest,
    polygonOffset: true,
    polygonOffsetFactor: -4,
    polygonOffsetUnits: -4,
  })
  material.resolution.set(options.width, options.height)
  const lines = new LineSegments2(geometry, material)
  lines.frustumCulled = false
  return lines
}
