/** What this browser remembers of how the artist likes it; a browser that keeps nothing forgets, and nothing depends on it. */

const nameOf = (key: string): string => `kelbo.${key}`

export function remembered<Value>(key: string, isSound: (value: unknown) => value is Value): Value | null {
  try {
    const value: unknown = JSON.parse(localStorage.getItem(nameOf(key)) ?? 'null')
    return isSound(value) ? value : null
  } catch {
    return null
  }
}

export function remember(key: string, value: unknown): void {
  try {
    if (value === null) localStorage.removeItem(nameOf(key))
    else localStorage.setItem(nameOf(key), JSON.stringify(value))
  } catch {
    // a full or forbidden store
  }
}
