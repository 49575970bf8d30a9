<script setup lang="ts">
import { computed, onMounted, reactive, ref, shallowRef, watch } from 'vue'
import type { MaterialSheetDocument, RemapBody, RemapResultDocument } from '../../../contract/surfaces.ts'
import { notDrawnOf } from '../../viewport/lit-material.ts'
import ChoiceField from '../../kit/form/ChoiceField.vue'
import JobProgress from '../../kit/JobProgress.vue'
import { useViewer } from '../../kit/use-viewer.ts'
import WipeHandle from '../../kit/WipeHandle.vue'
import { DEFAULT_VIEW_SETTINGS } from '../../viewport/view-settings.ts'
import { api } from '../../api.ts'
import NormalRelief from './NormalRelief.vue'
import { useShown } from './use-shown.ts'

/** The model with its materials as they came and as they become, under one light: wiped between, or one slot alone. */
const props = defineProps<{
  assetId: string
  found: RemapResultDocument | null
  sheet: MaterialSheetDocument | null
  request: () => RemapBody
}>()
/** A material that was clicked on the model: its name, and its number where it is one of those that came. */
const emit = defineEmits<{ choose: [name: string, came: number | null] }>()

const LIT = 'lit'
/** Pixels on a side of the piece of a map of normals that is shown. */
const PIECE = 96
const canvas = ref<HTMLCanvasElement>()
const settings = reactive({
  ...DEFAULT_VIEW_SETTINGS,
  edges: false,
  wipe: 0.5 as number,
  parameter: null as string | null,
})
const { shown, job, parameters } = useShown(
  () => props.assetId,
  props.request,
  () => props.found,
)
/** Names of the materials on either side, as the scenes number them. */
const names = shallowRef<Record<'before' | 'after', string[]>>({ before: [], after: [] })
const told = shallowRef<string[]>([])
const { attach, send, normalsOf, progress, failure, loadedSlots, apart } = useViewer((picked) => {
  const side = picked.slot === 'master' ? 'before' : 'after'
  const name = names.value[side][picked.material]
  if (picked.node !== null && name !== undefined)
    emit('choose', name, side === 'before' ? picked.material : null)
})
onMounted(() => {
  if (!canvas.value) return
  attach(canvas.value, null, true)
  watch(settings, () => send({ type: 'settings', settings: { ...settings } }), {
    deep: true,
    immediate: true,
  })
  watch(
    shown,
    async (made) => {
      if (!made) return
      loadedSlots.value = []
      apart.value = null
      send({ type: 'load', slot: 'master', sceneId: made.beforeSceneId })
      send({ type: 'load', slot: 'returned', sceneId: made.afterSceneId })
      const [before, after] = await Promise.all([made.beforeSceneId, made.afterSceneId].map(api.scene))
      // something else has been made meanwhile
      if (made !== shown.value) return
      const materials = { before: before!.inspection.materials, after: after!.inspection.materials }
      names.value = {
        before: materials.before.map(({ name }) => name),
        after: materials.after.map(({ name }) => name),
      }
      told.value = [
        ...new Set([
          ...[...materials.before, ...materials.after].flatMap(({ name, surface }) =>
            notDrawnOf(surface?.parameters ?? {}).map((what) => `${name}: ${what}`),
          ),
          ...made.notDrawn.map(
            ({ side, material, what, note }) =>
              `${material}, as it ${side === 'before' ? 'came' : 'becomes'}: ${what} (${note})`,
          ),
        ]),
      ]
    },
    { immediate: true },
  )
})

const choices = computed(() => [{ value: LIT, label: 'Everything, lit' }, ...parameters.value])
const chosen = computed(() =>
  choices.value.some(({ value }) => value === settings.parameter) ? settings.parameter! : LIT,
)
const isReady = computed(() => loadedSlots.value.length === 2)
const words = computed(() => {
  if (!isReady.value || !apart.value) return ''
  const { mean, largest } = apart.value
  const what = told.value.length ? 'What is drawn here' : 'Both'
  if (largest < 0.5) return `${what} looks the same from this side.`.replace('Both looks', 'Both look')
  return `From this side apart by ${mean.toFixed(1)} in the mean, ${largest.toFixed(1)} at most.`
})

const piece = shallowRef<Uint8ClampedArray<ArrayBuffer> | null>(null)
watch([() => props.sheet?.material, isReady, names], async ([material, ready]) => {
  const at = names.value.after.indexOf(material ?? '')
  piece.value = ready && at >= 0 ? await normalsOf(at, PIECE) : null
})
const direction = computed(() => {
  const row = props.sheet?.parameters.find(({ slot, map }) => slot === 'normal' && map !== null)
  return row?.direction === 'up' || row?.direction === 'down' ? row.direction : null
})
</script>

<template>
  <section
    class="look"
    aria-label="The look on the model"
    :data-ready="(isReady && apart !== null) || undefined"
  >
    <div class="bar">
      <ChoiceField
        label="Show"
        :value="chosen"
        :choices="choices"
        @choose="(id: string) => (settings.parameter = id === LIT ? null : id)"
      />
      <el-checkbox v-model="settings.maps" size="small">Maps</el-checkbox>
      <el-checkbox v-model="settings.edges" size="small">Edges</el-checkbox>
      <el-button size="small" link @click="send({ type: 'frame', node: null })">View all</el-button>
    </div>
    <div class="pane">
      <canvas
        ref="canvas"
        tabindex="0"
        aria-label="The model lit: drag to turn, Shift and drag to move, wheel to come closer"
      ></canvas>
      <WipeHandle v-if="isReady" v-model="settings.wipe" :sides="['as it came', 'as it becomes']" />
      <div v-if="failure" class="over" role="alert">{{ failure }}</div>
      <JobProgress v-else-if="job" class="over" :job-id="job" />
      <div v-else-if="progress" class="over" role="status">
        {{ progress.stage }} {{ Math.round(progress.share * 100) }} %
      </div>
      <div v-else-if="isReady && !apart" class="over" role="status">Lighting it</div>
    </div>
    <p class="apart" role="status">
      {{ words }} <span v-if="words" class="soft">CIEDE2000; about 1 is what an eye can tell.</span>
    </p>
    <NormalRelief v-if="piece" :pixels="piece" :size="PIECE" :direction="direction" />
    <details v-if="told.length">
      <summary>
        {{ told.length }} {{ told.length === 1 ? 'thing isn’t' : 'things aren’t' }} drawn here
      </summary>
      <ul>
        <li v-for="one in told" :key="one">{{ one }}</li>
      </ul>
    </details>
  </section>
</template>

<style scoped>
.look {
  display: flex;
  flex-direction: column;
  min-height: 0;
  padding: 8px 16px 10px;
  overflow: auto;
  flex: 1;
}
.bar {
  display: flex;
  align-items: center;
  gap: 14px;
  margin-bottom: 8px;
}
.bar > :first-child {
  width: 230px;
  --label-width: 38px;
}
.bar :deep(.el-checkbox) {
  margin-right: 0;
}
.pane {
  position: relative;
  background: var(--viewport);
  flex: 1 0 240px;
  overflow: hidden;
}
canvas {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  touch-action: none;
  cursor: grab;
}
canvas:active {
  cursor: grabbing;
}
.over {
  position: absolute;
  left: 12px;
  right: 12px;
  bottom: 40px;
  background: var(--paper-raised);
  color: var(--ink);
  padding: 6px 12px;
  border-radius: 3px;
}
.apart {
  margin: 8px 0 0;
  flex: none;
}
details {
  margin-top: 8px;
}
ul {
  margin: 4px 0 0;
  padding-left: 18px;
}
</style>
