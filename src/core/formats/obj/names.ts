/** Names of an OBJ file as numbers, each once, in the order in which they are met. */

export interface Names {
  readonly names: string[]
  readonly numberOf: (name: string) => number
}

/** An empty list of names. */
export function createNames(): Names {
  const names: string[] = []
  const numbers = new Map<string, number>()
  return {
    names,
    numberOf(name) {
      let number = numbers.get(name)
      if (number === undefined) {
        number = names.length
        numbers.set(name, number)
        names.push(name)
      }
      return number
    },
  }
}

export interface GroupSets {
  readonly names: string[]
  /** By the number of the set: numbers of its names, as the statement has them. */
  readonly sets: number[][]
  /** Number of the set that a `g` statement names, parted by blanks; -1 for none. */
  readonly setOf: (text: string) => number
  /** Number of a set given by the numbers of its names. */
  readonly setOfNumbers: (names: readonly number[]) => number
  readonly numberOf: (name: string) => number
}

/** No groups yet. A polygon may be in several at once; equal combinations are one set. */
export function createGroupSets(): GroupSets {
  const { names, numberOf } = createNames()
  const sets: number[][] = []
  const numbers = new Map<string, number>()
  const setOfNumbers = (set: readonly number[]): number => {
    const key = set.join(' ')
    let number = numbers.get(key)
    if (number === undefined) {
      number = sets.length
      numbers.set(key, number)
      sets.push([...set])
    }
    return number
  }
  return {
    names,
    sets,
    numberOf,
    setOfNumbers,
    setOf(text) {
      const words = text.split(/\s+/).filter(Boolean)
      return words.length === 0 ? -1 : setOfNumbers(words.map(numberOf))
    },
  }
}
