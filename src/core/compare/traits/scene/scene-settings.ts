import type { Scene } from '../../../scene/scene.ts'
import { canonicalText } from '../canonical-text.ts'
import { type SceneTraitDescriptor } from '../trait.ts'
import { compareSceneSettings } from './compare-scene-settings.ts'

const attributeTexts = (items: Scene['cameras']): unknown[] =>
  items.map(({ name, properties }) => [name, properties])

/** Unit, up axis and handedness, cameras, lights, custom properties, nodes without polygons. */
export const sceneSettings: SceneTraitDescriptor = {
  id: 'scene',
  title: 'scene',
  scope: 'scene',
  ofThePart: true,
  notes: {
    'size-changed': {
      ledger: 'Everything came back {factor} times as large{how}.{also}',
      forecast: 'Everything leaves {factor} times as large{how}.{also}',
      otherForm: 'Kelbo offers to bring it back to its size when it comes home.',
    },
    'placed-whole': {
      ledger: 'Everything came back {how}.{also}',
      forecast: 'Everything leaves {how}.{also}',
      otherForm: 'Kelbo offers to bring it back to its place when it comes home.',
    },
    'scene-changed': { ledger: 'Changed: {what}.' },
    'scene-respaced': {
      ledger: 'The numbers are in another space ({what}); the model is as large and stands as it did.',
      otherForm: 'A tool that reads the numbers alone sees it otherwise.',
    },
    'nodes-gone': {
      ledger: '{what} did not come back; the master keeps what it has.',
      forecast: 'The file will not carry {what}.',
    },
    'unit-unknown': {
      ledger: 'The returned file states no unit, so its size was taken as sent.',
      forecast: 'The file states no unit; the tool takes the numbers for its own.',
      otherForm: 'The unit it is meant in is kept for the return.',
    },
  },
  fingerprint({ scene }, hash) {
    hash.text(
      canonicalText([scene.space, scene.properties, ...[scene.cameras, scene.lights].map(attributeTexts)]),
    )
  },
  fingerprintScene(scene, hash) {
    hash.text(canonicalText([scene.space, scene.properties]))
  },
  compareScene: compareSceneSettings,
  carry: { kind: 'scene' },
}
