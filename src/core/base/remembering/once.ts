/** Computes at most once. */
export function once<Value>(compute: () => Value): () => Value {
  let held: { value: Value } | null = null
  return () => (held ??= { value: compute() }).value
}
