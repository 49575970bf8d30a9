/** The objects and ties of a file in the making, with numbers for each. */
import { int, long, objectTitle, record, type WriteRecord, type WriteValue } from './write-tree.ts'

export interface GraphWriter {
  /**
   * @param source the number that the object had in its file: it keeps it where it can, so that what refers to
   * it still does.
   * @returns the object's number.
   */
  readonly add: (
    kind: string,
    name: string,
    type: string,
    children: readonly WriteRecord[],
    source?: string,
  ) => bigint
  /** An object as its file had it: `values` are what stands behind its number. */
  readonly addAsItCame: (
    kind: string,
    values: readonly WriteValue[],
    children: readonly WriteRecord[],
    source: string,
  ) => bigint
  /** @param kind what ties to what, as the format says it; by itself an object to an object or to its property. */
  readonly link: (child: bigint, parent: bigint, property?: string | null, kind?: string) => void
  /** The number that stands for what a file called `source`; null where it is not written. */
  readonly numberOf: (source: string) => bigint | null
  readonly objects: readonly WriteRecord[]
  readonly links: readonly WriteRecord[]
  /** Objects by kind. */
  readonly counts: ReadonlyMap<string, number>
}

/** Kinds whose class in the object's title is another than the record's name. From memory. */
const CLASSES: Readonly<Record<string, string>> = {
  Deformer: 'SubDeformer',
  AnimationCurveNode: 'AnimCurveNode',
  AnimationCurve: 'AnimCurve',
  AnimationStack: 'AnimStack',
  AnimationLayer: 'AnimLayer',
}

/** Numbers of new objects start here. */
const FIRST_NUMBER = 1000000n

/** @param sources all numbers that objects may keep: new ones stay clear of them. */
export function createGraphWriter(sources: Iterable<string>): GraphWriter {
  const reserved = new Set<bigint>()
  const wholeNumber = (source: string): bigint | null => {
    if (!/^\d{1,19}$/.test(source)) return null
    const number = BigInt(source)
    return number > 0n && number < 2n ** 63n ? number : null
  }
  for (const source of sources) {
    const number = wholeNumber(source)
    if (number !== null) reserved.add(number)
  }
  const taken = new Set<bigint>()
  const numbers = new Map<string, bigint>()
  const objects: WriteRecord[] = []
  const links: WriteRecord[] = []
  const counts = new Map<string, number>()
  let next = FIRST_NUMBER
  function put(
    kind: string,
    values: readonly WriteValue[],
    children: readonly WriteRecord[],
    source: string | undefined,
  ): bigint {
    const own = source === undefined ? null : wholeNumber(source)
    let id: bigint
    if (own !== null && !taken.has(own)) id = own
    else {
      while (reserved.has(next) || taken.has(next)) next++
      id = next++
    }
    taken.add(id)
    // of copies of one object the first is meant
    if (source !== undefined && !numbers.has(source)) numbers.set(source, id)
    // an object without a list of its own is refused by others, and with it what is tied to it
    objects.push(record(kind, [long(id), ...values], children, true))
    counts.set(kind, (counts.get(kind) ?? 0) + 1)
    return id
  }
  return {
    objects,
    links,
    counts,
    numberOf: (source) => numbers.get(source) ?? null,
    add(kind, name, type, children, source) {
      const isSub = kind === 'Deformer' && (type === 'Cluster' || type === 'BlendShapeChannel')
      const title = kind === 'Deformer' && !isSub ? 'Deformer' : (CLASSES[kind] ?? kind)
      return put(kind, [objectTitle(name, title), type], children, source)
    },
    addAsItCame: put,
    link(child, parent, property, kind) {
      links.push(
        record('C', [
          kind ?? (property ? 'OP' : 'OO'),
          long(child),
          long(parent),
          ...(property ? [property] : []),
        ]),
      )
    },
  }
}

/**
 * How many objects of each kind there are, as files tell at their beginning, with the templates that a file had for
 * them: what an object doesn't say goes by its template.
 */
export function definitionRecords(
  counts: ReadonlyMap<string, number>,
  templates: ReadonlyMap<string, readonly WriteRecord[]>,
): WriteRecord[] {
  const all = new Map([['GlobalSettings', 1], ...counts])
  return [
    record('Version', [int(100)]),
    record('Count', [int([...all.values()].reduce((sum, count) => sum + count, 0))]),
    ...[...all].map(([kind, count]) =>
      record('ObjectType', [kind], [record('Count', [int(count)]), ...(templates.get(kind) ?? [])]),
    ),
  ]
}
