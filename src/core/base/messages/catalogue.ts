/**
 * The catalogue of what can be said about a user's file. A finding carries a code and parameters; texts are
 * rendered from here at the edge, so that workers pass no sentences. `{name}` stands for a parameter.
 */
export type Severity = 'error' | 'warning' | 'info'

export interface CatalogueEntry {
  readonly severity: Severity
  readonly text: string
  /** What the artist can do about it. */
  readonly advice: string
}

const entry = (severity: Severity, text: string, advice: string): CatalogueEntry => ({
  severity,
  text,
  advice,
})

export const CATALOGUE = {
  'file.empty': entry('error', 'The file is empty.', 'Export it again and check its size before sending it.'),
  'file.not-a-model': entry(
    'error',
    'This does not look like a model: no vertices and no polygons were found in it.',
    'Check that the file ending fits what is inside.',
  ),
  'file.unknown-format': entry(
    'error',
    'Kelbo can’t read “{name}”: it knows {known}.',
    'Export the model in one of these formats.',
  ),
  'file.too-large': entry(
    'error',
    'The file is larger than the limit of {limit}.',
    'Split it, or raise the limit.',
  ),
  'package.no-model': entry(
    'error',
    'There is no model among these files.',
    'Drop an OBJ or FBX file, or a ZIP that holds one.',
  ),
  'zip.broken': entry('error', 'The ZIP can’t be opened: {reason}.', 'Pack it again.'),
  'zip.too-large': entry(
    'error',
    'Unpacked, this ZIP would be larger than {limit}; nothing of it was read.',
    'Pack only the model and its maps.',
  ),
  'zip.too-many': entry(
    'error',
    'This ZIP holds more than {limit} entries.',
    'Pack only the model and its maps.',
  ),
  'zip.entry-outside': entry(
    'warning',
    'The entry “{entry}” points outside the ZIP and was left out.',
    'Pack the files with plain names.',
  ),
  'zip.entry-unreadable': entry(
    'warning',
    'The entry “{entry}” can’t be unpacked and was left out.',
    'Pack the files again.',
  ),
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
    'A polygon with {corners} corner(s) was left out.',
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
    '{count} vertices are used by more than one part; each part got its own copy.',
    'Nothing to do. Parts written together share none.',
  ),
  'obj.latin1': entry(
    'info',
    'Names in this file are not UTF-8 and were read as Latin-1.',
    'If a name looks odd, export with UTF-8.',
  ),
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
    'A polygon with {corners} corner(s) was left out.',
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
    'The file also holds {what} ({objects} objects). Kelbo has no use for them and writes them back as they came.',
    'Nothing to do. They travel in FBX only.',
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
  'image.missing': entry(
    'warning',
    'The map “{file}” is not in the package.',
    'Drop it together with the model. Its name is kept.',
  ),
  'image.outside': entry(
    'warning',
    'The map “{file}” points outside the package; it was looked for by its name only.',
    'Nothing to do when it was found; else drop it together with the model.',
  ),
  'write.part-skipped': entry('info', 'The part “{name}” has nothing to write.', 'Nothing to do.'),
  'write.not-converted': entry(
    'warning',
    'Animation, poses and whatever else the file kept stay in the scene’s own unit and axes.',
    'Write the file in the scene’s own unit and axes where they matter.',
  ),
  'write.not-carried': entry(
    'warning',
    '{format} can’t carry {what}.',
    'It is kept in the master for the return.',
  ),
  'match.no-parts': entry(
    'error',
    'None of the returned parts fits a part that was sent.',
    'Check that this is the file that came back from this trip.',
  ),
  'step.refused': entry(
    'error',
    '{reason} Nothing was changed.',
    'Change the step, or take it out of the recipe.',
  ),
  'delivery.polygons': entry(
    'warning',
    '{count} polygons have more than three corners, and this destination takes triangles.',
    'Tick “Cut into triangles”; the master keeps its polygons.',
  ),
  'delivery.normal-maps': entry(
    'info',
    'Normal maps leave as they are; this destination wants green to point {green}: {names}.',
    'Turn the green channel where a map points the other way.',
  ),
  'standin.format': entry(
    'error',
    '{name} can’t read “{file}”: it reads {formats}.',
    'Send the trip in a format that it reads, or take another stand-in.',
  ),
  'job.failed': entry(
    'error',
    'The work stopped on a fault in Kelbo itself.',
    'Nothing was saved. Try again.',
  ),
  'job.lost': entry('error', 'The worker stopped before it had finished.', 'Nothing was saved. Try again.'),
  'job.cancelled': entry('info', 'Cancelled. Nothing was saved.', 'Start it again whenever you like.'),
} as const satisfies Record<string, CatalogueEntry>

export type MessageCode = keyof typeof CATALOGUE
export type MessageParameters = Readonly<Record<string, string | number>>

/** A fact about the user's file. */
export interface Finding {
  readonly code: MessageCode
  readonly parameters: MessageParameters
  /** File or entry name, null for the whole package. */
  readonly file: string | null
  /** 1-based. */
  readonly line: number | null
  /** 0-based byte offset, for binary formats. */
  readonly byte: number | null
  /** How many of this code there were in this file; only the first few are listed one by one. */
  readonly total: number
}

/** Renders a finding's sentence. */
export function messageText(code: MessageCode, parameters: MessageParameters): string {
  return CATALOGUE[code].text.replace(/\{(\w+)\}/g, (_whole, name: string) => String(parameters[name] ?? '?'))
}

/** Where in the file, in words; empty when unknown. */
export function messagePlace(finding: Finding): string {
  const parts: string[] = []
  if (finding.file) parts.push(finding.file)
  if (finding.line !== null) parts.push(`line ${finding.line}`)
  if (finding.byte !== null) parts.push(`byte ${finding.byte}`)
  return parts.join(', ')
}
