import { compared, type PartTraitDescriptor } from '../trait.ts'
import { compareTopology } from './compare-topology.ts'

/** Lines and single points, told behind what became of the polygons. */
const LINES =
  '[?linesGone|; {linesGone} [line or single point is|lines or single points are|linesGone] gone][?linesNew|; {linesNew} [line or single point is|lines or single points are|linesNew] new]'

/** Said first of what was found in a subdivided part. */
const REFINED = '[?levels|It came back subdivided. ]'

/** What is said of a part, also where it was found in a subdivided one; those leave as cages. */
const alsoRefined = (text: string): { readonly ledger: string; readonly forecast: string } => ({
  ledger: `${REFINED}${text}`,
  forecast: text,
})

/** Polygons as drawn: which there are, over which points, wound which way. */
export const topology: PartTraitDescriptor = {
  id: 'topology',
  title: 'topology',
  scope: 'part',
  ofThePart: false,
  notes: {
    subdivided: {
      ledger:
        'It came back subdivided; its {total} [polygon was|polygons were|total] found again in it, all of them.',
      forecast: 'It leaves subdivided.',
    },
    renumbered: {
      ledger: 'The same polygons, with the vertices or polygons in another order.',
      otherForm: 'What goes by the vertices’ numbers, such as shapes made elsewhere, does not fit the file.',
    },
    'topology-changed': {
      ledger: `${REFINED}Of {total} polygons {gone}{turned}{cut}[?added|; {added} [is|are|added] new]${LINES}.`,
      forecast: `Of {total} polygons {gone}{turned}{cut} in the file[?added|; {added} [is|are|added] new]${LINES}.`,
    },
    'points-added': {
      ...alsoRefined(
        `The polygons are the same[?lost|; {lost} loose [point is|points are|lost] gone][?added|; {added} [is|are|added] new]${LINES}.`,
      ),
    },
    'cloud-changed': {
      ledger: `Of {total} points [?lost|{lost} [is|are|lost] gone][?whole|all are there][?added|; {added} [is|are|added] new]${LINES}.`,
    },
    'drawing-changed': {
      ledger:
        'The points are the same; [?lost|{lost} [line or single point is|lines or single points are|lost] gone][?both|, ][?added|{added} [is|are|added] new].',
      forecast:
        'The points are carried; [?lost|{lost} [line or single point is|lines or single points are|lost] not][?both|, ][?added|{added} [is|are|added] new in the file].',
    },
    'lines-changed': {
      ledger: `${REFINED}The polygons are the same; [?lost|{lost} [line or single point is|lines or single points are|lost] gone][?both|, ][?added|{added} [is|are|added] new].`,
      forecast:
        'The polygons are carried; [?lost|{lost} [line or single point is|lines or single points are|lost] not][?both|, ][?added|{added} [is|are|added] new in the file].',
    },
    'points-welded': {
      ...alsoRefined(
        `The polygons are the same; {welded} [point was|points were|welded] welded to others[?lost|, {lost} loose [one is|ones are|lost] gone][?added|, {added} [is|are|added] new]${LINES}.`,
      ),
    },
    'panels-anew': {
      ledger:
        'It came back as panels in polygons of the tool’s own; its {total} [polygon was|polygons were|total] laid over them by their UVs.',
      forecast: 'It leaves as panels in other polygons.',
    },
    'polygons-cut': {
      ...alsoRefined(
        `[Its polygon is there|All {total} polygons are there|total], [cut into smaller ones|{changed} of them cut into smaller ones|total][?splitOff|; {splitOff} [point was|points were|splitOff] split off others]${LINES}.`,
      ),
      otherForm: 'The tool gets triangles; the polygons are put together again from the master.',
      toolsOwn: true,
    },
    'points-split': {
      ...alsoRefined(
        `The polygons are the same; {count} [point was|points were] split off others, as at seams and hard edges${LINES}.`,
      ),
      otherForm: 'The tool sees a border where the points were split; they are joined again on return.',
      toolsOwn: true,
    },
  },
  fingerprint({ mesh }, hash) {
    hash.integer(mesh.points.length).numbers(mesh.faceOffsets).numbers(mesh.faceVertices)
    if (mesh.lines) hash.numbers(mesh.lines.offsets).numbers(mesh.lines.points).numbers(mesh.lines.uvs)
    if (mesh.pointElements) hash.numbers(mesh.pointElements)
  },
  compare({ master, returned, correspondence, match }) {
    const found = compareTopology(master, returned, correspondence)
    if (match.panels !== undefined)
      return compared('within', 'panels-anew', {
        totalCount: found.totalCount,
        parameters: { total: found.totalCount },
      })
    if (match.levels === undefined) return found
    return found.state === 'same' || found.note === 'renumbered'
      ? compared('within', 'subdivided', {
          totalCount: found.totalCount,
          parameters: { total: found.totalCount },
        })
      : { ...found, parameters: { ...found.parameters, levels: match.levels } }
  },
  carry: { kind: 'base' },
}
