/** A session at the Bench, as the page's worker holds it. */
import { describe, expect, test } from 'vitest'
import { buildMooringBollard } from '../../src/core/practice/demo/mooring-bollard.ts'
import { buildStormLantern } from '../../src/core/practice/demo/storm-lantern.ts'
import { FACE_KINDS, growSelection } from '../../src/core/steps/grow-selection.ts'
import { faceCountOf } from '../../src/core/scene/mesh.ts'
import { faceHeat } from '../../src/core/view/highlight.ts'
import { createBench } from '../../src/app/bench.ts'

const quiet = (): void => {}
const open = () => createBench(buildMooringBollard())

describe('findings', () => {
  test('are listed with their sentence and fetched by place', () => {
    const bench = open()
    const findings = bench.check({}, quiet)
    const turned = findings.find((finding) => finding.check === 'turned-faces')!
    expect([turned.text, turned.placeCount, turned.severity]).toEqual([
      '5 polygons are turned against their neighbours.',
      5,
      'error',
    ])
    expect([...bench.places(turned.index, null)!.elements]).toEqual([400, 401, 402, 448, 449])
    expect([...bench.places(turned.index, 3)!.elements]).toEqual([448])
    const unwelded = findings.find((finding) => finding.check === 'unwelded-points')!
    // a heap is one place: the point that stays, and those that would go to it
    expect(bench.places(unwelded.index, 0)!.elements).toHaveLength(2)
    expect(bench.places(findings.find((finding) => finding.check === 'no-root')!.index, null)).toBeNull()
  })
  test('a fix is limited to the part it is for, and all fixes together leave no fault', () => {
    const bench = open()
    for (let round = 0; round < 12; round++) {
      const next = bench.check({}, quiet).find((finding) => finding.fix && finding.severity !== 'info')
      if (!next) break
      if (next.node !== null) expect(next.fix!.nodes).toEqual([bench.scene().nodes[next.node]!.id])
      bench.setSteps([...bench.records().map((record) => record.step), next.fix!])
    }
    expect(bench.check({}, quiet).filter((finding) => finding.severity !== 'info')).toEqual([])
  })
  test('a chart gets no more values than it can show, spread over all', () => {
    const bench = createBench(buildStormLantern())
    const spread = bench.check({}, quiet).find((finding) => finding.distribution)!
    expect(spread.distribution!.values.length).toBeGreaterThan(10)
    expect(spread.distribution!.values.length).toBeLessThanOrEqual(200000)
  })
})

describe('the draft', () => {
  const floor = { step: 'to-floor', params: {} }
  const doubles = { step: 'remove-doubles', params: {} }
  test('steps are added, taken back and put in another order; what stays in front is not done again', () => {
    const bench = open()
    bench.setSteps([doubles, floor])
    const [first] = bench.records()
    bench.setSteps([doubles])
    expect(bench.records()[0]).toBe(first)
    bench.setSteps([floor, doubles])
    expect(bench.records().map((record) => [record.step.step, record.changedCount])).toEqual([
      ['to-floor', 6],
      ['remove-doubles', 3],
    ])
    bench.setSteps([])
    expect(bench.scene()).toEqual(buildMooringBollard())
  })
  test('a step that can’t be done leaves the draft as it was', () => {
    const bench = open()
    bench.setSteps([doubles])
    const scene = bench.scene()
    expect(() => bench.setSteps([doubles, { step: 'subdivide', params: { levels: 99 } }])).toThrow(
      /from 1 to 5/,
    )
    expect(bench.scene()).toBe(scene)
    expect(bench.records()).toHaveLength(1)
  })
  test('a preview counts and shows, and changes nothing', () => {
    const bench = open()
    const scene = bench.scene()
    const preview = bench.preview(doubles)
    expect([preview.changedCount, preview.of, preview.refusal]).toEqual([3, 'polygons', null])
    expect([...preview.places[0]!.elements]).toEqual([960, 961, 962])
    expect(bench.preview({ step: 'replace-material', params: { from: 'gold', to: 'tin' } }).refusal).toMatch(
      /no material “gold”/,
    )
    expect(bench.scene()).toBe(scene)
  })
  test('checks run again only for what a step touched', () => {
    const bench = open()
    bench.check({}, quiet)
    const runs = bench.checkRuns()
    bench.setSteps([{ step: 'set-shading', params: { mode: 'smooth' }, parts: ['base plate'] }])
    bench.check({}, quiet)
    const again = bench.checkRuns() - runs
    expect(again).toBeGreaterThan(3)
    // 47 checks over six parts are some two hundred runs
    expect(again).toBeLessThan(runs / 8)
  })
})

test('the growth of a weld is over the parts together', () => {
  const bench = open()
  const nodes = bench.inspect().nodes.map((_node, at) => at)
  const growth = bench.growth(nodes)
  expect(growth).toHaveLength(17)
  expect(growth[0]!.welded).toBe(96)
  expect(growth[16]!.welded).toBeGreaterThan(growth[8]!.welded)
})

describe('one click chooses', () => {
  const [tank] = buildStormLantern().meshes
  test.each(FACE_KINDS)('%s', (kind) => {
    const faces = growSelection(tank!, 5, kind)
    expect(faces).toContain(5)
    if (kind === 'polygon') expect(faces).toHaveLength(1)
    else expect(faces.length).toBeGreaterThan(100)
    if (kind === 'part' || kind === 'piece') expect(faces).toHaveLength(faceCountOf(tank!))
    expect([...faces]).toEqual([...faces].sort((a, b) => a - b))
  })
  test('one material everywhere goes over all parts, and over those without a material by itself', () => {
    const bench = open()
    const scene = buildMooringBollard()
    /** Polygons with this material on every node, counted here. */
    const byHand = (material: number): [number, number][] =>
      scene.nodes.flatMap(({ mesh }, node): [number, number][] => {
        const part = scene.meshes[mesh]
        if (!part) return []
        const found = Array.from({ length: faceCountOf(part) }, (_face, face) => face).filter(
          (face) => (part.faceMaterials?.[face] ?? -1) === material,
        ).length
        return found ? [[node, found]] : []
      })
    let several = 0
    for (const [node, { mesh }] of scene.nodes.entries()) {
      const part = scene.meshes[mesh]
      if (!part) continue
      for (let face = 0; face < faceCountOf(part); face += 97) {
        const material = part.faceMaterials?.[face] ?? -1
        const grown = bench.grow({ node, face }, 'material-everywhere')
        expect(grown[0]!.node).toBe(node)
        expect(
          grown.map((one): [number, number] => [one.node, one.elements.length]).sort((a, b) => a[0] - b[0]),
        ).toEqual(byHand(material))
        for (const one of grown)
          for (const chosen of one.elements)
            expect(scene.meshes[scene.nodes[one.node]!.mesh]!.faceMaterials?.[chosen] ?? -1).toBe(material)
        if (grown.length > 1) several++
        expect(bench.grow({ node, face }, 'material')).toEqual([grown[0]])
      }
    }
    expect(several).toBeGreaterThan(3)
  })
  test('an island is less than the part', () => {
    expect(growSelection(tank!, 5, 'island').length).toBeLessThan(faceCountOf(tank!))
  })
})

test('heat: even is pale, too little blue, too much orange, unmapped grey; each face in one colour', () => {
  const [tank] = buildStormLantern().meshes
  const heat = new Float32Array(faceCountOf(tank!)).fill(1)
  heat.set([0.25, 4, NaN])
  const { positions, colors } = faceHeat(tank!, heat, Float32Array.from(tank!.points))
  expect(positions).toHaveLength(faceCountOf(tank!) * 18)
  const color = (face: number): number[] => [...colors.subarray(18 * face, 18 * face + 3)]
  const [less, more, none, even] = [0, 1, 2, 3].map(color)
  expect(less![2]).toBeGreaterThan(less![0]!)
  expect(more![0]).toBeGreaterThan(more![2]!)
  expect(new Set(none)).toHaveProperty('size', 1)
  expect(new Set(even)).toHaveProperty('size', 1)
  expect(even![0]).toBeGreaterThan(none![0]!)
})
