import { meanScale } from '../../base/math/matrix.ts'
import { forecastPanels, PANEL_PROBLEMS, type PanelProblem } from '../../uv/panels/panels-of.ts'
import { groupedElements, type CheckDescriptor, type Mend } from '../check.ts'

const PANELS: Mend = { step: 'make-panels', params: {} }
const MENDS: Readonly<Record<PanelProblem, Mend | null>> = {
  pieces: PANELS,
  closed: PANELS,
  borders: PANELS,
  overlap: PANELS,
  nonManifold: { step: 'split-non-manifold', params: {} },
  small: null,
}

export const sewingPanels: CheckDescriptor = {
  id: 'sewing-panels',
  area: 'uvs',
  scope: 'part',
  title: 'Panels for sewing',
  why: 'A sewing tool takes a face group as a panel only if it is one piece of cloth with one border that lies flat without covering itself.',
  reads: ['points', 'faceVertices', 'faceOffsets', 'uvSets', 'groups', 'world', 'space'],
  problems: {
    pieces: {
      severity: 'warning',
      text: '{count} [panel|panels] would be refused: [it is|they are] in more than one piece ({names}).',
    },
    closed: {
      severity: 'warning',
      text: '{count} [panel|panels] would be refused: [it has|they have] no border to be cut along ({names}).',
    },
    borders: {
      severity: 'warning',
      text: '{count} [panel|panels] would be refused: [it has|they have] several borders ({names}).',
    },
    overlap: {
      severity: 'warning',
      text: '{count} [panel|panels] would be refused: [it covers itself|they cover themselves] where [it lies|they lie] flat ({names}).',
    },
    nonManifold: {
      severity: 'warning',
      text: '{count} [panel|panels] would be refused: more than two polygons meet in an edge, or two face opposite ways ({names}).',
    },
    small: {
      severity: 'warning',
      text: '{count} [panel|panels] would be refused: [it is|they are] smaller than {least} cm² ({names}).',
    },
  },
  run({ scene, mesh, facts, world, settings }, report) {
    if (!settings.wantPanels || !mesh.groups) return
    // square centimetres to one of the mesh's own units
    const unit = (meanScale(world) || 1) * (scene.space.unitMeters ?? 0.01) * 100
    const found = forecastPanels(facts, mesh.uvSets[0] ?? null, settings.leastPanel / (unit * unit))
    for (const problem of PANEL_PROBLEMS) {
      const bad = found.filter(({ problems }) => problems.includes(problem)).map(({ panel }) => panel)
      if (bad.length === 0) continue
      const names = bad.slice(0, 3).map(({ name }) => `“${name}”`)
      const mend = MENDS[problem]
      report({
        problem,
        count: bad.length,
        parameters: {
          names:
            names.join(', ') + (bad.length > names.length ? ` and ${bad.length - names.length} more` : ''),
          least: settings.leastPanel,
        },
        places: groupedElements(
          'faces',
          bad.map(({ faces }) => faces),
        ),
        ...(mend ? { fix: mend } : {}),
      })
    }
  },
}
