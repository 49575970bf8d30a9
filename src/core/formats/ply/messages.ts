/** What is said of PLY files. */
import { entry, type CatalogueEntry } from '../../base/messages/catalogue.ts'

export const PLY_MESSAGES = {
  'ply.header': entry(
    'error',
    'The head of this PLY can’t be read: {what}.',
    'Export it again; the head says what the file holds.',
  ),
  'ply.cut': entry(
    'error',
    'The file breaks off after {found} of {stated} [entry|entries|stated] of “{element}”. What is there was read.',
    'Export it again, and check that it was copied whole.',
  ),
  'ply.number': entry(
    'warning',
    '“{text}” is not a number and was read as 0.',
    'The program that wrote the file has a fault in its numbers.',
  ),
  'ply.few-numbers': entry(
    'error',
    'A line has fewer numbers than the head of the file says; those missing are nowhere.',
    'The file is damaged there. Export it again.',
  ),
  'ply.index-out-of-range': entry(
    'error',
    'A polygon asks for point {value}, but there are only {available}. It was left out.',
    'Export the model again; the file is damaged or cut.',
  ),
  'ply.short-face': entry(
    'error',
    'A polygon with {corners} [corner|corners|corners] was left out.',
    'A polygon needs three corners. Clean the mesh where it was made.',
  ),
  'ply.joined': entry(
    'info',
    'The file had split points at seams and hard edges: {joined} [was|were|joined] joined with others, and {points} [point is|points are|points] there now.',
    'Nothing to do. Reading without joining leaves them apart.',
  ),
  'ply.left': entry(
    'info',
    'The entries “{element}” ({entries}) mean nothing to Kelbo and were left out.',
    'Keep the file itself for them.',
  ),
} as const satisfies Record<string, CatalogueEntry>
