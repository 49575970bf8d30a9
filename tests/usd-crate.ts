/**
 * A layer as a binary USD, made apart from the reader: for its tests alone. Version 0.8.0; lists of whole numbers and of
 * numbers are packed where they are long enough. What it writes is read by tinyusdz too.
 */
import type { UsdArc, UsdLayer, UsdPrim, UsdProperty, UsdValue } from '../src/core/formats/usd/layer.ts'

const MARK = 'PXR-USDC'

/** One LZ4 block: greedy, by the last place at which four bytes stood. */
export function lz4(source: Uint8Array): Uint8Array {
  const out: number[] = []
  const seen = new Map<number, number>()
  const long = (length: number): void => {
    let rest = length - 15
    for (; rest >= 255; rest -= 255) out.push(255)
    out.push(rest)
  }
  let from = 0
  let at = 0
  const key = (place: number): number => source[place]! | (source[place + 1]! << 8) | (source[place + 2]! << 16) | (source[place + 3]! << 24) // prettier-ignore
  const emit = (end: number, back: number, length: number): void => {
    const literals = end - from
    out.push((Math.min(literals, 15) << 4) | (back ? Math.min(length - 4, 15) : 0))
    if (literals >= 15) long(literals)
    for (let place = from; place < end; place++) out.push(source[place]!)
    if (!back) return
    out.push(back & 255, back >> 8)
    if (length - 4 >= 15) long(length - 4)
  }
  // the last five bytes are literals, and no match begins in the last twelve
  while (at + 12 < source.length) {
    const known = seen.get(key(at))
    seen.set(key(at), at)
    if (known === undefined || at - known > 65535) {
      at++
      continue
    }
    let length = 4
    while (at + length < source.length - 5 && source[known + length] === source[at + length]) length++
    emit(at, at - known, length)
    at += length
    from = at
  }
  emit(source.length, 0, 0)
  return Uint8Array.from(out)
}
const packed = (source: Uint8Array): Uint8Array => Uint8Array.from([0, ...lz4(source)])

/** Differences with two bits each. */
export function packIntegers(values: ArrayLike<number>): Uint8Array {
  const steps = Array.from(values, (value, at) => (value - (at ? values[at - 1]! : 0)) | 0)
  const counts = new Map<number, number>()
  for (const step of steps) counts.set(step, (counts.get(step) ?? 0) + 1)
  const common = [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? 0
  const codes = new Uint8Array(Math.ceil(steps.length / 4))
  const rest: number[] = []
  steps.forEach((step, at) => {
    const code = step === common ? 0 : step >= -128 && step < 128 ? 1 : step >= -32768 && step < 32768 ? 2 : 3
    codes[at >> 2]! |= code << (2 * (at & 3))
    for (let byte = 0; byte < (code === 0 ? 0 : 1 << (code - 1)); byte++)
      rest.push((step >> (8 * byte)) & 255)
  })
  const head = [0, 8, 16, 24].map((shift) => (common >> shift) & 255)
  return packed(Uint8Array.from([...head, ...codes, ...rest]))
}

const KINDS: Readonly<Record<string, readonly [number, 'int' | 'float' | 'double' | 'bool']>> = {
  bool: [1, 'bool'],
  // of a kind that no reader knows
  mystery: [99, 'float'],
  int: [3, 'int'],
  float: [8, 'float'],
  double: [9, 'double'],
  matrix4d: [15, 'double'],
  quatf: [17, 'float'],
  double3: [23, 'double'],
  float2: [20, 'float'],
  float3: [24, 'float'],
  float4: [28, 'float'],
}
/** The kind that a type with a meaning of its own is stored as. */
const storedAs = (base: string): string =>
  /^(point3|normal3|vector3|color3)f$/.test(base) ? 'float3' : base === 'texCoord2f' ? 'float2' : base === 'color4f' ? 'float4' : base // prettier-ignore

export function writeCrate(layer: UsdLayer): Uint8Array {
  const bytes: number[] = new Array<number>(88).fill(0)
  const view = new DataView(new ArrayBuffer(8))
  const push = (count: number): void => {
    for (let at = 0; at < count; at++) bytes.push(view.getUint8(at))
  }
  const u32 = (value: number): void => {
    view.setUint32(0, value, true)
    push(4)
  }
  const i64 = (value: number): void => {
    view.setBigInt64(0, BigInt(value), true)
    push(8)
  }
  const raw = (values: ArrayLike<number>): void => {
    for (let at = 0; at < values.length; at++) bytes.push(values[at]!)
  }
  // a word of number 0 has no sign, and so is no property's
  const tokens: string[] = ['']
  const tokenOf = (text: string): number => {
    const known = tokens.indexOf(text)
    return known >= 0 ? known : tokens.push(text) - 1
  }
  const strings: number[] = []
  const stringOf = (text: string): number => {
    const token = tokenOf(text)
    const known = strings.indexOf(token)
    return known >= 0 ? known : strings.push(token) - 1
  }

  // paths in the order of the tree
  interface Place {
    readonly path: string
    readonly element: string
    readonly isProperty: boolean
    readonly children: Place[]
  }
  const root: Place = { path: '/', element: '', isProperty: false, children: [] }
  const placeOf = new Map<string, Place>([['/', root]])
  const place = (parent: Place, element: string, isProperty: boolean): Place => {
    const joint = isProperty ? '.' : element.startsWith('{') ? '' : parent === root || parent.element.startsWith('{') ? '' : '/' // prettier-ignore
    const own = { path: `${parent.path}${joint}${element}`, element, isProperty, children: [] }
    parent.children.push(own)
    placeOf.set(own.path, own)
    return own
  }
  const addPrim = (parent: Place, prim: UsdPrim, element = prim.name): void => {
    const own = place(parent, element, false)
    for (const child of prim.children) addPrim(own, child)
    for (const [set, variants] of prim.variantSets) {
      place(own, `{${set}=}`, false)
      for (const [name, variant] of variants) addPrim(own, variant, `{${set}=${name}}`)
    }
    for (const { name } of prim.properties) place(own, name, true)
  }
  for (const prim of layer.prims) addPrim(root, prim)
  const targeted = (text: string): number => {
    // what is only pointed at has a path of its own too
    if (!placeOf.has(text)) {
      const dot = text.lastIndexOf('.')
      const prim = dot > 0 ? text.slice(0, dot) : text
      let at = root
      for (const part of prim.split('/').filter(Boolean)) {
        const path = at === root ? `/${part}` : `${at.path}/${part}`
        at = placeOf.get(path) ?? place(at, part, false)
      }
      if (dot > 0 && !placeOf.has(text)) place(at, text.slice(dot + 1), true)
    }
    return [...placeOf.keys()].indexOf(text)
  }

  interface Rep {
    readonly kind: number
    readonly isArray?: boolean
    readonly isInline?: boolean
    readonly isPacked?: boolean
    readonly payload: number
  }
  const at = (): number => bytes.length
  const aligned = (): number => {
    while (bytes.length % 8) bytes.push(0)
    return bytes.length
  }
  const words = (list: readonly number[]): void => {
    i64(list.length)
    list.forEach(u32)
  }
  const scalar = (as: string, value: number): void => {
    if (as === 'bool') bytes.push(value)
    else if (as === 'int') {
      view.setInt32(0, value, true)
      push(4)
    } else if (as === 'float') {
      view.setFloat32(0, value, true)
      push(4)
    } else {
      view.setFloat64(0, value, true)
      push(8)
    }
  }
  const turned = (type: string, values: Float64Array): Float64Array => {
    if (!type.startsWith('quat')) return values
    const out = values.slice()
    for (let k = 0; k < out.length; k += 4)
      out.set([values[k + 1]!, values[k + 2]!, values[k + 3]!, values[k]!], k)
    return out
  }
  const repOf = (value: UsdValue, type: string): Rep => {
    const base = type.replace(/\[\]$/, '')
    if (value === null) return { kind: 51, isInline: true, payload: 0 }
    if (value instanceof Map) {
      const entries = [...value].map(([key, entry]) => [stringOf(key), entry] as const)
      const start = aligned()
      i64(entries.length)
      for (const [key, entry] of entries) {
        u32(key)
        const from = at()
        i64(0)
        const rep = repOf(entry.value, entry.type)
        const told = at()
        patch(from, told - from)
        writeRep(rep)
      }
      return { kind: 31, payload: start }
    }
    if (typeof value === 'string') {
      if (base === 'string') return { kind: 10, isInline: true, payload: stringOf(value) }
      if (base === 'asset') return { kind: 12, isInline: true, payload: tokenOf(value) }
      return { kind: 11, isInline: true, payload: tokenOf(value) }
    }
    if (typeof value === 'boolean') return { kind: 1, isInline: true, payload: value ? 1 : 0 }
    if (Array.isArray(value)) {
      const list = (value as string[]).map((one) => (base === 'token' ? tokenOf(one) : stringOf(one)))
      const start = aligned()
      words(list)
      return { kind: base === 'token' ? 11 : base === 'asset' ? 12 : 10, isArray: true, payload: start }
    }
    const stored = KINDS[storedAs(base)]
    if (!stored) throw new Error(`no kind for ${type}`)
    const [kind, as] = stored
    if (typeof value === 'number') {
      if (as === 'int') return { kind, isInline: true, payload: value >>> 0 }
      view.setFloat32(0, value, true)
      if (as === 'float' || Math.fround(value) === value)
        return { kind, isInline: true, payload: view.getUint32(0, true) }
      const start = aligned()
      scalar(as, value)
      return { kind, payload: start }
    }
    const numbers = value as Float64Array
    const start = aligned()
    if (!type.endsWith('[]')) {
      for (const one of turned(base, numbers)) scalar(as, one)
      return { kind, payload: start }
    }
    const width = { float2: 2, float3: 3, float4: 4, double3: 3, quatf: 4, matrix4d: 16 }[storedAs(base)] ?? 1
    i64(numbers.length / width)
    if (as === 'int' && numbers.length >= 16) {
      const own = packIntegers(numbers)
      i64(own.length)
      raw(own)
      return { kind, isArray: true, isPacked: true, payload: start }
    }
    if (width === 1 && as === 'float' && numbers.length >= 16) {
      if (numbers.every(Number.isInteger)) {
        bytes.push('i'.charCodeAt(0))
        const own = packIntegers(numbers)
        i64(own.length)
        raw(own)
      } else {
        const table = [...new Set(numbers)]
        bytes.push('t'.charCodeAt(0))
        u32(table.length)
        for (const one of table) scalar('float', one)
        const own = packIntegers(Array.from(numbers, (one) => table.indexOf(one)))
        i64(own.length)
        raw(own)
      }
      return { kind, isArray: true, isPacked: true, payload: start }
    }
    for (const one of turned(base, numbers)) scalar(as, one)
    return { kind, isArray: true, payload: start }
  }
  const patch = (where: number, value: number): void => {
    view.setBigInt64(0, BigInt(value), true)
    for (let k = 0; k < 8; k++) bytes[where + k] = view.getUint8(k)
  }
  const repWords = ({ kind, isArray, isInline, isPacked, payload }: Rep): [number, number] => [
    payload % 2 ** 32,
    ((isArray ? 0x80000000 : 0) |
      (isInline ? 0x40000000 : 0) |
      (isPacked ? 0x20000000 : 0) |
      (kind << 16)) >>>
      0,
  ]
  const writeRep = (rep: Rep): void => {
    const [low, high] = repWords(rep)
    u32(low)
    u32(high)
  }
  const tokenVector = (list: readonly string[]): Rep => {
    const own = list.map(tokenOf)
    const start = aligned()
    words(own)
    return { kind: 41, payload: start }
  }
  /** A list edited by one edit: explicit 1, prepended 5. */
  const edited = (kind: number, bit: number, write: () => void): Rep => {
    const start = aligned()
    bytes.push((1 << bit) | (bit === 1 ? 1 : 0))
    write()
    return { kind, payload: start }
  }
  const arcs = (list: readonly UsdArc[], isPayload: boolean): Rep => {
    const told = list.map(({ asset, path }) => [stringOf(asset), targeted(path || '/')] as const)
    return edited(isPayload ? 55 : 35, 5, () => {
      i64(list.length)
      for (const [asset, path] of told) {
        u32(asset)
        u32(path)
        for (const one of [0, 1]) scalar('double', one)
        if (!isPayload) i64(0)
      }
    })
  }

  const fields: { name: number; rep: Rep }[] = []
  const fieldSets: number[] = []
  const specs: { place: string; set: number; kind: number }[] = []
  const spec = (path: string, kind: number, list: readonly (readonly [string, Rep])[]): void => {
    specs.push({ place: path, set: fieldSets.length, kind })
    for (const [name, rep] of list) fieldSets.push(fields.push({ name: tokenOf(name), rep }) - 1)
    fieldSets.push(-1)
  }
  const settings = (metadata: ReadonlyMap<string, UsdValue>): [string, Rep][] =>
    [...metadata].map(([name, value]) => {
      if (name === 'apiSchemas') {
        const list = (value as string[]).map(tokenOf)
        return [name, edited(32, 5, () => words(list))]
      }
      const type = typeof value === 'number' ? (Number.isInteger(value) && name === 'elementSize' ? 'int' : 'double') : ['interpolation', 'upAxis', 'defaultPrim'].includes(name) ? 'token' : 'string' // prettier-ignore
      return [name, repOf(value, type)]
    })
  const propertySpec = (path: string, property: UsdProperty): void => {
    const { type, value, samples, targets, isRelationship, uniform, custom, metadata } = property
    const list: [string, Rep][] = isRelationship ? [] : [['typeName', { kind: 11, isInline: true, payload: tokenOf(type) }]] // prettier-ignore
    if (custom) list.push(['custom', { kind: 1, isInline: true, payload: 1 }])
    if (uniform) list.push(['variability', { kind: 44, isInline: true, payload: 1 }])
    if (value !== undefined) list.push(['default', repOf(value, type)])
    if (samples) {
      const start = aligned()
      i64(8)
      // the times, then the values, each behind a word that says how far it is
      const timesAt = at()
      i64(0)
      i64(0)
      const table = aligned()
      i64(samples.times.length)
      for (const time of samples.times) scalar('double', time)
      const reps = samples.values.map((one) => repOf(one, type))
      const told = aligned()
      i64(reps.length)
      reps.forEach(writeRep)
      const [low, high] = repWords({ kind: 48, payload: table })
      view.setUint32(0, low, true)
      view.setUint32(4, high, true)
      for (let k = 0; k < 8; k++) bytes[timesAt + k] = view.getUint8(k)
      patch(timesAt + 8, told - (timesAt + 8))
      list.push(['timeSamples', { kind: 46, payload: start }])
    }
    if (targets.length) {
      const own = targets.map(targeted)
      list.push([isRelationship ? 'targetPaths' : 'connectionPaths', edited(34, 1, () => words(own))])
    }
    list.push(...settings(metadata))
    spec(path, isRelationship ? 8 : 1, list)
  }
  const SPECIFIERS = ['def', 'over', 'class']
  const primSpec = (path: string, prim: UsdPrim, kind: number): void => {
    const list: [string, Rep][] = [
      ['specifier', { kind: 42, isInline: true, payload: SPECIFIERS.indexOf(prim.specifier) }],
    ]
    if (prim.type) list.push(['typeName', { kind: 11, isInline: true, payload: tokenOf(prim.type) }])
    if (prim.properties.length)
      list.push(['properties', tokenVector(prim.properties.map(({ name }) => name))])
    if (prim.children.length) list.push(['primChildren', tokenVector(prim.children.map(({ name }) => name))])
    if (prim.references.length) list.push(['references', arcs(prim.references, false)])
    if (prim.payloads.length) list.push(['payload', arcs(prim.payloads, true)])
    if (prim.chosen.size) {
      const entries = [...prim.chosen].map(([set, name]) => [stringOf(set), stringOf(name)])
      const start = aligned()
      i64(entries.length)
      for (const [set, name] of entries) {
        u32(set!)
        u32(name!)
      }
      list.push(['variantSelection', { kind: 45, payload: start }])
    }
    if (prim.variantSets.size) list.push(['variantSetChildren', tokenVector([...prim.variantSets.keys()])])
    spec(path, kind, [...list, ...settings(prim.metadata)])
    for (const property of prim.properties) propertySpec(`${path}.${property.name}`, property)
    const joint = path.endsWith('}') ? '' : '/'
    for (const child of prim.children) primSpec(`${path}${joint}${child.name}`, child, 6)
    for (const [set, variants] of prim.variantSets) {
      spec(`${path}{${set}=}`, 11, [['variantChildren', tokenVector([...variants.keys()])]])
      for (const [name, variant] of variants) primSpec(`${path}{${set}=${name}}`, variant, 10)
    }
  }
  spec('/', 7, [
    ...settings(layer.metadata),
    ['primChildren', tokenVector(layer.prims.map(({ name }) => name))],
  ])
  for (const prim of layer.prims) primSpec(`/${prim.name}`, prim, 6)

  // the tables
  const numberOf = new Map([...placeOf.keys()].map((path, index) => [path, index]))
  const order: { index: number; element: number; jump: number }[] = []
  const lay = (own: Place, siblings: readonly Place[], rank: number): void => {
    const entry = { index: numberOf.get(own.path)!, element: (own.isProperty ? -1 : 1) * tokenOf(own.element), jump: -2 } // prettier-ignore
    const place = order.push(entry) - 1
    own.children.forEach((child, at) => lay(child, own.children, at))
    const hasSibling = rank + 1 < siblings.length
    const hasChild = own.children.length > 0
    entry.jump = hasChild ? (hasSibling ? order.length - place : -1) : hasSibling ? 0 : -2
  }
  lay(root, [root], 0)
  const sections: [string, number, number][] = []
  const section = (name: string, write: () => void): void => {
    const start = aligned()
    write()
    sections.push([name, start, at() - start])
  }
  const ints = (list: readonly number[]): void => {
    const own = packIntegers(list)
    i64(own.length)
    raw(own)
  }
  section('TOKENS', () => {
    const text = new TextEncoder().encode(tokens.map((token) => `${token}\0`).join(''))
    const own = packed(text)
    i64(tokens.length)
    i64(text.length)
    i64(own.length)
    raw(own)
  })
  section('STRINGS', () => words(strings))
  section('FIELDS', () => {
    i64(fields.length)
    ints(fields.map(({ name }) => name))
    const told = new Uint8Array(8 * fields.length)
    const toldView = new DataView(told.buffer)
    fields.forEach(({ rep }, index) => {
      const [low, high] = repWords(rep)
      toldView.setUint32(8 * index, low, true)
      toldView.setUint32(8 * index + 4, high, true)
    })
    const own = packed(told)
    i64(own.length)
    raw(own)
  })
  section('FIELDSETS', () => {
    i64(fieldSets.length)
    ints(fieldSets)
  })
  section('PATHS', () => {
    i64(placeOf.size)
    i64(order.length)
    ints(order.map(({ index }) => index))
    ints(order.map(({ element }) => element))
    ints(order.map(({ jump }) => jump))
  })
  section('SPECS', () => {
    i64(specs.length)
    ints(specs.map(({ place: path }) => numberOf.get(path)!))
    ints(specs.map(({ set }) => set))
    ints(specs.map(({ kind }) => kind))
  })
  const contents = aligned()
  i64(sections.length)
  for (const [name, start, size] of sections) {
    for (let k = 0; k < 16; k++) bytes.push(name.charCodeAt(k) || 0)
    i64(start)
    i64(size)
  }
  const out = Uint8Array.from(bytes)
  for (let k = 0; k < 8; k++) out[k] = MARK.charCodeAt(k)
  out[9] = 8
  new DataView(out.buffer).setBigInt64(16, BigInt(contents), true)
  return out
}
