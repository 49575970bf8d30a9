/** glTF 2.0 read: what a file may hold and how, and what is said of files that don't hold what they say. */
import { describe, expect, test } from 'vitest'
import { MeshoptEncoder } from 'meshoptimizer/encoder'
import { NODE_DECODERS } from '../../../host/geometry-decoders.ts'
import { cubeOf, sceneOf } from '../../../../tests/solids.ts'
import { encodeUtf8 } from '../../base/bytes/text.ts'
import type { Scene } from '../../scene/scene.ts'
import { worldMatrices } from '../../scene/world.ts'
import { binaryContainer } from './container.ts'
import { readGltf } from './read-gltf.ts'
import { writeGltf } from './write-gltf.ts'

type Json = Record<string, unknown>
/** Numbers of a file that is being made: views and accessors over one buffer. */
function numbers() {
  const pieces: Uint8Array[] = []
  const views: Json[] = []
  const accessors: Json[] = []
  let length = 0
  const view = (bytes: ArrayBufferView, more: Json = {}): number => {
    const own = new Uint8Array(bytes.buffer, bytes.byteOffset, bytes.byteLength)
    const at = length
    pieces.push(own, new Uint8Array((4 - (own.length % 4)) % 4))
    length += (own.length + 3) & ~3
    return views.push({ buffer: 0, byteOffset: at, byteLength: own.length, ...more }) - 1
  }
  const add = (accessor: Json): number => accessors.push(accessor) - 1
  return {
    view,
    add,
    floats: (values: readonly number[], type: string, more: Json = {}) => {
      const width = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT4: 16 }[type]!
      return add({
        bufferView: view(Float32Array.from(values)),
        componentType: 5126,
        count: values.length / width,
        type,
        ...more,
      })
    },
    shorts: (values: readonly number[]) =>
      add({
        bufferView: view(Uint16Array.from(values)),
        componentType: 5123,
        count: values.length,
        type: 'SCALAR',
      }),
    /** The whole file, as one binary. */
    file: (document: Json): Uint8Array => {
      const chunk = new Uint8Array(length)
      let at = 0
      for (const piece of pieces) {
        chunk.set(piece, at)
        at += piece.length
      }
      const whole = {
        asset: { version: '2.0' },
        scene: 0,
        scenes: [{ nodes: [0] }],
        nodes: [{ name: 'part', mesh: 0 }],
        ...(accessors.length ? { accessors } : {}),
        ...(views.length ? { bufferViews: views, buffers: [{ byteLength: length }] } : {}),
        ...document,
      }
      return binaryContainer(encodeUtf8(JSON.stringify(whole)), chunk)
    },
  }
}
const read = (bytes: Uint8Array, options = {}, decoders = {}) => {
  const { scene, findings } = readGltf({ name: 'x.glb', bytes }, [], options, decoders)
  return { scene, codes: findings.map(({ code }) => code), findings }
}
const text = (document: Json) => read(encodeUtf8(JSON.stringify(document)))
const SQUARE = [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0]
const square = (more: Json = {}, document: Json = {}) => {
  const own = numbers()
  const position = own.floats(SQUARE, 'VEC3')
  const indices = own.shorts([0, 1, 2, 0, 2, 3])
  return own.file({
    meshes: [{ primitives: [{ attributes: { POSITION: position }, indices, ...more }] }],
    ...document,
  })
}

describe('containers', () => {
  test('a square in one binary file: its points, its polygons, its space', () => {
    const { scene, codes } = read(square())
    expect(codes).toEqual([])
    expect([...scene.meshes[0]!.points]).toEqual(SQUARE)
    expect([...scene.meshes[0]!.faceVertices]).toEqual([0, 1, 2, 0, 2, 3])
    expect(scene.space).toEqual({ unitMeters: 1, upAxis: 'y', frontAxis: 'z', handedness: 'right' })
    expect([scene.format, scene.formatVersion]).toEqual(['gltf', '2.0 binary'])
  })
  test.each([
    ['nothing at all', new Uint8Array(0), 'file.empty'],
    ['an empty object', encodeUtf8('{}'), 'file.not-a-model'],
    ['text that breaks off', encodeUtf8('{"asset":{"version":"2.0"'), 'gltf.unreadable'],
    ['a list', encodeUtf8('[1,2]'), 'gltf.unreadable'],
    ['no version', encodeUtf8('{"meshes":[]}'), 'gltf.unreadable'],
    ['version 1', encodeUtf8('{"asset":{"version":"1.1"}}'), 'gltf.version'],
    ['version 3', encodeUtf8('{"asset":{"version":"3.0"}}'), 'gltf.version'],
    [
      '2.5 that asks for 2.5',
      encodeUtf8('{"asset":{"version":"2.5","minVersion":"2.5"},"nodes":[{}]}'),
      'gltf.version',
    ],
    ['brackets in brackets', encodeUtf8(`${'['.repeat(5000)}${']'.repeat(5000)}`), 'gltf.unreadable'],
    ['a binary that breaks off', square().slice(0, 60), 'gltf.unreadable'],
    ['a header alone', square().slice(0, 14), 'gltf.unreadable'],
    ['bytes that are no text', Uint8Array.of(0x7b, 0xff, 0xfe, 0x7d), 'gltf.unreadable'],
  ])('%s is refused in words', (_name, bytes, code) => {
    expect(() => read(bytes)).toThrow(expect.objectContaining({ code }))
  })
  test('2.1 that asks for 2.0 is read', () => {
    expect(
      text({ asset: { version: '2.1', minVersion: '2.0' }, nodes: [{ name: 'a' }] }).scene.nodes,
    ).toHaveLength(1)
  })
})

describe('numbers', () => {
  test('strides, shares of shorts, and an odd offset', () => {
    const own = numbers()
    const bytes = new Uint8Array(4 * 8)
    const data = new DataView(bytes.buffer)
    ;[
      [0, 0, 0],
      [32767, 0, 0],
      [32767, -32767, 0],
      [0, 32767, -32768],
    ].forEach((place, at) => place.forEach((value, k) => data.setInt16(8 * at + 2 * k, value, true)))
    const view = own.view(bytes, { byteStride: 8 })
    const position = own.add({
      bufferView: view,
      componentType: 5122,
      normalized: true,
      count: 4,
      type: 'VEC3',
    })
    const { scene, codes } = read(
      own.file({
        extensionsRequired: ['KHR_mesh_quantization'],
        meshes: [
          { primitives: [{ attributes: { POSITION: position }, indices: own.shorts([0, 1, 2, 0, 2, 3]) }] },
        ],
      }),
    )
    expect(codes).toEqual([])
    // the least short is -1 as well (3.6.2.2)
    expect([...scene.meshes[0]!.points]).toEqual([0, 0, 0, 1, 0, 0, 1, -1, 0, 0, 1, -1])
  })
  test('sparse values over others, and over nothing', () => {
    const own = numbers()
    const sparse = (places: readonly number[], values: readonly number[]): Json => ({
      count: places.length,
      indices: { bufferView: own.view(Uint8Array.from(places)), componentType: 5121 },
      values: { bufferView: own.view(Float32Array.from(values)) },
    })
    const position = own.floats(SQUARE, 'VEC3', { sparse: sparse([2], [5, 6, 7]) })
    const bare = own.add({
      componentType: 5126,
      count: 4,
      type: 'VEC3',
      sparse: sparse([1, 3], [1, 2, 3, 4, 5, 6]),
    })
    const { scene, codes } = read(
      own.file({
        meshes: [
          {
            primitives: [
              {
                attributes: { POSITION: position },
                indices: own.shorts([0, 1, 2, 0, 2, 3]),
                targets: [{ POSITION: bare }],
              },
            ],
            extras: { targetNames: ['open'] },
            weights: [0.25],
          },
        ],
      }),
    )
    expect(codes).toEqual([])
    const [mesh] = scene.meshes
    expect([...mesh!.points.subarray(6, 9)]).toEqual([5, 6, 7])
    expect(mesh!.shapes).toEqual([
      { name: 'open', points: Uint32Array.of(1, 3), offsets: Float64Array.of(1, 2, 3, 4, 5, 6), weight: 25 },
    ])
  })
  test.each([
    ['beyond its view', { count: 5 }, /asks for 60 bytes/],
    ['of no kind', { type: 'VEC9' }, /holds VEC9/],
    ['of no number', { componentType: 5127 }, /doesn’t say what numbers/],
    ['of numbers that are not there', { bufferView: undefined, count: 3e9 }, /none lie there/],
    ['of elements over each other', { bufferView: 1 }, /over each other/],
  ])('an accessor %s: the primitive is left out, and why', (_name, change, why) => {
    const own = numbers()
    const position = own.floats(SQUARE, 'VEC3', change)
    own.view(Float32Array.from(SQUARE), { byteStride: 4 })
    const { scene, findings } = read(
      own.file({ meshes: [{ primitives: [{ attributes: { POSITION: position } }] }] }),
    )
    expect(scene.meshes).toEqual([])
    expect(findings.map(({ code }) => code)).toEqual(['gltf.part'])
    expect(String(findings[0]!.parameters.why)).toMatch(why)
  })
  test('a triangle that asks for a vertex that is not there is left out, the others stay; all are counted', () => {
    const own = numbers()
    const position = own.floats(SQUARE, 'VEC3')
    const { scene, findings } = read(
      own.file({
        meshes: [
          {
            primitives: [
              { attributes: { POSITION: position }, indices: own.shorts([0, 1, 2, 0, 2, 9, 0, 7, 3]) },
            ],
          },
        ],
      }),
    )
    expect([...scene.meshes[0]!.faceVertices]).toEqual([0, 1, 2])
    expect(findings).toHaveLength(1)
    expect(findings[0]).toMatchObject({
      code: 'gltf.index-out-of-range',
      total: 2,
      parameters: { value: 9, available: 4 },
    })
  })
  test('meshopt-compressed numbers come out as they went in; without a decoder that is said', async () => {
    await MeshoptEncoder.ready
    const packed = MeshoptEncoder.encodeVertexBuffer(new Uint8Array(Float32Array.from(SQUARE).buffer), 4, 12)
    const own = numbers()
    own.view(packed)
    const position = own.add({ bufferView: 1, componentType: 5126, count: 4, type: 'VEC3' })
    const file = own.file({
      meshes: [{ primitives: [{ attributes: { POSITION: position } }] }],
      extensionsRequired: ['EXT_meshopt_compression'],
      bufferViews: [
        { buffer: 0, byteOffset: 0, byteLength: packed.length },
        {
          buffer: 1,
          byteLength: 48,
          byteStride: 12,
          extensions: {
            EXT_meshopt_compression: {
              buffer: 0,
              byteLength: packed.length,
              byteStride: 12,
              count: 4,
              mode: 'ATTRIBUTES',
            },
          },
        },
      ],
    })
    const { scene } = read(file, {}, NODE_DECODERS)
    // 0 1 2 alone: four vertices without indices are one triangle, and one that nothing draws
    expect([...scene.meshes[0]!.points]).toEqual(SQUARE.slice(0, 9))
    expect(read(file).findings.map(({ code, parameters }) => [code, parameters.why])).toEqual([
      ['gltf.part', 'its bytes are compressed, and what would unpack them is not at hand here'],
    ])
  })
  test('a buffer beside the file is found, or asked for by its name', () => {
    const { files } = writeGltf(sceneOf([cubeOf()]), 'crate.gltf')
    expect(files.map(({ name }) => name)).toEqual(['crate.gltf', 'crate.bin'])
    expect(readGltf(files[0]!, files).scene.meshes).toHaveLength(1)
    const alone = readGltf(files[0]!, [])
    expect(alone.findings.find(({ code }) => code === 'gltf.buffer-missing')?.parameters).toEqual({
      file: 'crate.bin',
    })
    expect(alone.scene.meshes).toEqual([])
  })
})

describe('the hierarchy', () => {
  const names = ({ nodes }: Scene): string[] => nodes.map(({ name, parent }) => `${parent}/${name}`)
  test('nodes without names take their mesh’s; a matrix, or move, turn and scale', () => {
    const half = Math.SQRT1_2
    const { scene } = read(
      square(
        {},
        {
          scenes: [{ nodes: [0, 2] }],
          nodes: [
            { mesh: 0, children: [1], matrix: [0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 1, 0, 5, 6, 7, 1] },
            { translation: [1, 0, 0], rotation: [0, 0, half, half], scale: [2, 3, -4] },
            {},
          ],
          meshes: undefined,
        },
      ),
    )
    expect(names(scene)).toEqual(['-1/node_1', '0/node_2', '-1/node_3'])
    const [first, second] = worldMatrices(scene)
    expect(first).toEqual([0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 1, 0, 5, 6, 7, 1])
    const expected = [-2, 0, 0, 0, 0, -3, 0, 0, 0, 0, -4, 0, 5, 7, 7, 1]
    second!.forEach((value, at) => expect(value).toBeCloseTo(expected[at]!, 12))
  })
  test('a node under itself, one under two, and one that is not there', () => {
    const { scene, codes } = text({
      asset: { version: '2.0' },
      scenes: [{ nodes: [0, 4] }],
      nodes: [
        { name: 'a', children: [1, 9] },
        { name: 'b', children: [2] },
        { name: 'c', children: [1] },
        { name: 'd', children: [3] },
        { name: 'e', children: [2] },
      ],
    })
    expect(names(scene)).toEqual(['-1/a', '0/b', '1/c', '-1/d', '-1/e'])
    expect(codes.filter((code) => code === 'gltf.ring').length).toBeGreaterThanOrEqual(3)
    expect(codes).toContain('gltf.part')
  })
  test('nodes of another scene come in hidden; so does what says so itself', () => {
    const { scene, codes } = text({
      asset: { version: '2.0' },
      scene: 1,
      scenes: [{ nodes: [0] }, { nodes: [1] }],
      nodes: [
        { name: 'old' },
        { name: 'new', children: [2] },
        { name: 'off', extensions: { KHR_node_visibility: { visible: false } } },
      ],
    })
    expect(scene.nodes.map(({ name, visible }) => [name, visible])).toEqual([
      ['old', false],
      ['new', true],
      ['off', false],
    ])
    expect(codes).toEqual(['gltf.other-scenes'])
  })
  test('a list of instances is as many parts of one mesh', () => {
    const own = numbers()
    const position = own.floats(SQUARE, 'VEC3')
    const places = own.floats([0, 0, 0, 5, 0, 0], 'VEC3')
    const { scene, codes, findings } = read(
      own.file({
        extensionsUsed: ['EXT_mesh_gpu_instancing'],
        nodes: [
          {
            name: 'plank',
            mesh: 0,
            extensions: { EXT_mesh_gpu_instancing: { attributes: { TRANSLATION: places } } },
          },
        ],
        meshes: [{ primitives: [{ attributes: { POSITION: position }, indices: own.shorts([0, 1, 2]) }] }],
      }),
    )
    expect(names(scene)).toEqual(['-1/plank', '0/plank_1', '0/plank_2'])
    expect(scene.nodes.map(({ mesh }) => mesh)).toEqual([-1, 0, 0])
    expect(worldMatrices(scene)[2]!.slice(12, 15)).toEqual([5, 0, 0])
    expect(codes).toEqual(['gltf.instances'])
    expect(findings[0]!.parameters).toEqual({ name: 'plank', total: 2 })
  })
  test('two nodes that show one mesh show one; with other skins they don’t', () => {
    const { scene } = read(
      square(
        {},
        {
          scenes: [{ nodes: [0, 1] }],
          nodes: [
            { name: 'a', mesh: 0 },
            { name: 'b', mesh: 0 },
          ],
        },
      ),
    )
    expect(scene.nodes.map(({ mesh }) => mesh)).toEqual([0, 0])
    expect(scene.meshes).toHaveLength(1)
  })
})

describe('what a file asks for', () => {
  test('an extension that it needs and one that it only has', () => {
    const { findings } = read(
      square(
        {},
        { extensionsRequired: ['EXT_hair'], extensionsUsed: ['EXT_hair', 'EXT_moss', 'KHR_materials_unlit'] },
      ),
    )
    expect(findings.map(({ code, parameters }) => [code, parameters.extension])).toEqual([
      ['gltf.extension-needed', 'EXT_hair'],
      ['gltf.extension-left', 'EXT_moss'],
    ])
  })
  test('values of the wrong kind are named with their place', () => {
    const { findings } = read(square({ material: 7 }, { materials: [{ name: 5, alphaMode: 1 }] }))
    expect(
      findings.filter(({ code }) => code === 'gltf.value').map(({ parameters }) => parameters.place),
    ).toEqual([
      '“alphaMode” of entry 0 of “materials”',
      '“name” of entry 0 of “materials”',
      'The material of mesh 0, primitive 0',
    ])
  })
})

describe('notes of a file that a tool has changed', () => {
  const crate = sceneOf([
    cubeOf({
      creases: {
        edgePoints: Uint32Array.of(0, 1),
        edgeSharpness: Float64Array.of(3),
        cornerPoints: new Uint32Array(0),
        cornerSharpness: new Float64Array(0),
      },
    }),
  ])
  const changed = (change: (document: { meshes: { extras: Json }[] }) => void) => {
    const { files } = writeGltf(crate, 'x.gltf', { form: 'inside' })
    const document = JSON.parse(new TextDecoder().decode(files[0]!.bytes)) as { meshes: { extras: Json }[] }
    change(document)
    return read(encodeUtf8(JSON.stringify(document)))
  }
  test('unchanged they give the creases back', () => {
    const { scene, codes } = changed(() => {})
    expect([...scene.meshes[0]!.creases!.edgePoints]).toEqual([0, 1])
    expect(codes).toEqual([])
  })
  test.each([
    ['another number of points', (extras: Json) => (extras.points = 7)],
    ['another number of polygons', (extras: Json) => (extras.polygons = 12)],
    ['a point that is not there', (extras: Json) => ((extras.creases as Json).edges = [0, 99])],
    ['a sharpness too few', (extras: Json) => ((extras.creases as Json).sharpness = [])],
  ])('%s: left out, and said', (_name, change) => {
    const { scene, findings } = changed(({ meshes }) => change(meshes[0]!.extras))
    expect(scene.meshes[0]!.creases).toBeNull()
    expect(findings.map(({ code }) => code)).toContain('gltf.stale')
    expect(String(findings.find(({ code }) => code === 'gltf.stale')!.parameters.what)).toContain('creases')
  })
})

describe('text that is not UTF-8, as some programs write it', () => {
  const scene = sceneOf([{ ...cubeOf(), name: 'Dør' }])
  const latin1 = (bytes: Uint8Array): Uint8Array => {
    const text = Buffer.from(bytes).toString('utf8')
    return new Uint8Array(Buffer.from(text, 'latin1'))
  }
  test('a text file and a binary one are read, and it is told once', () => {
    const [file] = writeGltf(scene, 'door.gltf', { form: 'inside' }).files
    const { scene: read, findings } = readGltf({ name: 'door.gltf', bytes: latin1(file!.bytes) }, [])
    expect(read.nodes.map(({ name }) => name)).toContain('Dør')
    expect(findings.map(({ code }) => code)).toEqual(['gltf.latin1'])

    const document = latin1(file!.bytes)
    const binary = readGltf({ name: 'door.glb', bytes: binaryContainer(document, null) }, [])
    expect(binary.scene.nodes.map(({ name }) => name)).toContain('Dør')
    expect(binary.findings.map(({ code }) => code)).toEqual(['gltf.latin1'])
    expect(readGltf({ name: 'door.gltf', bytes: file!.bytes }, []).findings).toEqual([])
  })
  test('what is no text at all is refused', () => {
    const noise = Uint8Array.from({ length: 300 }, (_none, at) => 128 + ((at * 37) % 127))
    expect(() => readGltf({ name: 'noise.gltf', bytes: noise }, [])).toThrow('gltf.unreadable')
    expect(() => readGltf({ name: 'noise.glb', bytes: binaryContainer(noise, null) }, [])).toThrow(
      'gltf.unreadable',
    )
  })
})
