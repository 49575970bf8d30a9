<script setup lang="ts">
import { computed, onMounted, reactive, ref, watch } from 'vue'
import { onKeyHeld, onKeyStroke } from './use-keys.ts'
import WipeHandle from './WipeHandle.vue'
import { useViewer, type Picked } from './use-viewer.ts'
import { DEFAULT_VIEW_SETTINGS } from '../viewport/view-settings.ts'
import type { HandPlacing, HighlightItem, ViewSettings } from '../viewport/viewer-messages.ts'

/** The solid and the flat view of one model, or of two that are compared; they share the selection. */
const props = defineProps<{
  masterScene: string | null
  returnedScene?: string | null
  selectedNode: number | null
  highlights?: readonly HighlightItem[]
  stacked?: boolean
  /** How many times as large all of what came back is, to be drawn as large as the master; null: as it came. */
  returnedFactor?: number | null
  /** Words on either side of the wipe. */
  sides?: readonly [string, string]
  /** Clicks go to the page as they come; nothing is selected by itself. */
  picking?: boolean
  ruler?: readonly (readonly [number, number, number])[]
  /** The page says itself when marks are brought close. */
  quiet?: boolean
  /** What of the chosen a hand moves in the flat view. */
  placing?: ViewSettings['placing']
  /** How far from drawn corners others give way, tiles. */
  givesWay?: number | null
  /** A key held shows the model as it was before the draft. */
  hasBefore?: boolean
}>()
const emit = defineEmits<{
  select: [node: number | null]
  pick: [picked: Picked]
  placed: [placing: HandPlacing]
}>()

const solid = ref<HTMLCanvasElement>()
const flat = ref<HTMLCanvasElement>()
const face = ref<number | null>(null)
const settings = reactive<Mutable<ViewSettings>>({ ...DEFAULT_VIEW_SETTINGS })
type Mutable<Type> = { -readonly [Key in keyof Type]: Type[Key] }
/** The flat view takes the larger share. */
const isFlatLarge = ref(false)

const { attach, send, edgeLengths, progress, failure, loadedSlots } = useViewer(
  (picked) => {
    if (props.picking) return emit('pick', picked)
    face.value = picked.face
    if (picked.node === props.selectedNode) tellSelection()
    else emit('select', picked.node)
  },
  (placing) => emit('placed', placing),
)

const attached = ref(false)
/** Gives the viewer a line on which drafts come. */
const connect = (port: MessagePort): void => send({ type: 'port', port }, [port])
const focus = (): void => send({ type: 'focus' })

function tellSelection(): void {
  send({ type: 'select', node: props.selectedNode, face: face.value })
}

/** The page is painted first: laying it out and handing the canvases over in one go held it up for 0.2 s. */
const painted = (): Promise<void> =>
  new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(() => resolve())))

onMounted(async () => {
  await painted()
  if (!solid.value || !flat.value) return
  attach(solid.value, flat.value)
  watch(settings, () => send({ type: 'settings', settings: { ...settings } }), {
    deep: true,
    immediate: true,
  })
  watch(
    () => props.masterScene,
    (sceneId) => send({ type: 'load', slot: 'master', sceneId }),
    { immediate: true },
  )
  watch(
    () => props.returnedScene ?? null,
    (sceneId, before) => {
      if (sceneId || before) send({ type: 'load', slot: 'returned', sceneId })
      if (sceneId && settings.wipe === null) settings.wipe = 0.5
      if (!sceneId) settings.wipe = null
    },
    { immediate: true },
  )
  watch(
    () => props.selectedNode,
    (_node, before) => {
      if (before !== undefined && !pickedHere()) face.value = null
      tellSelection()
    },
  )
  watch(
    () => props.highlights ?? [],
    (items) => send({ type: 'highlight', items: items.map((item) => ({ ...item })) }),
    { immediate: true },
  )
  watch(
    () => props.ruler ?? [],
    (ends) => send({ type: 'ruler', ends: ends.map((end) => [...end] as [number, number, number]) }),
  )
  watch(
    () => props.placing ?? null,
    (placing) => (settings.placing = placing),
    { immediate: true },
  )
  watch(
    () => props.returnedFactor ?? null,
    (factor) => (settings.returnedFactor = factor),
    { immediate: true },
  )
  watch(
    () => props.givesWay ?? null,
    (reach) => (settings.givesWay = reach),
    { immediate: true },
  )
  attached.value = true
})
/** For as long as the key is held. */
const isBefore = ref(false)
function before(on: boolean): void {
  if (on === isBefore.value || (on && !props.hasBefore)) return
  isBefore.value = on
  send({ type: 'before', on })
}
onKeyHeld('b', before)

/** A selection that came from a click in these views keeps its polygon. */
let lastPick = -1
function pickedHere(): boolean {
  const picked = face.value !== null && lastPick !== face.value
  lastPick = face.value ?? -1
  return picked
}

const wipeSides = computed((): readonly [string, string] => {
  const [left, right] = props.sides ?? ['before', 'after']
  return [left, (props.returnedFactor ?? null) === null ? right : `${right}, drawn to fit`]
})

const frame = (): void => send({ type: 'frame', node: props.selectedNode })
/** What is marked is brought close, so that it can be seen; at the Bench the page says when. */
watch(
  () => props.highlights ?? [],
  (items) => {
    if (items.length && !props.quiet)
      send({ type: 'frame', node: items.find((item) => item.slot === 'master')?.node ?? null })
  },
)
onKeyStroke('v', frame)
onKeyStroke('g', () => (settings.edges = !settings.edges))
onKeyStroke('k', () => (settings.backFaces = !settings.backFaces))
onKeyStroke('m', () => (settings.maps = !settings.maps))
onKeyStroke('c', () => (settings.checker = !settings.checker))
onKeyStroke('o', () => (settings.isolate = !settings.isolate))
onKeyStroke('Escape', () => emit('select', null))
defineExpose({ frame, focus, connect, edgeLengths, attached, loadedSlots })
</script>

<template>
  <div class="views" :class="{ stacked, 'flat-large': isFlatLarge }" :data-loaded="loadedSlots.join(' ')">
    <div class="bar" role="toolbar" aria-label="How the model is shown">
      <el-checkbox v-model="settings.edges" size="small">Edges</el-checkbox>
      <el-checkbox v-model="settings.maps" size="small">Maps</el-checkbox>
      <el-checkbox v-model="settings.checker" size="small">Checker</el-checkbox>
      <el-checkbox v-model="settings.backFaces" size="small">Back faces</el-checkbox>
      <el-checkbox v-model="settings.isolate" size="small" :disabled="selectedNode === null"
        >Alone</el-checkbox
      >
      <slot name="tools"></slot>
    </div>
    <div class="pane">
      <canvas
        ref="solid"
        tabindex="0"
        aria-label="Solid view: drag to turn, Shift and drag to move, wheel to come closer"
        data-view="solid"
      ></canvas>
      <span class="label">Solid</span>
      <el-button size="small" class="whole" @click="frame">
        {{ selectedNode === null ? 'View all' : 'View part' }}
      </el-button>
      <template v-if="returnedScene && settings.wipe !== null">
        <WipeHandle v-model="settings.wipe" :sides="wipeSides" />
      </template>
      <div v-if="progress" class="progress" role="status">
        {{ progress.stage }} {{ Math.round(progress.share * 100) }} %
        <i :style="{ width: `${progress.share * 100}%` }"></i>
      </div>
      <div v-if="failure" class="progress" role="alert">{{ failure }}</div>
    </div>
    <div class="pane with-tools">
      <div class="stage">
        <canvas
          ref="flat"
          tabindex="0"
          aria-label="Flat view of the UVs: drag to move, wheel to come closer"
          data-view="flat"
        ></canvas>
        <span class="label">Flat</span>
        <span v-if="isBefore" class="label before">as it was before the steps</span>
        <el-button size="small" class="size" @click="isFlatLarge = !isFlatLarge">{{
          isFlatLarge ? 'Smaller' : 'Larger'
        }}</el-button>
        <div v-if="$slots.flat" class="corner"><slot name="flat"></slot></div>
        <div v-if="returnedScene" class="side">
          <el-radio-group v-model="settings.shown" size="small">
            <el-radio-button value="master">{{ sides?.[0] ?? 'before' }}</el-radio-button>
            <el-radio-button value="returned">{{ sides?.[1] ?? 'after' }}</el-radio-button>
          </el-radio-group>
        </div>
      </div>
      <slot name="flat-tools"></slot>
    </div>
    <div v-if="$slots.foot && !isFlatLarge" class="foot"><slot name="foot"></slot></div>
  </div>
</template>

<style scoped>
.views {
  display: grid;
  grid-template: 34px minmax(0, 1fr) / minmax(0, 3fr) minmax(0, 2fr);
  height: 100%;
  min-height: 0;
  gap: 0 1px;
}
.views:has(.foot) {
  grid-template: 34px minmax(0, 1fr) auto / minmax(0, 3fr) minmax(0, 2fr);
}
.foot {
  grid-column: 1 / -1;
  background: var(--paper);
  border-top: 1px solid var(--hairline);
  max-height: 220px;
  overflow: auto;
}
.views.flat-large {
  grid-template-columns: minmax(0, 1fr) minmax(0, 2fr);
}
.views.stacked {
  grid-template: 34px minmax(0, 3fr) minmax(0, 2fr) / minmax(0, 1fr);
  gap: 1px 0;
}
.views.stacked.flat-large {
  grid-template-rows: 34px minmax(0, 2fr) minmax(0, 3fr);
}
.bar {
  grid-column: 1 / -1;
  display: flex;
  align-items: center;
  gap: 4px;
  padding: 0 12px;
  border-bottom: 1px solid var(--hairline);
  overflow: hidden;
  white-space: nowrap;
}
.bar :deep(.el-checkbox) {
  margin-right: 12px;
}
.gap {
  flex: 1;
}
.pane {
  position: relative;
  background: var(--viewport);
  overflow: hidden;
  min-height: 0;
}
.with-tools {
  display: flex;
  flex-direction: column;
}
.stage {
  position: relative;
  flex: 1;
  min-height: 0;
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
canvas:focus-visible {
  outline-offset: -3px;
}
.label {
  position: absolute;
  color: #17181b;
  background: rgb(247 244 237 / 82%);
  padding: 1px 7px;
  border-radius: 2px;
  font-size: 11.5px;
  pointer-events: none;
}
.label {
  left: 10px;
  top: 10px;
}
.corner {
  position: absolute;
  right: 10px;
  top: 10px;
}
.whole {
  position: absolute;
  right: 10px;
  top: 10px;
}
.size {
  position: absolute;
  left: 50px;
  top: 10px;
}
.label.before {
  left: 50%;
  top: 40px;
  transform: translateX(-50%);
}
.whole,
.size,
.corner :deep(.el-button) {
  color: #17181b;
  background: rgb(247 244 237 / 82%);
  padding: 1px 9px;
  border-radius: 2px;
  font-size: 11.5px;
  z-index: 1;
}
.whole:hover,
.size:hover,
.corner :deep(.el-button:hover) {
  background: rgb(247 244 237);
}
.side {
  position: absolute;
  right: 10px;
  top: 8px;
}
.progress {
  position: absolute;
  left: 50%;
  bottom: 18px;
  transform: translateX(-50%);
  background: var(--paper-raised);
  color: var(--ink);
  padding: 6px 14px 8px;
  border-radius: 3px;
  overflow: hidden;
  white-space: nowrap;
}
.progress i {
  position: absolute;
  left: 0;
  bottom: 0;
  height: 3px;
  background: var(--accent);
}
</style>
