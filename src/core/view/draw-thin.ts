/** Lines and points in a small picture: what has no surface to be shaded. */
import type { Mesh } from '../scene/mesh.ts'
import type { Canvas } from './canvas.ts'

/** Brightness, as of a surface that the light meets aslant. */
const SHADE = 0.62
/** Samples across. */
const THICK = 2

function dot(x: number, y: number, depth: number, { depths, light, columns, rows }: Canvas): void {
  const left = Math.round(x - THICK / 2)
  const top = Math.round(y - THICK / 2)
  for (let row = Math.max(0, top); row < Math.min(rows, top + THICK); row++)
    for (let column = Math.max(0, left); column < Math.min(columns, left + THICK); column++) {
      const place = row * columns + column
      if (depth < depths[place]!) continue
      depths[place] = depth
      light[place] = SHADE
    }
}

/** @param seen 3 x pointCount: samples across and down, and depth. */
export function drawLines({ lines }: Mesh, seen: Float64Array, canvas: Canvas): void {
  if (!lines) return
  for (let line = 0; line + 1 < lines.offsets.length; line++)
    for (let at = lines.offsets[line]! + 1; at < lines.offsets[line + 1]!; at++) {
      const [a, b] = [3 * lines.points[at - 1]!, 3 * lines.points[at]!]
      const [dx, dy, dz] = [seen[b]! - seen[a]!, seen[b + 1]! - seen[a + 1]!, seen[b + 2]! - seen[a + 2]!]
      const steps = Math.ceil(Math.max(Math.abs(dx), Math.abs(dy)))
      // all of the model lies within the picture: longer ones are no numbers
      if (!(steps <= 2 * (canvas.columns + canvas.rows)) || !Number.isFinite(dz)) continue
      canvas.samplesLeft -= steps * THICK
      if (canvas.samplesLeft < 0) return
      for (let step = 0; step <= steps; step++) {
        const share = steps === 0 ? 0 : step / steps
        dot(seen[a]! + share * dx, seen[a + 1]! + share * dy, seen[a + 2]! + share * dz, canvas)
      }
    }
}

/** @param seen 3 x pointCount: samples across and down, and depth. */
export function drawPoints(seen: Float64Array, canvas: Canvas): void {
  canvas.samplesLeft -= (seen.length / 3) * THICK
  for (let at = 0; at < seen.length && canvas.samplesLeft > 0; at += 3)
    if (Number.isFinite(seen[at]! + seen[at + 1]! + seen[at + 2]!))
      dot(seen[at]!, seen[at + 1]!, seen[at + 2]!, canvas)
}
