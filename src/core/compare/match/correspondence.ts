/** Which element of a returned part is which element of the master's. */
export interface Correspondence {
  /**
   * How it was found. 'index': same numbering; 'position': points lie where they lay; 'connectivity': the
   * polygons hang together alike though points moved; 'partial': some points by position, not all polygons.
   */
  readonly kind: 'index' | 'position' | 'connectivity' | 'partial' | 'none'
  /** One a master point; the returned point, -1 for none. Points that came back welded share one. */
  readonly pointToReturned: Int32Array
  /** One a master face; the returned face, -1 for none. */
  readonly faceToReturned: Int32Array
  /** One a master corner; the returned corner, -1 for none. */
  readonly cornerToReturned: Int32Array
  readonly matchedFaceCount: number
  /**
   * Of answers that fit alike the one that moves points least was taken, as of a symmetrical part, or UVs that nobody
   * touched stand elsewhere than it says, or nothing but their order speaks for points without polygons; or names, places
   * and the order of the file say different things of parts that are made alike.
   */
  readonly guess?: boolean
  /** Faces that came back wound the other way. */
  readonly turnedFaceCount: number
  /** Returned face count; the master's face that a piece was cut from, -1 for other faces. Null: nothing was cut. */
  readonly pieceToMaster: Int32Array | null
  /** Returned corner count; for a corner of a piece the master's corner at the same point, -1 for others. Null: nothing was cut. */
  readonly pieceCorners: Int32Array | null
  /** Master faces that came back in pieces; they count as matched, with their first piece. */
  readonly cutFaceCount: number
  /**
   * One a returned point: the returned point that it counts as, since it was split from it; itself for most. Null:
   * nothing was split. Counterparts are among those that count as themselves.
   */
  readonly joinedPoints: Uint32Array | null
}
