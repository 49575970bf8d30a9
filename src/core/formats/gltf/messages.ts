/** What is said of glTF files. */
import { entry, type CatalogueEntry } from '../../base/messages/catalogue.ts'

export const GLTF_MESSAGES = {
  'gltf.version': entry(
    'error',
    'This glTF is of version {version}; Kelbo reads 2.0.',
    'Export it again as glTF 2.0.',
  ),
  'gltf.unreadable': entry(
    'error',
    'This glTF can’t be read: {what}.',
    'Export it again, and check that it was copied whole.',
  ),
  'gltf.part': entry(
    'error',
    '{place} was left out: {why}.',
    'Export it again; the program that wrote it has a fault, or the file was cut.',
  ),
  'gltf.value': entry(
    'warning',
    '{place} is not what it should be and was passed over.',
    'The program that wrote the file has a fault there; look whether something is missing.',
  ),
  'gltf.buffer-missing': entry(
    'error',
    '“{file}”, which holds the numbers of this model, is not among the files.',
    'Drop it together with the model.',
  ),
  'gltf.index-out-of-range': entry(
    'error',
    'In {place} a triangle asks for vertex {value}, but there are only {available}. It was left out.',
    'Export the model again; the file is damaged or cut.',
  ),
  'gltf.extension-needed': entry(
    'error',
    'The file needs the extension “{extension}”, which Kelbo doesn’t know: parts of the model may be missing.',
    'Export it without this extension.',
  ),
  'gltf.extension-left': entry(
    'info',
    'The extension “{extension}” is not known and was left out.',
    'Keep the file itself for what it holds.',
  ),
  'gltf.joined': entry(
    'info',
    'In {count} [part|parts] the file had split points at seams and hard edges: {joined} [vertex was|vertices were|joined] joined with others, and {points} [point is|points are|points] there now.',
    'Nothing to do. Reading without joining leaves them apart.',
  ),
  'gltf.latin1': entry(
    'info',
    'Names in this file are not UTF-8, as the format asks for, and were read as Latin-1.',
    'If a name looks odd, export with UTF-8.',
  ),
  'gltf.stale': entry(
    'warning',
    'What the file keeps beside “{name}” ({what}) no longer fits its polygons and was left out.',
    'A tool has changed the mesh and kept the note of it. What was there before is in the master.',
  ),
  'gltf.ring': entry(
    'warning',
    '“{name}” hangs under itself or under two nodes. It stands under the first alone.',
    'Put it in its place again.',
  ),
  'gltf.other-scenes': entry(
    'info',
    'The file has more than the scene that it shows; {nodes} [node|nodes|nodes] of the others came in hidden.',
    'Show them, or remove them.',
  ),
  'gltf.instances': entry(
    'info',
    '“{name}” stands in {total} [place|places|total] by one list of the file; each is a part now, and all show one mesh.',
    'Nothing to do.',
  ),
  'gltf.skin-placed': entry(
    'info',
    '{parts} [stands|stand|count] where [its|their|count] joints hold [it|them|count]: where joints move a mesh, the place of its node doesn’t count.',
    'Nothing to do. Viewers show it there as well.',
  ),
  'gltf.skin-posed': entry(
    'info',
    'The joints of {parts} stand otherwise than when the mesh was bound to them: a viewer shows it posed, Kelbo as it was bound.',
    'Nothing to do. The pose travels with the joints.',
  ),
  'gltf.kept': entry(
    'info',
    'The file also holds {what} ({objects}). Kelbo has no use for them and writes them back as they came.',
    'Nothing to do. They travel in glTF only.',
  ),
  'gltf.shape-values': entry(
    'info',
    'Shape {place} also changes {what}, which Kelbo has no use for; it was left out.',
    'Keep the file itself for what it holds.',
  ),
  'gltf.looks': entry(
    'info',
    'The file has {count} [look|looks] of its materials beside the one that it shows ({names}). They are kept as they came.',
    'Nothing to do. They travel in glTF only; the materials that they show stand in the list of materials.',
  ),
  'gltf.looks-apart': entry(
    'warning',
    'Mesh {mesh} shows one material in two pieces that its looks paint differently; primitive {primitive} goes by those of the first.',
    'Give the two pieces a material each before the looks are made.',
  ),
  'gltf.image-kind': entry(
    'warning',
    '“{file}” is an image of a kind that glTF doesn’t take; it was left out.',
    'Remap the materials for glTF first: the maps are made anew as PNG.',
  ),
  'gltf.map-channels': entry(
    'warning',
    'The map “{file}” ({slot}) lies otherwise than glTF reads it and was left out.',
    'Remap the materials for glTF first: channels are put where they belong.',
  ),
} as const satisfies Record<string, CatalogueEntry>
