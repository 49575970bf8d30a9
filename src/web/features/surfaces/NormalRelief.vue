<script setup lang="ts">
import { onMounted, ref, watch } from 'vue'
import { bumpNormals, lightNormals, turnedGreen } from '../../../core/image/normal-relief.ts'

/** A bump that is known to rise beside the liveliest piece of a map of normals, both as colours and lit from above. */
const props = defineProps<{
  /** SIZE × SIZE, green up. */
  pixels: Uint8ClampedArray<ArrayBuffer>
  size: number
  /** Which way green points in the map as it is written; null: not known. */
  direction: 'up' | 'down' | null
}>()
const canvases = ref<HTMLCanvasElement[]>([])

function draw(): void {
  const green = props.direction ?? 'up'
  const own = green === 'up' ? props.pixels : turnedGreen(props.pixels)
  const bump = bumpNormals(props.size, green)
  const pictures = [bump, lightNormals(bump, green), own, lightNormals(own, green)]
  for (const [at, canvas] of canvases.value.entries())
    canvas.getContext('2d')!.putImageData(new ImageData(pictures[at]!, props.size, props.size), 0, 0)
}
onMounted(draw)
watch(() => [props.pixels, props.direction], draw)
const NAMES = ['a bump', 'lit from above', 'your map', 'lit from above']
</script>

<template>
  <figure aria-label="Direction of the normals">
    <div class="pictures">
      <span v-for="(name, at) in NAMES" :key="at">
        <canvas ref="canvases" :width="size" :height="size" />
        <small>{{ name }}</small>
      </span>
    </div>
    <figcaption class="soft">
      <template v-if="direction">
        Green points {{ direction }}: what rises in your map is lit above, as the bump is.
      </template>
      <template v-else>
        Which way green points is not known; read as up here. Where a bump of yours looks like a dent, it is
        down.
      </template>
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 8px 0 0;
  display: grid;
  grid-template-columns: 268px minmax(0, 1fr);
  gap: 12px;
  align-items: start;
}
.pictures {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: 4px;
}
span {
  display: grid;
}
canvas {
  width: 100%;
  aspect-ratio: 1;
}
small {
  font-size: 11.5px;
  line-height: 1.3;
}
</style>
