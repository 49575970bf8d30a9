/** Which of a polygon's finer ones says what it has: material, groups and smoothing are those of one of them. */
import type { Mesh } from '../../scene/mesh.ts'

/** What polygons of a mesh have, one number a face each. */
function labelsOf({ faceMaterials, groups, smoothing }: Mesh): ArrayLike<number>[] {
  const bySmoothing =
    smoothing?.kind === 'groups'
      ? smoothing.faceGroups
      : smoothing?.kind === 'masks'
        ? smoothing.faceMasks
        : null
  return [faceMaterials, groups?.faceSets, bySmoothing].flatMap((labels) => labels ?? [])
}

/**
 * Finds for each polygon the finer one that tells it: any where they are alike; else of the kind of which there are fewest,
 * so that what was given to a part of it alone isn't called what it was.
 *
 * @returns asked with the first of a list's finer faces and the others one after the other.
 */
export function createTelling(mesh: Mesh): (faces: ArrayLike<number>) => number {
  const labels = labelsOf(mesh)
  const isAlike = (a: number, b: number): boolean => labels.every((label) => label[a] === label[b])
  return (faces) => {
    const first = faces[0]!
    let at = 1
    while (at < faces.length && isAlike(first, faces[at]!)) at++
    if (at === faces.length) return first
    const kinds: { readonly face: number; count: number }[] = []
    for (let each = 0; each < faces.length; each++) {
      const kind = kinds.find(({ face }) => isAlike(face, faces[each]!))
      if (kind) kind.count++
      else kinds.push({ face: faces[each]!, count: 1 })
    }
    return kinds.reduce((fewest, kind) => (kind.count <= fewest.count ? kind : fewest)).face
  }
}
