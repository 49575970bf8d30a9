/**
 * Alembic read and written. No other reader is to be had here: the reader is held against bytes that were put together by
 * hand after the layout, the writer against the reader. No other program has confirmed either.
 */
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { anyScene } from '../../../../tests/any-scene.ts'
import { cubeOf, sceneOf } from '../../../../tests/solids.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { KelboError } from '../../base/messages/collector.ts'
import { compareScenes } from '../../compare/compare-scenes.ts'
import { fingerprintScene } from '../../compare/fingerprint.ts'
import { TRAITS } from '../../compare/traits/registry.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import { buildMooringBollard } from '../../practice/demo/mooring-bollard.ts'
import { completeIds } from '../../scene/ids.ts'
import { plainNode, type Scene } from '../../scene/scene.ts'
import { boundsOf } from '../../base/math/box.ts'
import { formatNamed, readBackOptions, optionsFor } from '../registry.ts'
import { readAlembic } from './read-alembic.ts'
import { readArchive } from './read-archive.ts'
import { writeAlembic } from './write-alembic.ts'
import { writeArchive } from './write-archive.ts'
import type { AbcCompound, AbcObject, AbcProperty, AbcValues } from './archive-tree.ts'
import { howMany } from '../../../../tests/how-many.ts'

const codes = ({ findings }: { findings: readonly { code: string }[] }): string[] =>
  findings.map(({ code }) => code)
const read = (bytes: Uint8Array, options = {}) => readAlembic({ name: 'x.abc', bytes }, options)

/** A file byte by byte: groups and data with their places, as the layout has them. */
function byHand(): Uint8Array {
  const bytes: number[] = [...'Ogawa'].map((letter) => letter.charCodeAt(0))
  bytes.push(0xff, 0, 1, ...new Array<number>(8).fill(0))
  const u64 = (value: number, bit = 0): number[] => [value & 255, (value >> 8) & 255, (value >> 16) & 255, 0, 0, 0, 0, bit] // prettier-ignore
  const put = (list: readonly number[]): number => {
    const at = bytes.length
    bytes.push(...list)
    return at
  }
  const data = (list: readonly number[]): number[] => u64(put([...u64(list.length), ...list]), 0x80)
  const group = (...children: number[][]): number[] => u64(put([...u64(children.length), ...children.flat()]))
  const text = (word: string): number[] => [...word].map((letter) => letter.charCodeAt(0))
  const key = new Array<number>(16).fill(7)
  const f32 = (...values: number[]): number[] => [...new Uint8Array(Float32Array.from(values).buffer)]
  const i32 = (...values: number[]): number[] => [...new Uint8Array(Int32Array.from(values).buffer)]
  const none = u64(0, 0x80)
  // P: an array (2) of float32 (10), extent 3, one sample that stays (0x800)
  const info = (type: number, pod: number, extent: number, words: number): number[] => i32(type | (pod << 4) | 0x400 | 0x800 | (extent << 12) | (words << 20)) // prettier-ignore
  const header = (head: number[], name: string): number[] => [...head, 1, name.length, ...text(name)]
  const geometry = group(
    group(data([...key, ...f32(0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0)]), none),
    group(data([...key, ...i32(0, 3, 2, 1)]), none),
    group(data([...key, ...i32(4)]), none),
    data([
      ...header(info(2, 10, 3, 1), 'P'),
      ...header(info(2, 6, 1, 0), '.faceIndices'),
      ...header(info(2, 6, 1, 0), '.faceCounts'),
    ]),
  )
  const properties = group(geometry, data([...i32(0), 5, ...text('.geom')]))
  const hashes = new Array<number>(32).fill(0)
  const mesh = group(properties, data(hashes))
  // the words of its kind stand with it: 0xff, then how long they are
  const words = text('schema=AbcGeom_PolyMesh_v1')
  const root = group(u64(0), mesh, data([...i32(5), ...text('sheet'), 0xff, ...i32(words.length), ...words, ...hashes])) // prettier-ignore
  const indexed = text('geoScope=vtx;interpretation=point')
  const top = group(data(i32(0)), data(i32(10709)), root, data(text('made=by hand')), data([...i32(1), 0, 0, 0, 0, 0, 0, 240, 63, ...i32(1), 0, 0, 0, 0, 0, 0, 0, 0]), data([indexed.length, ...indexed])) // prettier-ignore
  top.forEach((byte, at) => (bytes[8 + at] = byte))
  return Uint8Array.from(bytes)
}

test('a file that was put together by hand', () => {
  const { scene, findings } = read(byHand())
  expect(findings).toEqual([])
  expect(scene.nodes.map(({ name, mesh }) => [name, mesh])).toEqual([['sheet', 0]])
  expect(scene.formatVersion).toBe('10709')
  // clockwise there, and the other way round here
  expect([...scene.meshes[0]!.faceVertices]).toEqual([0, 1, 2, 3])
  expect(boundsOf(scene.meshes[0]!.points)!.max).toEqual([1, 1, 0])
  const { samplings, metadata, root } = readArchive(byHand())
  expect([samplings, metadata]).toEqual([[{ maxSample: 1, perCycle: 1, times: [0] }], 'made=by hand'])
  expect((root.children[0]!.properties[0] as AbcCompound).properties[0]!.metadata).toBe('geoScope=vtx;interpretation=point') // prettier-ignore
})

describe('written and read', () => {
  const back = (scene: Scene, options = {}): Scene => {
    const { files, space } = writeAlembic(scene, 'x.abc', options)
    const known = optionsFor(formatNamed('alembic'), readBackOptions(space, options))
    return completeIds(readAlembic(files[0]!, known).scene)
  }
  const changed = (a: Scene, b: Scene): string[] => {
    const [before, after] = [fingerprintScene(a), fingerprintScene(b)]
    return TRAITS.filter((trait) => before[trait] !== after[trait])
  }
  test.each([
    ['heron', buildCourierHeron],
    ['bollard', buildMooringBollard],
  ] as const)('the %s: every trait that the format carries is the same', (_name, build) => {
    const scene = completeIds(build())
    const { rows } = compareScenes(scene, back(scene))
    const states = rows.flatMap(({ name, cells }) =>
      formatNamed('alembic').carries.flatMap((trait) => {
        const cell = (cells as Record<string, { state: string } | undefined>)[trait]
        return cell ? [`${name} ${trait} ${cell.state}`] : []
      }),
    )
    expect(states.length).toBeGreaterThan(40)
    expect(states.filter((state) => !/ (same|within)$/.test(state))).toEqual([])
    const once = writeAlembic(back(scene), 'x.abc').files[0]!.bytes
    expect(Buffer.from(writeAlembic(back(back(scene)), 'x.abc').files[0]!.bytes).equals(Buffer.from(once))).toBe(true) // prettier-ignore
  })
  test('scenes of any kind: what was read once is read the same again', () => {
    fc.assert(
      fc.property(anyScene, (scene) => {
        const once = back(scene)
        expect(changed(once, back(once))).toEqual([])
      }),
      { numRuns: howMany(50, 1500), seed: 20261127 },
    )
  })
  test('what it has no words for is told', () => {
    const scene = sceneOf([cubeOf({ shapes: [{ name: 'a', points: Uint32Array.of(0), offsets: new Float64Array(3) }] })]) // prettier-ignore
    const told = writeAlembic(
      { ...scene, cameras: [{ name: 'c', node: 0, properties: {} }] },
      'x.abc',
    ).findings
    expect(told.map(({ parameters }) => parameters.what)).toEqual(['cameras', 'blend shapes'])
  })
  test('names, hidden parts, properties, and parts that only hold others', () => {
    const scene = completeIds({
      ...sceneOf([cubeOf()]),
      nodes: [
        plainNode('a/b', { properties: { size: 2 } }),
        plainNode('x', { parent: 0, mesh: 0, visible: false, local: [0, 2, 0, 0, -2, 0, 0, 0, 0, 0, 2, 0, 1, 2, 3, 1] }), // prettier-ignore
        plainNode('x', { parent: 0 }),
      ],
    })
    const read = back(scene)
    expect(
      read.nodes.map(({ name, parent, mesh, visible, local, properties }) => ({
        name,
        parent,
        mesh,
        visible,
        local: [...local],
        properties,
      })),
    ).toEqual(
      // prettier-ignore
      scene.nodes.map(({ name, parent, mesh, visible, local, properties }) => ({ name, parent, mesh, visible, local: [...local], properties })), // prettier-ignore
    )
  })
})

/** An object of a file that Kelbo wrote, changed, and written again. */
function altered(change: (object: AbcObject) => AbcObject): Uint8Array {
  const archive = readArchive(writeAlembic(sceneOf([cubeOf({ name: 'cube' })]), 'x.abc').files[0]!.bytes)
  return writeArchive({ ...archive, root: change(archive.root) })
}
const inGeometry =
  (change: (values: AbcValues) => AbcValues) =>
  (root: AbcObject): AbcObject => ({
    ...root,
    children: root.children.map((transform) => ({
      ...transform,
      children: transform.children.map((shape) => ({
        ...shape,
        properties: shape.properties.map(
          (geometry) =>
        geometry.kind !== 'compound'
          ? geometry
          : { ...geometry, properties: geometry.properties.map((one) => (one.kind === 'compound' ? one : change(one))) }, // prettier-ignore
        ),
      })),
    })),
  })
const ints = (values: readonly number[]): { bytes: Uint8Array; dimensions: number[] } => ({
  bytes: new Uint8Array(Int32Array.from(values).buffer),
  dimensions: [],
})

describe('what a file may hold', () => {
  test.each([
    ['a point that is not there', '.faceIndices', [99, ...Array.from({ length: 23 }, (_none, at) => at % 8)], 'alembic.index-out-of-range'], // prettier-ignore
    ['a polygon of two', '.faceCounts', [2, 4, 4, 4, 4, 4], 'alembic.short-face'],
    ['more corners than there are', '.faceCounts', [4, 4, 4, 4, 4, 9], 'alembic.part'],
  ])('%s is told, the rest is read', (_name, name, values, code) => {
    const result = read(altered(inGeometry((one) => (one.name === name ? { ...one, samples: [ints(values)] } : one)))) // prettier-ignore
    expect(codes(result)).toContain(code)
    expect(result.scene.meshes[0]!.faceOffsets.length - 1).toBe(5)
  })
  test('of several samples the one that is asked for', () => {
    const bytes = altered(
      inGeometry((one) => {
        if (one.name !== 'P') return one
        const [first] = one.samples
        const moved = new Float32Array(first!.bytes.slice().buffer).map((value) => value + 5)
        return { ...one, samples: [first!, { bytes: new Uint8Array(moved.buffer), dimensions: [] }], count: 4, firstChanged: 2, lastChanged: 2 } // prettier-ignore
      }),
    )
    const low = (sample: number): number => boundsOf(read(bytes, { sample }).scene.meshes[0]!.points)!.min[0]
    expect([0, 1, 2, 3, 99].map(low)).toEqual([low(0), low(0), low(0) + 5, low(0) + 5, low(0) + 5])
    expect(codes(read(bytes))).toEqual(['alembic.sampled'])
  })
  test('curves and cameras are written back as they came', () => {
    const curve: AbcObject = {
      name: 'rope',
      metadata: 'schema=AbcGeom_Curve_v2',
      properties: [{ kind: 'compound', name: '.geom', metadata: '', properties: [] }],
      children: [],
    }
    const bytes = altered((root) => ({ ...root, children: [{ ...root.children[0]!, children: [...root.children[0]!.children, curve] }] })) // prettier-ignore
    const { scene, findings } = read(bytes)
    expect(findings.map(({ code, parameters }) => [code, parameters])).toEqual([
      ['alembic.kept', { what: 'curves' }],
    ])
    const again = readArchive(writeAlembic(scene, 'x.abc').files[0]!.bytes)
    expect(again.root.children[0]!.children.find(({ name }) => name === 'rope')).toEqual(curve)
  })
  test('sets of others are groups; values that do not fit, and a stale note, are told', () => {
    const bytes = altered((root) => inGeometry((one) => one)(root))
    expect(read(bytes).findings).toEqual([])
    const scene = sceneOf([
      cubeOf({ smoothing: { kind: 'groups', faceGroups: Int32Array.of(1, 1, 1, 2, 2, 2) } }),
    ])
    const archive = readArchive(writeAlembic(scene, 'x.abc').files[0]!.bytes)
    const cut = writeArchive({ ...archive, root: inGeometry((one) => (one.name === '.faceCounts' ? { ...one, samples: [ints([4, 4, 4, 4, 4, 2])] } : one))(archive.root) }) // prettier-ignore
    expect(codes(read(cut))).toContain('alembic.stale')
    const short = sceneOf([cubeOf({ uvSets: [{ name: 'uv', values: Float64Array.of(0, 0, 1, 1), indices: new Int32Array(24), depths: null }] })]) // prettier-ignore
    const whole = readArchive(writeAlembic(short, 'x.abc').files[0]!.bytes)
    const broken = JSON.parse(JSON.stringify(whole.root, (_key, value: unknown) => (value instanceof Uint8Array ? { held: [...value] } : value)), (key, value: unknown) => // prettier-ignore
      value && typeof value === 'object' && 'held' in value
        ? Uint8Array.from((value as { held: number[] }).held)
        : key === 'properties' && Array.isArray(value) && value.some((one: AbcProperty) => one.name === '.indices')
          ? value.map((one: AbcValues) => (one.name === '.indices' ? { ...one, samples: [ints([0])] } : one))
          : value,
    ) as AbcObject // prettier-ignore
    const result = read(writeArchive({ ...whole, root: broken }))
    expect(codes(result)).toContain('alembic.values')
  })
  test.each([
    ['nothing', new Uint8Array(0), 'file.empty'],
    ['something else', Uint8Array.from({ length: 40 }, () => 65), 'file.not-a-model'],
    ['the older way of storing', Uint8Array.of(0x89, 0x48, 0x44, 0x46, 13, 10, 26, 10, ...new Array<number>(40).fill(0)), 'alembic.old'], // prettier-ignore
    ['one that breaks off', byHand().slice(0, 40), 'alembic.broken'],
    [
      'one that was not finished',
      Uint8Array.from(byHand(), (byte, at) => (at === 5 ? 0 : byte)),
      'alembic.broken',
    ],
  ])('%s is refused in words', (_name, bytes, code) => {
    expect(() => read(bytes)).toThrow(expect.objectContaining({ code }))
  })
  test('whatever is changed in one, it ends in words', () => {
    const bytes = writeAlembic(buildMooringBollard(), 'x.abc', { smoothing: false }).files[0]!.bytes
    const small = writeAlembic(sceneOf([cubeOf()]), 'x.abc').files[0]!.bytes
    const chance = chanceOf(20261127)
    for (let run = 0; run < 2000; run++) {
      const source = run % 40 === 0 ? bytes : small
      const changed = source.slice(0, run % 7 === 0 ? Math.floor(chance() * source.length) : source.length)
      for (let change = 0; change < 1 + (run % 5); change++) {
        const at = Math.floor(chance() * changed.length)
        if (changed.length) changed[at] = run % 3 ? Math.floor(chance() * 256) : [0, 255, 127, 128][Math.floor(chance() * 4)]! // prettier-ignore
      }
      try {
        read(changed)
      } catch (error) {
        expect([run, error instanceof KelboError]).toEqual([run, true])
      }
    }
  })
})

test('creases name points that are there: others are left out, and what is sound stays', () => {
  const creased = (cornerPoints: number[], cornerSharpness: number[], edgePoints: number[] = []): Scene =>
    sceneOf([
      {
        ...cubeOf(),
        creases: {
          edgePoints: Uint32Array.from(edgePoints),
          edgeSharpness: new Float64Array(edgePoints.length / 2).fill(2),
          cornerPoints: Uint32Array.from(cornerPoints),
          cornerSharpness: Float64Array.from(cornerSharpness),
        },
      },
    ])
  const again = (scene: Scene) =>
    read(writeAlembic(scene, 'x.abc', {}).files[0]!.bytes).scene.meshes[0]!.creases
  const told = (scene: Scene) => {
    const creases = again(scene)
    return creases && [[...creases.cornerPoints], [...creases.cornerSharpness], [...creases.edgePoints]]
  }
  expect(told(creased([0, 7, 3], [1, 2, 3]))).toEqual([[0, 7, 3], [1, 2, 3], []])
  // there are eight points
  expect(told(creased([8, 0, 900, 7], [4, 1, 5, 2]))).toEqual([[0, 7], [1, 2], []])
  expect(told(creased([7, 5], [2]))).toEqual([[7], [2], []])
  expect(told(creased([], [], [0, 1, 7, 8]))).toEqual([[], [], [0, 1]])
  expect(told(creased([8], [1]))).toBeNull()
})
