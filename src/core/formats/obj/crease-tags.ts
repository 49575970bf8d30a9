/**
 * Tag lines of creases: `t crease 2/1/0 a b s` and `t corner 1/1/0 a s`, vertices counted from 0. Source: the example
 * shapes of OpenSubdiv.
 */
import type { MessageCollector } from '../../base/messages/collector.ts'

export interface CreaseTags {
  /** Three numbers a creased edge: its two vertices, its sharpness. */
  readonly creases: number[]
  /** Two numbers a sharp corner: its vertex, its sharpness. */
  readonly corners: number[]
  /** Takes what stands behind the `t`; what makes no sense is told: `obj.unknown-statement`, `obj.crease-unreadable`. */
  readonly read: (text: string, line: number) => void
}

/** No tags yet. */
export function createCreaseTags(messages: MessageCollector): CreaseTags {
  const creases: number[] = []
  const corners: number[] = []
  return {
    creases,
    corners,
    read(text, line) {
      const match = /^(\S+)\s+(\d+)\/(\d+)\/(\d+)\s*(.*)$/.exec(text)
      const kind = match?.[1]
      if (!match || (kind !== 'crease' && kind !== 'corner')) {
        messages.add('obj.unknown-statement', { keyword: `t ${kind ?? text}`.slice(0, 40) }, line)
        return
      }
      const integers = Number(match[2])
      const floats = Number(match[3])
      const values = match[5]!.split(/\s+/).filter(Boolean).map(Number)
      const usable =
        floats >= 1 &&
        integers >= (kind === 'crease' ? 2 : 1) &&
        values.length >= integers + floats &&
        values.every(Number.isFinite) &&
        values.slice(0, integers).every((value) => Number.isInteger(value) && value >= 0)
      if (!usable) {
        messages.add('obj.crease-unreadable', {}, line)
        return
      }
      const sharpness = (place: number): number => values[integers + Math.min(place, floats - 1)]!
      if (kind === 'crease')
        for (let place = 0; place + 1 < integers; place++)
          creases.push(values[place]!, values[place + 1]!, sharpness(place))
      else for (let place = 0; place < integers; place++) corners.push(values[place]!, sharpness(place))
    },
  }
}
