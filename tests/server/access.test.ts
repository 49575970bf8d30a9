/** From where Kelbo may be reached: what doesn't fit together is refused before anything listens. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { accessOf, AccessRefused } from '../../src/server/accounts/access.ts'
import { complainOfPassword, hashPassword, isPassword } from '../../src/server/accounts/passwords.ts'

let folder: string
let pem: string
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'kelbo-access-'))
  pem = join(folder, 'a.pem')
  writeFileSync(pem, '-----BEGIN CERTIFICATE-----\n')
})
afterAll(() => rmSync(folder, { recursive: true }))

test('on loopback nobody signs in, and it answers to loopback’s names alone', () => {
  expect(accessOf({})).toEqual({
    host: '127.0.0.1',
    port: 4780,
    accounts: false,
    certificate: null,
    proxies: [],
    hosts: new Set(['127.0.0.1:4780', 'localhost:4780', '[::1]:4780']),
  })
  expect(accessOf({ KELBO_HOSTS: 'localhost:9000, 127.0.0.1:9000' }).accounts).toBe(false)
  expect(accessOf({ KELBO_LISTEN: '127.3.2.1' }).accounts).toBe(false)
  expect(accessOf({ KELBO_LISTEN: '::1' }).accounts).toBe(false)
  expect(accessOf({ KELBO_ACCOUNTS: 'on' }).accounts).toBe(true)
})

test.each([
  ['an address of the network', { KELBO_LISTEN: '192.0.2.7' }],
  ['all addresses', { KELBO_LISTEN: '0.0.0.0' }],
  ['all addresses of IPv6', { KELBO_LISTEN: '::' }],
  ['a name that only looks like loopback', { KELBO_LISTEN: '127.0.0.1.example' }],
  ['a name that others reach it under', { KELBO_HOSTS: 'models.example' }],
  ['one that is among names of loopback', { KELBO_HOSTS: 'localhost:9000,models.example:9000' }],
])('beyond loopback (%s) it needs an encrypted line, and then everybody signs in', (_name, environment) => {
  expect(() => accessOf(environment)).toThrow(AccessRefused)
  expect(() => accessOf({ ...environment, KELBO_ACCOUNTS: 'off' })).toThrow(/certificate/)
  const certified = accessOf({
    ...environment,
    KELBO_ACCOUNTS: 'off',
    KELBO_CERTIFICATE: pem,
    KELBO_CERTIFICATE_KEY: pem,
  })
  expect([certified.accounts, certified.certificate!.cert]).toEqual([true, '-----BEGIN CERTIFICATE-----\n'])
  const behind = accessOf({ ...environment, KELBO_PROXY: '192.0.2.1, 10.0.0.0/8' })
  expect([behind.accounts, behind.proxies]).toEqual([true, ['192.0.2.1', '10.0.0.0/8']])
})

test('a proxy before it means that others come, though it listens on loopback', () => {
  expect(accessOf({ KELBO_PROXY: '127.0.0.1' }).accounts).toBe(true)
})

test('it answers to the address that it listens on, and to names that it is given', () => {
  const access = accessOf({
    KELBO_LISTEN: '192.0.2.7',
    KELBO_PORT: '5000',
    KELBO_HOSTS: 'Models.Example',
    KELBO_PROXY: '192.0.2.1',
  })
  expect([...access.hosts]).toEqual([
    '127.0.0.1:5000',
    'localhost:5000',
    '[::1]:5000',
    '192.0.2.7:5000',
    'models.example',
  ])
})

test.each([
  [/go together/, { KELBO_CERTIFICATE: '/x' }],
  [/go together/, { KELBO_CERTIFICATE_KEY: '/x' }],
  [/can’t be opened \(ENOENT\)/, { KELBO_CERTIFICATE: '/none', KELBO_CERTIFICATE_KEY: '/none' }],
  [/no PEM file/, { KELBO_CERTIFICATE: '/etc/hostname', KELBO_CERTIFICATE_KEY: '/etc/hostname' }],
  [/no address/, { KELBO_PROXY: 'nginx' }],
  [/“on” or “off”/, { KELBO_ACCOUNTS: 'yes' }],
])('what is said of settings that can’t be: %s', (words, environment) => {
  expect(() => accessOf(environment as Record<string, string>)).toThrow(words)
})

test('passwords: long enough, not one letter or the name, the same on every keyboard', async () => {
  expect(complainOfPassword('fourteen chars', 'Ada')).toMatch(/15 letters/)
  expect(complainOfPassword('fifteen letters', 'Ada')).toBeNull()
  expect(complainOfPassword('a'.repeat(40), 'Ada')).toMatch(/guessed/)
  expect(complainOfPassword('harbourmaster harbourmaster', 'Harbourmaster')).toMatch(/guessed/)
  expect(complainOfPassword('x y '.repeat(51), 'Ada')).toMatch(/200/)
  const hash = await hashPassword('caf\u00e9 by the old pier')
  expect(hash).toMatch(/^\$argon2id\$v=19\$m=65536,t=3,p=4\$/)
  expect(hash).not.toBe(await hashPassword('caf\u00e9 by the old pier'))
  expect(await isPassword(hash, 'cafe\u0301 by the old pier')).toBe(true)
  expect(await isPassword(hash, 'cafe by the old pier')).toBe(false)
  expect(await isPassword(null, 'the password of nobody')).toBe(false)
})
