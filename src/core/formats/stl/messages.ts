/** What is said of STL files. */
import { entry, type CatalogueEntry } from '../../base/messages/catalogue.ts'

export const STL_MESSAGES = {
  'stl.cut': entry(
    'error',
    'The file breaks off after {found} of {stated} triangles. What is there was read.',
    'Export it again, and check that it was copied whole.',
  ),
  'stl.uncounted': entry(
    'warning',
    'The file states no triangles and has room for {found}, which [was|were|found] read.',
    'The program that wrote the file has a fault there; other tools may see nothing in it. Look whether it is the model.',
  ),
  'stl.behind': entry(
    'info',
    '{behind} [byte|bytes|behind] behind the last triangle [means|mean|behind] nothing in an STL and [was|were|behind] left out.',
    'Nothing to do, if the model is whole.',
  ),
  'stl.word': entry(
    'warning',
    '“{text}” means nothing in an STL and was passed over.',
    'The program that wrote the file has a fault there; look whether something is missing.',
  ),
  'stl.number': entry(
    'error',
    'A coordinate is not a finite number (“{text}”) and was read as 0.',
    'Find the point on the plane of 0 and mend it; the model was damaged before it was exported.',
  ),
  'stl.few-numbers': entry(
    'error',
    'A corner has fewer than three numbers; those missing were read as 0.',
    'The file is damaged at this line. Export it again.',
  ),
  'stl.short-face': entry(
    'error',
    'A triangle with {corners} [corner|corners|corners] was left out.',
    'A triangle has three corners. Export it again.',
  ),
  'stl.turned': entry(
    'warning',
    '{count} of {total} triangles [has|have] a normal that points to their back. The order of their corners counts.',
    'Look at the back faces; “Turn polygons” turns what lies inside out.',
  ),
  'stl.joined': entry(
    'info',
    'An STL has three points a triangle: {joined} [was|were|joined] joined with others, and {points} [point is|points are|points] there now.',
    'Nothing to do. Reading without joining leaves them apart.',
  ),
} as const satisfies Record<string, CatalogueEntry>
