/** Pixels in memory: rows from the top, channels side by side. */
export interface Pixels {
  readonly width: number
  readonly height: number
  readonly channels: 1 | 2 | 3 | 4
  /** 8 and 16 bits hold whole steps of 255 and 65535; 32 are floats as they are. */
  readonly bits: 8 | 16 | 32
  /** width x height x channels. */
  readonly values: Uint8Array | Uint16Array | Float32Array
}

/** What the largest whole step stands for; 1 for floats. */
export const fullScale = ({ bits }: Pick<Pixels, 'bits'>): number =>
  bits === 8 ? 255 : bits === 16 ? 65535 : 1
