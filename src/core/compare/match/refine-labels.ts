import { faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'

const scramble = (value: number): number => {
  let h = Math.imul(value ^ (value >>> 16), 0x85ebca6b)
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35)
  return (h ^ (h >>> 16)) >>> 0
}

/**
 * A label a point that depends only on how the polygons hang together (Weisfeiler & Leman 1968: a label gathers its
 * neighbours' labels). Equal labels say little, a label that stands once on either side says much.
 *
 * @param rounds what lies farther away than so many edges changes no label.
 * @param windings 'one': polygons that wind the other way give other labels; 'both': the same.
 */
export function refineLabels(mesh: Mesh, rounds: number, windings: 'one' | 'both'): Uint32Array {
  const pointCount = pointCountOf(mesh)
  let labels = new Uint32Array(pointCount).fill(1)
  for (let round = 0; round < rounds; round++) {
    const sums = new Uint32Array(pointCount)
    for (let face = 0; face < faceCountOf(mesh); face++) {
      const start = mesh.faceOffsets[face]!
      const end = mesh.faceOffsets[face + 1]!
      let faceLabel = end - start
      for (let corner = start; corner < end; corner++)
        faceLabel = (faceLabel + scramble(labels[mesh.faceVertices[corner]!]!)) >>> 0
      for (let corner = start; corner < end; corner++) {
        const before = labels[mesh.faceVertices[corner > start ? corner - 1 : end - 1]!]!
        const after = labels[mesh.faceVertices[corner + 1 < end ? corner + 1 : start]!]!
        const point = mesh.faceVertices[corner]!
        const beside =
          windings === 'one'
            ? Math.imul(before, 31) ^ Math.imul(after, 17) ^ scramble(faceLabel)
            : (scramble(before) + scramble(after) + scramble(faceLabel)) >>> 0
        sums[point] = sums[point]! + scramble(beside)
      }
    }
    const next = new Uint32Array(pointCount)
    for (let point = 0; point < pointCount; point++)
      next[point] = scramble(Math.imul(labels[point]!, 0x9e3779b1) + sums[point]!)
    labels = next
  }
  return labels
}
