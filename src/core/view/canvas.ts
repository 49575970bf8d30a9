/** Samples of a small picture while it is drawn, row by row. */
export interface Canvas {
  /** Of what is nearest to the eye there; -Infinity where nothing is. */
  readonly depths: Float64Array
  /** Its brightness, 0 to 1; -1 where nothing is. */
  readonly light: Float32Array
  readonly columns: number
  readonly rows: number
  /** So many more are looked at. */
  samplesLeft: number
}
