import {
  DEFAULT_SKEW,
  LEFT_REASONS,
  pairTriangles,
  type LeftReason,
  type PairedTriangles,
} from '../../mesh/cutting/pair-triangles.ts'
import { findSeams } from '../../uv/uv-measures.ts'
import { changeMeshes, chosenFaces, type StepDescriptor } from '../step.ts'

/** Behind a count of triangles. */
const REASON_WORDS: Readonly<Record<LeftReason, string>> = {
  taken: 'whose neighbours went to other pairs',
  shape: 'that would make a concave, skewed or very long quad',
  bend: 'that bend too much',
  marked: 'behind a seam, or a hard or creased edge',
  bordered: 'where material or groups change',
  alone: 'with no triangle beside',
}

/** Why triangles of a part stay, the most frequent reason first; nothing where none do. */
function stayNotes(name: string, left: PairedTriangles['left']): string[] {
  const reasons = LEFT_REASONS.filter((reason) => left.has(reason)).sort(
    (a, b) => left.get(b)! - left.get(a)!,
  )
  if (reasons.length === 0) return []
  const count = reasons.reduce((sum, reason) => sum + left.get(reason)!, 0)
  const words = reasons.map((reason) => `${left.get(reason)!.toLocaleString('en')} ${REASON_WORDS[reason]}`)
  return [
    `${count === 1 ? 'One triangle' : `${count.toLocaleString('en')} triangles`} of “${name}” ${count === 1 ? 'stays' : 'stay'}: ${words.join(', ')}.`,
  ]
}

export const pairTrianglesStep: StepDescriptor = {
  id: 'pair-triangles',
  area: 'polygons',
  title: 'Pair triangles to quads',
  description:
    'Joins neighbouring triangles to quads, the squarest first; never over a seam, a hard or creased edge, or where material or groups change.',
  changes: ['topology'],
  parameters: [
    // no more than the check of bent polygons allows, so that it finds none of these
    { id: 'bend', title: 'Bent at most', kind: 'number', unit: 'degrees', default: 20, min: 0, max: 180 },
    {
      id: 'skew',
      title: 'Corners off square at most',
      kind: 'number',
      unit: 'degrees',
      default: DEFAULT_SKEW,
      min: 0,
      max: 90,
    },
  ],
  run: (context) =>
    changeMeshes(context, 'triangles', (mesh, facts, node) => {
      const {
        mesh: paired,
        joined,
        left,
      } = pairTriangles(facts, {
        chosen: chosenFaces(context, node, mesh),
        borders: mesh.uvSets.map((set) => findSeams(facts, set)),
        mostBend: (context.number('bend') * Math.PI) / 180,
        mostSkew: (context.number('skew') * Math.PI) / 180,
      })
      return {
        mesh: paired,
        changedCount: joined.length,
        element: 'faces',
        elements: joined,
        notes: stayNotes(mesh.name, left),
      }
    }),
}
