<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Severity } from '../../../core/base/messages/catalogue.ts'
import type { RecipeStep } from '../../../core/steps/recipe.ts'
import type { BenchFinding } from '../../../app/bench.ts'
import { useDescriptors } from '../../stores/descriptors.ts'
import { groupOf, RANK, stepsFor } from './finding-groups.ts'
import HistogramChart from '../../kit/HistogramChart.vue'
import SeverityMark from '../../kit/SeverityMark.vue'

/** What the checks found, by check: each shows itself, and is mended where there is a step for it. */
const props = defineProps<{
  findings: readonly BenchFinding[]
  /** Name of each node. */
  names: readonly string[]
  /** The finding on show, and which of its places (null: all). */
  shown: { index: number; place: number | null } | null
  busy: boolean
  selectedNode: number | null
  /** The step done last, in words. */
  last: string | null
}>()
const emit = defineEmits<{
  show: [index: number, place: number | null]
  mend: [steps: RecipeStep[]]
  undo: []
}>()

const descriptors = useDescriptors()
const SEVERITIES: readonly { severity: Severity; one: string; many: string }[] = [
  { severity: 'error', one: 'fault', many: 'faults' },
  { severity: 'warning', one: 'doubt', many: 'doubts' },
  { severity: 'info', one: 'note', many: 'notes' },
]
const wanted = ref<Severity[]>(['error', 'warning', 'info'])
const words = ref('')
const onlySelected = ref(false)
const countOf = (severity: Severity): number =>
  props.findings.filter((finding) => finding.severity === severity).length
const toggle = (severity: Severity): void => {
  wanted.value = wanted.value.includes(severity)
    ? wanted.value.filter((known) => known !== severity)
    : [...wanted.value, severity]
}

const partName = (finding: BenchFinding): string =>
  finding.node === null ? '' : (props.names[finding.node] ?? '')

/** By check, the gravest first. */
const groups = computed(() => {
  const text = words.value.trim().toLowerCase()
  const byCheck = new Map<string, BenchFinding[]>()
  for (const finding of props.findings) {
    if (!wanted.value.includes(finding.severity)) continue
    if (onlySelected.value && props.selectedNode !== null && finding.node !== props.selectedNode) continue
    const check = descriptors.check(finding.check)!
    if (text && !`${check.title} ${partName(finding)} ${finding.text}`.toLowerCase().includes(text)) continue
    const held = byCheck.get(finding.check)
    if (held) held.push(finding)
    else byCheck.set(finding.check, [finding])
  }
  return [...byCheck]
    .map(([key, list]) => ({ ...groupOf(list), key, check: descriptors.check(list[0]!.check)! }))
    .sort((a, b) => RANK[a.severity] - RANK[b.severity])
})
/** Notes seldom need anything done: they are folded until they are asked for, or looked for by words. */
const notesOpen = ref(false)
const unfolded = computed(
  () => notesOpen.value || words.value.trim() !== '' || !wanted.value.includes('info'),
)
const listed = computed(() =>
  unfolded.value ? groups.value : groups.value.filter(({ severity }) => severity !== 'info'),
)
const foldedNotes = computed(() =>
  groups.value
    .filter(({ severity }) => severity === 'info')
    .reduce((sum, { findings }) => sum + findings.length, 0),
)
const opened = ref<Set<string>>(new Set())
const isOpen = (key: string, size: number): boolean => size === 1 || opened.value.has(key)
const open = (key: string): void => {
  const next = new Set(opened.value)
  if (!next.delete(key)) next.add(key)
  opened.value = next
}
/** Findings of a check that are listed at first; thousands of lines would hold the page up. */
const MOST_LISTED = 60
const more = ref<ReadonlyMap<string, number>>(new Map())
const mostOf = (key: string): number => more.value.get(key) ?? MOST_LISTED
const listMore = (key: string): void => {
  more.value = new Map(more.value).set(key, mostOf(key) + 5 * MOST_LISTED)
}
const detail = computed(() => props.findings.find((finding) => finding.index === props.shown?.index) ?? null)
const detailCheck = computed(() => (detail.value ? descriptors.check(detail.value.check) : null))

function mendAll(list: readonly BenchFinding[]): void {
  emit('mend', stepsFor(list))
}
const step = (by: number): void => {
  if (!detail.value || detail.value.placeCount === 0) return
  const count = detail.value.placeCount
  const place = props.shown?.place
  const next = place === null || place === undefined ? (by > 0 ? 0 : count - 1) : (place + by + count) % count
  emit('show', detail.value.index, next)
}
watch(
  () => props.findings,
  () => {
    if (props.findings.length === 0) words.value = ''
  },
)
</script>

<template>
  <div class="findings">
    <div class="head">
      <div class="counts" role="group" aria-label="Show">
        <button
          v-for="entry in SEVERITIES"
          :key="entry.severity"
          class="plain count"
          :class="{ off: !wanted.includes(entry.severity) }"
          :aria-pressed="wanted.includes(entry.severity)"
          @click="toggle(entry.severity)"
        >
          <SeverityMark :severity="entry.severity" />
          <b>{{ countOf(entry.severity) }}</b> {{ countOf(entry.severity) === 1 ? entry.one : entry.many }}
        </button>
      </div>
      <div class="filter">
        <el-input
          v-model="words"
          size="small"
          placeholder="Find in the findings"
          clearable
          aria-label="Find in the findings"
        />
        <el-checkbox v-model="onlySelected" size="small" :disabled="selectedNode === null"
          >This part</el-checkbox
        >
      </div>
    </div>
    <div v-if="last" class="last" role="status">
      <span>{{ last }}</span>
      <el-button size="small" text :disabled="busy" @click="emit('undo')">Undo</el-button>
    </div>
    <ul class="list" aria-label="Findings">
      <li v-if="groups.length === 0 && !busy" class="none">
        <template v-if="findings.length === 0">Nothing found: the model is ready.</template>
        <template v-else>Nothing of this kind.</template>
      </li>
      <li v-if="groups.length > 0 && listed.length === 0 && !busy" class="none">No faults and no doubts.</li>
      <li v-for="group in listed" :key="group.key">
        <div class="row kind">
          <button
            class="plain title"
            :aria-expanded="isOpen(group.key, group.findings.length)"
            @click="
              group.findings.length > 1 ? open(group.key) : emit('show', group.findings[0]!.index, null)
            "
          >
            <SeverityMark :severity="group.severity" />
            <span class="name">{{ group.check.title }}</span>
            <span v-if="group.findings.length > 1" class="soft">{{
              group.parts > 1 ? `${group.parts} parts` : `${group.findings.length} kinds`
            }}</span>
          </button>
          <el-button
            v-if="group.fixes.length > 1"
            size="small"
            text
            :disabled="busy"
            @click="mendAll(group.fixes)"
            >Mend all</el-button
          >
        </div>
        <template v-if="isOpen(group.key, group.findings.length)">
          <div
            v-for="finding in group.findings.slice(0, mostOf(group.key))"
            :key="finding.index"
            class="row one"
            :class="{ shown: shown?.index === finding.index }"
          >
            <button class="plain text" @click="emit('show', finding.index, null)">
              <SeverityMark
                v-if="finding.severity !== group.severity"
                :severity="finding.severity"
                :size="10"
              />
              <b v-if="partName(finding)">{{ partName(finding) }}</b> {{ finding.text }}
            </button>
            <el-button
              v-if="finding.fix"
              size="small"
              text
              :disabled="busy"
              :title="descriptors.step(finding.fix.step)?.title"
              @click="emit('mend', [finding.fix])"
              >Mend</el-button
            >
          </div>
          <el-button
            v-if="group.findings.length > mostOf(group.key)"
            size="small"
            link
            class="more"
            @click="listMore(group.key)"
            >{{ (group.findings.length - mostOf(group.key)).toLocaleString('en-US') }} more</el-button
          >
        </template>
      </li>
      <li v-if="foldedNotes > 0 && words.trim() === '' && wanted.includes('info')" class="fold">
        <el-button size="small" text :aria-expanded="notesOpen" @click="notesOpen = !notesOpen">{{
          notesOpen ? 'Fold the notes' : `Show ${foldedNotes} ${foldedNotes === 1 ? 'note' : 'notes'}`
        }}</el-button>
        <span v-if="!notesOpen" class="soft">what may well be meant so</span>
      </li>
    </ul>
    <div v-if="detail && detailCheck" class="detail">
      <div class="stepper">
        <template v-if="detail.placeCount > 0">
          <el-button
            size="small"
            :disabled="detail.placeCount < 2"
            aria-label="The place before"
            @click="step(-1)"
            >‹</el-button
          >
          <span class="figure">{{
            detail.placeCount === 1
              ? '1 place'
              : shown?.place === null || shown?.place === undefined
                ? `all ${detail.placeCount.toLocaleString('en-US')} places`
                : `place ${(shown.place + 1).toLocaleString('en-US')} of ${detail.placeCount.toLocaleString('en-US')}`
          }}</span>
          <el-button size="small" aria-label="The next place" @click="step(1)">›</el-button>
          <el-button
            v-if="shown?.place !== null && detail.placeCount > 1"
            size="small"
            text
            @click="emit('show', detail.index, null)"
            >All</el-button
          >
        </template>
        <span v-else class="soft">Concerns the whole {{ detail.node === null ? 'model' : 'part' }}.</span>
      </div>
      <p>{{ detailCheck.why }}</p>
      <p v-if="detail.hasHeat" class="soft legend">
        <i class="less"></i> less room than even <i class="even"></i> even <i class="more"></i> more
      </p>
      <HistogramChart
        v-if="detail.distribution"
        :values="detail.distribution.values"
        :title="detail.distribution.title"
        :of="detail.distribution.of"
      />
    </div>
  </div>
</template>

<style scoped>
.findings {
  display: flex;
  flex-direction: column;
  min-height: 0;
  height: 100%;
}
.head {
  padding: 8px 12px 8px;
  border-bottom: 1px solid var(--hairline);
  display: grid;
  gap: 6px;
}
.counts {
  display: flex;
  gap: 16px;
}
.count {
  display: flex;
  align-items: center;
  gap: 5px;
}
.count b {
  font-weight: 650;
}
.count.off {
  opacity: 0.5;
  text-decoration: line-through;
}
.filter {
  display: flex;
  gap: 10px;
  align-items: center;
}
.last {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 8px;
  padding: 1px 6px 1px 12px;
  border-bottom: 1px solid var(--hairline);
  background: var(--accent-wash);
}
.list {
  list-style: none;
  margin: 0;
  padding: 0;
  overflow: auto;
  flex: 1;
  min-height: 90px;
}
.list > li {
  border-bottom: 1px solid var(--hairline);
  padding: 3px 6px 3px 12px;
}
.fold {
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 8px 4px;
}
.none {
  padding: 18px 12px !important;
  color: var(--ink-soft);
}
.row {
  display: flex;
  align-items: baseline;
  gap: 6px;
}
.row :deep(.el-button) {
  flex: none;
  padding: 2px 6px;
  height: 22px;
}
.title {
  flex: 1;
  display: flex;
  gap: 7px;
  align-items: baseline;
  padding: 2px 0;
  min-width: 0;
}
.title .name {
  font-weight: 550;
}
.title .soft {
  margin-left: auto;
  white-space: nowrap;
}
.text {
  flex: 1;
  padding: 2px 0 2px 20px;
  line-height: 1.35;
  overflow-wrap: anywhere;
  color: var(--ink);
}
.text b {
  font-weight: 550;
  color: var(--ink-soft);
}
.more {
  margin-left: 20px;
}
.one:hover,
.kind:hover {
  background: var(--paper-sunk);
}
.one.shown {
  background: var(--accent-wash);
}
.detail {
  border-top: 1px solid var(--ink);
  padding: 8px 12px;
  max-height: 46%;
  overflow: auto;
}
.detail p {
  margin: 6px 0;
}
.stepper {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 24px;
}
.stepper :deep(.el-button + .el-button) {
  margin-left: 0;
}
.legend i {
  display: inline-block;
  width: 12px;
  height: 12px;
  vertical-align: -2px;
  border: 1px solid var(--hairline);
  margin: 0 2px 0 8px;
}
.less {
  background: #1a4d9e;
  margin-left: 0 !important;
}
.even {
  background: #dbdbdb;
}
.more {
  background: #cc4505;
}
</style>
