/** Panels: lines to regions, the forecast, laying out at true size, and the sheet. */
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, describe, expect, test } from 'vitest'
import { gridOf, meshOf, sceneOf } from '../../../../tests/solids.ts'
import { findingText, runChecks } from '../../checks/run-checks.ts'
import { writeObj } from '../../formats/obj/write-obj.ts'
import { writePng } from '../../image/codecs/write-png.ts'
import { createMeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { buildSignalKite } from '../../practice/demo/signal-kite.ts'
import type { Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { runStep } from '../../steps/run-steps.ts'
import { StepRefusal } from '../../steps/step.ts'
import { findOverlaps } from '../find-overlaps.ts'
import { measureStretch } from '../uv-measures.ts'
import { panelSheet } from './panel-sheet.ts'
import { forecastPanels } from './panels-of.ts'
import { sheetPdf, SheetTooLarge } from './sheet-pdf.ts'
import { sheetSvg } from './sheet-svg.ts'
import { baseName, statedLength, withLength } from './uv-length.ts'

const apply = (scene: Scene, step: string, params = {}, more = {}) =>
  runStep(scene, { step, params, ...more })
const groupCount = (scene: Scene): number => scene.meshes[0]!.groups?.names.length ?? 0
const GREY = [0.5, 0.5, 0.5]
const RED = [0.8, 0.1, 0.1]

describe('regions between lines', () => {
  const grid = gridOf(8, 8)
  const columnOf = (point: number): number => point % 9
  const withColors = (isRed: (point: number) => boolean): Scene =>
    sceneOf([
      {
        ...grid,
        groups: null,
        colorSets: [
          {
            name: 'paint',
            components: 3,
            per: 'points',
            indices: new Int32Array(0),
            values: Float64Array.from({ length: 81 }, (_, at) => at).reduce((values, _value, point) => {
              values.set(isRed(point) ? RED : GREY, 3 * point)
              return values
            }, new Float64Array(243)),
          },
        ],
      },
    ])
  test('a line of one point’s breadth parts two panels, a broad one too and is shared out', () => {
    for (const columns of [[4], [3, 4, 5]]) {
      const scene = withColors((point) => columns.includes(columnOf(point)))
      const done = apply(scene, 'panels-between-lines', { lines: 'pointColors' })
      expect(done.notes.join(' ')).toContain('2 panels')
      const { faceSets } = done.scene.meshes[0]!.groups!
      // no polygon is left over, and each panel is half of it
      expect([...faceSets].filter((set) => set === 0)).toHaveLength(32)
      expect([...faceSets].filter((set) => set === 1)).toHaveLength(32)
    }
  })
  test('a colour that is named; one that is none is refused', () => {
    const scene = withColors((point) => columnOf(point) === 4)
    expect(
      groupCount(apply(scene, 'panels-between-lines', { lines: 'pointColors', color: '#cc1a1a' }).scene),
    ).toBe(2)
    expect(
      groupCount(apply(scene, 'panels-between-lines', { lines: 'pointColors', color: '#0000ff' }).scene),
    ).toBe(1)
    expect(() => apply(scene, 'panels-between-lines', { lines: 'pointColors', color: 'red' })).toThrow(
      StepRefusal,
    )
  })
  test('a line that ends inside parts nothing; slips go to their neighbour', () => {
    const half = withColors((point) => columnOf(point) === 4 && point < 45)
    expect(groupCount(apply(half, 'panels-between-lines', { lines: 'pointColors' }).scene)).toBe(1)
    // round the first polygon
    const slip = withColors((point) => [0, 1, 9, 10].includes(point) === false && [1, 9, 10].includes(point))
    expect(groupCount(apply(slip, 'panels-between-lines', { lines: 'pointColors' }).scene)).toBe(1)
  })
  test('chosen edges, and lines on a map', () => {
    const scene = sceneOf([{ ...grid, groups: null }])
    const edges = Array.from({ length: 8 }, (_, row) => [9 * row + 4, 9 * row + 13]).flat()
    const only = [{ node: scene.nodes[0]!.id, element: 'edges' as const, elements: edges }]
    expect(groupCount(apply(scene, 'panels-between-lines', {}, { only }).scene)).toBe(2)
    expect(apply(scene, 'panels-between-lines', {}).notes).toEqual(['No edges are chosen.'])
    // a red stripe down the middle of a map of 64 pixels, where the fifth column of points lies
    const { values, indices } = grid.uvSets[0]!
    const corner = grid.faceVertices.findIndex((point) => columnOf(point) === 4)
    const u = values[2 * indices[corner]!]!
    const pixels = new Uint8Array(3 * 64 * 64).fill(128)
    for (let row = 0; row < 64; row++)
      for (let column = 0; column < 64; column++)
        if (Math.abs((column + 0.5) / 64 - u) < 1.6 / 64) pixels.set([200, 20, 20], 3 * (64 * row + column))
    const painted: Scene = {
      ...scene,
      images: [
        {
          file: 'lines.png',
          bytes: writePng({ width: 64, height: 64, channels: 3, pixels, colorSpace: 'sRGB' }),
        } as never,
      ],
    }
    expect(
      groupCount(apply(painted, 'panels-between-lines', { lines: 'map', file: 'lines.png' }).scene),
    ).toBe(2)
    expect(() => apply(painted, 'panels-between-lines', { lines: 'map', file: 'none.png' })).toThrow(
      StepRefusal,
    )
    expect(() => apply(scene, 'panels-between-lines', { lines: 'map' })).toThrow('no colour map')
  })
})

/** A tube open at both ends, closed round. */
function tube(columns: number, rows: number): Mesh {
  const points: [number, number, number][] = []
  for (let row = 0; row <= rows; row++)
    for (let column = 0; column < columns; column++) {
      const angle = (2 * Math.PI * column) / columns
      points.push([10 * Math.cos(angle), 10 * row, 10 * Math.sin(angle)])
    }
  const faces: number[][] = []
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const next = (column + 1) % columns
      faces.push([
        row * columns + column,
        (row + 1) * columns + column,
        (row + 1) * columns + next,
        row * columns + next,
      ])
    }
  return meshOf(points, faces)
}
const grouped = (mesh: Mesh, setOf: (face: number) => number, names: readonly string[]): Mesh => ({
  ...mesh,
  groups: {
    names,
    sets: names.map((_, at) => [at]),
    faceSets: Int32Array.from({ length: mesh.faceOffsets.length - 1 }, (_, face) => setOf(face)),
  },
})
const problems = (mesh: Mesh, least = 0): string[][] =>
  forecastPanels(createMeshFacts(mesh), mesh.uvSets[0] ?? null, least).map((one) => [
    one.panel.name,
    ...one.problems,
  ])

describe('what a sewing tool would refuse', () => {
  test('each reason by itself', () => {
    expect(problems(grouped(gridOf(4, 4), () => 0, ['whole']))).toEqual([['whole']])
    expect(problems(grouped(tube(12, 3), () => 0, ['sleeve']))).toEqual([['sleeve', 'borders']])
    expect(problems(grouped(gridOf(4, 4), (face) => (face % 4 === 1 ? 1 : 0), ['two', 'strip']))).toEqual([
      ['two', 'pieces'],
      ['strip'],
    ])
    expect(
      problems(
        grouped(gridOf(4, 4), () => 0, ['whole']),
        1e9,
      ),
    ).toEqual([['whole', 'small']])
    // a fin on an edge
    const fin = meshOf(
      [
        [0, 0, 0],
        [1, 0, 0],
        [0, 1, 0],
        [1, 1, 0],
        [0, 0, 1],
      ],
      [
        [0, 1, 2],
        [1, 3, 2],
        [0, 1, 4],
      ],
    )
    const bad = meshOf(
      [
        ...Array.from(
          { length: 5 },
          (_, at) => Array.from(fin.points.slice(3 * at, 3 * at + 3)) as [number, number, number],
        ),
        [0, -1, 0.5],
      ],
      [
        [0, 1, 2],
        [1, 0, 4],
        [0, 1, 5],
      ],
    )
    expect(problems(grouped(bad, () => 0, ['fin']))[0]).toContain('nonManifold')
    const none = { ...gridOf(2, 2), groups: null }
    expect(problems(none)).toEqual([])
  })
  test('UVs of a panel that lie over themselves', () => {
    const grid = gridOf(4, 1)
    const set = grid.uvSets[0]!
    // the right half is folded back over the left one
    const us = Array.from(set.values).filter((_, at) => at % 2 === 0)
    const middle = (Math.min(...us) + Math.max(...us)) / 2
    const folded = {
      ...set,
      values: set.values.map((value, at) => (at % 2 === 0 && value > middle ? 2 * middle - value : value)),
    }
    expect(problems(grouped({ ...grid, uvSets: [folded] }, () => 0, ['folded']))).toEqual([
      ['folded', 'overlap'],
    ])
  })
  test('the kite: its rings and its line have no border, its cloth is fine', () => {
    const found = runChecks(buildSignalKite(), { settings: { wantPanels: true } }).filter(
      ({ check }) => check === 'sewing-panels',
    )
    expect(found.map((one) => findingText(one))).toEqual([
      '1 panel would be refused: it has no border to be cut along (“rings”).',
      '1 panel would be refused: it has no border to be cut along (“rings”).',
      '1 panel would be refused: it has no border to be cut along (“line”).',
    ])
    expect(found.every(({ fix }) => fix?.step === 'make-panels')).toBe(true)
    expect(runChecks(buildSignalKite(), {}).some(({ check }) => check === 'sewing-panels')).toBe(false)
  })
})

describe('panels laid out', () => {
  const kite = buildSignalKite()
  const done = apply(kite, 'make-panels')
  const sail = (scene: Scene): Mesh => scene.meshes.find(({ name }) => name === 'sail')!
  test('at true size, the length stated in the set’s name, in front of the others, which stay', () => {
    const [set, ...others] = sail(done.scene).uvSets
    const length = statedLength(set!.name)!
    expect(done.notes[0]).toContain(`one UV unit is ${length} m`)
    expect(others.map(({ name }) => name)).toEqual(sail(kite).uvSets.map(({ name }) => name))
    // in centimetres on the part, in units of the length in the UVs
    const mesh = { ...sail(done.scene), uvSets: [set!] }
    const facts = createMeshFacts(mesh)
    const surface = facts.faceAreas().reduce((sum, area) => sum + area, 0)
    let flat = 0
    for (let face = 0; face < facts.faceCount; face++) {
      const [a, b, c, d] = [0, 1, 2, 3].map((k) => 2 * set!.indices[4 * face + k]!)
      const at = (uv: number | undefined, k: number): number => set!.values[uv! + k]!
      flat +=
        ((at(c, 0) - at(a, 0)) * (at(d, 1) - at(b, 1)) - (at(d, 0) - at(b, 0)) * (at(c, 1) - at(a, 1))) / 2
    }
    expect(flat * (length * 100) ** 2).toBeCloseTo(surface, 4)
    for (const value of measureStretch(facts, set!).angle) expect(value).toBeLessThan(1.1)
  })
  test('upright as the cloth falls: what is higher on the kite is higher in its panel', () => {
    const mesh = sail(done.scene)
    const set = mesh.uvSets[0]!
    mesh.groups!.names.forEach((_name, group) => {
      const pairs: [number, number][] = []
      mesh.groups!.faceSets.forEach((own, face) => {
        if (own !== group) return
        for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++)
          pairs.push([
            mesh.points[3 * mesh.faceVertices[corner]! + 1]!,
            set.values[2 * set.indices[corner]! + 1]!,
          ])
      })
      const highest = pairs.reduce((a, b) => (b[0] > a[0] ? b : a))
      const lowest = pairs.reduce((a, b) => (b[0] < a[0] ? b : a))
      expect(highest[1]).toBeGreaterThan(lowest[1])
    })
  })
  test('a given length is kept, a second layout takes the first one’s place, maps stay on their set', () => {
    const again = apply(done.scene, 'make-panels', { length: 2 })
    expect(sail(again.scene).uvSets.map(({ name }) => name)).toEqual([
      'panels (1 = 2 m)',
      ...sail(kite).uvSets.map(({ name }) => name),
    ])
    const behind = apply(kite, 'make-panels', { first: false })
    expect(sail(behind.scene).uvSets.at(-1)!.name).toBe('panels (1 = 1 m)')
    expect(behind.scene.materials).toEqual(kite.materials)
    const unnamed = sceneOf([
      grouped({ ...gridOf(3, 3), uvSets: [{ ...gridOf(3, 3).uvSets[0]!, name: '' }] }, () => 0, ['one']),
    ])
    expect(apply(unnamed, 'make-panels').scene.meshes[0]!.uvSets.map(({ name }) => name)).toEqual([
      expect.stringMatching(/^panels \(1 = /),
      'uv',
    ])
  })
  test('one part after another: the same length, and none over the panels that lie there', () => {
    let scene = kite
    for (const name of ['sail', 'ribbon 1', 'ring top'])
      scene = apply(scene, 'make-panels', {}, { parts: [name] }).scene
    const laid = scene.meshes.flatMap((mesh) => {
      const set = mesh.uvSets[0]!
      return statedLength(set.name) === null ? [] : [{ mesh, set, chosen: null }]
    })
    expect(laid.map(({ mesh }) => mesh.name)).toEqual(['sail', 'ribbon 1', 'ring top'])
    expect(new Set(laid.map(({ set }) => set.name)).size).toBe(1)
    expect(findOverlaps(laid).pairCount).toBe(0)
    // some polygons of one part: the rest keeps its length and its place
    const sailAt = scene.nodes.findIndex(({ name }) => name === 'sail')
    const some = apply(
      scene,
      'make-panels',
      { length: 7 },
      { only: [{ node: scene.nodes[sailAt]!.id, element: 'faces', elements: [0, 1, 2] }] },
    )
    expect(some.scene.meshes[0]!.uvSets[0]!.name).toBe(laid[0]!.set.name)
    expect(
      findOverlaps([{ mesh: some.scene.meshes[0]!, set: some.scene.meshes[0]!.uvSets[0]!, chosen: null }])
        .pairCount,
    ).toBe(0)
  })
  test('panels that are larger than a tile lie in rows, none over another or over what stays', () => {
    const overlaps = (scene: Scene): number =>
      findOverlaps(
        scene.meshes.flatMap((mesh) => {
          const set = mesh.uvSets[0]!
          return statedLength(set.name) === null ? [] : [{ mesh, set, chosen: null }]
        }),
      ).pairCount
    // the small ring gives the length, and the sail goes with it
    const ring = apply(kite, 'make-panels', {}, { parts: ['ring top'] })
    const both = apply(ring.scene, 'make-panels', {}, { parts: ['sail'] })
    expect(sail(both.scene).uvSets[0]!.name).toBe(
      ring.scene.meshes.find(({ name }) => name === 'ring top')!.uvSets[0]!.name,
    )
    expect(both.notes.join(' ')).toContain('longer than one UV unit')
    expect(overlaps(both.scene)).toBe(0)
    expect(overlaps(apply(kite, 'make-panels', { length: 0.1 }).scene)).toBe(0)
    expect(panelSheet(both.scene, { set: '' })!.items.length).toBeGreaterThan(20)
  })
  test('rings are cut open, and then nothing but what is too small is refused', () => {
    const sleeve = sceneOf([grouped(tube(12, 3), () => 0, ['sleeve'])])
    const made = apply(sleeve, 'make-panels')
    expect(made.notes.join(' ')).toContain('was cut')
    expect(problems(made.scene.meshes[0]!)).toEqual([['sleeve']])
    const left = runChecks(done.scene, { settings: { wantPanels: true, leastPanel: 0 } })
    expect(left.filter(({ check }) => check === 'sewing-panels')).toEqual([])
  })
  test('nothing to make panels of is told', () => {
    const bare = sceneOf([{ ...gridOf(2, 2), groups: null }])
    expect(apply(bare, 'make-panels')).toMatchObject({
      changedCount: 0,
      notes: [expect.stringContaining('no face groups')],
    })
  })
})

test('a file without names of UV sets states the length as a comment, and is read as before', () => {
  const textOf = (scene: Scene): string =>
    new TextDecoder().decode(
      writeObj(scene, 'kite.obj', {}).files.find(({ name }) => name.endsWith('.obj'))!.bytes,
    )
  const laid = apply(buildSignalKite(), 'make-panels').scene
  expect(textOf(laid).match(/^# One UV unit is 1 m\.$/gm)).toHaveLength(1)
  expect(textOf(buildSignalKite())).not.toContain('One UV unit')
})

test('a length is read out of a name, and put into one', () => {
  expect(statedLength('panels (1 = 0.5 m)')).toBe(0.5)
  expect(statedLength('panels')).toBe(null)
  expect(statedLength('panels (1 = 0 m)')).toBe(null)
  expect(withLength('panels (1 = 2 m)', 0.05)).toBe('panels (1 = 0.05 m)')
  expect(baseName('panels (1 = 1e-6 m)')).toBe('panels')
  for (const length of [1e-6, 1e-7, 0.2, 1, 123456, 1e6].map((one) => Number(one.toPrecision(6))))
    expect(statedLength(withLength('p', length))).toBe(length)
})

describe('the sheet', () => {
  const scene = apply(buildSignalKite(), 'make-panels').scene
  const nodes = scene.nodes.flatMap(({ name }, at) => (/sail|ribbon/.test(name) ? [at] : []))
  const sheet = panelSheet(scene, { set: '', nodes })!
  const folder = mkdtempSync(join(tmpdir(), 'kelbo-sheet-'))
  afterAll(() => rmSync(folder, { recursive: true }))

  test('every panel is on it, with its name, an arrow, and notches on sewn sides alone', () => {
    expect(sheet.panelCount).toBe(8)
    const texts = sheet.items.flatMap((item) => (item.kind === 'text' ? [item.text] : []))
    for (const name of ['panel top', 'panel left', 'panel bottom', 'panel right', 'ribbon 1'])
      expect(texts).toContain(name)
    // four seams, each numbered on both sides
    for (const seam of ['1', '2', '3', '4']) expect(texts.filter((text) => text === seam)).toHaveLength(2)
    expect(texts).not.toContain('5')
    for (const item of sheet.items)
      for (const [x, y] of item.kind === 'path' ? item.points : [item.at]) {
        expect(x).toBeGreaterThanOrEqual(0)
        expect(x).toBeLessThanOrEqual(sheet.width)
        expect(y).toBeGreaterThanOrEqual(0)
        expect(y).toBeLessThanOrEqual(sheet.height)
      }
  })
  test('outlines are as long as the borders are on the kite, in millimetres', () => {
    const ribbon = scene.meshes.find(({ name }) => name === 'ribbon 1')!
    const facts = createMeshFacts(ribbon)
    const { edgeCount, edgePoints, edgeSides } = facts.edges()
    let border = 0
    for (let edge = 0; edge < edgeCount; edge++) {
      if (edgeSides[edge] !== 1) continue
      const [p, q] = [3 * edgePoints[2 * edge]!, 3 * edgePoints[2 * edge + 1]!]
      border +=
        10 * Math.hypot(...[0, 1, 2].map((axis) => ribbon.points[p + axis]! - ribbon.points[q + axis]!))
    }
    const own = panelSheet(scene, {
      set: '',
      nodes: [scene.nodes.findIndex(({ name }) => name === 'ribbon 1')],
    })!
    const [outline] = own.items.flatMap((item) =>
      item.kind === 'path' && item.closed && item.points.length > 4 ? [item.points] : [],
    )
    const length = outline!.reduce((sum, [x, y], at) => {
      const [nx, ny] = outline![(at + 1) % outline!.length]!
      return sum + Math.hypot(nx - x, ny - y)
    }, 0)
    expect(Math.abs(length / border - 1)).toBeLessThan(0.01)
  })
  test('parts that show one mesh are one panel, so many times', () => {
    const one = sceneOf([grouped(gridOf(3, 3), () => 0, ['flag'])])
    const twice = { ...one, nodes: [...one.nodes, { ...one.nodes[0]!, id: 'second' }] }
    const texts = panelSheet(twice, { set: '' })!.items.flatMap((item) =>
      item.kind === 'text' ? [item.text] : [],
    )
    expect(texts).toContain('flag (2 times)')
  })
  test('as SVG: millimetres, names escaped', () => {
    const odd = {
      ...scene,
      meshes: scene.meshes.map((mesh) => ({
        ...mesh,
        groups: mesh.groups && { ...mesh.groups, names: mesh.groups.names.map((name) => `<${name}&`) },
      })),
    }
    const text = sheetSvg(panelSheet(odd, { set: '', nodes })!)
    expect(text).toMatch(/<svg [^>]*width="[\d.]+mm" height="[\d.]+mm"/)
    expect(text).toContain('&#60;panel top&#38;')
    expect(text).not.toMatch(/NaN|undefined/)
  })
  // read by poppler, Debian package poppler-utils
  const pdf = (
    pages: 'one' | 'a4' | 'a3',
    of = sheet,
  ): { pages: number; size: [number, number]; text: string } => {
    const file = join(folder, `${pages}.pdf`)
    writeFileSync(file, sheetPdf(of, pages))
    const info = execFileSync('pdfinfo', [file], { encoding: 'utf8' })
    const size = /Page size:\s+([\d.]+) x ([\d.]+)/.exec(info)!
    return {
      pages: Number(/Pages:\s+(\d+)/.exec(info)![1]),
      size: [Number(size[1]), Number(size[2])],
      text: execFileSync('pdftotext', [file, '-'], { encoding: 'utf8' }),
    }
  }
  test('as a PDF of one page: its size and its words', () => {
    const { pages, size, text } = pdf('one')
    expect(pages).toBe(1)
    expect(size[0]).toBeCloseTo((sheet.width * 72) / 25.4, 1)
    expect(size[1]).toBeCloseTo((sheet.height * 72) / 25.4, 1)
    expect(text).toContain('panel bottom')
    expect(text).toContain('One UV unit is 1 m.')
  })
  test('on pages of a printer’s size, enough to cover the sheet', () => {
    const { pages, size } = pdf('a4')
    expect(pages).toBe(Math.ceil(sheet.width / 186) * Math.ceil(sheet.height / 273))
    expect(size[0]).toBeCloseTo(595.276, 1)
    expect(pdf('a3').pages).toBeLessThan(pages)
  })
  test('the square on the print is 50 mm: measured on the drawn page', () => {
    const file = join(folder, 'one.pdf')
    writeFileSync(file, sheetPdf(sheet, 'one'))
    // 254 dots an inch: ten to a millimetre
    execFileSync('pdftoppm', [
      '-r',
      '254',
      '-gray',
      '-x',
      '0',
      '-y',
      '0',
      '-W',
      '900',
      '-H',
      '900',
      file,
      join(folder, 'page'),
    ])
    const made = execFileSync('sh', ['-c', `cat ${join(folder, 'page')}*.pgm`])
    const header = /^P5\s+(\d+)\s+(\d+)\s+255\s/.exec(made.toString('latin1'))!
    const wide = Number(header[1])
    const pixels = made.subarray(header[0].length)
    // a row through the square's middle: its two sides are the first two dark runs
    const row = 150 + 250
    const dark: number[] = []
    for (let x = 1; x < wide; x++)
      if (pixels[row * wide + x]! < 128 && pixels[row * wide + x - 1]! >= 128) dark.push(x)
    expect(Math.abs(dark[1]! - dark[0]! - 500)).toBeLessThanOrEqual(3)
  })
  test('a sheet that nobody could print is refused in words', () => {
    const huge = { ...sheet, width: 2e6, height: 3e6 }
    expect(() => sheetPdf(huge, 'a4')).toThrow(/2000\.0 by 3000\.0 m: [\d,]+ pages, and 600 is the limit/)
    expect(() => sheetPdf(huge, 'one')).toThrow(SheetTooLarge)
  })
  test('letters that a standard font hasn’t, and nothing to draw', () => {
    const odd = {
      ...sheet,
      items: [
        ...sheet.items,
        {
          kind: 'text' as const,
          at: [20, 20] as const,
          size: 5,
          text: 'Ärmel (links) \\ 袖',
          anchor: 'start' as const,
        },
      ],
    }
    expect(pdf('one', odd).text).toContain('Ärmel (links) \\ ?')
    expect(panelSheet(sceneOf([gridOf(2, 2, { uvSets: [] })]), { set: '' })).toBe(null)
    expect(panelSheet(scene, { set: 'no such set' })).toBe(null)
  })
})
