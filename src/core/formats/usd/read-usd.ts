/**
 * USD to a scene: text, binary and packages of these. Source: OpenUSD (UsdGeom, UsdShade, UsdSkel, UsdLux schemas as they are
 * published); paths, references and payloads are followed inside the package and nowhere else.
 */
import type { Finding } from '../../base/messages/catalogue.ts'
import { collectMessages, KelboError } from '../../base/messages/collector.ts'
import { invertAffine, isIdentity, multiplyMatrices, type Matrix } from '../../base/math/matrix.ts'
import type { KeptContent, KeptRecord } from '../../scene/kept.ts'
import type { Mesh, Skin } from '../../scene/mesh.ts'
import {
  EMPTY_SCENE,
  IDENTITY_MATRIX,
  type Scene,
  type SceneCamera,
  type SceneNode,
} from '../../scene/scene.ts'
import type { PackageFile } from '../package/package-file.ts'
import { createBindings } from './bindings.ts'
import { composeStage, type StagePrim } from './compose.ts'
import { keptText, restOf } from './keep-rest.ts'
import { isDictionary, type UsdProperty } from './layer.ts'
import { openLayers } from './open-layers.ts'
import { USD_READ_DEFAULTS, type UsdReadOptions } from './options.ts'
import { isOfParent, notesIn } from './prim-notes.ts'
import { readMaterials } from './read-materials.ts'
import { nameOf, readMesh, type ReadMesh } from './read-mesh.ts'
import { deformed, inherited, readJoints, readShapes, readSkin, type ReadJoints } from './read-skeletons.ts'
import { matrixOfTurn, numbersIn, readPlace, textIn, textsIn } from './read-transform.ts'
import {
  holdsMesh,
  isLight,
  isOnlyParts,
  NODE_TYPES,
  PART_TYPES,
  plainProperties,
  sceneProperties,
  spaceOf,
  withUvSets,
  WORDS,
} from './stage-facts.ts'
import { primText, valueText } from './write-text.ts'
/** Copies that are scattered are made parts of up to this many. */
const MOST_COPIES = 20_000

/**
 * Findings: `usd.*`, `image.missing`, `image.outside`.
 * @returns `taken`: other files of the package that the file takes in; they are no models of their own.
 * @throws KelboError `file.empty`, `file.not-a-model`, `usd.text`, `usd.crate`, `usd.crate-version`, `usd.package`.
 */
export function readUsd(
  file: PackageFile,
  around: readonly PackageFile[],
  options: Partial<UsdReadOptions> = {},
): { scene: Scene; findings: readonly Finding[]; taken: readonly string[] } {
  const settings: UsdReadOptions = { ...USD_READ_DEFAULTS, ...options }
  const messages = collectMessages(file.name)
  const opened = openLayers(file, around, messages)
  const stage = composeStage(opened.layer, opened.file, opened.finder, messages)
  const materialPrims: StagePrim[] = []
  const everyPrim = (prim: StagePrim): void => {
    if (prim.type === 'Material') materialPrims.push(prim)
    prim.children.forEach(everyPrim)
  }
  stage.prims.forEach(everyPrim)
  const read = readMaterials(stage, materialPrims, opened.beside, opened.file, messages)

  const nodes: SceneNode[] = []
  const worlds: Matrix[] = []
  const meshes: Mesh[] = []
  const cameras: SceneCamera[] = []
  const lights: SceneCamera[] = []
  const sections: KeptRecord[] = []
  const keptWords = new Set<string>()
  const meshNumbers = new Map<string, number>()
  const uvNames: ReadonlyMap<string, string>[] = []
  const meshReads = new Map<string, ReadMesh | null>()
  const propertyNumbers = new Map<UsdProperty, number>()
  const skinned: { mesh: number; prim: StagePrim; above: readonly StagePrim[] }[] = []
  const skeletons = new Map<string, { joints: ReadJoints; nodes: readonly number[] }>()
  /** Prims that show something only as copies. */
  const prototypes = new Set<string>()
  let sampledAt: number | null = null

  const keep = (parent: string, prim: StagePrim): void => {
    sections.push({ name: parent, kinds: '', values: [primText(prim, 0)], children: [] })
    keptWords.add(WORDS[prim.type] ?? prim.type)
  }
  const bindings = createBindings(stage)
  /** The material of a prim. */
  const bindingOf = (prim: StagePrim, above: readonly StagePrim[]): number => {
    const path = bindings.of(prim, above)
    if (path === null) return -1
    const number = read.numberOf.get(path)
    if (number === undefined) messages.add('usd.missing-prim', { place: `“${nameOf(prim)}”`, path: path.slice(0, 200) }) // prettier-ignore
    return number ?? -1
  }
  const isBound = (subset: StagePrim): boolean =>
    [...subset.properties].some(([name, { targets }]) => /^material:binding/.test(name) && targets.length > 0)

  const meshFor = (prim: StagePrim, above: readonly StagePrim[], name: string): number => {
    // what two prims take from one place is one mesh
    const own = [...prim.sources.values(), ...prim.children.filter(({ type }) => type === 'GeomSubset').flatMap((child) => [...child.sources.values()])] // prettier-ignore
    const key = own
      .filter(({ name }) => !/^(xformOp|visibility|purpose|userProperties:|material:)/.test(name))
      .map((property) => {
        if (!propertyNumbers.has(property)) propertyNumbers.set(property, propertyNumbers.size)
        return propertyNumbers.get(property)!
      })
      .sort((a, b) => a - b)
      .join()
    if (!meshReads.has(key)) meshReads.set(key, readMesh(prim, isBound, messages))
    const found = meshReads.get(key)!
    if (!found) return -1
    const whole = bindingOf(prim, above)
    const bound = found.subsets.bound.map(({ faces }, at) => {
      // the subset of this prim, not of the one that was read first
      const subset = prim.children.filter((child) => child.type === 'GeomSubset' && isBound(child))[at]
      return { faces, material: subset ? bindingOf(subset, []) : -1 }
    })
    const fullKey = `${key} ${whole} ${bound.map(({ material }) => material).join()}`
    const known = meshNumbers.get(fullKey)
    if (known !== undefined) return known
    const faceMaterials = new Int32Array(found.mesh.faceOffsets.length - 1).fill(whole)
    for (const { faces, material } of bound) for (const face of faces) faceMaterials[face] = material
    const number =
      meshes.push({
        ...found.mesh,
        name,
        faceMaterials: faceMaterials.some((material) => material >= 0) ? faceMaterials : null,
      }) - 1
    meshNumbers.set(fullKey, number)
    uvNames[number] = found.uvNames
    if (prim.properties.has('primvars:skel:jointIndices') || prim.properties.has('skel:blendShapeTargets'))
      skinned.push({ mesh: number, prim, above })
    if (bindings.isUntold(prim, above)) messages.add('usd.binding', { name: nameOf(prim) })
    for (const moving of ['points', 'normals']) {
      const samples = prim.properties.get(moving)?.samples
      if (samples && samples.times.length > 1) sampledAt ??= samples.times[0]!
    }
    return number
  }

  const addNode = (node: Omit<SceneNode, 'id' | 'transform'>): number => {
    const index = nodes.push({ id: '', transform: null, ...node }) - 1
    worlds.push(node.parent < 0 ? node.local : multiplyMatrices(worlds[node.parent]!, node.local))
    return index
  }

  const addSkeleton = (prim: StagePrim, index: number): void => {
    const joints = readJoints(prim)
    const own: number[] = []
    const displayed = notesIn(prim)?.jointNames
    joints.words.forEach((word, joint) => {
      const parent = joints.parents[joint]! < 0 ? index : own[joints.parents[joint]!]!
      const shown = Array.isArray(displayed) ? (displayed as unknown[])[joint] : undefined
      own.push(
        addNode({
          name: typeof shown === 'string' ? shown : joints.names[joint]!,
          parent,
          mesh: -1,
          visible: true,
          local: joints.locals[joint]!,
          properties: {},
          role: 'LimbNode',
          source: `${prim.path}#${word}`,
        }),
      )
    })
    skeletons.set(prim.path, { joints, nodes: own })
  }

  const scatter = (prim: StagePrim, index: number, above: readonly StagePrim[]): void => {
    const shown = prim.properties.get('prototypes')?.targets ?? []
    const numbers = numbersIn(prim, 'protoIndices') ?? new Float64Array(0)
    const positions = numbersIn(prim, 'positions') ?? new Float64Array(0)
    const scales = numbersIn(prim, 'scales')
    const turns = numbersIn(prim, 'orientationsf') ?? numbersIn(prim, 'orientations')
    const ids = numbersIn(prim, 'ids')
    const hidden = new Set(numbersIn(prim, 'invisibleIds') ?? [])
    const count = Math.min(numbers.length, Math.floor(positions.length / 3), MOST_COPIES)
    for (let copy = 0; copy < count; copy++) {
      const target = stage.find(shown[numbers[copy]!] ?? '')
      if (!target) {
        messages.add('usd.missing-prim', { place: `“${nameOf(prim)}”`, path: String(shown[numbers[copy]!] ?? numbers[copy]).slice(0, 200) }) // prettier-ignore
        continue
      }
      const [x, y, z] = [0, 1, 2].map((axis) => positions[3 * copy + axis]!) as [number, number, number]
      const size =
        scales && scales.length >= 3 * (copy + 1) ? scales.subarray(3 * copy, 3 * copy + 3) : [1, 1, 1]
      const turn =
        turns && turns.length >= 4 * (copy + 1)
          ? matrixOfTurn(turns.subarray(4 * copy, 4 * copy + 4))
          : IDENTITY_MATRIX
      const scaled: Matrix = [size[0]!, 0, 0, 0, 0, size[1]!, 0, 0, 0, 0, size[2]!, 0, 0, 0, 0, 1]
      const place = multiplyMatrices(
        multiplyMatrices([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, x, y, z, 1], turn),
        scaled,
      )
      visit(target, index, [...above, prim], {
        place,
        copy: copy + 1,
        hidden: hidden.has(ids?.[copy] ?? copy),
      })
    }
    messages.add('usd.instances', { name: nameOf(prim), count })
    if (numbers.length > count) messages.add('usd.too-many', { path: prim.path, limit: MOST_COPIES })
  }

  interface Copied {
    readonly place: Matrix
    readonly copy: number
    readonly hidden: boolean
  }
  const visit = (
    prim: StagePrim,
    parent: number,
    above: readonly StagePrim[],
    copied: Copied | null,
  ): void => {
    if (PART_TYPES.has(prim.type)) return
    if (!copied && prototypes.has(prim.path)) return
    if (prim.type !== 'Xform' && prim.type !== 'Mesh' && isOnlyParts(prim)) return
    if (!NODE_TYPES.has(prim.type) && !isLight(prim.type) && !holdsMesh(prim)) {
      keep(parent < 0 ? '' : (nodes[parent]!.source ?? ''), prim)
      return
    }
    const name = nameOf(prim)
    const place = readPlace(prim)
    for (const word of place.unknown)
      messages.add('usd.part', { place: `The operation “${word}” of “${name}”`, why: 'it says nothing that can be read' }) // prettier-ignore
    let local: readonly number[] = place.local
    if (copied) local = multiplyMatrices(copied.place, local)
    else if (place.isOfWorld && parent >= 0) {
      const back = invertAffine(worlds[parent]!)
      if (back) local = multiplyMatrices(back, local)
      messages.add('usd.own-space', { name })
    }
    const isVisible = textIn(prim, 'visibility') !== 'invisible' && !copied?.hidden
    if (prim.type === 'Skeleton' && notesIn(prim)?.withoutNode === true) {
      // Kelbo’s own: joints hung there without it
      addSkeleton(prim, parent)
      return
    }
    if (parent < 0 && notesIn(prim)?.wrapper === true && isIdentity(local)) {
      for (const child of prim.children) visit(child, -1, [...above, prim], null)
      return
    }
    const purpose = textIn(prim, 'purpose')
    if (purpose === 'proxy' || purpose === 'guide')
      messages.add('usd.purpose', { name, purpose: purpose === 'proxy' ? 'looking alone' : 'guidance' })
    const isMesh = prim.type === 'Mesh'
    if (isMesh && parent >= 0 && nodes[parent]!.mesh < 0 && isIdentity(local) && isOfParent(prim)) {
      nodes[parent] = { ...nodes[parent]!, mesh: meshFor(prim, above, nodes[parent]!.name) }
      return
    }
    const rest = restOf(prim, isMesh)
    const isCameraOrLight = prim.type === 'Camera' || isLight(prim.type)
    const index = addNode({
      name: copied ? `${name}_${copied.copy}` : name,
      parent,
      mesh: -1,
      visible: isVisible,
      local,
      properties: rest.properties,
      ...(copied ? {} : { source: prim.path }),
      ...(rest.kept.length && !copied ? { kept: rest.kept.filter(({ flags }) => !isCameraOrLight || flags !== 'property') } : {}), // prettier-ignore
      ...(prim.type === 'Scope' || prim.type === '' ? { kept: [...rest.kept, keptText('', prim.type, 'setting')] } : {}), // prettier-ignore
    })
    if (isMesh) {
      const mesh = meshFor(prim, above, name)
      if (mesh >= 0) nodes[index] = { ...nodes[index]!, mesh }
    }
    if (prim.type === 'Camera')
      cameras.push({ name, node: index, properties: { type: 'perspective', ...plainProperties(prim) } })
    if (isLight(prim.type))
      lights.push({ name, node: index, properties: { type: prim.type, ...plainProperties(prim) } })
    if (prim.type === 'Skeleton') addSkeleton(prim, index)
    const below = [...above, prim]
    if (prim.type === 'PointInstancer') {
      for (const path of prim.properties.get('prototypes')?.targets ?? []) prototypes.add(path)
      scatter(prim, index, above)
    }
    for (const child of prim.children) visit(child, index, below, null)
  }

  for (const prim of stage.prims) visit(prim, -1, [], null)
  for (const { mesh, prim, above } of skinned) {
    const holder = inherited(prim, above, 'skel:skeleton')
    const [path = ''] = holder?.properties.get('skel:skeleton')?.targets ?? []
    const skeleton = skeletons.get(path)
    const pointCount = meshes[mesh]!.points.length / 3
    let skin: Skin | null = null
    if (prim.properties.has('primvars:skel:jointIndices')) {
      if (skeleton) skin = readSkin(prim, pointCount, skeleton.joints, skeleton.nodes, messages)
      else messages.add('usd.missing-prim', { place: `The skin of “${nameOf(prim)}”`, path: path || 'a skeleton' }) // prettier-ignore
    }
    const animated = stage.find(path)?.properties.get('skel:animationSource')?.targets[0] ?? ''
    const animation = stage.find(animated)
    const words = animation ? textsIn(animation, 'blendShapes') : []
    const weights = animation ? numbersIn(animation, 'blendShapeWeights') : null
    const shapes = readShapes(
      stage,
      prim,
      pointCount,
      (word) => weights?.[words.indexOf(word)] ?? 0,
      messages,
    )
    meshes[mesh] = deformed(meshes[mesh]!, shapes, skin)
  }
  const materials = withUvSets(read.materials, meshes, uvNames)
  if (nodes.length === 0 && read.materials.length === 0)
    throw new KelboError('file.not-a-model', {}, file.name)
  const space = spaceOf(stage, settings)
  if (space.unitMeters === null) messages.add('usd.unit-fallback')
  if (sampledAt !== null) messages.add('usd.sampled', { time: sampledAt })
  if (keptWords.size) messages.add('usd.kept', { what: [...keptWords].join(', ') })
  for (const [name, value] of stage.metadata) {
    if (!/^[A-Za-z_]\w*$/.test(name) || ['defaultPrim', 'metersPerUnit', 'upAxis', 'subLayers', 'subLayerOffsets'].includes(name)) continue // prettier-ignore
    if (isDictionary(value) && value.size === 0) continue
    sections.push({
      name: 'setting',
      kinds: name,
      values: [`${name} = ${valueText(value, '')}`],
      children: [],
    })
  }
  const kept: KeptContent | null = sections.length
    ? { format: 'usd', objects: [], links: [], sections, settings: [] }
    : null
  const scene: Scene = {
    ...EMPTY_SCENE,
    format: 'usd',
    formatVersion: opened.version,
    space,
    nodes,
    meshes,
    materials,
    images: read.images,
    cameras,
    lights,
    properties: sceneProperties(stage),
    ...(kept ? { kept } : {}),
  }
  return { scene, findings: messages.list(), taken: [...opened.taken] }
}
