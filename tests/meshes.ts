/** Small meshes for tests, as OBJ text and as packages. */
import type { PackageFile } from '../src/core/formats/package/package-file.ts'
import { readObj } from '../src/core/formats/obj/read-obj.ts'
import type { ObjReadOptions } from '../src/core/formats/obj/options.ts'
import { encodeUtf8 } from '../src/core/base/bytes/text.ts'

export const file = (name: string, text: string): PackageFile => ({ name, bytes: encodeUtf8(text) })

/** A unit cube of six quads: every face its own smoothing group, two materials, UVs of a cross, one crease loop. */
export const CUBE = `mtllib cube.mtl
o crate
v 0 0 0
v 1 0 0
v 1 1 0
v 0 1 0
v 0 0 1
v 1 0 1
v 1 1 1
v 0 1 1
vt 0 0
vt 0.25 0
vt 0.25 0.25
vt 0 0.25
vt 0.5 0.5
g lid
usemtl brass
s 1
f 5/1 6/2 7/3 8/4
g walls sides
usemtl oak wood
s 2
f 1/1 4/2 3/3 2/4
s 4
f 1/1 2/2 6/3 5/4
f 2/1 3/2 7/3 6/4
g walls
f 3/1 4/2 8/3 7/4
s off
f 4/1 1/2 5/3 8/5
t crease 2/1/0 4 5 2.5
t crease 2/1/0 5 6 2.5
t corner 1/1/0 6 10
`

export const CUBE_MTL = `newmtl brass
Kd 0.8 0.6 0.2
Pm 1
map_Kd -s 2 2 1 maps/brass color.png
newmtl oak wood
Kd 0.4 0.3 0.2
d 0.5
house_style 7
`

export const readText = (text: string, options: Partial<ObjReadOptions> = {}, beside: PackageFile[] = []) =>
  readObj(file('model.obj', text), beside, options)

/** Codes of findings, each once. */
export const codesOf = (findings: readonly { code: string }[]): string[] => [
  ...new Set(findings.map((f) => f.code)),
]
