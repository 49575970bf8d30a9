/** Passwords: kept as Argon2id with the parameters of RFC 9106, section 4 (second choice): 64 MiB, 3 passes, 4 lanes. */
import { hash, verify } from '@node-rs/argon2'

/** The library's own choice of algorithm is Argon2id. */
const ARGON = {
  memoryCost: 65_536,
  timeCost: 3,
  parallelism: 4,
}

/** Letters of a password: as NIST SP 800-63B-4, section 3.1.1.2, has it for one that stands alone, and a bound. */
export const SHORTEST_PASSWORD = 15
export const LONGEST_PASSWORD = 200

/** The same letters typed on another keyboard are the same password (NIST SP 800-63B-4: NFKC). */
const normalized = (password: string): string => password.normalize('NFKC')

/** @returns what is wrong with a new password, in words; null where nothing is. */
export function complainOfPassword(password: string, name: string): string | null {
  const letters = [...normalized(password)]
  if (letters.length < SHORTEST_PASSWORD)
    return `A password needs ${SHORTEST_PASSWORD} letters or more; a few words are easy to keep in mind.`
  if (letters.length > LONGEST_PASSWORD) return `A password has ${LONGEST_PASSWORD} letters at most.`
  const told = normalized(password).toLowerCase()
  if (new Set(letters).size < 5 || told.replaceAll(name.toLowerCase(), '').length < SHORTEST_PASSWORD / 2)
    return 'This password is easily guessed: it hardly holds more than one letter again and again, or the name.'
  return null
}

export const hashPassword = (password: string): Promise<string> => hash(normalized(password), ARGON)

/** Stands for the hash of a name that has no account, so that one can't tell by the time which names have one. */
let nobody: Promise<string> | null = null

/** @param passwordHash null: nobody's; takes as long, and is never right. */
export async function isPassword(passwordHash: string | null, password: string): Promise<boolean> {
  const right = await verify(
    passwordHash ?? (await (nobody ??= hashPassword('the password of nobody'))),
    normalized(password),
  )
  return passwordHash !== null && right
}
