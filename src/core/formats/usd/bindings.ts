/**
 * Which material a prim wears: what it names itself, what it hangs under names, and collections of prims that either
 * names. Sources: OpenUSD, UsdShadeMaterialBindingAPI (“material binding”, strengths), UsdCollectionAPI; that a collection
 * goes before what its prim names directly is from memory.
 */
import type { Stage, StagePrim } from './compose.ts'
import type { UsdProperty } from './layer.ts'
import { valueOf } from './read-transform.ts'

const DIRECT = ['material:binding', 'material:binding:full', 'material:binding:preview']
const COLLECTION = /^material:binding:collection:(?:(?:full|preview|allPurpose):)?[^:]+$/
/** Collections that are taken into each other. */
const DEEPEST = 16

export interface Bindings {
  /** The path of the material; null for none. @param above what the prim hangs under, from the outermost. */
  readonly of: (prim: StagePrim, above: readonly StagePrim[]) => string | null
  /** Whether a prim or what it hangs under names collections that can't be told. */
  readonly isUntold: (prim: StagePrim, above: readonly StagePrim[]) => boolean
}

interface Members {
  readonly has: (path: string) => boolean
}

export function createBindings(stage: Stage): Bindings {
  const known = new Map<string, Members | null>()

  /** The collection at a path like `/prim.collection:name`; null where there is none that is told by paths. */
  const collectionAt = (path: string, depth = 0): Members | null => {
    if (known.has(path)) return known.get(path)!
    // what takes itself in is nothing until it is known
    known.set(path, null)
    const found = depth > DEEPEST ? null : readCollection(path, depth)
    known.set(path, found)
    return found
  }
  const readCollection = (path: string, depth: number): Members | null => {
    const dot = path.lastIndexOf('.collection:')
    const prim = dot < 0 ? null : stage.find(path.slice(0, dot))
    const start = `${path.slice(dot + 1)}:`
    if (!prim || ![...prim.properties.keys()].some((name) => name.startsWith(start))) return null
    const word = (name: string): UsdProperty | undefined => prim.properties.get(`${start}${name}`)
    const expression = valueOf(word('membershipExpression'))
    if (typeof expression === 'string' && expression !== '') return null
    const includes = word('includes')?.targets ?? []
    const excludes = new Set(word('excludes')?.targets ?? [])
    const own = new Set(includes.filter((target) => !target.includes('.collection:')))
    const nested = includes.flatMap((target) =>
      target.includes('.collection:') ? [collectionAt(target, depth + 1)] : [],
    )
    if (nested.includes(null)) return null
    if (valueOf(word('includeRoot')) === true) own.add('/')
    const isExplicit = valueOf(word('expansionRule')) === 'explicitOnly'
    return {
      has: (wanted) => {
        // the nearest that is named decides
        for (let at = wanted; ; at = at.slice(0, Math.max(1, at.lastIndexOf('/')))) {
          if (excludes.has(at)) return false
          if (own.has(at)) return true
          if (isExplicit || at === '/') break
        }
        return nested.some((other) => other!.has(wanted))
      },
    }
  }

  const byCollection = (prim: StagePrim): UsdProperty[] =>
    [...prim.properties].flatMap(([name, property]) =>
      COLLECTION.test(name) && property.targets.length === 2 ? [property] : [],
    )
  const parts = ({
    targets: [first = '', second = ''],
  }: UsdProperty): [collection: string, material: string] =>
    first.includes('.collection:') ? [first, second] : [second, first]

  return {
    of: (prim, above) => {
      let bound: string | null = null
      const offer = (property: UsdProperty, material: string): void => {
        if (bound === null || property.metadata.get('bindMaterialAs') === 'strongerThanDescendants')
          bound = material
      }
      for (const one of [prim, ...[...above].reverse()]) {
        const before: string | null = bound
        for (const property of byCollection(one)) {
          const [path, material] = parts(property)
          if (!collectionAt(path)?.has(prim.path)) continue
          offer(property, material)
          break
        }
        // at one prim a collection goes first
        if (bound !== before) continue
        const direct = DIRECT.map((name) => one.properties.get(name)).find(
          (property) => property && property.targets.length > 0,
        )
        if (direct) offer(direct, direct.targets[0]!)
      }
      return bound
    },
    isUntold: (prim, above) =>
      [prim, ...above].some((one) =>
        [...one.properties].some(([name, property]) => {
          if (!name.startsWith('material:binding:collection')) return false
          if (!COLLECTION.test(name) || property.targets.length !== 2) return true
          const members = collectionAt(parts(property)[0])
          // of a part some polygons alone
          return (
            !members ||
            prim.children.some(
              ({ type, path }) => type === 'GeomSubset' && members.has(path) !== members.has(prim.path),
            )
          )
        }),
      ),
  }
}
