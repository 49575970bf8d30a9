/** What is said of OBJ and MTL files. */
import { entry, type CatalogueEntry } from '../../base/messages/catalogue.ts'

export const OBJ_MESSAGES = {
  'obj.no-faces': entry(
    'info',
    'The file has vertices but no polygons.',
    'Fine for a point cloud; otherwise export the mesh with its faces.',
  ),
  'obj.index-out-of-range': entry(
    'error',
    'A polygon asks for {kind} {value}, but there are only {available}. The polygon was left out.',
    'Export the model again; the file is damaged or cut.',
  ),
  'obj.index-zero': entry(
    'error',
    'A polygon has the {kind} number 0; numbers start at 1. The polygon was left out.',
    'Export the model again; the program that wrote it counts wrongly.',
  ),
  'obj.attribute-out-of-range': entry(
    'warning',
    'A corner asks for {kind} {value}, but there are only {available}. The corner goes without.',
    'Export the model again; the file is damaged or cut.',
  ),
  'obj.short-face': entry(
    'error',
    'A polygon with {corners} [corner|corners|corners] was left out.',
    'A polygon needs three corners. Clean the mesh where it was made.',
  ),
  'obj.malformed-number': entry(
    'warning',
    '“{text}” is not a well-formed number and was read as {value}.',
    'The program that wrote the file has a fault in its numbers.',
  ),
  'obj.not-finite': entry(
    'error',
    'A coordinate is not a finite number (“{text}”) and was read as 0.',
    'Find the point at the origin and mend it; the model was damaged before it was exported.',
  ),
  'obj.missing-number': entry(
    'error',
    '“{keyword}” has too few numbers; those missing were read as 0.',
    'The file is damaged at this line.',
  ),
  'obj.not-read': entry(
    'warning',
    'Free-form curves and surfaces (“{keyword}”) are not read and were left out.',
    'Convert them to polygons before exporting.',
  ),
  'obj.unknown-statement': entry(
    'info',
    'The statement “{keyword}” is not known and was left out.',
    'If it matters, tell which program writes it.',
  ),
  'obj.crease-unreadable': entry(
    'warning',
    'A crease tag can’t be read and was left out.',
    'Its numbers are damaged or point at vertices that don’t exist.',
  ),
  'obj.missing-mtl': entry(
    'warning',
    'The material file “{file}” is not in the package; materials have names only.',
    'Drop it together with the model.',
  ),
  'obj.undefined-material': entry(
    'info',
    'The material “{name}” is used but no material file describes it.',
    'Drop its material file together with the model.',
  ),
  'obj.shared-points': entry(
    'info',
    '{count} [vertex is|vertices are] used by more than one part; each part got its own copy.',
    'Nothing to do. Parts written together share none.',
  ),
  'obj.latin1': entry(
    'info',
    'Names in this file are not UTF-8 and were read as Latin-1.',
    'If a name looks odd, export with UTF-8.',
  ),
  'mtl.malformed': entry(
    'warning',
    '“{keyword}” can’t be read and is kept as it stands.',
    'Nothing is lost.',
  ),
  'mtl.before-newmtl': entry(
    'warning',
    'A statement stands before the first material and was left out.',
    'The material file is damaged.',
  ),
  'mtl.duplicate': entry(
    'warning',
    'The material “{name}” is described twice; the first description counts.',
    'Rename one of them.',
  ),
} as const satisfies Record<string, CatalogueEntry>
