/**
 * What follows from data that never changes is worked out once: a function over an object, whose answers are kept for
 * as long as the object is. Its answers are shared, so nobody may change them.
 */
export function remember<Key extends object, Value>(compute: (key: Key) => Value): (key: Key) => Value {
  const known = new WeakMap<Key, { readonly value: Value }>()
  return (key) => {
    let held = known.get(key)
    if (!held) known.set(key, (held = { value: compute(key) }))
    return held.value
  }
}
