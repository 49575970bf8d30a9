import type { Material, MaterialMap } from '../../scene/material.ts'
import { surfaceModelNamed } from '../../surfaces/registry.ts'
import { toFileModel } from '../../surfaces/wording/translate.ts'
import { inWordsOf } from '../../surfaces/wording/wording.ts'

/** How a map lies on the surface, as options of its statement. */
function placementOptions({ placement }: MaterialMap): string[][] {
  const options: string[][] = []
  if (placement?.scale.some((value) => value !== 1)) options.push(['-s', ...placement.scale.map(String), '1'])
  if (placement?.offset.some(Boolean)) options.push(['-o', ...placement.offset.map(String), '0'])
  if (placement?.wrapU === 'clamp' && placement.wrapV === 'clamp') options.push(['-clamp', 'on'])
  return options
}

/** A material in MTL's words, with what it has no words for. One that came in them stays as it is. */
export function inMtlWords(material: Material): { material: Material; lost: string[] } {
  const mtl = surfaceModelNamed('mtl')
  const translated = toFileModel(material, mtl, false)
  const worded = translated ?? inWordsOf(mtl, material)
  // one of MTL's own words may still lie as another format's file has it
  if (worded.material === material && !material.maps.some(({ placement }) => placement)) return worded
  return {
    lost: worded.lost,
    material: {
      ...worded.material,
      maps: worded.material.maps.map(({ placement: _placement, ...map }) => ({
        ...map,
        options: [
          ...map.options,
          ...placementOptions(
            material.maps.find((own) => own.slot === map.slot && own.file === map.file) ?? map,
          ),
        ],
      })),
    },
  }
}
