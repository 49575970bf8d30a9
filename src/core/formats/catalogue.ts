/** The whole catalogue: what is said of any file, and what each format says of its own. */
import {
  BASE_MESSAGES,
  type CatalogueEntry,
  type MessageCode,
  type MessageParameters,
} from '../base/messages/catalogue.ts'
import { renderText } from '../base/messages/render.ts'
import { FORMATS } from './registry.ts'

export const CATALOGUE: Readonly<Record<MessageCode, CatalogueEntry>> = Object.assign(
  {},
  BASE_MESSAGES,
  ...FORMATS.map((format) => format.messages),
) as Record<MessageCode, CatalogueEntry>

/** The entry of a code; one that nobody knows is said as it is, so that nothing is lost for it. */
export const entryOf = (code: MessageCode): CatalogueEntry =>
  CATALOGUE[code] ?? { severity: 'error', text: `${code}.`, advice: 'Tell the people who look after Kelbo.' }

/** The sentence of a code. */
export const messageText = (code: MessageCode, parameters: MessageParameters): string =>
  renderText(entryOf(code).text, parameters)
