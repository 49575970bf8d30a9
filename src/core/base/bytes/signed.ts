/** Numbers below 2^31 seen as ones that could have a sign, without a copy: arrays of meshes are never written into. */
export const signed = ({ buffer, byteOffset, length }: Uint32Array): Int32Array =>
  new Int32Array(buffer, byteOffset, length)
