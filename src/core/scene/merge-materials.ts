/** Materials and images of one scene brought into another: nothing is dropped because of its name. */
import { freeName } from './edit-nodes.ts'
import { isBare, surfaceText } from './material-text.ts'
import type { Material } from './material.ts'
import type { Scene, SceneImage } from './scene.ts'

export interface MaterialMerge {
  /** Material of `more` to its place among `materials`. */
  readonly materialOf: (material: number) => number
  /** The target's own first, then what came along. */
  readonly materials: () => readonly Material[]
  readonly images: () => readonly SceneImage[]
  /** Materials that came under another name, since another one had theirs. */
  readonly renamed: () => readonly { readonly from: string; readonly to: string }[]
}

function sameBytes(a: Uint8Array | null, b: Uint8Array | null): boolean {
  if (a === b || !a || !b) return true
  return a.length === b.length && a.every((byte, at) => byte === b[at])
}

/** Tiles that only one side has are no difference: they come together. */
const sameImage = (a: SceneImage, b: SceneImage): boolean =>
  a.tiles && b.tiles
    ? a.tiles.every(({ label, bytes }) => {
        const other = b.tiles!.find((tile) => tile.label === label)
        return !other || sameBytes(bytes, other.bytes)
      })
    : sameBytes(a.bytes, b.bytes)

/** An image with the tiles that another has beside its own. */
export function withTilesOf(image: SceneImage, more: SceneImage): SceneImage {
  if (!image.tiles || !more.tiles) return image
  const known = new Set(image.tiles.map(({ label }) => label))
  const added = more.tiles.filter(({ label }) => !known.has(label))
  return added.length ? { ...image, tiles: [...image.tiles, ...added] } : image
}

/** `maps/wood.png` as `maps/wood_2.png`, with the first number that no image has. */
function freeFile(file: string, taken: ReadonlySet<string>): string {
  const dot = file.lastIndexOf('.')
  const cut = dot > file.lastIndexOf('/') ? dot : file.length
  for (let number = 2; ; number++) {
    const free = `${file.slice(0, cut)}_${number}${file.slice(cut)}`
    if (!taken.has(free)) return free
  }
}

/**
 * Brings materials of `more` into `target`'s list as they are asked for.
 *
 * A material of the same name and content is the same one; so is one of which either side knows only the name, and the
 * description then counts. Of the same name and another content it is another material, under a name that is free. An
 * image of a known path and other bytes goes under another path, and the maps that name it follow.
 *
 * @param alike whether two materials of one name say the same, beyond being equal to the letter.
 */
export function mergeMaterials(
  target: Pick<Scene, 'materials' | 'images'>,
  more: Pick<Scene, 'materials' | 'images'>,
  alike: (a: Material, b: Material) => boolean = () => false,
): MaterialMerge {
  const materials: Material[] = [...target.materials]
  const images: SceneImage[] = [...target.images]
  const imageOf = new Map(images.map((image) => [image.file, image]))
  const names = new Set(materials.map((material) => material.name.toLowerCase()))
  const places = new Map<number, number>()
  const renamed: { from: string; to: string }[] = []
  const files = new Map<string, string>()

  const fileOf = (file: string): string => {
    const known = files.get(file)
    if (known !== undefined) return known
    const image = more.images.find((candidate) => candidate.file === file)
    const own = imageOf.get(file)
    let placed = file
    if (image && own && !sameImage(image, own)) placed = freeFile(file, new Set(imageOf.keys()))
    files.set(file, placed)
    if (image && (!own || placed !== file)) {
      const brought = { ...image, file: placed }
      images.push(brought)
      imageOf.set(placed, brought)
    } else if (image?.bytes && own && !own.bytes) {
      // one side only knew its name
      images[images.indexOf(own)] = image
      imageOf.set(file, image)
    } else if (image && own) {
      const whole = withTilesOf(own, image)
      images[images.indexOf(own)] = whole
      imageOf.set(file, whole)
    }
    return placed
  }
  const withFiles = (material: Material): Material =>
    material.maps.some((map) => fileOf(map.file) !== map.file)
      ? { ...material, maps: material.maps.map((map) => ({ ...map, file: fileOf(map.file) })) }
      : material

  return {
    materialOf(index) {
      const known = places.get(index)
      if (known !== undefined) return known
      const brought = withFiles(more.materials[index]!)
      const text = surfaceText(brought)
      let place = materials.findIndex(
        (own) =>
          own.name === brought.name &&
          (isBare(own) || isBare(brought) || surfaceText(own) === text || alike(own, brought)),
      )
      if (place >= 0) {
        const own = materials[place]!
        if (isBare(own) && !isBare(brought)) materials[place] = { ...brought, id: own.id }
      } else {
        const taken = materials.some((own) => own.name === brought.name)
        const name = taken ? freeName(brought.name, names) : brought.name
        names.add(name.toLowerCase())
        if (taken) renamed.push({ from: brought.name, to: name })
        place = materials.push({ ...brought, id: '', name }) - 1
      }
      places.set(index, place)
      return place
    },
    materials: () => materials,
    images: () => images,
    renamed: () => renamed,
  }
}
