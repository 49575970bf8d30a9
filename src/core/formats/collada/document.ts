/** A document with what its addresses lead to. Source: COLLADA 1.4.1, chapter 3. */
import type { MessageCollector } from '../../base/messages/collector.ts'
import { walk, type XmlDocument, type XmlElement } from './xml.ts'

export interface ColladaDocument extends XmlDocument {
  readonly messages: MessageCollector
  /** The element that an address (`#id`) leads to; null where there is none, which is told. @param place who asks. */
  readonly find: (address: string | undefined, place: string) => XmlElement | null
}

export function openDocument(xml: XmlDocument, messages: MessageCollector): ColladaDocument {
  const byId = new Map<string, XmlElement>()
  for (const element of walk(xml.root)) {
    const { id } = element.attributes
    if (id !== undefined && !byId.has(id)) byId.set(id, element)
  }
  return {
    ...xml,
    messages,
    find: (address, place) => {
      const id = (address ?? '').replace(/^[^#]*#/, '')
      const found = byId.get(id) ?? null
      if (!found) messages.add('collada.missing', { place, id: id.slice(0, 80) })
      return found
    },
  }
}
