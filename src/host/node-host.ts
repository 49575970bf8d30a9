import { NODE_CODEC } from './node-codec.ts'
import { NODE_PIECES } from './node-pieces.ts'

/** All that Node offers to the core. */
export const NODE_HOST = { codec: NODE_CODEC, pieces: NODE_PIECES } as const
