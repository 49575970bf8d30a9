/** Twice the area of a ring as a vector along its normal. */
function areaOf(ring: readonly number[], pointOf: (corner: number) => readonly number[]): number[] {
  const sum = [0, 0, 0]
  ring.forEach((corner, at) => {
    const [ax, ay, az] = pointOf(corner) as [number, number, number]
    const [bx, by, bz] = pointOf(ring[(at + 1) % ring.length]!) as [number, number, number]
    sum[0]! += ay * bz - az * by
    sum[1]! += az * bx - ax * bz
    sum[2]! += ax * by - ay * bx
  })
  return sum
}

/**
 * A ring with a hole in it as one ring: it goes in along a cut to the hole, round it against the border's own direction,
 * and back along the same cut, which is the shortest between their corners.
 *
 * @param border,hole corners in order. @param pointOf the place of a corner.
 * @returns corners of the one ring; the two ends of the cut stand twice in it.
 */
export function bridgeHole(
  border: readonly number[],
  hole: readonly number[],
  pointOf: (corner: number) => readonly number[],
): number[] {
  if (hole.length === 0 || border.length === 0) return [...border]
  const [outer, inner] = [areaOf(border, pointOf), areaOf(hole, pointOf)]
  const isAlong = outer.reduce((sum, value, axis) => sum + value * inner[axis]!, 0) > 0
  const ring = isAlong ? [...hole].reverse() : [...hole]
  let [from, to, least] = [0, 0, Infinity]
  border.forEach((corner, at) => {
    const a = pointOf(corner)
    ring.forEach((other, place) => {
      const b = pointOf(other)
      const distance = (a[0]! - b[0]!) ** 2 + (a[1]! - b[1]!) ** 2 + (a[2]! - b[2]!) ** 2
      if (distance < least) [from, to, least] = [at, place, distance]
    })
  })
  const turned = [...ring.slice(to), ...ring.slice(0, to)]
  return [...border.slice(0, from + 1), ...turned, turned[0]!, ...border.slice(from)]
}
