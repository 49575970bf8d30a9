import { createByteWriter, joinBytes } from '../../base/bytes/byte-writer.ts'
import type { Material } from '../../scene/material.ts'
import { inMtlWords } from './mtl-words.ts'

/** Writes materials as an MTL file, in MTL's words: known statements, then those that were kept as they came. */
export function writeMtl(materials: readonly Material[], namesOnly = false): Uint8Array {
  const out = createByteWriter()
  for (const { material } of materials.map(inMtlWords)) {
    out.text(`newmtl ${material.name}\n`)
    if (!namesOnly) {
      for (const property of material.properties)
        out.text(`${property.name} ${property.text ?? property.values.map(String).join(' ')}\n`)
      for (const map of material.maps)
        out.text(`${[map.property, ...map.options.flat(), map.file].join(' ')}\n`)
      for (const line of material.kept) out.text(`${line}\n`)
    }
    out.text('\n')
  }
  return joinBytes(out.blocks())
}
