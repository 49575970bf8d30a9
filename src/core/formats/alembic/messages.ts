/** What is said of Alembic files. */
import { entry, type CatalogueEntry } from '../../base/messages/catalogue.ts'

export const ALEMBIC_MESSAGES = {
  'alembic.broken': entry(
    'error',
    'This Alembic can’t be read: {what}.',
    'Export it again (as Ogawa), and check that it was copied whole.',
  ),
  'alembic.old': entry(
    'error',
    'This Alembic is stored in the older way (HDF5), which Kelbo does not read.',
    'Export it again as Ogawa, the newer way of storing it.',
  ),
  'alembic.part': entry(
    'error',
    '{place} was left out: {why}.',
    'Export it again; the program that wrote it has a fault, or the file was cut.',
  ),
  'alembic.index-out-of-range': entry(
    'error',
    'In “{name}” a polygon asks for point {value}, but there are only {available}. It was left out.',
    'Export the model again; the file is damaged or cut.',
  ),
  'alembic.short-face': entry(
    'error',
    'In “{name}” a polygon with {corners} [corner|corners|corners] was left out.',
    'A polygon needs three corners. Clean the mesh where it was made.',
  ),
  'alembic.values': entry(
    'warning',
    'In “{name}” {what} does not fit the polygons: {found} [value|values|found] where {wanted} [is|are|wanted] asked for. It was left out.',
    'Export the model again; what is in the master can be taken from there.',
  ),
  'alembic.sampled': entry(
    'info',
    'The file holds movement of up to {count} samples; the model was read as it is at sample {sample}, and is written so.',
    'Choose another sample on reading, or keep the file for its movement.',
  ),
  'alembic.kept': entry(
    'info',
    'The file also holds {what}. Kelbo has no use for it and writes it back as it came.',
    'Nothing to do. It travels in Alembic only.',
  ),
  'alembic.stale': entry(
    'warning',
    'What the file keeps beside “{name}” ({what}) no longer fits its polygons and was left out.',
    'A tool has changed the mesh and kept the note of it. What was there before is in the master.',
  ),
} as const satisfies Record<string, CatalogueEntry>
