/** A scene to USD: text, or a package with its maps. Source: OpenUSD (UsdGeom, UsdShade, UsdSkel, UsdLux as published). */
import type { Finding } from '../../base/messages/catalogue.ts'
import { collectMessages } from '../../base/messages/collector.ts'
import { isIdentity, multiplyMatrices, type Matrix } from '../../base/math/matrix.ts'
import { type Scene, type SceneNode, type Space } from '../../scene/scene.ts'
// prettier-ignore
import { worldMatrices } from '../../scene/world.ts'
import { chooseNodes, moveToSpace, triangulateScene } from '../arrange/arrange-scene.ts'
import { lossesOfKept } from '../arrange/losses-of-kept.ts'
import { stemOf, type PackageFile } from '../package/package-file.ts'
import { usdNames } from './names.ts'
import {
  axisOf,
  keptOf,
  kindBefore,
  operationsOf,
  splitProperties,
  textOfKept,
  wishOf,
  withKeptData,
  writeHead,
} from './node-lines.ts'
import { USD_WRITE_DEFAULTS, type UsdWriteOptions } from './options.ts'
import { dataSetting, notesSetting, OF_PARENT } from './prim-notes.ts'
import { lightType, writeCamera, writeLight } from './write-cameras.ts'
import { writeMaterials } from './write-materials.ts'
import { meshNotes, uvWords, writeMesh } from './write-mesh.ts'
import { writeUsdPackage } from './write-package.ts'
import { bindsOf, planSkeletons, writeSkeleton, writeSkin, type PlannedSkeleton } from './write-skeletons.ts'
import { createUsdWriter, quote, valueText } from './write-text.ts'

const MATERIALS = 'Materials'
const SHARED = 'SharedMeshes'
/** Kinds that packages take. Source: “Usdz file format specification”, “Images”. */
const PACKAGE_IMAGES = /\.(png|jpe?g|exr|avif)$/i

/**
 * Writes what the options ask for, in their unit and axes. The same scene and options give the same bytes.
 *
 * Findings: `write.not-carried`, `write.part-skipped`, `write.not-converted`, `usd.map-channels`, `usd.image-kind`.
 */
export function writeUsd(
  whole: Scene,
  fileName: string,
  options: Partial<UsdWriteOptions> = {},
): { files: PackageFile[]; findings: readonly Finding[]; space: Space } {
  const settings: UsdWriteOptions = { ...USD_WRITE_DEFAULTS, ...options }
  const isPackage = settings.form === 'package' || (settings.form === null && /\.usdz$/i.test(fileName))
  const messages = collectMessages(fileName)
  let chosen = chooseNodes(whole, settings)
  if (settings.triangulate) chosen = triangulateScene(chosen)
  const upAxis = axisOf(chosen.space, settings.upAxis)
  const scene = moveToSpace(chosen, {
    unitMeters: settings.unitMeters,
    unitAs: settings.unitAs,
    scale: settings.scale,
    upAxis,
    frontAxis: upAxis === 'z' ? '-y' : 'z',
    mirrored: false,
    axesAs: 'points',
  })
  const ratio = settings.unitAs === 'points' ? ((whole.space.unitMeters ?? 1) / (scene.space.unitMeters ?? whole.space.unitMeters ?? 1)) * settings.scale : 1 // prettier-ignore
  const files: PackageFile[] = []
  const lost = new Set<string>()
  const { nodes, meshes } = scene
  const worlds = worldMatrices(scene)

  // which nodes are joints, and where what hangs under them goes
  const skinless: Scene = settings.shapes ? scene : { ...scene, meshes: meshes.map((mesh) => ({ ...mesh, skin: null })) } // prettier-ignore
  const plan = planSkeletons(skinless)
  const binds = bindsOf(skinless, worlds, lost)
  const parents: number[] = []
  const locals: Matrix[] = []
  nodes.forEach(({ parent, local }, index) => {
    let above = parent
    let own: Matrix = local
    while (above >= 0 && plan.of.has(above)) {
      own = multiplyMatrices(nodes[above]!.local, own)
      above = nodes[above]!.parent
    }
    parents[index] = above
    locals[index] = own
    if (above !== parent && !plan.of.has(index))
      lost.add('what hangs on joints as such; it stands beside them')
  })
  const shows = ({ mesh }: SceneNode): boolean => mesh >= 0 && meshes[mesh]!.points.length > 0
  const hasItem = new Set([...scene.cameras, ...scene.lights].map(({ node }) => node))
  const isPrim = (index: number): boolean => !plan.of.has(index) || shows(nodes[index]!) || hasItem.has(index)
  nodes.forEach((node, index) => {
    if (plan.of.has(index) && isPrim(index)) lost.add('what joints show as such; it stands beside them')
    if (node.mesh >= 0 && !shows(node)) messages.add('write.part-skipped', { name: node.name })
  })
  const children = new Map<number, number[]>()
  // a prim that draws something has no others that do beneath it: there the mesh is a prim of its own
  const holdsOthers = (index: number): boolean =>
    (children.get(index)?.length ?? 0) > 0 || plan.skeletons.some(({ parent }) => parent === index)
  nodes.forEach((_node, index) => {
    if (!isPrim(index)) return
    const list = children.get(parents[index]!) ?? []
    list.push(index)
    children.set(parents[index]!, list)
  })
  const roots = children.get(-1) ?? []

  // one prim holds all
  const isDeformed = settings.shapes && meshes.some(({ skin, shapes }) => skin || shapes.length)
  const only = roots.length === 1 ? roots[0]! : -1
  const rootSkeleton = plan.skeletons.some(({ parent }) => parent < 0)
  const needsWrapper =
    only < 0 || rootSkeleton || shows(nodes[only]!) || hasItem.has(only) || plan.of.has(only)
  const sections = scene.kept?.format === 'usd' ? scene.kept.sections : []
  const keptRoots = sections.filter(({ name }) => name === '').map(({ values }) => String(values[0]))
  const nameIn = (text: string): string => /^\s*def\s+(?:\w+\s+)?"([^"]*)"/.exec(text)?.[1] ?? ''
  const rootNames = new Set([SHARED, ...keptRoots.map(nameIn)])
  const wrapper = needsWrapper ? usdNames.unique(roots.length ? stemOf(fileName) || 'model' : 'model', rootNames) : '' // prettier-ignore
  const paths: string[] = []
  const takenUnder = new Map<string, Set<string>>()
  const takenIn = (path: string): Set<string> => {
    const taken = takenUnder.get(path) ?? new Set<string>()
    takenUnder.set(path, taken)
    return taken
  }
  takenUnder.set('', rootNames)
  const primWords: string[] = []
  const nameChildren = (index: number, path: string): void => {
    const taken = takenIn(path)
    const { source } = index < 0 ? { source: undefined } : nodes[index]!
    for (const { name, values } of sections)
      if (source !== undefined && name === source) taken.add(nameIn(String(values[0])))
    for (const child of children.get(index) ?? []) {
      // the name that its file had, where that is still what it is called
      const word = usdNames.unique(wishOf(nodes[child]!), taken)
      primWords[child] = word
      paths[child] = `${path}/${word}`
      nameChildren(child, paths[child]!)
    }
  }
  const base = needsWrapper ? `/${wrapper}` : ''
  nameChildren(-1, base)
  const top = needsWrapper ? base : (paths[only] ?? '')
  const skeletonPaths = new Map<PlannedSkeleton, string>()
  const skeletonWords = new Map<PlannedSkeleton, string>()
  for (const skeleton of plan.skeletons) {
    const above = skeleton.parent < 0 ? top : paths[skeleton.parent]!
    if (
      skeleton.parent >= 0 &&
      kindBefore(nodes[skeleton.parent]!) === 'Skeleton' &&
      !shows(nodes[skeleton.parent]!)
    ) {
      skeletonPaths.set(skeleton, above)
      continue
    }
    const word = usdNames.unique('skeleton', takenIn(above))
    skeletonWords.set(skeleton, word)
    skeletonPaths.set(skeleton, `${above}/${word}`)
  }
  const scopeWord = settings.materials === 'none' || scene.materials.length === 0 ? null : usdNames.unique(MATERIALS, takenIn(top)) // prettier-ignore
  const materialTaken = new Set<string>()
  const materialWords = scene.materials.map(({ name }) => usdNames.unique(name, materialTaken))
  const materialPaths = scopeWord === null ? null : materialWords.map((word) => `${top}/${scopeWord}/${word}`)

  // a mesh that several nodes show stands once, and they take it from there
  const uses = meshes.map((): number[] => [])
  nodes.forEach((node, index) => {
    if (isPrim(index) && shows(node)) uses[node.mesh]!.push(index)
  })
  const sharedTaken = new Set<string>()
  const sharedWords = meshes.map((mesh, index) => uses[index]!.length > 1 ? usdNames.unique(mesh.ownName ?? mesh.name, sharedTaken) : null) // prettier-ignore

  // paths that kept pieces may name
  const moved = new Map<string, string>()
  nodes.forEach(({ source }, index) => {
    if (source !== undefined && paths[index] !== undefined && source !== paths[index]) moved.set(source, paths[index]!) // prettier-ignore
  })
  scene.materials.forEach(({ source }, index) => {
    if (source !== undefined && materialPaths && source !== materialPaths[index]) moved.set(source, materialPaths[index]!) // prettier-ignore
  })
  const repointed = (text: string): string =>
    moved.size === 0
      ? text
      : text.replace(/<([^<>\n]*)>/g, (all, path: string) => {
          let best = ''
          for (const from of moved.keys())
        if (from.length > best.length && (path === from || path.startsWith(`${from}/`) || path.startsWith(`${from}.`))) best = from // prettier-ignore
          return best ? `<${moved.get(best)!}${path.slice(best.length)}>` : all
        })

  const writer = createUsdWriter()
  const indented = (text: string): void => {
    const space = '    '.repeat(writer.depth())
    writer.raw(
      `${repointed(text)
        .replace(/\n$/, '')
        .split('\n')
        .map((line) => (line === '' ? line : space + line))
        .join('\n')}\n`,
    )
  }
  const keptUnder = (source: string): void => {
    for (const { name, values } of sections) if (name === source) indented(String(values[0]))
  }
  const cameraOf = new Map(scene.cameras.map((camera) => [camera.node, camera]))
  const lightOf = new Map(scene.lights.map((light) => [light.node, light]))
  const hasRootBefore = nodes.some((node) => kindBefore(node) === 'SkelRoot')

  const meshBody = (index: number, path: string, taken: Set<string>): void => {
    const mesh = meshes[index]!
    writeMesh(writer, mesh, settings, usdNames, { own: path, materials: materialPaths, taken }, scene.materials.map(({ name }) => name), lost) // prettier-ignore
    if (settings.shapes) writeSkin(writer, mesh.skin, plan, skeletonPaths, binds)
  }
  const meshSettings = (index: number): { schemas: string[]; notes: object } => {
    const mesh = meshes[index]!
    const isBound = materialPaths !== null && mesh.faceMaterials?.some((one) => one >= 0)
    const schemas = [
      ...(isBound ? ['MaterialBindingAPI'] : []),
      ...(settings.shapes && (mesh.skin || mesh.shapes.length) ? ['SkelBindingAPI'] : []),
    ]
    return { schemas, notes: meshNotes(mesh, settings, uvWords(mesh, usdNames)) }
  }
  const applied = (schemas: readonly string[]): string[] =>
    schemas.length ? [`prepend apiSchemas = ${valueText(schemas, 'token[]')}`] : []

  const writeNode = (index: number): void => {
    const node = nodes[index]!
    const mesh = shows(node) ? node.mesh : -1
    const path = paths[index]!
    const camera = cameraOf.get(index)
    const light = lightOf.get(index)
    const isPlaced = !isIdentity(locals[index]!)
    const before = kindBefore(node)
    const skeleton = plan.skeletons.find((one) => one.parent === index)
    const isSkeleton = skeleton !== undefined && skeletonPaths.get(skeleton) === path
    let type =
      before !== null && !(isPlaced && before !== 'Skeleton' && before !== 'SkelRoot') ? before : 'Xform'
    if (type === 'Skeleton' && !isSkeleton) type = 'Xform'
    if (index === only && !needsWrapper && isDeformed && !hasRootBefore) type = 'SkelRoot'
    if (camera && mesh < 0) type = 'Camera'
    else if (light && mesh < 0) type = lightType(light.properties)
    const isApart = mesh >= 0 && holdsOthers(index)
    if (mesh >= 0) type = isApart ? 'Xform' : 'Mesh'
    const isShared = mesh >= 0 && sharedWords[mesh] !== null
    const own = mesh >= 0 ? meshSettings(mesh) : { schemas: [], notes: {} }
    const keptSettings = keptOf(node, 'setting').filter(({ name }) => name !== '')
    const { lines, noted } = splitProperties(node.properties)
    const notes = {
      ...(isShared || isApart ? {} : own.notes),
      ...(Object.keys(noted).length ? { properties: noted } : {}),
    }
    const keptData = keptSettings.find(({ name }) => name === 'customData')
    const head = [
      ...applied([...(isShared || isApart ? [] : own.schemas), ...keptSettings.filter(({ name }) => name === 'apiSchemas').map(textOfKept)]), // prettier-ignore
      ...(isShared && !isApart ? [`prepend references = </${SHARED}/${sharedWords[mesh]!}>`] : []),
      ...keptSettings.filter(({ name }) => name !== 'apiSchemas' && name !== 'customData').map(textOfKept),
      ...(primWords[index] === node.name ? [] : [`displayName = ${quote(node.name)}`]),
      ...(keptData && Object.keys(notes).length === 0
        ? [textOfKept(keptData)]
        : withKeptData(keptData, notes)),
    ]
    writer.prim(`def ${type ? `${type} ` : ''}${quote(primWords[index]!)}`, head, () => {
      if (!node.visible) writer.line('token visibility = "invisible"')
      const operations = locals[index] === node.local ? operationsOf(node) : null
      if (!operations && keptOf(node, 'place').some((kept) => textOfKept(kept).includes('.timeSamples')))
        lost.add(`the movement of “${node.name}”, which stands elsewhere now`)
      if (operations) operations.forEach(indented)
      else if (isPlaced) {
        writer.line(
          `matrix4d xformOp:transform = ${valueText(Float64Array.from(locals[index]!), 'matrix4d')}`,
        )
        writer.line('uniform token[] xformOpOrder = ["xformOp:transform"]')
      }
      lines.forEach(writer.line)
      keptOf(node, 'property').forEach((property) => indented(textOfKept(property)))
      if (isApart) {
        const word = usdNames.unique('mesh', takenIn(path))
        const inner = [
          ...(isShared ? [] : applied(own.schemas)),
          ...(isShared ? [`prepend references = </${SHARED}/${sharedWords[mesh]!}>`] : []),
          ...dataSetting(isShared ? {} : own.notes, [`bool ${OF_PARENT} = true`]),
        ]
        writer.prim(`def Mesh ${quote(word)}`, inner, () => {
          if (!isShared) meshBody(mesh, `${path}/${word}`, new Set())
        })
      } else if (mesh >= 0 && !isShared) meshBody(mesh, path, takenIn(path))
      if (isSkeleton) writeSkeleton(writer, scene, skeleton, worlds, binds)
      if (camera && mesh < 0) writeCamera(writer, camera.properties, ratio)
      if (light && mesh < 0) writeLight(writer, light.properties)
      if ((camera || light) && (mesh >= 0 || (camera && light))) lost.add(`what “${node.name}” is at once; it is several parts in it`) // prettier-ignore
      if (camera && mesh >= 0) writer.prim(`def Camera ${quote(usdNames.unique(camera.name, takenIn(path)))}`, [], () => writeCamera(writer, camera.properties, ratio)) // prettier-ignore
      if (light && (mesh >= 0 || camera)) writer.prim(`def ${lightType(light.properties)} ${quote(usdNames.unique(light.name, takenIn(path)))}`, [], () => writeLight(writer, light.properties)) // prettier-ignore
      writeBelow(index)
      if (node.source !== undefined) keptUnder(node.source)
      if (index === only && !needsWrapper) writeScope()
    })
  }
  const writeBelow = (index: number): void => {
    for (const skeleton of plan.skeletons) {
      const word = skeletonWords.get(skeleton)
      if (skeleton.parent !== index || word === undefined) continue
      writer.prim(
        `def Skeleton ${quote(word)}`,
        notesSetting({ withoutNode: true, jointNames: skeleton.joints.map((node) => nodes[node]!.name) }),
        () =>
          // prettier-ignore
          writeSkeleton(writer, scene, skeleton, worlds, binds),
      )
    }
    for (const child of children.get(index) ?? []) writeNode(child)
  }
  const writeScope = (): void => {
    if (scopeWord === null) return
    writer.prim(`def Scope ${quote(scopeWord)}`, [], () =>
      writeMaterials(writer, scene, materialWords, `${top}/${scopeWord}`, settings, files, messages),
    )
  }

  writer.line('#usda 1.0')
  writeHead(writer, scene, needsWrapper ? wrapper : (primWords[only] ?? ''), upAxis, sections, lost)
  const shared = meshes.flatMap((_mesh, index) => (sharedWords[index] === null ? [] : [index]))
  if (shared.length)
    writer.prim(`class ${quote(SHARED)}`, [], () => {
      for (const index of shared) {
        const word = sharedWords[index]!
        const { schemas, notes } = meshSettings(index)
        const path = `/${SHARED}/${word}`
        writer.prim(`def Mesh ${quote(word)}`, [...applied(schemas), ...notesSetting(notes)], () =>
          // prettier-ignore
          meshBody(index, path, new Set()),
        )
      }
    })
  if (needsWrapper)
    writer.prim(
      `def ${isDeformed && !hasRootBefore ? 'SkelRoot' : 'Xform'} ${quote(wrapper)}`,
      notesSetting({ wrapper: true }),
      () => {
        // prettier-ignore
        writeBelow(-1)
        writeScope()
      },
    )
  else writeNode(only)
  keptUnder('')
  for (const what of lossesOfKept(scene, 'usd')) lost.add(what)
  if (
    scene.kept?.format === 'usd' &&
    scene.kept.since &&
    (scene.kept.since.turned || scene.kept.since.scale !== 1) &&
    sections.some(({ name }) => name !== 'setting')
  )
    // prettier-ignore
    messages.add('write.not-converted', { what: 'what else the file has beside the model' })
  for (const what of lost) messages.add('write.not-carried', { format: 'USD', what })
  if (!isPackage) return { files: [{ name: fileName, bytes: writer.bytes() }, ...files], findings: messages.list(), space: scene.space } // prettier-ignore
  for (const { name } of files) if (!PACKAGE_IMAGES.test(name)) messages.add('usd.image-kind', { file: name })
  const inner = { name: `${stemOf(fileName)}.usda`, bytes: writer.bytes() }
  return {
    files: [{ name: fileName, bytes: writeUsdPackage([inner, ...files]) }],
    findings: messages.list(),
    space: scene.space,
  }
}
