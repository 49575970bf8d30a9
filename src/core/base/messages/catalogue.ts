import { entry, type CatalogueEntry } from './entry.ts'
import type { TextParameters } from './render.ts'
import { SURFACE_MESSAGES } from './surface-messages.ts'

export { entry, type CatalogueEntry, type Severity } from './entry.ts'

/**
 * What can be said about a user's file, whatever its format; a format has sentences of its own beside its reader, and
 * `formats/catalogue.ts` puts all together. A finding carries a code and parameters; texts are
 * rendered from here at the edge, so that workers pass no sentences. `{name}` stands for a parameter.
 */
export const BASE_MESSAGES = {
  'file.empty': entry('error', 'The file is empty.', 'Export it again and check its size before sending it.'),
  'file.commas': entry(
    'info',
    'Numbers of the file have decimal commas, and were read as if they were points.',
    'Nothing to do. Other tools may refuse the file: write it again from here.',
  ),
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
  'landing.no-trip': entry(
    'warning',
    'It landed in the hand-off folder, and no trip that is out has a model like it.',
    'Say which trip it is of, or set it aside. The files stay where they lie.',
  ),
  'landing.several-trips': entry(
    'warning',
    'It landed in the hand-off folder and may be of several trips.',
    'Say which trip it is of.',
  ),
  'landing.already-back': entry(
    'warning',
    'It landed in the hand-off folder, and something has come back from its trip already.',
    'Take it in the place of that, or set it aside.',
  ),
  'landing.unreadable': entry(
    'warning',
    'It landed in the hand-off folder and can’t be fetched from there: {reason}.',
    'Look whether it lies on a disk that is gone. It is tried again when it changes.',
  ),
  'package.no-model': entry(
    'error',
    'There is no model among these files.',
    'Drop a model file with what lies beside it, or a ZIP that holds them.',
  ),
  'package.respaced': entry(
    'info',
    '“{file}” was in another unit or stood on other axes; it was brought to those of “{other}”.',
    'Nothing to do. Read it alone to keep its own numbers.',
  ),
  'package.unit-assumed': entry(
    'warning',
    '“{file}” states no unit; its numbers were taken to be in the unit of “{other}”.',
    'Look at the sizes. If they are wrong, say the unit of the file when it is brought in.',
  ),
  'package.document': entry(
    'info',
    '“{file}” lay beside the model and describes {count} of its materials.',
    'Nothing to do. What the model itself says of a material goes first.',
  ),
  'package.document-left': entry(
    'info',
    'The model describes the material “{name}” itself; what “{file}” says of it was left.',
    'Leave the document out, or take the material out of the model, if the other is meant.',
  ),
  'package.document-unread': entry(
    'warning',
    'The materials of “{file}” can’t be read: {what}.',
    'Export it again; the model was read without it.',
  ),
  'package.material-renamed': entry(
    'warning',
    '“{name}” of “{file}” is another material than the one of that name before it, and is called “{to}”.',
    'Put one in place of the other if they are meant to be the same.',
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
  'write.nothing': entry(
    'error',
    'Nothing of this model would be in a file of {format}.',
    'Choose another format, or parts of which it can hold something. Nothing was written.',
  ),
  'write.file-empty': entry(
    'warning',
    'Nothing would be in “{name}”; it was left out.',
    'Choose another format if what it was for has to travel.',
  ),
  'write.unit-assumed': entry(
    'warning',
    'The model states no unit, and {format} has to: the file says that one is {unit}.',
    'Say the unit on reading, as unitMeters=0.01, or scale the file to its known size.',
  ),
  'write.stays': entry(
    'warning',
    'The {what} stays as the scene has it: the file’s settings alone only state it, and nothing is converted.',
    'To convert, let it go into the points, or for the unit into a scale on the roots.',
  ),
  'write.not-converted': entry(
    'warning',
    'The model was turned or scaled since it was read; this stays as it stood in its file: {what}.',
    'Write the file in the unit and axes that it came in where these matter.',
  ),
  'write.moved-animation': entry(
    'warning',
    '{count} animated [part was|parts were] moved or baked since the file was read; the keys still say where [it stood|they stood]: {parts}.',
    'Undo the steps that move or bake animated parts, or set their keys anew in the tool that animates.',
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
  'return.parts-merged': entry(
    'info',
    '{parts} came back [inside|as] one part, {as}; [it was|they were] taken out again by [its|their] polygons.',
    'Look at them in the views; what is of none of them stays in a part of its own.',
  ),
  'return.subdivided': entry(
    'info',
    '{parts} came back subdivided [once|{count} times] ({scheme}; {faces} polygons): the cage was found again, and its points stand where they came back[?rest|; {rest} [polygon|polygons|rest] that [was|were|rest] edited after that [stays|stay|rest] as fine as [it|they|rest] came].',
    'What was sculpted between the cage’s points stays in the returned file, which the trip keeps. A polygon of which a part alone has another material, group or smoothing is told by that part.',
  ),
  'return.panels': entry(
    'info',
    '{parts} came back as {count} [panel|panels] in other polygons: the master’s were laid over them by their UVs, and seams were closed[?gap| that stood open by {gap} at most].',
    'Folds that are finer than the master’s polygons stay in the returned file, which the trip keeps.',
  ),
  'return.layout-undone': entry(
    'info',
    'The layout of UVs came back {how}; it was brought back to where it lay.',
    'Maps that were painted since go by the layout as it came back.',
  ),
  'return.part-cut': entry(
    'info',
    '{parts} came back in {pieces} parts, {as}; [it was|they were] put together again.',
    'Where it was cut, points that were split are joined when its polygons are taken.',
  ),
  'return.parts-regrouped': entry(
    'info',
    '{parts} came back regrouped as {as}; they were sorted by their polygons.',
    'Look at them in the views; what is of none of them stays in a part of its own.',
  ),
  'reconcile.gone-here': entry(
    'warning',
    '“{name}” was taken out of the master meanwhile; what came back for it is left out.',
    'Bring it in again from the version that left where it is still wanted.',
  ),
  'reconcile.over-surface': entry(
    'warning',
    '{count} [polygon|polygons] of “{name}” [has|have] no counterpart and took {what} from the master’s nearest surface, {farthest} away at most[?doubtful|; {doubtful} [lies|lie|doubtful] far off or [faces|face|doubtful] another way][?seams|; {seams} [lies|lie|seams] across a seam and [has|have|seams] UVs of its one side].',
    'Look at them before it leaves again: nothing says for certain that the tool meant the same place.',
  ),
  'reconcile.edges-not-led': entry(
    'warning',
    '{count} of {total} {what} of “{name}” [finds|find] no edges of the new polygons that run where [it|they] ran, and [is|are] left out.',
    'Set them again on the new polygons, or keep the master’s.',
  ),
  'reconcile.seam-across': entry(
    'warning',
    'On “{name}” a seam of the returned UVs runs across {count} [polygon|polygons], along the diagonal that [it was|they were] cut by; a whole polygon can’t hold it, so one side of the seam was taken.',
    'Take the polygons along with the UVs to keep the seam, or lay it along edges of the master.',
  ),
  'reconcile.points-stay': entry(
    'warning',
    'On “{name}” {count} of {total} points [has|have|count] no counterpart and [stays|stay|count] where the master has [it|them|count], beside others that moved.',
    'Take the polygons along with the points to have the surface as it came back.',
  ),
  'reconcile.own-mesh': entry(
    'info',
    '“{name}” showed the same mesh as “{others}”, and only it has changed: it has a mesh of its own now.',
    'To change all of them, take the same traits for all.',
  ),
  'reconcile.own-material': entry(
    'info',
    'The material “{name}” was taken for {parts} only; it is called “{to}” there, and the other parts keep theirs.',
    'To change it everywhere, take the surfaces of all parts that have it.',
  ),
  'reconcile.material-renamed': entry(
    'info',
    '“{name}” of the new part “{part}” is another material than the master’s of that name, and is called “{to}”.',
    'Put one in place of the other if they are meant to be the same.',
  ),
  'reconcile.respaced': entry(
    'info',
    'The model was brought to the returned file’s {what}; nothing of it became larger or smaller.',
    'Nothing to do. Leave the scene out to keep the master’s own.',
  ),
  'step.refused': entry(
    'error',
    '{reason} Nothing was changed.',
    'Change the step, or take it out of the recipe.',
  ),
  'delivery.unknown-part': entry(
    'error',
    '{count} chosen [part|parts] [is|are] not in this version. Nothing was written.',
    'Choose the parts again.',
  ),
  'delivery.polygons': entry(
    'warning',
    '{count} [polygon has|polygons have] more than three corners, and this destination takes triangles.',
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
  'version.moved-on': entry(
    'error',
    'Version {newest} was made meanwhile. What you have stands on version {based}, without what changed since. Nothing was overwritten.',
    'Look at the newer version first; or make yours the newest all the same: both stay in the history.',
  ),
  'trip.other-return': entry(
    'error',
    'Another file came back from this trip meanwhile. It was not replaced.',
    'Look at what came back; bring your own back again to put it in its place.',
  ),
  'trip.settled': entry(
    'error',
    'A version was made of this trip meanwhile; there is nothing left to close or to wait for.',
    'Look at the route: the version stands on it.',
  ),
  'archive.broken': entry(
    'error',
    'This is no whole file of an asset: it was cut off or changed. Nothing was brought in.',
    'Export the asset again where it came from.',
  ),
  'archive.newer': entry(
    'error',
    'This file was made by a newer Kelbo than this one. Nothing was brought in.',
    'Bring it in with the newer one.',
  ),
  'delivery.renamed': entry(
    'info',
    'The [name of one of the {what} is|names of {count} {what} are] written as the tool takes [it|them]: “{from}” as “{to}”. On return [it is known by its|they are known by their] own again.',
    'Nothing to do; other rules of names are set with the destination.',
  ),
  'upload.too-large': entry(
    'error',
    'These files are more than {limit} together, or more than {files} of them. Nothing was brought in.',
    'Bring them in one after the other, or without maps that the model does not need.',
  ),
  'upload.stalled': entry(
    'error',
    'Nothing came for {seconds} seconds, so the upload was given up. Nothing was brought in.',
    'Look at the connection, then try again.',
  ),
  'job.stalled': entry(
    'error',
    'The work showed no progress for {minutes} minutes and was ended. Nothing was saved.',
    'Try again with fewer or simpler parts; if it happens with every model, look at what the server printed.',
  ),
  'job.no-database': entry(
    'error',
    'The database could not be reached while this was done. Nothing was saved.',
    'Try again when it is back.',
  ),
  'store.disk-full': entry(
    'error',
    'There is no room left on the disk. Nothing was saved.',
    'Make room on the disk that the database or the temporary folder lies on, then try again.',
  ),
  ...SURFACE_MESSAGES,
  'job.cancelled': entry('info', 'Cancelled. Nothing was saved.', 'Start it again whenever you like.'),
} as const satisfies Record<string, CatalogueEntry>

/** A code of the catalogue; a test holds codes and sentences together. */
export type MessageCode = string
export type MessageParameters = TextParameters

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

/** Where in the file, in words; empty when unknown. */
export function messagePlace(finding: Finding): string {
  const parts: string[] = []
  if (finding.file) parts.push(finding.file)
  if (finding.line !== null) parts.push(`line ${finding.line}`)
  if (finding.byte !== null) parts.push(`byte ${finding.byte}`)
  return parts.join(', ')
}
