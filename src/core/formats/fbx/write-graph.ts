/** The objects and ties of a file in the making, with numbers for each. */
import { int, long, objectTitle, record, type WriteRecord } from './write-tree.ts'

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
  readonly link: (child: bigint, parent: bigint, property?: string | null) => void
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
  return {
    objects,
    links,
    counts,
    numberOf: (source) => numbers.get(source) ?? null,
    add(kind, name, type, children, source) {
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
      const isSub = kind === 'Deformer' && (type === 'Cluster' || type === 'BlendShapeChannel')
      const title = kind === 'Deformer' && !isSub ? 'Deformer' : (CLASSES[kind] ?? kind)
      objects.push(record(kind, [long(id), objectTitle(name, title), type], children))
      counts.set(kind, (counts.get(kind) ?? 0) + 1)
      return id
    },
    link(child, parent, property) {
      links.push(
        record(
          'C',
          property ? ['OP', long(child), long(parent), property] : ['OO', long(child), long(parent)],
        ),
      )
    },
  }
}

/** How many objects of each kind there are, as files tell at their beginning. */
export const definitionRecords = (counts: ReadonlyMap<string, number>): WriteRecord[] => [
  record('Version', [int(100)]),
  record('Count', [int([...counts.values()].reduce((sum, count) => sum + count, 1))]),
  record('ObjectType', ['GlobalSettings'], [record('Count', [int(1)])]),
  ...[...counts].map(([kind, count]) => record('ObjectType', [kind], [record('Count', [int(count)])])),
]
