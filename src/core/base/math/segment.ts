/** How far a place is from a segment between two others: three coordinates each, the distance in their unit. */
export const distanceToSegment = (
  place: readonly number[],
  a: readonly number[],
  b: readonly number[],
): number => distanceBetween(place[0]!, place[1]!, place[2]!, a[0]!, a[1]!, a[2]!, b[0]!, b[1]!, b[2]!)

/** The same of two points of a list of 3 x pointCount coordinates. */
export const distanceToEdge = (
  place: readonly number[],
  points: Float64Array,
  a: number,
  b: number,
): number =>
  distanceBetween(
    place[0]!,
    place[1]!,
    place[2]!,
    points[3 * a]!,
    points[3 * a + 1]!,
    points[3 * a + 2]!,
    points[3 * b]!,
    points[3 * b + 1]!,
    points[3 * b + 2]!,
  )

function distanceBetween(
  x: number,
  y: number,
  z: number,
  ax: number,
  ay: number,
  az: number,
  bx: number,
  by: number,
  bz: number,
): number {
  const [ux, uy, uz] = [bx - ax, by - ay, bz - az]
  const square = ux * ux + uy * uy + uz * uz
  const along = (x - ax) * ux + (y - ay) * uy + (z - az) * uz
  const share = square > 0 ? Math.min(1, Math.max(0, along / square)) : 0
  const [dx, dy, dz] = [ax + share * ux - x, ay + share * uy - y, az + share * uz - z]
  return Math.sqrt(dx * dx + dy * dy + dz * dz)
}
