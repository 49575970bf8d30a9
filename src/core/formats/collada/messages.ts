/** What is said of COLLADA files. */
import { entry, type CatalogueEntry } from '../../base/messages/catalogue.ts'

export const COLLADA_MESSAGES = {
  'collada.xml': entry(
    'error',
    'This COLLADA can’t be read: {what}.',
    'Export it again, and check that it was copied whole.',
  ),
  'collada.version': entry(
    'warning',
    'The file says that it is of version {version}; Kelbo knows 1.4 and 1.5, and read it as one of these.',
    'Look whether all is there; else export it as 1.4.1.',
  ),
  'collada.part': entry(
    'error',
    '{place} was left out: {why}.',
    'Export it again; the program that wrote it has a fault, or the file was cut.',
  ),
  'collada.index-out-of-range': entry(
    'error',
    'In “{name}” a polygon asks for {kind} {value}, but there are only {available}. It was left out.',
    'Export the model again; the file is damaged or cut.',
  ),
  'collada.short-face': entry(
    'error',
    'In “{name}” a polygon with {corners} [corner|corners|corners] was left out.',
    'A polygon needs three corners. Clean the mesh where it was made.',
  ),
  'collada.number': entry(
    'warning',
    '“{text}” is not a number and was read as 0.',
    'The program that wrote the file has a fault in its numbers.',
  ),
  'collada.hole': entry(
    'info',
    'In “{name}” {count} [polygon has|polygons have] holes; each was cut open to its border, so that it is one polygon.',
    'Nothing to do. It looks the same.',
  ),
  'collada.missing': entry(
    'warning',
    '{place} names “{id}”, which is not in the file.',
    'Look whether something is missing, and export it again.',
  ),
  'collada.ring': entry(
    'warning',
    '“{name}” hangs under itself. It was set free.',
    'Put it in its place again.',
  ),
  'collada.kept': entry(
    'info',
    'The file also holds {what}. Kelbo has no use for it and writes it back as it came.',
    'Nothing to do. It travels in COLLADA only.',
  ),
  'collada.geometry': entry(
    'warning',
    '“{name}” is made of {what} and was left out: Kelbo works with polygons.',
    'Turn it into polygons where it was made.',
  ),
  'collada.stale': entry(
    'warning',
    'What the file keeps beside “{name}” ({what}) no longer fits its polygons and was left out.',
    'A tool has changed the mesh and kept the note of it. What was there before is in the master.',
  ),
} as const satisfies Record<string, CatalogueEntry>
