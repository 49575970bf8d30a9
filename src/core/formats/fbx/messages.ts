/** What is said of FBX files. */
import { entry, type CatalogueEntry } from '../../base/messages/catalogue.ts'

export const FBX_MESSAGES = {
  'fbx.version': entry(
    'error',
    'This FBX is of version {version}; Kelbo reads 6.1 and later.',
    'Export it again, as FBX 2010 or newer.',
  ),
  'fbx.header': entry(
    'error',
    'The beginning of this FBX is damaged, as if it had been copied as text.',
    'Copy it again as a binary file, or export it once more.',
  ),
  'fbx.damaged': entry(
    'error',
    'The file is damaged: {what}. What can be read of it was read.',
    'Export it again, and check that it was copied whole.',
  ),
  'fbx.number': entry(
    'warning',
    '“{text}” is not a number and was read as 0.',
    'The program that wrote the file has a fault in its numbers.',
  ),
  'fbx.short-face': entry(
    'error',
    'A polygon with {corners} [corner|corners|corners] was left out.',
    'A polygon needs three corners. Clean the mesh where it was made.',
  ),
  'fbx.index-out-of-range': entry(
    'error',
    'A polygon asks for {kind} {value}, but there are only {available}. The polygon was left out.',
    'Export the model again; the file is damaged or cut.',
  ),
  'fbx.layer': entry(
    'warning',
    'The layer “{layer}” is spread in a way that is not known (“{mapping}”) and was left out.',
    'Export it again with common settings.',
  ),
  'fbx.layer-unknown': entry(
    'warning',
    'The layer “{layer}” is of a kind that Kelbo doesn’t know and was left out.',
    'Keep the file itself for it.',
  ),
  'fbx.doubled-id': entry(
    'warning',
    'Two objects have the number “{id}”; the first counts.',
    'Export it again; the program that wrote it counts wrongly.',
  ),
  'fbx.checksum': entry(
    'warning',
    'The checksum of a compressed array is wrong. The numbers were read all the same.',
    'Look closely at the model, or export it again: a byte of it was changed on the way.',
  ),
  'fbx.ring': entry(
    'warning',
    '“{name}” hangs under itself. It was set free and stands at the root.',
    'Put it in its place again.',
  ),
  'fbx.kept': entry(
    'info',
    'The file also holds {what} ({objects} [object|objects|objects]). Kelbo has no use for [it|them|objects] and writes [it back as it|them back as they|objects] came.',
    'Nothing to do. They travel in FBX only.',
  ),
} as const satisfies Record<string, CatalogueEntry>
