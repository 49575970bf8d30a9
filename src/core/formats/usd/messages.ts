/** What is said of USD files. */
import { entry, type CatalogueEntry } from '../../base/messages/catalogue.ts'

export const USD_MESSAGES = {
  'usd.text': entry(
    'error',
    'This USD text can’t be read: line {number}: {what}.',
    'Export it again, and check that it was copied whole.',
  ),
  'usd.crate': entry(
    'error',
    'This binary USD can’t be read: {what}.',
    'Export it again, or as text (.usda), and check that it was copied whole.',
  ),
  'usd.crate-version': entry(
    'error',
    'This binary USD is of version {version}; Kelbo knows 0.0 to 0.13.',
    'Export it as text (.usda).',
  ),
  'usd.package': entry(
    'error',
    'This USD package holds no USD file that can be read.',
    'Export it again, or its files one by one.',
  ),
  'usd.value-left': entry(
    'warning',
    '{place}: a value of a kind that Kelbo does not know ({what}) was left out.',
    'Export it as text (.usda) if it matters.',
  ),
  'usd.part': entry(
    'error',
    '{place} was left out: {why}.',
    'Export it again; the program that wrote it has a fault, or the file was cut.',
  ),
  'usd.index-out-of-range': entry(
    'error',
    'In “{name}” a polygon asks for point {value}, but there are only {available}. It was left out.',
    'Export the model again; the file is damaged or cut.',
  ),
  'usd.short-face': entry(
    'error',
    'In “{name}” a polygon with {corners} [corner|corners|corners] was left out.',
    'A polygon needs three corners. Clean the mesh where it was made.',
  ),
  'usd.values': entry(
    'warning',
    'In “{name}” {what} does not fit the polygons: {found} [value|values|found] where {wanted} [is|are|wanted] asked for. It was left out.',
    'Export the model again; what is in the master can be taken from there.',
  ),
  'usd.missing-layer': entry(
    'warning',
    '“{file}”, which the model takes in, is not in the package.',
    'Drop it together with the file that names it.',
  ),
  'usd.missing-prim': entry(
    'warning',
    '{place} names “{path}”, which is not in the file.',
    'Look whether something is missing, and export it again.',
  ),
  'usd.ring': entry(
    'warning',
    '“{path}” takes in itself. That was left out.',
    'Mend the references where it was made.',
  ),
  'usd.too-many': entry(
    'warning',
    'What hangs under “{path}” was left out: there are more than {limit} prims.',
    'Export fewer instances at once.',
  ),
  'usd.variant': entry(
    'info',
    '“{name}” has variants of “{set}”; “{variant}” is the one that was read.',
    'Choose another where it was made, and export it again.',
  ),
  'usd.texture-scaled': entry(
    'warning',
    'The file multiplies or moves the values of “{file}” ({parameter}: scale {scale}, bias {bias}); the map is taken as it is.',
    'Draw it into the image where that matters, as with “Work on maps”.',
  ),
  'usd.unloaded': entry(
    'info',
    '“{name}” is switched off in the file and was not read.',
    'Switch it on where it was made.',
  ),
  'usd.sampled': entry(
    'info',
    'Points of the model move in the file; it was read as it is at {time}, and is written so.',
    'Nothing to do. Keep the file for its movement.',
  ),
  'usd.unit-fallback': entry(
    'info',
    'The file does not say how large a unit is; most tools then take it for a centimetre.',
    'Say the unit on reading where the size matters.',
  ),
  'usd.instances': entry(
    'info',
    '“{name}” scatters copies; {count} [was|were] read as [a part|parts] of [its|their] own.',
    'Nothing to do. They are written as parts.',
  ),
  'usd.kept': entry(
    'info',
    'The file also holds {what}. Kelbo has no use for it and writes it back as it came.',
    'Nothing to do. It travels in USD only.',
  ),
  'usd.holes': entry(
    'info',
    'In “{name}” {count} [polygon is marked as a hole; it stays a polygon|polygons are marked as holes; they stay polygons] here, with the mark.',
    'Nothing to do.',
  ),
  'usd.stale': entry(
    'warning',
    'What the file keeps beside “{name}” ({what}) no longer fits its polygons and was left out.',
    'A tool has changed the mesh and kept the note of it. What was there before is in the master.',
  ),
  'usd.own-space': entry(
    'info',
    '“{name}” goes by the world and not by what it hangs under; its place was worked out so that it stands where it stood.',
    'Nothing to do.',
  ),
  'usd.purpose': entry(
    'info',
    '“{name}” is there for {purpose}, and not to be drawn in the end; it was read as a part like any other.',
    'Mark it as one that stays at home where it is not to travel.',
  ),
  'usd.map-channels': entry(
    'warning',
    'The map “{file}” ({slot}) lies otherwise than a preview surface reads it and was left out.',
    'Remap the materials for USD Preview Surface first: maps are made as it reads them.',
  ),
  'usd.map-network': entry(
    'info',
    'The map “{file}” ({slot}) lies otherwise than a preview surface reads it: only programs that read the material’s own surface see it.',
    'Remap the materials for USD Preview Surface first where every program should see it.',
  ),
  'usd.texture-worked': entry(
    'warning',
    'The file works on the values of “{file}” ({parameter}) on their way: {nodes}. The map is taken as it is.',
    'Draw it into the image where that matters, as with “Work on maps”.',
  ),
  'usd.image-kind': entry(
    'warning',
    'The map “{file}” is of a kind that packages of the format don’t take; it lies in it all the same.',
    'Make it a PNG or JPEG where the tool shows nothing.',
  ),
  'usd.binding': entry(
    'warning',
    '“{name}” has materials by a collection of parts that can’t be told: it isn’t there, goes by an expression, or is of some of its polygons.',
    'Assign them to the parts where they were made.',
  ),
} as const satisfies Record<string, CatalogueEntry>
