/**
 * Damaged files by a seed: real ones and made ones of every format that is read, with bytes changed, cut out, doubled,
 * moved, numbers replaced by others that lengths and counts are made of, or lines of texts mixed.
 */
import { readdirSync, readFileSync, statSync } from 'node:fs'
import { dirname, join, relative } from 'node:path'
import { joinBytes } from '../../src/core/base/bytes/byte-writer.ts'
import { encodeUtf8 } from '../../src/core/base/bytes/text.ts'
import { PURE_CODEC, type ZlibCodec } from '../../src/core/base/bytes/zlib.ts'
import { KelboError } from '../../src/core/base/messages/collector.ts'
import { writeAlembic } from '../../src/core/formats/alembic/write-alembic.ts'
import { writeCollada } from '../../src/core/formats/collada/write-collada.ts'
import { writeFbx } from '../../src/core/formats/fbx/write-fbx.ts'
import { writeGltf } from '../../src/core/formats/gltf/write-gltf.ts'
import { writeObj } from '../../src/core/formats/obj/write-obj.ts'
import { writePly } from '../../src/core/formats/ply/write-ply.ts'
import { writeStl } from '../../src/core/formats/stl/write-stl.ts'
import { readUsdText } from '../../src/core/formats/usd/read-text.ts'
import { writeUsd } from '../../src/core/formats/usd/write-usd.ts'
import type { Scene } from '../../src/core/scene/scene.ts'
import type { PackageFile } from '../../src/core/formats/package/package-file.ts'
import { readPackage } from '../../src/core/formats/package/read-package.ts'
import { writeZip } from '../../src/core/formats/package/write-zip.ts'
import { buildStormLantern } from '../../src/core/practice/demo/storm-lantern.ts'
import { chanceOf } from '../../src/core/base/math/chance.ts'
import { NODE_DECODERS } from '../../src/host/geometry-decoders.ts'
import { cubeOf, gridOf, sceneOf } from '../solids.ts'
import { CUBE, CUBE_MTL } from '../meshes.ts'
import { writeCrate } from '../usd-crate.ts'
import { unsound } from './unsound.ts'

const MODELS = '/usr/share/assimp/models'
/** Larger ones take the time of many smaller ones. */
const MOST_BYTES = 40000

export interface Source {
  readonly name: string
  /** The model file first; it or what lies beside it is damaged. */
  readonly files: readonly PackageFile[]
}

const filesBelow = (folder: string): string[] =>
  readdirSync(folder, { withFileTypes: true })
    .flatMap((entry) =>
      entry.isDirectory() ? filesBelow(join(folder, entry.name)) : [join(folder, entry.name)],
    )
    .sort()

/** Text, a package and a binary file, with all that a stage is put together from. */
function usdSources(sheet: Scene): Source[] {
  const folder = join(import.meta.dirname, '../reference/usd')
  const texts = readdirSync(folder)
    .filter((name) => name.endsWith('.usda'))
    .map((name) => ({ name, bytes: new Uint8Array(readFileSync(join(folder, name))) }))
  const rig = encodeUtf8(`#usda 1.0
( metersPerUnit = 1 subLayers = [@./preview-surface.usda@] )
def SkelRoot "rig" ( variants = { string look = "a" } prepend references = @./polygons-creases.usda@</root> )
{
    variantSet "look" = { "a" { token visibility = "inherited" } "b" { token visibility = "invisible" } }
    def Skeleton "bones" { uniform token[] joints = ["hip", "hip/knee"] uniform matrix4d[] bindTransforms = [((1,0,0,0),(0,1,0,0),(0,0,1,0),(0,1,0,1)), ((1,0,0,0),(0,1,0,0),(0,0,1,0),(0,2,0,1))] }
    def Mesh "skin" { int[] faceVertexCounts = [4] int[] faceVertexIndices = [0, 1, 2, 3] point3f[] points = [(0,0,0),(1,0,0),(1,1,0),(0,1,0)]
        int[] primvars:skel:jointIndices = [0,1,0,1] ( elementSize = 1 interpolation = "vertex" ) float[] primvars:skel:jointWeights = [1,1,1,1] ( elementSize = 1 interpolation = "vertex" ) rel skel:skeleton = </rig/bones>
        uniform token[] skel:blendShapes = ["open"] rel skel:blendShapeTargets = </rig/skin/open> def BlendShape "open" { uniform vector3f[] offsets = [(0,0,1)] uniform int[] pointIndices = [2] } }
    def PointInstancer "rivets" { rel prototypes = [</rig/rivets/rivet>] int[] protoIndices = [0, 0] point3f[] positions = [(0,0,0),(2,0,0)] def Mesh "rivet" ( references = </rig/skin> ) {} }
}
`)
  return [
    ...texts.map((file) => ({ name: `usd/${file.name}`, files: [file] })),
    { name: 'usd rig', files: [{ name: 'rig.usda', bytes: rig }, ...texts] },
    ...texts.map(({ name, bytes }) => ({
      name: `${name} binary`,
      files: [{ name: name.replace('.usda', '.usdc'), bytes: writeCrate(readUsdText(bytes, name)) }],
    })),
    { name: 'sheet usd', files: writeUsd(sheet, 'sheet.usda').files },
    { name: 'sheet usd package', files: writeUsd(sheet, 'sheet.usdz').files },
  ]
}

/** What there is to be damaged, always in the same order. */
export function fuzzSources(): Source[] {
  const found = ['FBX', 'OBJ', 'PLY', 'STL', 'Collada'].flatMap((folder) =>
    readdirSync(join(MODELS, folder))
      .filter(
        (name) =>
          /\.(fbx|obj|mtl|ply|stl|dae)$/i.test(name) &&
          statSync(join(MODELS, folder, name)).size < MOST_BYTES,
      )
      .sort()
      .map((name) => ({
        name: `${folder}/${name}`,
        bytes: new Uint8Array(readFileSync(join(MODELS, folder, name))),
      })),
  )
  const mtls = found.filter(({ name }) => /\.mtl$/i.test(name))
  const lantern = buildStormLantern()
  const sheet = sceneOf([gridOf(8, 8), cubeOf()])
  const gltf = filesBelow(join(MODELS, 'glTF2'))
    .filter((path) => /\.(gltf|glb)$/.test(path) && statSync(path).size < MOST_BYTES)
    .map((path) => ({
      name: relative(MODELS, path),
      files: [
        path,
        ...filesBelow(dirname(path)).filter(
          (other) => /\.bin$/.test(other) && statSync(other).size < MOST_BYTES,
        ),
      ].map((one) => ({ name: relative(dirname(path), one), bytes: new Uint8Array(readFileSync(one)) })),
    }))
  const cube = [
    { name: 'cube.obj', bytes: encodeUtf8(CUBE) },
    { name: 'cube.mtl', bytes: encodeUtf8(CUBE_MTL) },
  ]
  return [
    ...found
      .filter(({ name }) => !/\.mtl$/i.test(name))
      .map((file) => ({
        name: file.name,
        files: [{ name: file.name.split('/').pop()!, bytes: file.bytes }],
      })),
    ...mtls.map((file) => ({
      name: file.name,
      files: [
        { name: 'x.obj', bytes: encodeUtf8(`mtllib x.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl a\nf 1 2 3\n`) },
        { name: 'x.mtl', bytes: file.bytes },
      ],
    })),
    ...([{ version: 7400 }, { version: 7500 }, { form: 'text' }] as const).map((options) => ({
      name: `lantern ${JSON.stringify(options)}`,
      files: writeFbx(lantern, 'lantern.fbx', options).files.slice(0, 1),
    })),
    { name: 'lantern.obj', files: writeObj(lantern, 'lantern.obj').files.slice(0, 2) },
    ...gltf,
    ...(['binary', 'inside'] as const).map((form) => ({
      name: `lantern ${form}`,
      files: writeGltf(lantern, form === 'binary' ? 'lantern.glb' : 'lantern.gltf', { form, maps: false })
        .files,
    })),
    ...(['binary', 'binary-big', 'text'] as const).map((form) => ({
      name: `sheet ply ${form}`,
      files: writePly(sheet, 'sheet.ply', { form }).files,
    })),
    { name: 'sheet collada', files: writeCollada(sheet, 'sheet.dae').files },
    { name: 'sheet stl', files: writeStl(sheet, 'sheet.stl').files },
    ...usdSources(sheet),
    { name: 'sheet alembic', files: writeAlembic(sheet, 'sheet.abc').files },
    { name: 'cube', files: cube },
    { name: 'cube.zip', files: [{ name: 'cube.zip', bytes: writeZip(cube) }] },
  ]
}

const TELLING_BYTES = [0, 1, 127, 128, 255]
const TELLING_NUMBERS = [
  '0',
  '-1',
  '1e999',
  '4294967296',
  '-2147483649',
  '1e-320',
  'nan',
  '99999999999999999999',
]

function mutateBytes(source: Uint8Array, next: () => number): Uint8Array {
  const below = (count: number): number => Math.floor(next() * count)
  const kind = below(12)
  if (source.length === 0) return source
  if (kind === 0) return source.slice(0, below(source.length))
  const piece = (): Uint8Array => {
    const at = below(source.length)
    return source.subarray(at, at + below(300))
  }
  if (kind < 4) {
    // cut out, doubled, or moved
    const at = below(source.length)
    const end = kind === 1 ? Math.min(source.length, at + below(300)) : at
    return joinBytes([source.subarray(0, at), kind === 1 ? new Uint8Array(0) : piece(), source.subarray(end)])
  }
  if (kind < 6) {
    // a number of a text, or a line, another one
    const text = Buffer.from(source).toString('latin1')
    const lines = text.split('\n')
    for (let change = 1 + below(4); change > 0; change--) {
      const at = below(lines.length)
      if (kind === 4) lines[at] = lines[below(lines.length)]!
      else
        lines[at] = lines[at]!.replace(/-?\d[\d.e+-]*/gi, (number) =>
          next() < 0.3 ? TELLING_NUMBERS[below(TELLING_NUMBERS.length)]! : number,
        )
    }
    return new Uint8Array(Buffer.from(lines.join('\n'), 'latin1'))
  }
  const mutated = Uint8Array.from(source)
  for (let change = 1 + below(8); change > 0; change--)
    mutated[below(mutated.length)] = next() < 1 / 3 ? TELLING_BYTES[below(5)]! : below(256)
  return mutated
}

export interface Mutation {
  readonly source: string
  readonly files: readonly PackageFile[]
}

/** The files of a seed: a source with one of its files damaged. */
export function mutationOf(sources: readonly Source[], seed: number): Mutation {
  const source = sources[seed % sources.length]!
  const next = chanceOf(seed * 2654435761 + 12345)
  const which = Math.floor(next() * source.files.length)
  return {
    source: source.name,
    files: source.files.map((file, at) =>
      at === which ? { name: file.name, bytes: mutateBytes(file.bytes, next) } : file,
    ),
  }
}

/** What a scene takes for each byte of its files, unpacked, and beside that whatever they are. */
const MOST_TIMES = 10
const LEAST_ROOM = 256 * 1024

/** Bytes of all arrays and texts below a value, each once. */
function bytesIn(value: unknown, met = new Set<unknown>()): number {
  if (typeof value === 'string') return value.length
  if (typeof value !== 'object' || value === null || met.has(value)) return 0
  met.add(value)
  if (ArrayBuffer.isView(value)) return value.byteLength
  let sum = 8
  for (const part of Object.values(value))
    sum += typeof part === 'object' || typeof part === 'string' ? bytesIn(part, met) : 8
  return sum
}

/** What reading gives: `read`, the code of a message, or a fault in words, which is none of these. */
export function attempt(files: readonly PackageFile[]): string {
  let unpacked = 0
  const codec: ZlibCodec = {
    ...PURE_CODEC,
    inflate: (packed, byteLength) => {
      unpacked += byteLength
      return PURE_CODEC.inflate(packed, byteLength)
    },
  }
  try {
    const { scene } = readPackage(files, { codec, decoders: NODE_DECODERS })
    const wrong = unsound(scene)
    if (wrong) return `fault: ${wrong}`
    // entries of a collection are packed ten times and more
    const given = files.reduce(
      (sum, file) => sum + file.bytes.length * (/\.zip$/i.test(file.name) ? 10 : 1),
      unpacked,
    )
    const taken = bytesIn(scene)
    return taken > MOST_TIMES * given + LEAST_ROOM ? `fault: ${taken} bytes of ${given}` : 'read'
  } catch (error) {
    return error instanceof KelboError ? error.code : `fault: ${(error as Error).stack}`
  }
}
