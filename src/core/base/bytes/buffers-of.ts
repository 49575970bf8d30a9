/** The memory of all typed arrays within a value, each once: what moves when the value is handed to another thread. */
export function buffersOf(value: unknown): ArrayBuffer[] {
  const buffers = new Set<ArrayBuffer>()
  const visit = (entry: unknown): void => {
    if (ArrayBuffer.isView(entry)) {
      const { buffer } = entry
      if (buffer instanceof ArrayBuffer) buffers.add(buffer)
    } else if (Array.isArray(entry)) for (const item of entry) visit(item)
    else if (entry !== null && typeof entry === 'object') for (const item of Object.values(entry)) visit(item)
  }
  visit(value)
  return [...buffers]
}
