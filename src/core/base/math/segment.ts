/** How far a place is from a segment between two others: three coordinates each, the distance in their unit. */
export function distanceToSegment(
  place: readonly number[],
  a: readonly number[],
  b: readonly number[],
): number {
  let along = 0
  let square = 0
  for (let axis = 0; axis < 3; axis++) {
    along += (place[axis]! - a[axis]!) * (b[axis]! - a[axis]!)
    square += (b[axis]! - a[axis]!) ** 2
  }
  const share = square > 0 ? Math.min(1, Math.max(0, along / square)) : 0
  return Math.hypot(...[0, 1, 2].map((axis) => a[axis]! + share * (b[axis]! - a[axis]!) - place[axis]!))
}
