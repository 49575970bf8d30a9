/** Sentences about materials and maps that are rewired and drawn. */
import { entry, type CatalogueEntry } from './entry.ts'

export const SURFACE_MESSAGES = {
  'remap.bad-rules': entry(
    'error',
    'The rules can’t be used: {what}.',
    'Write them as { "rules": [ { "material": "brass*", "parameter": "roughness", "value": 0.4 } ] }.',
  ),
  'remap.bad-surface': entry(
    'error',
    'The surface can’t be used: {what}.',
    'Write it as { "model": "openpbr", "parameters": { "base_color": [0.8, 0.4, 0.2] } }.',
  ),
  'remap.bad-model': entry(
    'error',
    'The surface model can’t be used: {what}.',
    'Write it as { "name": "…", "slots": [ { "name": "diffuse", "kind": "color", "from": "baseColor" } ] }.',
  ),
  'remap.map-without-meaning': entry(
    'warning',
    'Nothing in the name of “{file}” says what it is for: it was left out.',
    'Name it by what it shows (base colour, roughness, normal ...), or say it in a rule.',
  ),
  'remap.map-doubtful': entry(
    'warning',
    '“{file}” may be for {slot}: {why}. It was left out.',
    'Say what it is for in a rule, or in its name.',
  ),
  'remap.set-doubtful': entry(
    'warning',
    'The maps “{set}” may be of {materials}: they were left out.',
    'Say whose they are: "sets": { "{set}": "…" } in the rules.',
  ),
  'remap.set-without-material': entry(
    'warning',
    'The maps “{set}” fit no material by name: they were left out.',
    'Say whose they are: "sets": { "{set}": "…" } in the rules.',
  ),
  'remap.material-without-maps': entry(
    'info',
    'Nothing in the folder is for the material “{material}”.',
    'It keeps the values that it has.',
  ),
  'remap.doubled-maps': entry(
    'warning',
    '“{taken}” was taken; for the same use there is also {left}.',
    'Take the others out of the folder, or say in a rule which one is meant.',
  ),
  'remap.tiles-missing': entry(
    'warning',
    '“{file}” has no tile {tiles}, which other maps of its set have.',
    'Export that tile again: it is drawn black or not at all where it is missing.',
  ),
  'remap.sizes-differ': entry(
    'info',
    'The maps “{set}” are of several sizes: {sizes}.',
    'That is fine where it is meant.',
  ),
  'remap.shapes-differ': entry(
    'warning',
    '“{file}” is {width} × {height} pixels, of another shape than “{other}” of its set: one of them is stretched.',
    'Export it again in the shape of the others.',
  ),
  'remap.raw-as-color': entry(
    'warning',
    '“{file}” is for {slot}, which is no colour, and says of itself that it is sRGB.',
    'A renderer that believes the file bends its values. The copy beside the model no longer says so where it is a PNG; take others as plain numbers there.',
  ),
  'remap.few-bits': entry(
    'info',
    '“{file}” is for {slot} and has 8 bits: steps may show.',
    'Export it with 16 bits where the surface is smooth.',
  ),
  'remap.bad-image': entry(
    'warning',
    '“{file}” can’t be read as an image{why}: it was left out.',
    'Export it again.',
  ),
  'remap.image-not-made': entry(
    'warning',
    'The map “{path}” could not be made: {why}.',
    'Save its source as PNG, JPEG, TIFF or WebP and try again.',
  ),
  'remap.direction-unknown': entry(
    'info',
    'Which way green points in the normals “{file}” can’t be told from its name nor its pixels.',
    'Compare a known bump; a map that is the wrong way round makes bumps into dents.',
  ),
  'remap.direction-differs': entry(
    'warning',
    'The name of “{file}” says that green points {named}, its pixels say {found}.',
    'Compare a known bump before it is used. The pixels were believed.',
  ),
  'remap.out-of-range': entry(
    'warning',
    '“{material}” has {parameter} {value}, beyond {least} to {most}.',
    'It is carried as it is. Set what was meant in a rule.',
  ),
  'remap.rule-fits-nothing': entry(
    'warning',
    'Rule {number} ({what}) fits nothing here.',
    'Look how the material and the parameter are spelt.',
  ),
  'one-map.nothing': entry(
    'error',
    'No polygon lies in the UV set “{set}” with one of these materials: there is nothing to draw.',
    'Choose another set, or other materials.',
  ),
  'one-map.no-uvs': entry(
    'error',
    'This model has no UVs: there is nothing that maps could be drawn into.',
    'Give it UVs in the tool that makes them.',
  ),
  'one-map.many-tiles': entry(
    'error',
    'The UV set “{set}” lies over {tiles} squares: more than {most} can’t be drawn into.',
    'Choose a set whose islands lie beside each other; one that repeats a pattern is none.',
  ),
  'one-map.without-set': entry(
    'warning',
    'The part “{part}” has no UV set “{set}”: it keeps its own materials.',
    'Give it such a set, or choose one that all parts have.',
  ),
  'one-map.left-out': entry(
    'warning',
    '{count} [polygon has|polygons have] corners outside the UVs of the set “{set}”: [it keeps its own material|they keep their own materials].',
    'Give them UVs in squares from 1001 on.',
  ),
  'one-map.shared': entry(
    'warning',
    'In the set “{set}” islands lie over each other: {share} % of the pixels that are used. The polygon that comes first was drawn there.',
    'That is fine for twins that show the same. Else choose or make a set without overlaps.',
  ),
  'one-map.differs': entry(
    'warning',
    '{parameter} differs between the materials and takes no map: {taken} was taken, and {others} [has|have|others] another.',
    'Leave materials apart that have to differ in it: name those that become one.',
  ),
  'one-map.not-drawn': entry(
    'warning',
    'The map “{file}” was not drawn: {why}.',
    'Look at that file, and draw again.',
  ),
  'one-map.blend': entry(
    'info',
    '“{file}” is laid over in a way (number {blend}) that is not known here: it was laid over by its opacity.',
    'Compare the result with what you see in the tool it comes from.',
  ),
  'one-map.light': entry(
    'info',
    'Values of “{file}” are brighter than white: the drawn map ends at white.',
    'Raise the strength of the light where it has to be brighter.',
  ),
} as const satisfies Record<string, CatalogueEntry>
