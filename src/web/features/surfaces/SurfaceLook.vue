<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import type { MaterialSheetDocument } from '../../../contract/surfaces.ts'
import { pictureDifference } from '../../../core/image/color-difference.ts'
import { convertValues } from '../../../core/surfaces/convert/convert-surface.ts'
import type { SurfaceValues } from '../../../core/surfaces/model.ts'
import { OWN_MODEL, parseOwnModel, type OwnModelDocument } from '../../../core/surfaces/own-model.ts'
import { SURFACE_MODELS } from '../../../core/surfaces/registry.ts'
import { createBallDrawer, type BallDrawer } from './draw-ball.ts'

/** The material as it came beside what it becomes: one light, one exposure, and how far apart the two look. */
const props = defineProps<{
  sheet: MaterialSheetDocument
  titles: (id: string) => string
  /** The artist's own model, where there is one. */
  own: OwnModelDocument | null
}>()
const SIZE = 220
const before = ref<HTMLCanvasElement>()
const after = ref<HTMLCanvasElement>()
const apart = ref<{ mean: number; largest: number } | null>(null)
const failed = ref(false)
let drawer: BallDrawer | null = null

const modelOf = (id: string) =>
  id === OWN_MODEL && props.own
    ? parseOwnModel(props.own, OWN_MODEL)
    : SURFACE_MODELS.find((model) => model.id === id)
/** Both in one model's values, so that one renderer draws both. */
const pair = computed((): readonly [SurfaceValues, SurfaceValues] | null => {
  const [source, target, shown] = [
    modelOf(props.sheet.from.model),
    modelOf(props.sheet.surface),
    modelOf('gltf'),
  ]
  if (!source || !target || !shown) return null
  const own: SurfaceValues = props.sheet.from.values
  const plain = convertValues(own, source, target)
  // a map isn't drawn on the ball: the value that the material had stands in its place
  const values: SurfaceValues = Object.fromEntries(
    props.sheet.parameters.flatMap(({ parameter, value, map }) => {
      const used = map !== null ? (plain[parameter] ?? value) : value
      return used === null ? [] : [[parameter, used] as const]
    }),
  )
  return [convertValues(own, source, shown), convertValues(values, target, shown)]
})
const mapCount = computed(() => props.sheet.parameters.filter(({ map }) => map !== null).length)

function draw(): void {
  if (!drawer || !pair.value || !before.value || !after.value) return
  const pictures = pair.value.map((values) => drawer!.draw(values))
  for (const [at, canvas] of [before.value, after.value].entries())
    canvas.getContext('2d')!.putImageData(new ImageData(pictures[at]!, SIZE, SIZE), 0, 0)
  apart.value = pictureDifference(pictures[0]!, pictures[1]!)
}
onMounted(() => {
  try {
    drawer = createBallDrawer(SIZE)
    draw()
  } catch {
    // a browser without a graphics processor has the table all the same
    failed.value = true
  }
})
onBeforeUnmount(() => drawer?.end())
watch(pair, draw)

const words = computed(() => {
  if (!apart.value) return ''
  const { mean, largest } = apart.value
  if (largest < 0.5) return 'The two look the same.'
  return `Apart by ${mean.toFixed(1)} in the mean, ${largest.toFixed(1)} at most.`
})
</script>

<template>
  <section class="look" aria-label="The look">
    <p v-if="failed" class="soft">This browser can’t draw the look.</p>
    <template v-else>
      <figure>
        <canvas ref="before" :width="SIZE" :height="SIZE" />
        <figcaption>As it came: {{ titles(sheet.from.model) }}</figcaption>
      </figure>
      <figure>
        <canvas ref="after" :width="SIZE" :height="SIZE" />
        <figcaption>As it becomes: {{ titles(sheet.surface) }}</figcaption>
      </figure>
      <p class="apart" role="status">
        {{ words }}
        <span class="soft"
          >CIEDE2000; about 1 is what an eye can tell.<template v-if="mapCount">
            Values alone: maps are not drawn here.</template
          ></span
        >
      </p>
    </template>
  </section>
</template>

<style scoped>
.look {
  background: var(--paper-sunk);
  padding: 12px 16px;
  overflow: auto;
}
figure {
  margin: 0 0 6px;
  background: var(--viewport);
  position: relative;
  text-align: center;
}
canvas {
  width: min(100%, 158px);
  aspect-ratio: 1;
  display: inline-block;
  vertical-align: bottom;
}
figcaption {
  background: var(--paper-sunk);
  padding: 3px 0;
  font-size: 12px;
  text-align: left;
}
.apart {
  margin: 6px 0 0;
}
</style>
