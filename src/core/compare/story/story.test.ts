/** What a ledger says in words, from real comparisons: what happened stands there, what did not does not, in five sentences at most. */
import { describe, expect, test } from 'vitest'
import { howMany } from '../../../../tests/how-many.ts'
import { gridOf, sceneOf } from '../../../../tests/solids.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { renderText } from '../../base/messages/render.ts'
import { damage, type FaultName } from '../../practice/faults/mesh-faults.ts'
import { anySceneReturn, damageScene, flatten, type SceneFault } from '../../practice/faults/scene-faults.ts'
import { subdivideMesh } from '../../mesh/subdividing/subdivide-mesh.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import { carvePoints } from '../../practice/faults/carve-points.ts'
import { lightenMesh } from '../../practice/faults/lighten-mesh.ts'
import { EMPTY_MESH, type Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { compareScenes } from '../compare-scenes.ts'
import type { LedgerRow } from '../ledger.ts'
import { recogniseReturn } from '../recognise/recognise-return.ts'
import { NOTES, TRAIT_DESCRIPTORS, type Trait } from '../traits/registry.ts'
import { makeReport, reportPage } from './report.ts'
import { tellStory } from './tell-story.ts'

const heron = flatten(buildCourierHeron())
const storyOf = (returned: Scene, undoWhole = false): string[] => {
  const found = recogniseReturn(heron, returned, { undoWhole })
  const ledger = compareScenes(heron, found.returned, () => {}, found.matching)
  return tellStory(
    { ...ledger, undone: found.undone },
    {
      titleOf: (trait) => TRAIT_DESCRIPTORS[trait as Trait].title,
      isToolsOwn: (note) => NOTES[note]?.toolsOwn === true,
    },
  )
}
const told = (sceneFaults: SceneFault[], meshFaults: FaultName[], undoWhole = false): string =>
  storyOf(damageScene(heron, sceneFaults, meshFaults, chanceOf(5)).returned, undoWhole).join(' ')

describe('what happened', () => {
  test('nothing', () =>
    expect(storyOf(heron)).toEqual([
      `Nothing changed: all ${heron.meshes.reduce((sum, mesh) => sum + mesh.faceOffsets.length - 1, 0).toLocaleString('en-US')} polygons of 12 parts are as they left.`,
    ]))
  test('to parts of lines or points alone: no polygons are counted, of which they have none', () => {
    const line: Mesh = {
      ...EMPTY_MESH,
      points: Float64Array.of(0, 0, 0, 1, 0, 0, 1, 1, 0),
      lines: {
        offsets: Uint32Array.of(0, 3),
        points: Uint32Array.of(0, 1, 2),
        uvs: new Int32Array(3).fill(-1),
      },
    }
    const story = (master: Mesh, came: Mesh): string => {
      const [own, other] = [sceneOf([master]), sceneOf([came])]
      const found = recogniseReturn(own, other)
      const words = { titleOf: (trait: string) => trait, isToolsOwn: () => false }
      return tellStory(
        compareScenes(own, found.returned, () => {}, found.matching),
        words,
      ).join(' ')
    }
    expect(story(line, line)).toBe('Nothing changed: the one part is as it left.')
    const both = sceneOf([line, { ...line, points: line.points.map((value) => value + 5) }])
    const told = tellStory(compareScenes(both, both), { titleOf: (trait) => trait, isToolsOwn: () => false })
    expect(told).toEqual(['Nothing changed: all 2 parts are as they left.'])
    const renumbered = {
      ...line,
      points: Float64Array.of(1, 1, 0, 1, 0, 0, 0, 0, 0),
      lines: { ...line.lines!, points: Uint32Array.of(2, 1, 0) },
    }
    expect(story(line, renumbered)).not.toMatch(/\b0 polygons/)
  })
  test('to parts without a name: that they have none is said', () => {
    const nameless = (meshes: readonly Mesh[]): Scene => {
      const scene = sceneOf(meshes)
      return { ...scene, nodes: scene.nodes.map((node) => ({ ...node, name: '' })) }
    }
    const master = nameless([gridOf(5, 4)])
    const came = nameless([damage(gridOf(5, 4), ['deleted'], chanceOf(2)).mesh])
    const found = recogniseReturn(master, came)
    const words = { titleOf: (trait: string) => trait, isToolsOwn: () => false }
    const text = tellStory(
      compareScenes(master, found.returned, () => {}, found.matching),
      words,
    ).join(' ')
    expect(text).toContain('(no name)')
    expect(text).not.toContain('“”')
    const ledger = compareScenes(master, found.returned, () => {}, found.matching)
    const about = { asset: '', trip: 1, destination: '', file: '', at: '', traits: [], notes: NOTES }
    const page = reportPage(makeReport({ ...about, ledger }))
    expect(page).toContain('<h2>(no name) <span')
  })
  test('a size, before and after it is undone', () => {
    expect(told(['sized'], [])).toMatch(
      /^Everything came back [\d.]+ times as large as it was sent; what else moved can be told once that is undone\./,
    )
    expect(told(['sized'], [], true)).toMatch(
      /^Everything came back [\d.]+ times as large as it was sent; that is undone here\./,
    )
    expect(told(['sized'], [])).not.toMatch(/Points moved/)
  })
  test('sculpted, cut into triangles, renumbered', () => {
    const text = told([], ['sculpted', 'triangulated', 'renumbered'])
    expect(text).toMatch(/^Points moved up to [\d.]+ cm on all parts\. Came back in smaller polygons/)
    expect(text).toMatch(/all [\d,]+ polygons were found again/)
    expect(text).not.toMatch(/changed: UVs/)
  })
  test('parts that merged, that are new, that are not there', () => {
    expect(told(['merged'], [])).toMatch(/came back inside other parts and were taken apart again/)
    expect(told(['cutUp'], [])).toMatch(/came back in pieces and was put together again/)
    expect(told(['added', 'dropped'], [])).toMatch(
      /“\w+” did not come back; the master still has it; “brand_new” is new\./,
    )
    expect(told(['swapped'], ['sculpted'])).toMatch(/came back under other names/)
  })
  test('made anew, carved and a hundred times as large: by its surfaces, and how far they lie apart only once it stands again', () => {
    const returned: Scene = { ...heron, format: 'obj', meshes: heron.meshes.map((mesh) => {
      const { points, faceOffsets, faceVertices } = lightenMesh({ ...mesh, points: carvePoints(mesh, 0.03) }, 1.5)
      return { ...EMPTY_MESH, name: mesh.name, points: points.map((value) => value * 100), faceOffsets, faceVertices }
    }) } // prettier-ignore
    const text = storyOf(returned).join(' ')
    expect(text).toMatch(/^As far as its surfaces tell, everything came back 100 times as large as it was sent; what else/) // prettier-ignore
    expect(text).toMatch(/no polygon was found again, so nothing is said of what lies on them\./)
    const undone = storyOf(returned, true).join(' ')
    expect(undone).toMatch(/^As far as its surfaces tell, everything .* that is undone here\./)
    expect(undone).toMatch(/their surfaces lie off the master’s by [\d.]+ cm at most/)
  })
  test('subdivided', () => {
    const returned = { ...heron, meshes: heron.meshes.map((mesh) => ({ ...subdivideMesh(mesh, { levels: 1, uvMode: 'boundaries', sharpCorners: false }), id: '' })) } // prettier-ignore
    expect(storyOf(returned).join(' ')).toMatch(
      /^Came back subdivided on all parts; all [\d,]+ polygons were found again\./,
    )
  })
  const refined = (mesh: Mesh): Mesh => ({ ...subdivideMesh(mesh, { levels: 1, uvMode: 'boundaries', sharpCorners: false }), id: '' }) // prettier-ignore
  test('subdivided, and what no polygon uses is gone: both, and by a guess where it is one', () => {
    const loose = (mesh: Mesh): Mesh => ({ ...mesh, points: Float64Array.from([...mesh.points, 0, 0, 0, 1, 1, 1]), id: '' }) // prettier-ignore
    const master = { ...heron, meshes: [loose(heron.meshes[0]!), ...heron.meshes.slice(1)] }
    const returned = { ...heron, meshes: heron.meshes.map(refined) }
    const found = recogniseReturn(master, returned)
    const ledger = compareScenes(master, found.returned, () => {}, found.matching)
    const tell = (rows: readonly LedgerRow[]): string =>
      tellStory({ ...ledger, rows }, { titleOf: (trait) => trait, isToolsOwn: () => false }).join(' ')
    expect(tell(ledger.rows)).toMatch(
      /^Came back subdivided on all parts; all [\d,]+ polygons were found again; loose points are gone on 1 of 12 parts\./,
    )
    const { topology } = ledger.rows[0]!.cells
    expect(renderText(NOTES[topology!.note]!.ledger, topology!.parameters)).toBe(
      'It came back subdivided. The polygons are the same; 2 loose points are gone.',
    )
    const guessed = ledger.rows.map((row, at) => at > 0 ? row : { ...row, cells: { ...row.cells, topology: { ...topology!, state: 'guess' as const } } }) // prettier-ignore
    expect(tell(guessed)).toMatch(
      new RegExp(`polygons were found again, those of “${ledger.rows[0]!.name}” by a guess; loose`),
    )
  })
  test('turned over, some of it in smaller polygons too', () => {
    const meshes = heron.meshes.map(
      (mesh, at) =>
        damage(mesh, at === 0 ? ['triangulated', 'turnedOver'] : ['turnedOver'], chanceOf(3)).mesh,
    )
    expect(storyOf({ ...heron, meshes }).join(' ')).toMatch(
      /^Came back turned over on all parts, and in smaller polygons on 1 of them; all [\d,]+ polygons were found again\./,
    )
  })
})

test('whatever happened: one to five sentences, each a sentence, nothing left open in them', () => {
  for (let seed = 0; seed < howMany(4, 60); seed++) {
    const story = storyOf(anySceneReturn(heron, chanceOf(400 + seed)).returned)
    expect(story.length).toBeGreaterThan(0)
    expect(story.length).toBeLessThanOrEqual(5)
    for (const sentence of story) {
      expect(sentence).toMatch(/^[A-Z“].*\.$/)
      expect(sentence).not.toMatch(/\?|undefined|NaN|\{|  |\.\./)
    }
  }
})

describe('a report to keep', () => {
  const made = damageScene(heron, ['dropped'], ['sculpted'], chanceOf(2))
  const found = recogniseReturn(heron, made.returned)
  const ledger = compareScenes(heron, found.returned, () => {}, found.matching)
  const report = makeReport({
    asset: 'Heron <b>&"',
    trip: 3,
    destination: 'Sculpting tool',
    file: 'x.obj',
    at: 'today',
    ledger: { ...ledger, undone: found.undone },
    traits: Object.values(TRAIT_DESCRIPTORS).filter(({ scope }) => scope === 'part'),
    notes: NOTES,
  })
  test('says what the ledger says, part by part', () => {
    expect(report.story.join(' ')).toMatch(/did not come back/)
    expect(report.parts.map(({ name }) => name)).toEqual(ledger.rows.map(({ name }) => name))
    const points = report.parts.find(({ name }) => !made.dropped.has(heron.meshes.findIndex((mesh) => mesh.name === name)))!.traits.find(({ trait }) => trait === 'points')! // prettier-ignore
    expect(points).toMatchObject({
      state: 'changed',
      says: expect.stringMatching(/points moved, the farthest by/),
    })
    expect(JSON.parse(JSON.stringify(report))).toEqual(report)
  })
  test('traits are told by the titles that they are shown by', () => {
    const bare = { ...heron, meshes: heron.meshes.map((mesh) => ({ ...mesh, smoothing: null })) }
    const { story } = makeReport({
      asset: '',
      trip: 1,
      destination: '',
      file: '',
      at: '',
      ledger: compareScenes(heron, bare),
      traits: [{ id: 'smoothing', title: 'roundness' }],
      notes: NOTES,
    })
    expect(story.join(' ')).toMatch(/roundness/)
    expect(story.join(' ')).not.toMatch(/smoothing/)
  })
  test('as a page, whatever names hold', () => {
    const page = reportPage(report)
    expect(page).toContain('<h1>Heron &lt;b&gt;&amp;&quot;, trip 3: what came back</h1>')
    for (const { name } of report.parts) expect(page).toContain(`<h2>${name} `)
    expect(page).not.toMatch(/undefined|NaN|\{\w+\}/)
  })
})

describe('what is no part’s own is told too, and never “nothing changed”', () => {
  const [first, ...others] = heron.meshes
  const line = { offsets: Uint32Array.of(0, 2), points: Uint32Array.of(0, 1), uvs: Int32Array.of(-1, -1) }
  test.each<[string, Scene, RegExp]>([
    [
      'a light',
      { ...heron, lights: [{ name: 'lamp', node: 0, properties: {} }] },
      /^Of the scene: lights \(\d+ → 1\)\.$/,
    ],
    ['a property', { ...heron, properties: { Season: 'autumn' } }, /^Of the scene: custom properties\.$/],
    [
      'a line',
      { ...heron, meshes: [{ ...first!, lines: line }, ...others] },
      /^Lines or single points changed on 1 of 12 parts\.$/,
    ],
    [
      'weights of points',
      {
        ...heron,
        meshes: [
          { ...first!, pointWeights: first!.points.slice(0, first!.points.length / 3).fill(2) },
          ...others,
        ],
      },
      /^Rational weights of points changed on 1 of 12 parts\.$/,
    ],
    [
      'a part that is hidden',
      {
        ...heron,
        nodes: heron.nodes.map((node, at) => (at === 0 ? { ...node, visible: !node.visible } : node)),
      },
      /^Changed: transforms \(1 part\)\.$/,
    ],
  ])('%s', (_what, returned, expected) => {
    expect(storyOf(returned).join(' ')).toMatch(expected)
  })
})
