/** File endings of model formats, apart from their readers, for pages that only have to tell files apart. */
export const MODEL_ENDINGS = { obj: ['.obj'], fbx: ['.fbx'] } as const

/** A model file, or a package that may hold one. */
export function isModelName(name: string): boolean {
  const lower = name.toLowerCase()
  return (
    lower.endsWith('.zip') ||
    Object.values(MODEL_ENDINGS)
      .flat()
      .some((ending) => lower.endsWith(ending))
  )
}
