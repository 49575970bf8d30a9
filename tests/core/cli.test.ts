/** The command line as a pipeline uses it: the built program. */
import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { beforeAll, describe, expect, test } from 'vitest'
import { buildStormLantern } from '../../src/core/practice/demo/storm-lantern.ts'
import { writeObj } from '../../src/core/formats/obj/write-obj.ts'
import { sculptFiles } from '../../src/core/practice/standins/sculptor.ts'
import { destinationOf } from '../../src/core/trips/destinations/registry.ts'
import { kelbo, program } from '../command-line.ts'
import { CUBE, CUBE_MTL } from '../meshes.ts'

const folder = mkdtempSync(join(tmpdir(), 'kelbo-cli-'))
const at = (name: string): string => join(folder, name)

beforeAll(() => {
  writeFileSync(at('crate.obj'), CUBE)
  writeFileSync(at('cube.mtl'), CUBE_MTL)
  writeFileSync(at('broken.obj'), CUBE + 'f 1 2 99\n')
  const sent = writeObj(buildStormLantern(), 'lantern.obj').files
  for (const file of sent) {
    mkdirSync(at('maps'), { recursive: true })
    writeFileSync(at(file.name), file.bytes)
  }
  writeFileSync(at('returned.obj'), sculptFiles(sent)[0]!.bytes)
})

test('inspect prints the agreed shape', () => {
  const { status, json, err } = kelbo('inspect', at('crate.obj'), '--json', '--read', 'unitMeters=0.01')
  expect(status).toBe(0)
  expect(json()).toMatchObject({
    format: 'obj',
    formatVersion: null,
    unitMeters: 0.01,
    upAxis: 'y',
    frontAxis: 'z',
    handedness: 'right',
    nodes: [{ path: 'crate', name: 'crate', visible: true, mesh: 0 }],
    meshes: [
      {
        name: 'crate',
        vertices: 8,
        faces: { '3': 0, '4': 6, n: 0 },
        corners: 24,
        edges: 12,
        uvSets: [{ name: 'uv', mappedCorners: 24 }],
        normals: false,
        hardEdges: 10,
        smoothingGroups: [
          { id: 1, faces: 1 },
          { id: 2, faces: 1 },
          { id: 4, faces: 3 },
        ],
        creases: { edges: 2, corners: 1, maxSharpness: 10 },
        subdivision: { scheme: 'none', levels: 0 },
        materials: [
          { name: 'brass', faces: 1 },
          { name: 'oak wood', faces: 5 },
        ],
        colorSets: [],
        shapes: [],
        bounds: { min: [0, 0, 0], max: [1, 1, 1] },
      },
    ],
    materials: [
      {
        name: 'brass',
        model: 'mtl',
        maps: [{ slot: 'baseColor', file: 'maps/brass color.png', found: false }],
      },
      { name: 'oak wood' },
    ],
    cameras: 0,
    lights: 0,
    messages: [{ code: 'image.missing', severity: 'warning' }],
  })
  expect(err).toContain('warning: cube.mtl: The map “maps/brass color.png” is not in the package.')
})

test('inspect of a file with faults ends with 1, of one that can’t be used with 2', () => {
  expect(kelbo('inspect', at('broken.obj')).status).toBe(1)
  const missing = kelbo('inspect', at('nothing.obj'))
  expect([missing.status, missing.err.split('\n')[0]]).toEqual([
    2,
    `There is no file “${at('nothing.obj')}”.`,
  ])
  expect(kelbo('inspect').status).toBe(2)
  expect(kelbo('wiggle').status).toBe(2)
})

test('convert writes what it says, and 1 tells that something is not carried', () => {
  const whole = kelbo('convert', at('lantern.obj'), at('out/copy.obj'), '--json')
  expect(whole.status).toBe(0)
  expect(whole.json().files.map((file: { name: string }) => file.name)).toContain('maps/rope_color.png')
  expect(readFileSync(at('out/maps/rope_color.png'))).toEqual(readFileSync(at('maps/rope_color.png')))
  expect(kelbo('compare', at('lantern.obj'), at('out/copy.obj')).status).toBe(0)
  const less = kelbo('convert', at('lantern.obj'), at('less.obj'), '--option', 'creases=off', '--json')
  expect(less.status).toBe(1)
  expect(less.json().forecast.parts[0].traits.creases).toMatchObject({
    state: 'lost',
    note: 'The file will not carry the 120 creases.',
  })
  // nothing has been anywhere: what is written is told, not what came back
  const told = ['stl', 'ply', 'fbx'].flatMap((ending) => {
    const to = at(`out/told.${ending}`)
    const [text, json] = [
      kelbo('convert', at('lantern.obj'), to),
      kelbo('convert', at('lantern.obj'), to, '--json'),
    ]
    expect(text.out).not.toBe('')
    return [text.out, ...JSON.stringify(json.json().forecast).match(/"note":"[^"]*"/g)!]
  })
  expect(told.join('\n')).not.toMatch(/came back|come back|restored|returned/i)
  expect(kelbo('convert', at('lantern.obj'), at('x.obj'), '--option', 'wings=3').status).toBe(2)
  expect(kelbo('convert', at('lantern.obj'), at('x.xyz')).status).toBe(2)
})

test('compare and reconcile bring a sculpted model home', () => {
  const compared = kelbo('compare', at('lantern.obj'), at('returned.obj'), '--json')
  expect(compared.status).toBe(1)
  expect(compared.json().parts[0].traits.points.state).toBe('changed')
  const reconciled = kelbo(
    'reconcile',
    at('lantern.obj'),
    at('returned.obj'),
    at('home.obj'),
    '--take',
    'points',
    '--json',
  )
  expect([reconciled.status, reconciled.json().taken]).toEqual([0, { points: 7 }])
  const after = kelbo('compare', at('lantern.obj'), at('home.obj'), '--json').json()
  for (const part of after.parts)
    expect(
      Object.entries(part.traits)
        .filter(([, cell]) => (cell as { state: string }).state !== 'same')
        .map(([trait]) => trait),
    ).toEqual(['points'])
  expect(
    kelbo('reconcile', at('lantern.obj'), at('returned.obj'), at('home.obj'), '--take', 'everything').status,
  ).toBe(2)
})

test('check prints findings with the very elements, and its status says whether something is wrong', () => {
  writeFileSync(at('doubled.obj'), 'v 0 0 0\nv 1 0 0\nv 1 0 -1\nv 0 0 -1\nf 1 2 3 4\nf 3 4 1 2\n')
  const { status, json } = kelbo('check', at('doubled.obj'), '--json')
  expect(status).toBe(1)
  const { findings } = json() as {
    findings: { check: string; part: string; places: unknown; fix: unknown }[]
  }
  expect(findings.find((finding) => finding.check === 'duplicate-faces')).toMatchObject({
    problem: 'doubled',
    severity: 'error',
    part: 'doubled',
    count: 1,
    message: '1 polygon lies over the same points as another one.',
    places: { element: 'faces', places: 1, elements: [1] },
    fix: { step: 'remove-doubles', params: {} },
  })
  const calm = kelbo(
    'check',
    at('lantern.obj'),
    '--for',
    'texture-painting',
    '--option',
    'triangleBudget=100000',
  )
  expect([calm.status, calm.out]).toEqual([0, expect.stringMatching(/^info/m)])
  const strict = kelbo('check', at('lantern.obj'), '--option', 'triangleBudget=100', '--json')
  expect(
    (strict.json() as { findings: { check: string }[] }).findings.map((finding) => finding.check),
  ).toContain('polygon-count')
  expect(kelbo('check', at('lantern.obj'), '--for', 'nowhere').status).toBe(2)
  expect(kelbo('check', at('lantern.obj'), '--option', 'colour=red').status).toBe(2)
})

test('prepare runs a recipe and says what each step did; --list tells every step with its parameters', () => {
  writeFileSync(
    at('recipe.json'),
    JSON.stringify({
      name: 'ready',
      steps: [{ step: 'remove-doubles' }, { step: 'subdivide', params: { levels: 2 } }],
    }),
  )
  const done = kelbo(
    'prepare',
    at('doubled.obj'),
    at('out/ready.obj'),
    '--recipe',
    at('recipe.json'),
    '--json',
  )
  expect(done.status).toBe(0)
  expect(done.json()).toMatchObject({
    recipe: 'ready',
    steps: [
      { step: 'remove-doubles', changed: 1, of: 'polygons' },
      { step: 'subdivide', changed: 1, of: 'polygons' },
    ],
  })
  const { meshes } = kelbo('inspect', at('out/ready.obj'), '--json').json() as { meshes: { faces: object }[] }
  expect(meshes[0]!.faces).toEqual({ '3': 0, '4': 16, n: 0 })

  const steps = kelbo('prepare', '--list', '--json').json() as {
    step: string
    parameters: { name: string; default: unknown; unit: string | null }[]
  }[]
  const subdivide = steps.find((step) => step.step === 'subdivide')!
  expect(subdivide.parameters[0]).toMatchObject({ name: 'levels', default: 1, min: 1, max: 5 })
  expect(steps.find((step) => step.step === 'weld-by-distance')!.parameters[0]!.unit).toBe('file unit')

  writeFileSync(at('bad.json'), JSON.stringify({ steps: [{ step: 'melt' }] }))
  const refused = kelbo('prepare', at('doubled.obj'), at('out/x.obj'), '--recipe', at('bad.json'))
  expect([refused.status, existsSync(at('out/x.obj'))]).toEqual([2, false])
  expect(refused.err).toMatch(/Step 1, “melt”: There is no step “melt”/)
  expect(kelbo('prepare', at('doubled.obj'), at('out/x.obj')).status).toBe(2)
})

test('convert goes from OBJ to FBX and back, with the forecast of each and options of its own', () => {
  const out = kelbo(
    'convert',
    at('lantern.obj'),
    at('out/lantern.fbx'),
    '--read',
    'unitMeters=0.01',
    '--option',
    'version=7500',
    '--json',
  )
  const { forecast } = out.json() as {
    forecast: { parts: { name: string; traits: Record<string, { state: string }> }[] }
  }
  expect(forecast.parts).toHaveLength(7)
  for (const part of forecast.parts)
    for (const trait of ['topology', 'points', 'uvs', 'creases', 'names', 'materials'])
      expect([part.name, trait, part.traits[trait]!.state]).toEqual([part.name, trait, 'same'])
  const { formatVersion, unitMeters } = kelbo('inspect', at('out/lantern.fbx'), '--json').json() as {
    formatVersion: string
    unitMeters: number
  }
  expect([formatVersion, unitMeters]).toEqual(['7.5 binary', 0.01])
  expect(kelbo('compare', at('out/lantern.fbx'), at('out/lantern.fbx')).status).toBe(0)
  // an option of another format is refused, not passed over
  expect(kelbo('convert', at('lantern.obj'), at('out/x.fbx'), '--option', 'digits=4').status).toBe(2)
  expect(kelbo('convert', at('lantern.obj'), at('out/x.fbx'), '--option', 'version=7.3').status).toBe(2)
  expect(kelbo('convert', at('lantern.obj'), at('out/x.obj'), '--option', 'materials=some').status).toBe(2)
})

test('convert for a destination: its options, names and checks, and what becomes of each trait', () => {
  const out = kelbo('convert', at('lantern.obj'), at('out/engine.fbx'), '--to', 'engine', '--json')
  expect([out.status, out.err.includes('no destination')]).toEqual([1, false])
  const { destination, size, checks, forecast } = out.json() as {
    destination: string
    size: { statedUnit: number }
    checks: { check: string; mustBeClean: boolean }[]
    forecast: { parts: { name: string; fates: Record<string, string> }[] }
  }
  expect([destination, size.statedUnit]).toEqual(['engine', 0.01])
  const tank = forecast.parts.find((part) => part.name === 'tank')!
  expect([tank.fates.topology, tank.fates.creases, tank.fates.uvs]).toEqual(['otherwise', 'kept', 'carried'])
  expect(checks.every((check) => typeof check.check === 'string')).toBe(true)
  const { json } = kelbo('inspect', at('out/engine.fbx'), '--json')
  expect(
    (json() as { meshes: { faces: Record<string, number> }[] }).meshes.every((mesh) => mesh.faces['4'] === 0),
  ).toBe(true)
})

test('a destination may be a file; one that is wrong is refused with the place', () => {
  const fields = {
    name: 'Upstairs',
    kind: 'modelling',
    description: '',
    format: 'fbx',
    writeOptions: { creaseScale: 10 },
    readOptions: {},
    size: { unit: 'stated', unitMeters: 0.01 },
    polygons: 'any',
    polygonBudget: null,
    normalMapGreen: 'up',
    neverTravels: [],
    naming: { letters: 'any', longest: null, prefix: 'up_', suffix: '' },
    split: 'one',
    checkSettings: {},
    mustBeClean: [],
    recipe: null,
    purpose: [],
    changesOnReturn: [],
    standIn: null,
  }
  const write = (name: string, destination: object): string => {
    writeFileSync(at(name), JSON.stringify({ type: 'kelbo-destination', version: 1, destination }))
    return at(name)
  }
  const { status } = kelbo(
    'convert',
    at('lantern.obj'),
    at('out/up.fbx'),
    '--to',
    write('up.json', fields),
    '--json',
  )
  expect(status).toBe(1)
  const { json } = kelbo('inspect', at('out/up.fbx'), '--json', '--read', 'creaseScale=10')
  const found = json() as { nodes: { name: string }[]; meshes: { creases: { maxSharpness: number } }[] }
  expect(found.nodes.every((node) => node.name.startsWith('up_'))).toBe(true)
  expect(Math.max(...found.meshes.map((mesh) => mesh.creases.maxSharpness))).toBeLessThanOrEqual(10)
  const wrong = kelbo(
    'convert',
    at('lantern.obj'),
    at('out/up.fbx'),
    '--to',
    write('bad.json', { ...fields, split: 'halves' }),
  )
  expect([wrong.status, wrong.err.includes('split')]).toEqual([2, true])
  expect(kelbo('check', at('lantern.obj'), '--for', at('nowhere.json')).status).toBe(2)
})

test('compare: a hundredfold FBX is told as one thing', () => {
  kelbo('convert', at('lantern.obj'), at('out/small.fbx'), '--read', 'unitMeters=0.01')
  kelbo(
    'convert',
    at('lantern.obj'),
    at('out/large.fbx'),
    '--read',
    'unitMeters=0.01',
    '--option',
    'scale=100',
  )
  const { json } = kelbo('compare', at('out/small.fbx'), at('out/large.fbx'), '--json')
  expect((json() as { whole: unknown }).whole).toEqual({
    text: '100 times as large as it was sent',
    factor: 100,
    turn: null,
    mirror: null,
    move: null,
    by: 'points',
  })
})

test('a fault of a file or a word prints that fault and not the usage; arguments that don’t fit print it', () => {
  for (const args of [
    ['inspect', at('nowhere.obj')],
    ['convert', at('crate.obj'), at('x.obj'), '--option', 'digits=many'],
    ['convert', at('crate.obj'), at('x.obj'), '--to', 'nowhere'],
    ['convert', at('crate.obj'), at('x.obj'), '--option', 'selection=sail'],
  ]) {
    const { status, err } = kelbo(...args)
    expect([args, status]).toEqual([args, 2])
    expect(err.trim().split('\n')).toHaveLength(1)
    expect(err).not.toContain('Usage')
  }
  expect(kelbo('inspect').err).toContain('Usage:')
  expect(kelbo('fly').err).toContain('Usage:')
  expect(kelbo('inspect', 'x.obj', '--fly').err).toMatch(/^Unknown option '--fly'\.?\n\nUsage:/)
})

test('a selection takes names, paths, patterns and numbers, and refuses what fits nothing', () => {
  const parts = (selection: string): string[] => {
    const { status, err } = kelbo(
      'convert',
      at('lantern.obj'),
      at('some.obj'),
      '--option',
      `selection=${selection}`,
    )
    expect([selection, status === 2 ? err : '']).toEqual([selection, ''])
    return kelbo('inspect', at('some.obj'), '--json')
      .json()
      .nodes.map((part: { name: string }) => part.name)
  }
  const all: string[] = kelbo('inspect', at('lantern.obj'), '--json')
    .json()
    .nodes.map((part: { name: string }) => part.name)
  expect(parts('tank')).toEqual(['tank'])
  expect(parts('tank, hood').sort()).toEqual(['hood', 'tank'])
  expect(parts('*')).toEqual(all)
  expect(parts('0')).toEqual([all[0]])
  const refused = kelbo('convert', at('lantern.obj'), at('some.obj'), '--option', 'selection=tank,sail')
  expect(refused.err).toMatch(/“sail” fits no part; there are “/)
})

test('what a destination wants clean has to be, unless it is written anyway', () => {
  writeFileSync(at('wants.json'), JSON.stringify(wantsNoNgons()))
  writeFileSync(at('five.obj'), 'o five\nv 0 0 0\nv 2 0 0\nv 2 2 0\nv 1 3 0\nv 0 2 0\nf 1 2 3 4 5\n')
  const refused = kelbo('convert', at('five.obj'), at('written.obj'), '--to', at('wants.json'))
  expect([refused.status, existsSync(at('written.obj'))]).toEqual([1, false])
  expect(refused.out).toContain('Nothing was written; --anyway writes it all the same.')
  kelbo('convert', at('five.obj'), at('written.obj'), '--to', at('wants.json'), '--anyway')
  expect(existsSync(at('written.obj'))).toBe(true)
})

test('a unit that the model does not state is said where a format has to state one', () => {
  const { err } = kelbo('convert', at('crate.obj'), at('crate.fbx'))
  // 'write.unit-assumed'
  expect(err).toContain('The model states no unit, and FBX has to')
  expect(kelbo('convert', at('crate.obj'), at('crate.fbx'), '--read', 'unitMeters=0.01').err).not.toContain(
    'unit',
  )
})

test('a reader that reads no further ends it quietly', () => {
  const { status, stderr } = spawnSync('sh', ['-c', `"$0" "$1" prepare --list | head -1 >/dev/null`, process.execPath, program], { encoding: 'utf8' }) // prettier-ignore
  expect([status, stderr]).toEqual([0, ''])
})

/** A destination like one that ships, which wants quads alone. */
function wantsNoNgons(): object {
  const { id: _id, ...fields } = destinationOf('modelling')!
  return {
    type: 'kelbo-destination',
    version: 1,
    destination: {
      ...fields,
      name: 'Quads alone',
      format: 'obj',
      mustBeClean: ['not-quads'],
      writeOptions: {},
      readOptions: {},
    },
  }
}

test('a layout is drawn as SVG; nothing is written where nothing lies', () => {
  const model = at('laid.obj')
  writeFileSync(model, 'v 0 0 0\nv 1 0 0\nv 1 1 0\nvt 0 0\nvt 1 0\nvt 1 1\nf 1/1 2/2 3/3\n')
  const out = at('laid.svg')
  expect(kelbo('layout', model, out, '--option', 'size=256').status).toBe(0)
  expect(readFileSync(out, 'utf8')).toContain('viewBox="0 0 256 256"')
  const none = kelbo('layout', model, at('none.svg'), '--option', 'tile=1005')
  expect([none.status, existsSync(at('none.svg'))]).toEqual([1, false])
  expect(kelbo('layout', model, at('laid.dxf')).status).toBe(2)
})

test('panels at true size: SVG, PDF on one page or many, and refusals in words', () => {
  const model = at('panel.obj')
  // a square of 30 units; OBJ is read as centimetres
  writeFileSync(
    model,
    'v 0 0 0\nv 30 0 0\nv 30 30 0\nv 0 30 0\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nf 1/1 2/2 3/3 4/4\n',
  )
  const svg = kelbo('panels', model, at('panel.svg'), '--json')
  expect(svg.status).toBe(0)
  expect(readFileSync(at('panel.svg'), 'utf8')).toMatch(/width="[\d.]+mm"/)
  expect(kelbo('panels', model, at('panel.pdf'), '--option', 'pages=a4').status).toBe(0)
  expect(readFileSync(at('panel.pdf'), 'latin1').match(/\/Type \/Page /g)!.length).toBeGreaterThan(1)
  const huge = at('huge.obj')
  writeFileSync(huge, readFileSync(model, 'utf8').replaceAll('30', '300000'))
  const refused = kelbo('panels', huge, at('huge.pdf'), '--option', 'pages=a4')
  expect([refused.status, existsSync(at('huge.pdf'))]).toEqual([2, false])
  expect(refused.err).toContain('600 is the limit')
  expect(kelbo('panels', model, at('panel.dxf')).status).toBe(2)
  const bare = at('bare.obj')
  writeFileSync(bare, 'v 0 0 0\nv 1 0 0\nv 1 1 0\nf 1 2 3\n')
  expect([kelbo('panels', bare, at('bare.svg')).status, existsSync(at('bare.svg'))]).toEqual([1, false])
})

describe('two files, each read in its own way', () => {
  /** The lantern ten times as large and lying, as a tool with another unit and Z up would send it. */
  const changed = (): string => {
    const text = readFileSync(at('lantern.obj'), 'utf8').replace(
      /^(v|vn) (\S+) (\S+) (\S+)/gm,
      (_line, word: string, x: string, y: string, z: string) => {
        const by = word === 'v' ? 10 : 1
        return `${word} ${by * Number(x)} ${-by * Number(z)} ${by * Number(y)}`
      },
    )
    writeFileSync(at('changed.obj'), text)
    return at('changed.obj')
  }
  test('--undo-whole takes back what happened to all of it, and says so', () => {
    const other = changed()
    const plain = kelbo('compare', at('lantern.obj'), other)
    expect(plain.out).toContain('10 times as large as it was sent')
    expect(plain.out).toContain('--undo-whole undoes it first')
    expect(plain.status).toBe(1)
    const undone = kelbo('compare', at('lantern.obj'), other, '--undo-whole')
    expect(undone.out).toContain('that is undone here')
    expect(undone.out).not.toContain('points ')
    const json = kelbo('compare', at('lantern.obj'), other, '--undo-whole', '--json').json()
    expect(json.undone).toContain('10 times')
    expect(json.story[0]).toMatch(
      /^Everything came back 10 times as large as it was sent.*that is undone here\.$/,
    )
    const { maps } = kelbo('compare', at('lantern.obj'), other, '--json', '--with-maps').json()
    expect(maps).toHaveLength(json.parts.length)
    for (const { a, b, points, faces } of maps)
      expect([a, points.length > 0, faces.every((face: number, own: number) => face === own)]).toEqual([
        b,
        true,
        true,
      ])
    expect(json.whole).toBeNull()
    expect(kelbo('compare', at('lantern.obj'), other, '--json').json().undone).toBeNull()
    const taken = kelbo('reconcile', at('lantern.obj'), other, at('undone.obj'), '--undo-whole')
    expect(taken.out).toContain('nothing: no chosen trait differs')
    // without it, the points of the large one are taken
    const large = kelbo('reconcile', at('lantern.obj'), other, at('large.obj'), '--take', 'points', '--json')
    expect(Object.values(large.json().taken as Record<string, number>)[0]).toBeGreaterThan(0)
  })
  test('--read-a and --read-b are each for one of them', () => {
    const units = (...args: string[]) =>
      kelbo('compare', at('lantern.obj'), at('lantern.obj'), '--json', ...args).json()
    expect(units('--read', 'unitMeters=0.01').whole).toBeNull()
    expect(units('--read', 'unitMeters=0.01', '--read-b', 'unitMeters=0.1').whole.factor).toBeCloseTo(10)
    expect(units('--read-a', 'unitMeters=0.1', '--read-b', 'unitMeters=0.01').whole.factor).toBeCloseTo(0.1)
    expect(kelbo('compare', at('lantern.obj'), at('lantern.obj'), '--read-b', 'nothing=1').status).toBe(2)
  })
})

describe('long lists are counted', () => {
  test('parts of which nothing differs are one line, with --all a line each', () => {
    const short = kelbo('compare', at('lantern.obj'), at('lantern.obj'))
    // the story, an empty line, and the ledger
    expect(short.out).toMatch(/^Nothing changed: [^\n]+\n\n\d+ parts: everything the same\n$/)
    const count = Number(short.out.split('\n')[2]!.split(' ')[0])
    const all = kelbo('compare', at('lantern.obj'), at('lantern.obj'), '--all')
    expect(all.out.trim().split('\n')).toHaveLength(count + 2)
    expect(all.status).toBe(0)
  })
  test('findings of one kind: three, and how many more', () => {
    const cube = (name: string) =>
      `o ${name}\n${CUBE.split('\n')
        .filter((line) => /^v /.test(line))
        .join('\n')}\n`
    const many = Array.from({ length: 9 }, (_value, at9) => {
      const faces = 'f 1 2 3 4\nf 1 2 3 4\n'.replace(/\d/g, (point) => String(Number(point) + 8 * at9))
      return cube(`part${at9}`) + faces
    })
    writeFileSync(at('many.obj'), many.join(''))
    const doubled = (...args: string[]) =>
      kelbo('check', at('many.obj'), ...args)
        .out.split('\n')
        .filter((line) => /same points|duplicate-faces/.test(line))
    expect(doubled('--all')).toHaveLength(9)
    const folded = doubled()
    expect(folded).toHaveLength(4)
    expect(folded[3]).toContain('6 more of this kind (duplicate-faces; --all lists them)')
  })
})

test('destinations are listed, and written out to be given back', () => {
  const list = kelbo('destinations', '--json').json() as { id: string }[]
  expect(list.map(({ id }) => id)).toContain('engine')
  expect(kelbo('destinations').out).toContain('engine')
  for (const [place, { id }] of list.entries()) {
    const path = at(`${id}-own.json`)
    expect(kelbo('destinations', id, path).status).toBe(0)
    expect(JSON.parse(readFileSync(path, 'utf8'))).toMatchObject({ type: 'kelbo-destination' })
    // a process each takes long: three of them are given back
    if (place % 3) continue
    expect(JSON.parse(readFileSync(path, 'utf8'))).toEqual(kelbo('destinations', id, '--json').json())
    const told = (to: string) =>
      kelbo('convert', at('crate.obj'), at('there.fbx'), '--to', to, '--anyway', '--json').json().forecast
    expect(told(path)).toEqual(told(id))
    const again = kelbo('destinations', id, path)
    expect([again.status, again.err.trim()]).toEqual([2, `“${path}” is there already.`])
  }
  expect(kelbo('destinations', 'moon').status).toBe(2)
  expect(kelbo('destinations', 'engine', at('engine.txt')).err).toContain('has to end in .json')
})

test('a step that would take features away is warned of', () => {
  writeFileSync(
    at('weld.json'),
    JSON.stringify({ name: 'weld', steps: [{ step: 'weld-by-distance', params: { distance: 1.5 } }] }),
  )
  const welded = kelbo('prepare', at('crate.obj'), at('welded.obj'), '--recipe', at('weld.json'))
  expect(welded.out).toContain('warning: ')
  expect(welded.out).toContain('features would collapse')
  expect(welded.status).toBe(1)
})

test.each([['--help'], ['-h'], ['help'], ['compare', '--help']])(
  '%s %s prints how it is used, which is no fault',
  (...args) => {
    const help = kelbo(...args)
    expect([help.status, help.err]).toEqual([0, ''])
    expect(help.out).toContain('./kelbo compare A B')
  },
)

test('practise runs random trips of a file by their seeds and counts what was found again', () => {
  const { status, json } = kelbo('practise', at('lantern.obj'), '--trips', '3', '--seed', '7', '--json')
  const score = json() as {
    trips: number
    right: number
    wrong: number
    each: { seed: number; done: string[] }[]
  }
  expect([status, score.trips, score.wrong]).toEqual([0, 3, 0])
  expect(score.each.map(({ seed }) => seed)).toEqual([7, 8, 9])
  expect(score.right).toBeGreaterThan(10_000)
  const text = kelbo('practise', at('lantern.obj'), '--trips', '1', '--seed', '7', '--all')
  expect(text.out).toContain(score.each[0]!.done[0]!)
  expect(text.out).toMatch(/1 trip: \d+ points found again, \d+ left open or gone, 0 taken for others\./)
  const refused = kelbo('practise', at('lantern.obj'), '--trips', 'many')
  expect([refused.status, refused.err]).toEqual([2, expect.stringContaining('--trips wants a whole number')])
})
