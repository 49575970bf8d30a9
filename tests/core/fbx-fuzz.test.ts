/**
 * Twenty thousand seeded mutations of real files, and files made to break a reader: none hangs, crashes, or
 * gives a mesh whose numbers lead nowhere. Files: Debian's assimp-testmodels, and a crate as Kelbo writes it.
 */
import { readdirSync, readFileSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test } from 'vitest'
import { encodeUtf8 } from '../../src/core/base/bytes/text.ts'
import { PURE_CODEC } from '../../src/core/base/bytes/zlib.ts'
import { readFbx } from '../../src/core/formats/fbx/read-fbx.ts'
import { writeBinaryTree } from '../../src/core/formats/fbx/write-binary-tree.ts'
import { writeFbx } from '../../src/core/formats/fbx/write-fbx.ts'
import { int, long, record, type WriteRecord } from '../../src/core/formats/fbx/write-tree.ts'
import { KelboError } from '../../src/core/base/messages/collector.ts'
import type { Scene } from '../../src/core/scene/scene.ts'
import { unsound } from '../fuzz/unsound.ts'
import { cubeOf, gridOf, materialOf, sceneOf } from '../solids.ts'

const MODELS = '/usr/share/assimp/models/FBX'

function attempt(bytes: Uint8Array): string {
  try {
    const { scene } = readFbx({ name: 'x.fbx', bytes })
    const wrong = unsound(scene)
    return wrong ? `fault: ${wrong}` : 'read'
  } catch (error) {
    return error instanceof KelboError ? error.code : `fault: ${(error as Error).stack}`
  }
}

let state = 20261125
const random = (below: number): number => {
  state = (Math.imul(state, 1664525) + 1013904223) >>> 0
  return state % below
}

/** Bytes changed, cut out, doubled, or the end cut off. */
function mutate(source: Uint8Array): Uint8Array {
  const kind = random(10)
  if (kind === 0) return source.slice(0, random(source.length))
  if (kind === 1) {
    const [at, length] = [random(source.length), random(200)]
    const cut = new Uint8Array(source.length - Math.min(length, source.length - at))
    cut.set(source.subarray(0, at))
    cut.set(source.subarray(at + length), at)
    return cut
  }
  const mutated = Uint8Array.from(source)
  for (let change = 1 + random(8); change > 0; change--) {
    const at = random(mutated.length)
    // numbers that lengths and counts are made of are worth more than any byte
    mutated[at] = random(3) === 0 ? [0, 1, 127, 128, 255][random(5)]! : random(256)
  }
  return mutated
}

const small = readdirSync(MODELS)
  .filter((name) => /\.fbx$/i.test(name) && statSync(join(MODELS, name)).size < 40000)
  .map((name) => [name, new Uint8Array(readFileSync(join(MODELS, name)))] as const)
/** A little of everything that the format carries. */
const rich: Scene = {
  ...sceneOf(
    [
      cubeOf({
        faceMaterials: Int32Array.of(0, 1, 0, 1, 0, 1),
        smoothing: { kind: 'groups', faceGroups: Int32Array.of(1, 1, 2, 2, 3, 3) },
        creases: {
          edgePoints: Uint32Array.of(0, 1),
          edgeSharpness: Float64Array.of(2),
          cornerPoints: Uint32Array.of(6),
          cornerSharpness: Float64Array.of(10),
        },
        groups: { names: ['lid'], sets: [[0]], faceSets: Int32Array.of(0, 0, -1, -1, -1, -1) },
        shapes: [{ name: 'open', points: Uint32Array.of(6, 7), offsets: Float64Array.of(0, 1, 0, 0, 1, 0) }],
        skin: {
          jointNodes: Int32Array.of(1),
          offsets: Uint32Array.from({ length: 9 }, (_value, at) => at),
          joints: new Uint32Array(8),
          weights: new Float64Array(8).fill(1),
        },
      }),
      gridOf(3, 3, { smoothing: { kind: 'masks', faceMasks: new Uint32Array(9).fill(1) } }),
    ],
    { materials: [materialOf('tin'), materialOf('zinc')] },
  ),
}
const own = ([{ version: 7400 }, { version: 7500 }, { form: 'text' }] as const).map(
  (options) =>
    [`a crate ${JSON.stringify(options)}`, writeFbx(rich, 'x.fbx', options).files[0]!.bytes] as const,
)
const sources = [...small, ...own]
/** With the twelve thousand of all formats (fuzz.test.ts) there are twenty thousand. */
const ROUNDS = Math.ceil(8000 / sources.length)

test('there are enough files to begin with', () => expect(sources.length).toBeGreaterThan(8))

test.each(sources)(`%s, mutated ${ROUNDS} times`, (_name, bytes) => {
  const outcomes = new Map<string, number>()
  for (let round = 0; round < ROUNDS; round++) {
    const outcome = attempt(mutate(bytes))
    outcomes.set(outcome, (outcomes.get(outcome) ?? 0) + 1)
  }
  expect([...outcomes.keys()].filter((outcome) => outcome.startsWith('fault'))).toEqual([])
  // most of what is damaged a little can still be read
  expect(outcomes.get('read') ?? 0).toBeGreaterThan(ROUNDS / 4)
})

/** Heads of records, as the binary form has them. */
function rawFile(
  build: (put: (bytes: readonly number[]) => void, u32: (value: number) => number[]) => void,
): Uint8Array {
  const head = writeBinaryTree([], 7400, PURE_CODEC).subarray(0, 27)
  const bytes = [...head]
  build(
    (more) => bytes.push(...more),
    (value) => [value & 255, (value >> 8) & 255, (value >> 16) & 255, (value >>> 24) & 255],
  )
  return Uint8Array.from(bytes)
}

const objects = (children: readonly WriteRecord[], links: readonly WriteRecord[] = []): Uint8Array =>
  writeBinaryTree([record('Objects', [], children), record('Connections', [], links)], 7400, PURE_CODEC)
const model = (id: number, name = 'x'): WriteRecord =>
  record('Model', [long(id), `${name}\0\x01Model`, 'Null'])
const tie = (child: number, parent: number): WriteRecord => record('C', ['OO', long(child), long(parent)])

test.each([
  ['a length beyond the file', rawFile((put, u32) => put([...u32(0x7fffffff), ...u32(1), ...u32(5), 1, 65, 73, 1, 0, 0, 0])), 'file.not-a-model'],
  ['an array that unpacks to more than it could', rawFile((put, u32) => put([...u32(80), ...u32(1), ...u32(30), 1, 65, 100, ...u32(0x10000000), ...u32(1), ...u32(8), 1, 2, 3, 4, 5, 6, 7, 8, ...new Array<number>(24).fill(0)])), 'file.not-a-model'],
  ['records nested a thousand deep', objects([Array.from({ length: 1000 }).reduce<WriteRecord>((inner) => record('N', [int(1)], [inner]), model(1))]), 'file.not-a-model'],
  ['a ring of ties', objects([model(1, 'a'), model(2, 'b'), model(3, 'c')], [tie(1, 2), tie(2, 3), tie(3, 1)]), 'read'],
  ['an object tied to itself', objects([model(1, 'a')], [tie(1, 1)]), 'read'],
  ['doubled ids', objects([model(1, 'a'), model(1, 'b')], [tie(1, 0)]), 'read'],
] as const)('%s', (_what, bytes, wanted) => {
  expect(attempt(bytes)).toBe(wanted)
}) // prettier-ignore

test('a million empty records, binary and text', () => {
  const bytes = new Uint8Array(27 + 13 * 1000000)
  bytes.set(writeBinaryTree([], 7400, PURE_CODEC).subarray(0, 27))
  const view = new DataView(bytes.buffer)
  for (let at = 27; at < bytes.length; at += 13) view.setUint32(at, at + 13, true)
  expect(attempt(bytes)).toBe('file.not-a-model')
  expect(attempt(encodeUtf8('A: {\n}\n'.repeat(1000000)))).toBe('file.not-a-model')
})

test('long lists of edges on one huge polygon stay linear', () => {
  const size = 200000
  const indices = Int32Array.from({ length: size }, (_value, at) =>
    at === size - 1 ? ~(at % 100) : at % 100,
  )
  const geometry = record(
    'Geometry',
    [long(2), 'g\0\x01Geometry', 'Mesh'],
    [
      record('Vertices', [gridOf(9, 9).points]),
      record('PolygonVertexIndex', [indices]),
      record('Edges', [new Int32Array(size).fill(size - 1)]),
      record(
        'LayerElementSmoothing',
        [int(0)],
        [
          record('MappingInformationType', ['ByEdge']),
          record('ReferenceInformationType', ['Direct']),
          record('Smoothing', [new Int32Array(size)]),
        ],
      ),
    ],
  )
  const part = record('Model', [long(1), 'x\0\x01Model', 'Mesh'])
  expect(attempt(objects([part, geometry], [tie(2, 1), tie(1, 0)]))).toBe('read')
})

test('every cut of a written file is read as far as it goes', () => {
  const { bytes } = writeFbx(sceneOf([gridOf(3, 3), gridOf(2, 2)]), 'x.fbx').files[0]!
  let read = 0
  for (let length = 0; length < bytes.length; length++) {
    const outcome = attempt(bytes.subarray(0, length))
    expect(outcome).not.toMatch(/^fault/)
    if (outcome === 'read') read++
  }
  // parts that stand before the cut are there
  expect(read).toBeGreaterThan(bytes.length / 4)
})
