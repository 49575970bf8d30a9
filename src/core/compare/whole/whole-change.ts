import type { Matrix } from '../../base/math/matrix.ts'

/** What happened to a returned model as a whole, as it is told: at least one of the first four is there. */
export interface WholeTold {
  /** How many times as large it came back; 1: as it was. */
  readonly factor: number
  /** How it lies, in words; null where it stands as it did. */
  readonly turn: { readonly text: string } | null
  /** The axis of the master's space across which it was mirrored; null where it was not. */
  readonly mirror: string | null
  /** How far it stands from its place once it has its size and turn again; null where it stands there. */
  readonly move: { readonly text: string } | null
  /** Found from points that correspond; where hardly any do, from where surfaces lie, or from the boxes of the parts alone. */
  readonly by: 'points' | 'surfaces' | 'boxes'
}

/** With what undoes it. */
export interface WholeChange extends WholeTold {
  readonly undo: WholeUndo
}

/** What brings the numbers of the returned scene back, in its own space: first the turn, then the ratio, then the move. */
export interface WholeUndo {
  /** 4x4, column-major, of axes alone: orthogonal; it mirrors where the model was mirrored. */
  readonly turn: Matrix
  readonly ratio: number
  readonly move: readonly [number, number, number]
  /** The points are as they were and the transforms above them say it: only what stands at the top is to be placed. */
  readonly atTheTop: boolean
}
