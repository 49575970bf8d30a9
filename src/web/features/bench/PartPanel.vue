<script setup lang="ts">
import { computed, ref } from 'vue'
import type { AssetDocument, VersionSummary } from '../../../contract/api.ts'
import type { PartLabel, PartMark, PartRole } from '../../../contract/recipes.ts'
import type { SceneInspection } from '../../../core/inspect/inspect-scene.ts'
import type { BenchFinding } from '../../../app/bench.ts'
import { SLOT_WORDS } from '../../../core/surfaces/wording/slot-words.ts'
import { api, isConflict } from '../../api.ts'
import { by, formatSize, formatTime } from '../../kit/format.ts'
import MessageList from '../../kit/MessageList.vue'
import { DEFAULT_MARK } from '../../kit/part-marks.ts'
import { useAssets } from '../../stores/assets.ts'
import { useNotices } from '../../stores/notices.ts'
import PartMarkForm from './PartMarkForm.vue'
import PartsTable from './PartsTable.vue'
import type { PartEntry } from './use-parts.ts'
import { shownName } from '../../../core/base/messages/names-text.ts'

/** What lies on the bench: the version, its parts, and of the selected one its marks and materials. */
const props = defineProps<{
  asset: AssetDocument
  version: VersionSummary
  isMaster: boolean
  /** Steps of the draft on top of the version. */
  stepCount: number
  inspection: SceneInspection | null
  /** What reading the version's file had to say. */
  messages: SceneInspection['messages']
  parts: readonly PartEntry[]
  part: PartEntry | null
  materials: SceneInspection['materials']
  findings: readonly BenchFinding[]
}>()
const selected = defineModel<number | null>('selected', { required: true })
const assets = useAssets()
const notices = useNotices()

const filter = ref('')
const listed = computed(() => {
  const words = filter.value.trim().toLowerCase()
  return words ? props.parts.filter((part) => part.name.toLowerCase().includes(words)) : props.parts
})
/** The gravest finding of each part. */
const graves = computed(() => {
  const map = new Map<number, string>()
  for (const finding of props.findings)
    if (finding.node !== null && finding.severity !== 'info' && map.get(finding.node) !== 'error')
      map.set(finding.node, finding.severity)
  return map
})
const marks = computed(() => props.asset.partMarks)
const mark = computed((): PartMark =>
  props.part ? (marks.value[props.part.id] ?? DEFAULT_MARK) : DEFAULT_MARK,
)
/** One mark after the other: each says from which it starts, and the one before has to be there by then. */
let writing: Promise<void> = Promise.resolve()
function setMark(change: { role?: PartRole; label?: PartLabel }): void {
  const { part } = props
  if (part) writing = writing.then(() => writeMark(part.id, change))
}
async function writeMark(id: string, change: { role?: PartRole; label?: PartLabel }): Promise<void> {
  const own = marks.value[id] ?? null
  try {
    await api.markParts(props.asset.id, { [id]: { ...(own ?? DEFAULT_MARK), ...change } }, { [id]: own })
    await assets.open(props.asset.id)
  } catch (error) {
    notices.failed(error)
    if (isConflict(error)) await assets.open(props.asset.id).catch(notices.failed)
  }
}
</script>

<template>
  <div class="panel left">
    <div class="whole">
      <h2>
        Version {{ version.number }}<template v-if="isMaster">, the master</template>
        <template v-if="stepCount">, with {{ stepCount }} {{ stepCount === 1 ? 'step' : 'steps' }}</template>
      </h2>
      <p class="soft">{{ version.note }}{{ by(version.madeBy) }} · {{ formatTime(version.createdAt) }}</p>
      <p v-if="inspection" class="size">
        {{ formatSize(inspection.bounds, inspection.unitMeters, inspection.upAxis) }}
      </p>
    </div>
    <div class="list">
      <el-input v-if="parts.length > 14" v-model="filter" size="small" placeholder="Find a part" clearable />
      <PartsTable
        :parts="listed"
        :marks="marks"
        :selected-node="selected"
        :graves="graves"
        @select="(node) => (selected = node)"
      />
    </div>
    <div v-if="inspection" class="detail">
      <template v-if="part">
        <h2>{{ shownName(part.name) }}</h2>
        <PartMarkForm :mark="mark" @change="setMark" />
      </template>
      <h2>Materials</h2>
      <ul class="materials">
        <li v-for="material in materials" :key="material.id">
          {{ material.name }}
          <span class="soft">
            <template v-if="material.maps.length">
              {{
                material.maps
                  .map((map) => (map.found ? SLOT_WORDS[map.slot] : `${SLOT_WORDS[map.slot]} (missing)`))
                  .join(', ')
              }}
            </template>
            <template v-else>no maps</template>
          </span>
        </li>
        <li v-if="!materials.length" class="soft">none</li>
      </ul>
      <template v-if="messages.length">
        <h2>What reading it had to say</h2>
        <MessageList :messages="messages" />
      </template>
    </div>
  </div>
</template>

<style scoped>
.left {
  display: flex;
  flex-direction: column;
  gap: 10px;
  padding: 10px 0 0 14px;
  overflow: hidden;
}
.whole p {
  margin: 1px 12px 0 0;
}
.whole .size {
  font-size: 14px;
  font-weight: 500;
}
.list {
  display: flex;
  flex-direction: column;
  gap: 6px;
  overflow: hidden;
  min-height: 150px;
  flex: 1 1 auto;
  padding-right: 12px;
}
.detail {
  flex: 0 1 auto;
  max-height: 50%;
  overflow: auto;
  padding: 8px 12px 8px 0;
  border-top: 1px solid var(--ink);
}
.materials {
  list-style: none;
  margin: 4px 0 12px;
  padding: 0;
}
.materials li {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  padding: 3px 0;
  border-bottom: 1px solid var(--hairline);
}
</style>
