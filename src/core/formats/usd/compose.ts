/**
 * The stage: prims as they are once everything that layers say of them is put together. Strength, from the strongest:
 * what the file itself says, inherits, chosen variants, references, payloads, specializes. Source: OpenUSD, glossary,
 * “LIVRPS strength ordering”. Nothing outside the package is opened.
 */
import type { MessageCollector } from '../../base/messages/collector.ts'
import {
  isDictionary,
  type UsdArc,
  type UsdLayer,
  type UsdPrim,
  type UsdProperty,
  type UsdValue,
} from './layer.ts'

export interface StagePrim {
  readonly path: string
  readonly name: string
  /** Empty: none that the file says. */
  readonly type: string
  readonly metadata: ReadonlyMap<string, UsdValue>
  /** The strongest of each name; paths in them lead through the stage. */
  readonly properties: ReadonlyMap<string, UsdProperty>
  readonly children: readonly StagePrim[]
  /** Of each property the layer’s own: two prims that show one thing have the same. */
  readonly sources: ReadonlyMap<string, UsdProperty>
}

export interface Stage {
  readonly metadata: ReadonlyMap<string, UsdValue>
  readonly prims: readonly StagePrim[]
  readonly find: (path: string) => StagePrim | null
}

/** Prims that a file may become by taking in prims within prims again and again. */
const MOST_PRIMS = 100_000
const MOST_ARCS = 64

/** What one file says of a prim, with how its paths lead through the stage. */
interface Opinion {
  readonly prim: UsdPrim
  readonly layer: UsdLayer
  readonly file: string
  /** Paths below `from` in the layer are below `to` on the stage. */
  readonly from: string
  readonly to: string
  /** The arcs that led here: one that is gone along once more takes in itself. */
  readonly through: readonly string[]
}

const isBelow = (path: string, root: string): boolean =>
  root === '/' || path === root || path.startsWith(`${root}/`) || path.startsWith(`${root}.`)

const mapped = (path: string, { from, to }: Pick<Opinion, 'from' | 'to'>): string => {
  if (from === to || !isBelow(path, from)) return path
  const rest = from === '/' ? (path === '/' ? '' : path) : path.slice(from.length)
  return to === '/' ? rest || '/' : `${to}${rest}`
}

/** Paths may be said from where they stand. */
export function absolutePath(path: string, from: string): string {
  if (path.startsWith('/')) return path.replace(/\{[^}]*\}/g, '')
  const parts = from.split('/').filter(Boolean)
  const [prim = '', property] = path.split(/\.(?=[^./]+$)/)
  for (const part of prim.split('/'))
    if (part === '..') parts.pop()
    else if (part !== '.' && part !== '') parts.push(part)
  return `/${parts.join('/')}${property === undefined ? '' : `.${property}`}`
}

export interface LayerFinder {
  /** The layer that a file names; null where it isn't in the package. @param from the file that names it. */
  readonly open: (asset: string, from: string) => { layer: UsdLayer; file: string } | null
}

/**
 * Findings: `usd.missing-layer`, `usd.missing-prim`, `usd.ring`, `usd.too-many`, `usd.variant`, `usd.unloaded`.
 * @param fileName of the layer, by which others are found.
 */
export function composeStage(
  root: UsdLayer,
  fileName: string,
  finder: LayerFinder,
  messages: MessageCollector,
): Stage {
  let count = 0
  let isFull = false
  const variantsTold = new Set<string>()

  /** Layers that lie under a layer, it first. */
  const stackOf = (
    layer: UsdLayer,
    file: string,
    above: readonly string[] = [],
  ): { layer: UsdLayer; file: string }[] => {
    const stack = [{ layer, file }]
    for (const asset of layer.subLayers) {
      const found = finder.open(asset, file)
      if (!found) messages.add('usd.missing-layer', { file: asset.slice(0, 200) })
      else if (above.includes(found.file) || found.file === file) messages.add('usd.ring', { path: asset })
      else stack.push(...stackOf(found.layer, found.file, [...above, file]))
    }
    return stack
  }

  /** What layers say of a prim at a path, through what they take in above it. */
  const locate = (
    layers: readonly { layer: UsdLayer; file: string }[],
    path: string,
    stagePath: string,
    through: readonly string[],
  ): Opinion[] => {
    const parts = path.split('/').filter(Boolean)
    let found = layers.flatMap(({ layer, file }) =>
      layer.prims
        .filter(({ name }) => name === parts[0])
        .map((prim): Opinion => ({ prim, layer, file, from: '/', to: '/', through })),
    )
    for (let depth = 1; depth < parts.length && found.length > 0; depth++)
      found = gather(found, `/${parts.slice(0, depth).join('/')}`).flatMap((opinion) =>
        opinion.prim.children
          .filter(({ name }) => name === parts[depth])
          .map((prim) => ({ ...opinion, prim })),
      )
    return found.map((opinion) => ({
      ...opinion,
      from: mapped(path, { from: opinion.to, to: opinion.from }),
      to: stagePath,
    }))
  }
  /** What an arc leads to; none where it leads nowhere, which is told. */
  const openArc = (
    { asset, path }: UsdArc,
    opinion: Opinion,
    stagePath: string,
    through: readonly string[],
  ): Opinion[] => {
    let { layer, file } = opinion
    if (asset !== '') {
      const found = finder.open(asset, file)
      if (!found) {
        messages.add('usd.missing-layer', { file: asset.slice(0, 200) })
        return []
      }
      ;({ layer, file } = found)
    }
    const standard = layer.metadata.get('defaultPrim')
    const wanted = path || `/${(typeof standard === 'string' ? standard : (layer.prims[0]?.name ?? '')).replace(/^\//, '')}` // prettier-ignore
    const found = locate(stackOf(layer, file), wanted, stagePath, through)
    if (found.length === 0)
      messages.add('usd.missing-prim', { place: `“${stagePath}”`, path: wanted.slice(0, 200) })
    return found
  }

  /** All that is said of a prim, the strongest first. */
  const gather = (own: readonly Opinion[], stagePath: string): Opinion[] => {
    const found: Opinion[] = []
    for (const opinion of own) found.push(...expand(opinion, stagePath, own))
    return found
  }
  const expand = (opinion: Opinion, stagePath: string, siblings: readonly Opinion[]): Opinion[] => {
    const { prim, file, through } = opinion
    const ownPath = mapped(stagePath, { from: opinion.to, to: opinion.from })
    const found: Opinion[] = [opinion]
    const follow = (arc: UsdArc): void => {
      const key = `${arc.asset} ${arc.path} ${file}`
      const isAbove = arc.asset === '' && isBelow(ownPath, arc.path)
      if (isAbove || through.includes(key) || through.length > MOST_ARCS) {
        messages.add('usd.ring', { path: (arc.asset || arc.path).slice(0, 200) })
        return
      }
      const next = openArc(arc, opinion, stagePath, [...through, key])
      for (const own of next) found.push(...expand(own, stagePath, next))
    }
    const chosen = (set: string): string | undefined => {
      for (const one of [...siblings, opinion]) {
        const name = one.prim.chosen.get(set)
        if (name !== undefined) return name
      }
      return undefined
    }
    for (const path of prim.inherits) follow({ asset: '', path: absolutePath(path, stagePath) })
    for (const [set, variants] of prim.variantSets) {
      const name = chosen(set) ?? ''
      const variant = variants.get(name)
      const told = `${stagePath} ${set}`
      if (!variantsTold.has(told))
        messages.add('usd.variant', { name: prim.name, set, variant: name || 'none' })
      variantsTold.add(told)
      if (variant) found.push(...expand({ ...opinion, prim: variant }, stagePath, siblings))
    }
    for (const arc of prim.references) follow(arc)
    for (const arc of prim.payloads) follow(arc)
    for (const path of prim.specializes) follow({ asset: '', path: absolutePath(path, stagePath) })
    return found
  }

  const build = (name: string, path: string, own: readonly Opinion[], depth: number): StagePrim | null => {
    if (isFull) return null
    if (++count > MOST_PRIMS || depth > 400) {
      isFull = true
      messages.add('usd.too-many', { path: path.slice(0, 200), limit: MOST_PRIMS })
      return null
    }
    const opinions = gather(own, path)
    const specifiers = opinions.map(({ prim }) => prim.specifier)
    // what only says something over another that is not there is no prim; a class is none by itself
    if (specifiers[0] === 'class' || !specifiers.some((one) => one !== 'over')) return null
    const metadata = new Map<string, UsdValue>()
    const properties = new Map<string, UsdProperty>()
    const sources = new Map<string, UsdProperty>()
    let type = ''
    for (const opinion of opinions) {
      type ||= opinion.prim.type
      for (const [key, value] of opinion.prim.metadata) {
        const held = metadata.get(key)
        if (held === undefined) metadata.set(key, value)
        // dictionaries are put together entry by entry
        else if (isDictionary(held) && isDictionary(value)) metadata.set(key, new Map([...value, ...held]))
        else if (key === 'apiSchemas' && Array.isArray(held) && Array.isArray(value))
          metadata.set(key, [...new Set([...(held as string[]), ...(value as string[])])])
      }
      for (const property of opinion.prim.properties) {
        const held = properties.get(property.name)
        const targets = property.targets.map((target) =>
          mapped(absolutePath(target, mapped(path, { from: opinion.to, to: opinion.from })), opinion),
        )
        if (!held) {
          properties.set(property.name, { ...property, targets })
          sources.set(property.name, property)
          continue
        }
        // a stronger layer may say a value and leave the rest to weaker ones
        const merged: UsdProperty = {
          ...held,
          type: held.type || property.type,
          custom: held.custom || property.custom,
          uniform: held.uniform || property.uniform,
          targets: held.targets.length ? held.targets : targets,
          metadata: new Map([...property.metadata, ...held.metadata]),
          ...(held.value === undefined && !held.samples
            ? {
                ...(property.value === undefined ? {} : { value: property.value }),
                ...(property.samples ? { samples: property.samples } : {}),
              }
            : {}),
        }
        properties.set(property.name, merged)
        if (held.value === undefined && !held.samples && held.targets.length === 0)
          sources.set(property.name, property)
      }
    }
    if (metadata.get('active') === false) {
      messages.add('usd.unloaded', { name })
      return null
    }
    const names = new Map<string, Opinion[]>()
    // weaker layers' children come in their order, after those that stronger ones name
    for (const opinion of [...opinions].reverse())
      for (const child of opinion.prim.children) {
        const list = names.get(child.name) ?? []
        list.unshift({ ...opinion, prim: child })
        names.set(child.name, list)
      }
    const base = path === '/' ? '' : path
    const children = [...names].flatMap(([childName, list]) => {
      const built = build(childName, `${base}/${childName}`, list, depth + 1)
      return built ? [built] : []
    })
    return { path, name, type, metadata, properties, children, sources }
  }

  const layers = stackOf(root, fileName)
  const names = new Map<string, Opinion[]>()
  for (const { layer, file } of layers)
    for (const prim of layer.prims) {
      const list = names.get(prim.name) ?? []
      list.push({ prim, layer, file, from: '/', to: '/', through: [] })
      names.set(prim.name, list)
    }
  const prims = [...names].flatMap(([name, list]) => {
    const built = build(name, `/${name}`, list, 0)
    return built ? [built] : []
  })
  const byPath = new Map<string, StagePrim>()
  const note = (prim: StagePrim): void => {
    byPath.set(prim.path, prim)
    prim.children.forEach(note)
  }
  prims.forEach(note)
  const metadata = new Map<string, UsdValue>()
  for (const { layer } of layers)
    for (const [key, value] of layer.metadata) if (!metadata.has(key)) metadata.set(key, value)
  return { metadata, prims, find: (path) => byPath.get(path) ?? null }
}
