/** Looks that came with the file, written as they came. Source: Khronos, KHR_materials_variants. */
import type { Scene } from '../../scene/scene.ts'
import { VARIANTS } from './keep-variants.ts'

interface Primitive {
  readonly material?: number
  readonly extensions?: object
}

/**
 * Puts the looks of each piece of a mesh with it.
 *
 * @param meshes each mesh of the scene as it is written; null for one that isn't.
 * @param lost gets what is no longer there to be shown.
 * @returns the extension of the document; null where there is none.
 */
export function writeVariants(
  { kept, meshes: sources, materials }: Scene,
  meshes: readonly ({ primitives: Primitive[] } | null)[],
  lost: Set<string>,
): { readonly [VARIANTS]: object } | null {
  const looks = kept?.format === 'gltf' ? kept.sections.find(({ name }) => name === 'looks') : undefined
  if (!looks) return null
  const materialOf = new Map<string, number>()
  materials.forEach(({ source }, index) => {
    if (source !== undefined && !materialOf.has(source)) materialOf.set(source, index)
  })
  const written = new Set<unknown>()
  meshes.forEach((mesh, index) => {
    const { source } = sources[index]!
    if (!mesh || source === undefined) return
    mesh.primitives.forEach((primitive, at) => {
      if (primitive.material === undefined) return
      const mappings = looks.children.flatMap((look) => {
        const [of, own, shown, ...variants] = look.values
        const material = materialOf.get(String(shown))
        if (of !== source || materialOf.get(String(own)) !== primitive.material || material === undefined)
          return []
        written.add(look)
        return [{ material, variants }]
      })
      if (mappings.length)
        mesh.primitives[at] = {
          ...primitive,
          extensions: { ...primitive.extensions, [VARIANTS]: { mappings } },
        }
    })
  })
  const gone = looks.children.filter((look) => !written.has(look))
  if (gone.length) {
    const names = new Set(
      gone.flatMap(({ values }) => values.slice(3).map((look) => looks.values[Number(look)])),
    )
    lost.add(
      `what the looks ${[...names]
        .slice(0, 6)
        .map((name) => `“${name}”`)
        .join(', ')} show on parts whose material is another now`,
    )
  }
  return { [VARIANTS]: { variants: looks.values.map((name) => ({ name })) } }
}
