/**
 * Models of other makers that are too large for the ordinary run: the 82 .glb files of npm's
 * @webxr-input-profiles/assets 1.0.20 (MIT), fetched when they are asked for. Each is read; gltf-transform counts the
 * same; it is written and read again with the same fingerprint in every trait, and the Khronos validator finds nothing
 * wrong in what is written that it doesn't find in the file itself.
 */
import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, readdirSync, readFileSync } from 'node:fs'
import { join, relative, resolve } from 'node:path'
import { NodeIO } from '@gltf-transform/core'
import { ALL_EXTENSIONS } from '@gltf-transform/extensions'
import { fingerprintScene } from '../../src/core/compare/fingerprint.ts'
import { readGltf } from '../../src/core/formats/gltf/read-gltf.ts'
import { writeGltf } from '../../src/core/formats/gltf/write-gltf.ts'
import { NODE_DECODERS } from '../../src/host/geometry-decoders.ts'
import { validatorComplaints } from '../gltf-validator.ts'

const PACKAGE = '@webxr-input-profiles/assets@1.0.20'
const WANTED = 82
const folder = resolve(import.meta.dirname, '../../build/models')

function fetchModels(): void {
  if (existsSync(join(folder, 'package'))) return
  mkdirSync(folder, { recursive: true })
  console.log(`Fetching ${PACKAGE} ...`)
  const packed = spawnSync('npm', ['pack', PACKAGE, '--silent'], { cwd: folder, encoding: 'utf8' })
  const unpacked = spawnSync('tar', ['xzf', packed.stdout.trim()], { cwd: folder, encoding: 'utf8' })
  if (packed.status !== 0 || unpacked.status !== 0)
    throw new Error(`The models could not be fetched: ${packed.stderr}${unpacked.stderr}`)
}
const filesBelow = (place: string): string[] =>
  readdirSync(place, { withFileTypes: true })
    .flatMap((entry) =>
      entry.isDirectory() ? filesBelow(join(place, entry.name)) : [join(place, entry.name)],
    )
    .sort()

/** Triangles and vertices that gltf-transform counts, each mesh as often as nodes of the scene show it. */
async function countedByOthers(
  io: NodeIO,
  bytes: Uint8Array,
): Promise<{ triangles: number; meshes: number }> {
  const root = (await io.readBinary(bytes)).getRoot()
  let [triangles, meshes] = [0, 0]
  for (const node of root.listNodes()) {
    const mesh = node.getMesh()
    if (!mesh) continue
    meshes++
    for (const primitive of mesh.listPrimitives())
      triangles += (primitive.getIndices() ?? primitive.getAttribute('POSITION')!).getCount() / 3
  }
  return { triangles, meshes }
}

/** @returns what is wrong with the file, in words. */
async function faultsOf(path: string, io: NodeIO): Promise<string[]> {
  const bytes = new Uint8Array(readFileSync(path))
  const file = { name: 'model.glb', bytes }
  const faults: string[] = []
  const { scene, findings } = readGltf(file, [file], {}, NODE_DECODERS)
  for (const { code } of findings)
    if (['gltf.part', 'gltf.value', 'gltf.unreadable'].includes(code)) faults.push(`reading it says ${code}`)
  const counted = await countedByOthers(io, bytes)
  const parts = scene.nodes.filter(({ mesh }) => mesh >= 0)
  const triangles = parts.reduce((sum, { mesh }) => {
    const { faceOffsets, faceVertices } = scene.meshes[mesh]!
    return sum + faceVertices.length - 2 * (faceOffsets.length - 1)
  }, 0)
  if (parts.length !== counted.meshes)
    faults.push(`${parts.length} parts, and others count ${counted.meshes}`)
  if (triangles !== counted.triangles)
    faults.push(`${triangles} triangles, and others count ${counted.triangles}`)
  const before = fingerprintScene(scene)
  const written = writeGltf(scene, 'model.glb')
  const after = fingerprintScene(readGltf(written.files[0]!, written.files).scene)
  for (const trait of Object.keys(before) as (keyof typeof before)[])
    if (before[trait] !== after[trait]) faults.push(`${trait} came back otherwise`)
  const codesOf = (complaints: readonly string[]): Set<string> =>
    new Set(complaints.map((complaint) => complaint.split(' ')[0]!))
  const known = codesOf(await validatorComplaints([file]))
  for (const code of codesOf(await validatorComplaints(written.files)))
    if (!known.has(code)) faults.push(`the validator finds ${code} in what was written`)
  return faults
}

fetchModels()
const models = filesBelow(join(folder, 'package')).filter((path) => path.endsWith('.glb'))
const io = new NodeIO().registerExtensions(ALL_EXTENSIONS)
let wrong = models.length === WANTED ? 0 : 1
if (wrong) console.log(`${models.length} models, and there should be ${WANTED}`)
for (const path of models) {
  const faults = await faultsOf(path, io).catch((error: unknown) => [String(error)])
  if (faults.length) wrong++
  for (const fault of faults) console.log(`${relative(folder, path)}: ${fault}`)
}
console.log(`${models.length} models of others, ${wrong} with something wrong`)
process.exitCode = wrong ? 1 : 0
