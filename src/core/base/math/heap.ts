/** A heap of numbered things, the one with the least key first. */
export interface Heap {
  readonly size: () => number
  readonly push: (key: number, item: number) => void
  /** The item with the least key; -1 where there is none. */
  readonly pop: () => number
}

export function createHeap(): Heap {
  let keys = new Float64Array(1024)
  let items = new Uint32Array(1024)
  let count = 0
  return {
    size: () => count,
    push(key, item) {
      if (count === keys.length) {
        const [more, others] = [new Float64Array(2 * count), new Uint32Array(2 * count)]
        more.set(keys)
        others.set(items)
        ;[keys, items] = [more, others]
      }
      let at = count++
      while (at > 0) {
        const up = (at - 1) >> 1
        if (keys[up]! <= key) break
        keys[at] = keys[up]!
        items[at] = items[up]!
        at = up
      }
      keys[at] = key
      items[at] = item
    },
    pop() {
      if (count === 0) return -1
      const first = items[0]!
      const key = keys[--count]!
      const item = items[count]!
      let at = 0
      for (;;) {
        let down = 2 * at + 1
        if (down >= count) break
        if (down + 1 < count && keys[down + 1]! < keys[down]!) down++
        if (keys[down]! >= key) break
        keys[at] = keys[down]!
        items[at] = items[down]!
        at = down
      }
      keys[at] = key
      items[at] = item
      return first
    },
  }
}
