/** What each destination that ships says, from the description of the nine kinds, written down a second time. */
import { describe, expect, test } from 'vitest'
import type { Trait } from '../../compare/traits/registry.ts'
import { checkSettingsOf, DESTINATION_DEFAULTS, KIND_NAMES, type Destination } from './destination.ts'
import { DESTINATIONS, destinationOf } from './registry.ts'

interface Described {
  readonly file: string
  /** Metres in one unit of the tool, and whether it goes by what the file states. */
  readonly unit: readonly [Destination['size']['unit'], number]
  readonly clean: string
  readonly takes: string
  readonly changes: string
  readonly refuses: string
  readonly form: Partial<Destination>
}

const DESCRIBED: Readonly<Record<string, Described>> = {
  sculpting: {
    file: 'obj normals=false',
    unit: ['numbers', 0.01],
    clean: 'non-manifold broken-points',
    takes: 'points',
    changes: 'normals smoothing creases materials groups',
    refuses: 'shapes scene',
    form: { polygons: 'quads' },
  },
  modelling: {
    file: 'fbx version=7400 form="binary" smoothingForm="edges" unitMeters=0.01 unitAs="points"',
    unit: ['stated', 0.01],
    clean: 'broken-points',
    takes: 'topology points uvs smoothing materials groups',
    changes: 'names transforms',
    refuses: '',
    form: { polygons: 'quads' },
  },
  'texture-painting': {
    file: 'fbx creases=false materials="names" cameras=false lights=false shapes=false',
    unit: ['stated', 0.01],
    clean: 'no-uvs uv-overlaps flipped-islands unassigned-faces',
    takes: 'uvs surfaces',
    changes: 'smoothing names',
    refuses: 'creases shapes groups',
    form: { checkSettings: { mapSize: 4096, paddingPixels: 8 } },
  },
  engine: {
    file: 'fbx creases=false tangents=true triangulate=true smoothingForm="edges" unitMeters=0.01 unitAs="points" cameras=false lights=false visibleOnly=true',
    unit: ['stated', 1],
    clean: 'no-uvs missing-maps zero-size broken-points',
    takes: '',
    changes: 'topology points normals smoothing materials',
    refuses: 'creases groups',
    form: {
      polygons: 'triangles',
      polygonBudget: 50000,
      normalMapGreen: 'down',
      naming: { letters: 'plain', longest: 63, prefix: '', suffix: '' },
      checkSettings: { paddingPixels: 8, smoothingForm: 'edges' },
    },
  },
  renderer: {
    file: 'fbx version=7500 materials="full" maps=true',
    unit: ['stated', 1],
    clean: 'missing-maps unassigned-faces',
    takes: 'surfaces',
    changes: '',
    refuses: '',
    form: {},
  },
  'sewing-pattern': {
    file: 'obj unitMeters=0.001 creases=false groups=false colors=false materials="names"',
    unit: ['numbers', 0.001],
    clean: 'real-size on-floor',
    takes: 'topology points uvs',
    changes: 'smoothing names materials',
    refuses: 'smoothing creases groups shapes transforms scene',
    form: { checkSettings: { wantPanels: true } },
  },
  posing: {
    file: 'fbx smoothingForm="edges" unitMeters=0.01 unitAs="points" lights=false cameras=false',
    unit: ['stated', 0.01],
    clean: 'broken-points unwelded-points',
    takes: 'shapes points',
    changes: 'transforms normals',
    refuses: 'groups',
    form: {},
  },
  tablet: {
    file: 'gltf form="binary" cameras=false lights=false',
    unit: ['stated', 1],
    clean: 'broken-points',
    takes: 'points',
    changes: 'topology normals smoothing creases groups uvs scene',
    refuses: 'creases smoothing groups',
    form: {},
  },
  'scene-assembly': {
    file: 'usd form="package" cameras=false lights=false',
    unit: ['stated', 0.01],
    clean: 'missing-maps unassigned-faces',
    takes: 'surfaces',
    changes: 'transforms names materials smoothing scene',
    refuses: 'smoothing',
    form: { naming: { letters: 'plain', longest: null, prefix: '', suffix: '' } },
  },
}
const words = (text: string): string[] => (text ? text.split(' ') : [])

test('each that ships is described, and none besides', () => {
  expect(DESTINATIONS.map(({ id }) => id)).toEqual(Object.keys(DESCRIBED))
  expect(destinationOf('somewhere')).toBeNull()
})

describe.each(Object.entries(DESCRIBED))('%s', (id, described) => {
  const destination = destinationOf(id)!
  test('file, unit, what has to be clean, what comes back', () => {
    expect([
      destination.format,
      ...Object.entries(destination.writeOptions).map(([name, value]) => `${name}=${JSON.stringify(value)}`),
    ]).toEqual(words(described.file))
    expect([destination.size.unit, destination.size.unitMeters]).toEqual(described.unit)
    expect(destination.mustBeClean).toEqual(words(described.clean))
    expect(destination.purpose).toEqual(words(described.takes))
    expect(destination.changesOnReturn).toEqual(words(described.changes))
    expect(destination.neverTravels).toEqual(words(described.refuses))
  })
  test('everything else is as with a tool of which nothing is known', () => {
    const told: (keyof Destination)[] = ['id', 'name', 'kind', 'description', 'format', 'writeOptions', 'size', 'mustBeClean', 'purpose', 'changesOnReturn', 'neverTravels', 'standIn'] // prettier-ignore
    for (const [name, usual] of Object.entries(DESTINATION_DEFAULTS) as [keyof Destination, unknown][])
      if (!told.includes(name))
        expect([name, destination[name]]).toEqual([name, described.form[name] ?? usual])
  })
  test('is called as people call it', () => {
    expect(destination.name.length).toBeGreaterThan(3)
    expect(destination.description).toMatch(/^[A-Z].{30,}\.$/)
    expect(KIND_NAMES[destination.kind]).toMatch(/^[a-z]/)
  })
})

test('a tool of which nothing is known takes everything, as it is, in one file', () => {
  expect(DESTINATION_DEFAULTS).toEqual({
    writeOptions: {},
    readOptions: {},
    size: { unit: 'stated', unitMeters: 0.01 },
    polygons: 'any',
    polygonBudget: null,
    normalMapGreen: 'up',
    neverTravels: [] satisfies Trait[],
    naming: { letters: 'any', longest: null, prefix: '', suffix: '' },
    split: 'one',
    checkSettings: {},
    mustBeClean: [],
    recipe: null,
    surfaces: null,
    purpose: [],
    changesOnReturn: [],
    standIn: null,
  })
})

test('its own settings of checks go before what follows from the rest', () => {
  const destination: Destination = {
    ...destinationOf('engine')!,
    polygons: 'quads',
    checkSettings: { wantQuads: false, triangleBudget: 7 },
  }
  expect(checkSettingsOf(destination)).toEqual({ wantQuads: false, triangleBudget: 7, nameLength: 63 })
  expect(checkSettingsOf({ ...destinationOf('renderer')!, polygons: 'any' })).toEqual({ wantQuads: false })
})
