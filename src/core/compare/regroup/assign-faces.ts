import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { faceCountOf, type Mesh } from '../../scene/mesh.ts'
import { weldsOfLoose } from '../../mesh/welds/loose-polygons.ts'
import { assignBySurface, assignCutUp } from './assign-by-surface.ts'
import { findShells, formsAlike, shellForms, shellSignatures, trianglesOf, type ShellForm, type Shells } from './shells.ts' // prettier-ignore
import { voteFaces, type StandingMesh } from './vote-faces.ts'

/** A piece speaks for a part where so large a share of its polygons that speak for any speak for it. */
const OF_ONE_MIND = 0.9
/** And where at least this share of it speaks at all. */
const LEAST_HEARD = 0.1
/** A part that is found to less than this is not found. */
const LEAST_FOUND = 0.3
/** What a returned part holds of one below this share of it is chance. */
const LEAST_SHARE = 0.02
const MOST_OF_IT = 0.5
/** More triangles than this share of a part's own: some of them are a copy. */
const MOST_FOUND = 1.25

interface Piece {
  readonly part: number
  readonly shell: number
  readonly middle: readonly [number, number, number]
  /** What of its shape survives being moved, turned and sized. */
  readonly form: ShellForm
  /** Names of its materials. */
  readonly materials: string
}

/** Of each shell, the names of all materials of its polygons. */
function materialsOf({ mesh, materials = [] }: StandingMesh, { count, ofFace }: Shells): string[] {
  const names = Array.from({ length: count }, () => new Set<string>())
  mesh.faceMaterials?.forEach((material, face) => names[ofFace[face]!]!.add(materials[material] ?? ''))
  return names.map((own) => [...own].sort().join('\n'))
}

/** Middles of the shells' boxes; as shares of the box of all unless it stands in its place. */
function piecesOf(parts: readonly StandingMesh[], shells: readonly Shells[], inPlace: boolean): Piece[][] {
  let low = [Infinity, Infinity, Infinity]
  let high = [-Infinity, -Infinity, -Infinity]
  const boxes = parts.map(({ mesh, points }, part) => {
    const box = new Float64Array(shells[part]!.count * 6)
    for (let at = 0; at < box.length; at++) box[at] = at % 6 < 3 ? Infinity : -Infinity
    shells[part]!.ofFace.forEach((shell, face) => {
      for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++)
        for (let axis = 0; axis < 3; axis++) {
          const value = points[3 * mesh.faceVertices[corner]! + axis]!
          if (value < box[6 * shell + axis]!) box[6 * shell + axis] = value
          if (value > box[6 * shell + 3 + axis]!) box[6 * shell + 3 + axis] = value
        }
    })
    for (let at = 0; at < box.length; at++) {
      if (at % 6 < 3) low = low.map((value, axis) => (axis === at % 6 ? Math.min(value, box[at]!) : value))
      else high = high.map((value, axis) => (axis === (at % 6) - 3 ? Math.max(value, box[at]!) : value))
    }
    return box
  })
  const size = inPlace ? 1 : Math.hypot(...high.map((value, axis) => value - low[axis]!)) || 1
  const origin = inPlace ? [0, 0, 0] : low.map((value, axis) => (value + high[axis]!) / 2)
  const forms = parts.map(({ mesh, points }, part) => shellForms(mesh, points, shells[part]!))
  const materials = parts.map((standing, part) => materialsOf(standing, shells[part]!))
  return boxes.map((box, part) =>
    Array.from({ length: shells[part]!.count }, (_shell, shell) => ({
      part,
      shell,
      form: forms[part]![shell]!,
      materials: materials[part]![shell]!,
      middle: [0, 1, 2].map(
        (axis) => ((box[6 * shell + axis]! + box[6 * shell + 3 + axis]!) / 2 - origin[axis]!) / size,
      ) as [number, number, number],
    })),
  )
}

/** Above this many pairs of pieces alike, they are paired in the order in which they lie. */
const MOST_PAIRS = 250_000

function pairNearest(masters: readonly Piece[], returned: readonly Piece[]): [Piece, Piece][] {
  if (masters.length * returned.length > MOST_PAIRS) {
    const inOrder = (pieces: readonly Piece[]): Piece[] =>
      [...pieces].sort(({ middle: p }, { middle: q }) => p[0] - q[0] || p[1] - q[1] || p[2] - q[2])
    const others = inOrder(returned)
    return inOrder(masters)
      .slice(0, others.length)
      .map((piece, at) => [piece, others[at]!])
  }
  const apart = (a: Piece, b: Piece): number =>
    Math.hypot(...a.middle.map((value, axis) => value - b.middle[axis]!))
  const pairs = masters
    .flatMap((a) => returned.map((b) => ({ a, b, distance: apart(a, b) })))
    // closed ones of as many triangles have as many points: that alone may be chance
    .filter(({ a, b }) => formsAlike(a.form, b.form))
    // what kept its material is not another's, wherever it went
    .sort((p, q) => Number(p.a.materials !== p.b.materials) - Number(q.a.materials !== q.b.materials) || p.distance - q.distance) // prettier-ignore
  const taken = new Set<Piece>()
  return pairs.flatMap(({ a, b }): [Piece, Piece][] => {
    if (taken.has(a) || taken.has(b)) return []
    taken.add(a).add(b)
    return [[a, b]]
  })
}

/** Whether a piece may be another part's as well as the one's that it is taken for. */
const isAsLikely = (own: Piece, other: Piece, { form, materials }: Piece): boolean =>
  other.part !== own.part &&
  formsAlike(other.form, form) &&
  (other.materials === materials || own.materials !== materials)

const triangleCount = (mesh: Mesh): number => mesh.faceVertices.length - 2 * faceCountOf(mesh)

/** Polygons of a piece that is of several parts: each goes with its own vote, the rest with their neighbours. */
function spread(mesh: Mesh, ofShell: readonly number[], votes: Int32Array, into: Int32Array): void {
  const facesAt = new Map<number, number[]>()
  for (const face of ofShell)
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
      const point = mesh.faceVertices[corner]!
      const held = facesAt.get(point)
      if (held) held.push(face)
      else facesAt.set(point, [face])
    }
  let front = ofShell.filter((face) => votes[face]! >= 0)
  for (const face of front) into[face] = votes[face]!
  while (front.length) {
    const next: number[] = []
    for (const face of front)
      for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++)
        for (const other of facesAt.get(mesh.faceVertices[corner]!) ?? [])
          if (into[other] === -1) {
            into[other] = into[face]!
            next.push(other)
          }
    front = next
  }
}

/** Share of a part's diagonal within which the corners of polygons that nobody joined lie on each other. */
const TOGETHER = 1e-5

/** A part whose polygons were never joined, with those joined that lie side by side: they hang together by their places. */
function joinedByPlaces(standing: StandingMesh): StandingMesh {
  const { mesh } = standing
  const welds = weldsOfLoose(mesh, diagonalOf(boundsOf(mesh.points)) * TOGETHER)
  return welds
    ? { ...standing, mesh: { ...mesh, faceVertices: mesh.faceVertices.map((point) => welds[point]!) } }
    : standing
}

/**
 * Which of the master's parts each polygon of each returned part came from: by UVs and places, piece by piece; pieces
 * that say nothing by what of their shape survives, the nearest first.
 *
 * @param cameFrom the master's parts. @param came the returned ones.
 * @param nameOwner for each returned part, the master's part of its very name; -1 for none.
 * @param inPlace all of it stands about where it stood, so that places compare as they are.
 * @param orAnother and may stand another way about as well.
 * @returns `assigned`: one number a face of each returned part; -1 where it is of none, or it can't be known; `bySurface`:
 *   the master's parts of which pieces are known by the surface alone on which they lie; `oneOfSeveral`: those of which
 *   pieces are known by their shape alone, which another part has as well.
 */
export function assignFaces(
  cameFrom: readonly StandingMesh[],
  came: readonly StandingMesh[],
  nameOwner: readonly number[],
  inPlace = false,
  orAnother = false,
): {
  readonly assigned: Int32Array[]
  readonly bySurface: ReadonlySet<number>
  readonly oneOfSeveral: ReadonlySet<number>
} {
  const [masters, returned] = [cameFrom.map(joinedByPlaces), came.map(joinedByPlaces)]
  const votes = voteFaces(masters, returned)
  const shells = returned.map(({ mesh }) => findShells(mesh))
  const assigned = returned.map(({ mesh }) => new Int32Array(faceCountOf(mesh)).fill(-1))
  const open: Piece[] = []
  const pieces = piecesOf(returned, shells, inPlace)
  const facesOf = shells.map(({ count, ofFace }) => {
    const lists = Array.from({ length: count }, (): number[] => [])
    ofFace.forEach((shell, face) => lists[shell]!.push(face))
    return lists
  })
  returned.forEach(({ mesh }, part) =>
    facesOf[part]!.forEach((faces, shell) => {
      const tally = new Map<number, number>()
      let heard = 0
      for (const face of faces) {
        const vote = votes[part]![face]!
        if (vote < 0) continue
        heard++
        tally.set(vote, (tally.get(vote) ?? 0) + 1)
      }
      const [best] = [...tally].sort((a, b) => b[1] - a[1])
      if (!best || heard < faces.length * LEAST_HEARD) open.push(pieces[part]![shell]!)
      else if (best[1] >= heard * OF_ONE_MIND) for (const face of faces) assigned[part]![face] = best[0]
      else spread(mesh, faces, votes[part]!, assigned[part]!)
    }),
  )

  let known: { readonly masterShells: Shells[]; readonly masterPieces: Piece[][] } | null = null
  const ofMasters = (): NonNullable<typeof known> => {
    if (known) return known
    const masterShells = masters.map(({ mesh }) => findShells(mesh))
    return (known = { masterShells, masterPieces: piecesOf(masters, masterShells, inPlace) })
  }
  const oneOfSeveral = new Set<number>()
  /** Parts of which pieces came back in other polygons: how many there are says nothing. */
  const bySurface = new Set<number>()
  const sizes = masters.map(({ mesh }) => triangleCount(mesh))
  /** Triangles of each of the master's parts in each returned part. */
  const shares = (): Map<number, number>[] =>
    returned.map(({ mesh }, part) => {
      const found = new Map<number, number>()
      assigned[part]!.forEach((owner, face) => {
        if (owner >= 0) found.set(owner, (found.get(owner) ?? 0) + trianglesOf(mesh, face))
      })
      return found
    })
  if (open.length) {
    const found = new Float64Array(masters.length)
    for (const share of shares()) for (const [owner, triangles] of share) found[owner]! += triangles
    const { masterShells, masterPieces } = ofMasters()
    const alike = new Map<string, Piece[]>()
    masters.forEach(({ mesh }, part) => {
      if (found[part]! > sizes[part]! * 0.5) return
      shellSignatures(mesh, masterShells[part]!).forEach((signature, shell) => {
        const held = alike.get(signature)
        if (held) held.push(masterPieces[part]![shell]!)
        else alike.set(signature, [masterPieces[part]![shell]!])
      })
    })
    const signatures = returned.map(({ mesh }, part) => shellSignatures(mesh, shells[part]!))
    const others = new Map<string, Piece[]>()
    for (const piece of open) {
      const signature = signatures[piece.part]![piece.shell]!
      if (!alike.has(signature)) continue
      const held = others.get(signature)
      if (held) held.push(piece)
      else others.set(signature, [piece])
    }
    for (const [signature, candidates] of others) {
      const owners = alike.get(signature)!
      for (const [own, piece] of pairNearest(owners, candidates)) {
        for (const face of facesOf[piece.part]![piece.shell]!) assigned[piece.part]![face] = own.part
        if ((!inPlace || orAnother) && owners.some((other) => isAsLikely(own, other, piece)))
          oneOfSeveral.add(own.part)
      }
    }
    if (inPlace) {
      const left = open
        .map(({ part, shell }) => ({ part, faces: facesOf[part]![shell]! }))
        .filter(({ part, faces }) => assigned[part]![faces[0]!] === -1)
      const owners = assignBySurface(
        masters.map((standing, part) => (found[part]! > sizes[part]! * MOST_OF_IT ? null : standing)),
        masters.map((_standing, part) => nameOwner.includes(part)),
        returned,
        left,
      )
      left.forEach(({ part, faces }, at) => {
        if (owners[at]! < 0) return
        bySurface.add(owners[at]!)
        for (const face of faces) assigned[part]![face] = owners[at]!
      })
      const still = left.filter(({ part, faces }) => assigned[part]![faces[0]!] === -1)
      const known = new Float64Array(masters.length)
      for (const share of shares()) for (const [owner, triangles] of share) known[owner]! += triangles
      // what is missing by less may have been left out
      const wanted = sizes.map((size, part) =>
        size - known[part]! > size * LEAST_SHARE ? size - known[part]! : 0,
      )
      const cutFrom = still.length
        ? assignCutUp(masters, wanted, (part) => known[part]! > 0, returned, still)
        : []
      still.forEach(({ part, faces }, at) => {
        if (cutFrom[at]! >= 0) for (const face of faces) assigned[part]![face] = cutFrom[at]!
      })
    }
  }

  // where it may stand another way, places say no more than shapes do
  if (orAnother) {
    const owners = new Map<string, Set<number>>()
    const keyOf = (signature: string, piece: Piece): string => `${signature}\n${piece.materials}`
    const { masterShells, masterPieces } = ofMasters()
    masters.forEach(({ mesh }, part) =>
      shellSignatures(mesh, masterShells[part]!).forEach((signature, shell) => {
        const key = keyOf(signature, masterPieces[part]![shell]!)
        owners.set(key, (owners.get(key) ?? new Set()).add(part))
      }),
    )
    returned.forEach(({ mesh }, part) => {
      if (mesh.uvSets.length > 0) return
      shellSignatures(mesh, shells[part]!).forEach((signature, shell) => {
        const owner = assigned[part]![facesOf[part]![shell]![0]!]!
        const alike = owners.get(keyOf(signature, pieces[part]![shell]!))
        if (owner >= 0 && alike && alike.size > 1 && alike.has(owner)) oneOfSeveral.add(owner)
      })
    })
  }

  const drop = (part: number, owner: number): void => {
    const faces = assigned[part]!
    for (let face = 0; face < faces.length; face++) if (faces[face] === owner) faces[face] = -1
  }
  const held = shares()
  masters.forEach((_part, owner) => {
    const holders = held
      .flatMap((share, part) => (share.has(owner) ? [{ part, triangles: share.get(owner)! }] : []))
      .sort(
        (a, b) =>
          Number(nameOwner[b.part] === owner) - Number(nameOwner[a.part] === owner) ||
          b.triangles - a.triangles,
      )
    const all = holders.reduce((sum, { triangles }) => sum + triangles, 0)
    let sum = 0
    for (const { part, triangles } of holders) {
      if (bySurface.has(owner)) continue
      const tooMuch = sum > 0 && sum + triangles > sizes[owner]! * MOST_FOUND
      // a small piece that is of nothing else is no chance
      const byChance =
        triangles < sizes[owner]! * LEAST_SHARE &&
        triangles < triangleCount(returned[part]!.mesh) * MOST_OF_IT
      if (all < sizes[owner]! * LEAST_FOUND || byChance || tooMuch) drop(part, owner)
      else sum += triangles
    }
  })
  // a returned part that holds one part alone is that part, with whatever is new in it
  returned.forEach((_part, part) => {
    const owners = new Set(assigned[part]!)
    owners.delete(-1)
    if (owners.size !== 1) return
    // unless most of it is of nothing that left: then it only holds that part
    const [own] = [...owners]
    const known = shares()[part]!.get(own!)!
    if (known >= triangleCount(returned[part]!.mesh) * MOST_OF_IT) assigned[part]!.fill(own!)
  })
  return { assigned, bySurface, oneOfSeveral }
}
