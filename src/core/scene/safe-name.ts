/** Letters, digits, underscore, hyphen and point; common practice for names that every tool keeps. */
export const SAFE_NAME = /^[A-Za-z0-9_.-]+$/

/** Letters with marks lose them (ä to a); anything else that tools refuse becomes an underscore. */
export function safeName(name: string, length: number): string {
  if (SAFE_NAME.test(name) && name.length <= length) return name
  const plain = name
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .replace(/[^A-Za-z0-9_.-]+/g, '_')
    .replace(/^_+|_+$/g, '')
  return plain.slice(0, length).replace(/_+$/, '')
}
