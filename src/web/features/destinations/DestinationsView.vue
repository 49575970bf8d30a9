<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import {
  DESTINATION_FILE,
  destinationFieldsSchema,
  destinationFileSchema,
  schemaComplaint,
  type DestinationFields,
} from '../../../contract/destinations.ts'
import { KIND_NAMES, type Destination } from '../../../core/trips/destinations/destination.ts'
import { api, isConflict } from '../../api.ts'
import DestinationForm from './DestinationForm.vue'
import { useDestinations } from '../../stores/destinations.ts'
import { useDescriptors } from '../../stores/descriptors.ts'
import { useNotices } from '../../stores/notices.ts'

/** The tools that files go to: those that ship, to copy from, and the artist's own, to edit. */
const destinations = useDestinations()
const { formatName } = useDescriptors()
const notices = useNotices()
onMounted(() => void destinations.refresh().catch(notices.failed))

const groups = computed(() => [
  { title: 'Ship with Kelbo', entries: destinations.shipped },
  { title: 'Your own', entries: destinations.own },
])
const chosen = ref(destinations.first().id)
const current = computed<Destination>(() => destinations.find(chosen.value) ?? destinations.first())
const shipped = computed(() => destinations.isShipped(current.value.id))
const fieldsOf = (destination: Destination): DestinationFields =>
  destinationFieldsSchema.strip().parse(structuredClone(JSON.parse(JSON.stringify(destination))))
const draft = ref<DestinationFields>(fieldsOf(current.value))
watch(current, (now) => (draft.value = fieldsOf(now)))
const changed = computed(() => JSON.stringify(draft.value) !== JSON.stringify(fieldsOf(current.value)))
const complaint = computed(() => {
  const parsed = destinationFieldsSchema.safeParse(draft.value)
  return parsed.success ? null : schemaComplaint(parsed.error)
})

async function attempt(work: () => Promise<string | void>): Promise<void> {
  try {
    const next = await work()
    await destinations.refresh()
    if (next) chosen.value = next
  } catch (error) {
    notices.failed(error)
    if (isConflict(error)) await destinations.refresh().catch(notices.failed)
  }
}
const copy = (): Promise<void> =>
  attempt(async () => {
    const { name } = current.value
    const taken = new Set(destinations.all.map((entry) => entry.name))
    let free = `${name}, ours`
    for (let number = 2; taken.has(free); number++) free = `${name}, ours ${number}`
    return (await api.addDestination({ ...fieldsOf(current.value), name: free })).id
  })
const save = (): Promise<void> =>
  attempt(async () => {
    await api.changeDestination(current.value.id, draft.value, destinations.changedAt(current.value.id))
    notices.done(`“${draft.value.name}” is saved.`)
  })
const remove = (): Promise<void> =>
  attempt(async () => {
    const { id, name } = current.value
    await api.removeDestination(id, destinations.changedAt(id))
    notices.done(`“${name}” is removed. Trips that went there keep what they know of it.`)
    return destinations.first().id
  })

const chooser = ref<HTMLInputElement>()
async function importFile(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const [file] = input.files ?? []
  input.value = ''
  if (!file) return
  let document: unknown
  try {
    document = JSON.parse(await file.text())
  } catch (error) {
    notices.refused(`“${file.name}” is no JSON: ${(error as Error).message}.`)
    return
  }
  const parsed = destinationFileSchema.safeParse(document)
  if (!parsed.success) {
    const isOther = (document as { type?: unknown } | null)?.type !== DESTINATION_FILE
    const why = isOther ? 'it is the file of something else' : schemaComplaint(parsed.error)
    notices.refused(`“${file.name}” is no destination: ${why}.`)
    return
  }
  await attempt(async () => (await api.addDestination(parsed.data.destination)).id)
}
</script>

<template>
  <div class="split destinations">
    <nav class="panel" aria-label="Destinations">
      <template v-for="group in groups" :key="group.title">
        <h2>{{ group.title }}</h2>
        <ul v-if="group.entries.length">
          <li v-for="entry in group.entries" :key="entry.id">
            <button
              class="plain"
              :class="{ chosen: entry.id === current.id }"
              :aria-current="entry.id === current.id || undefined"
              @click="chosen = entry.id"
            >
              {{ entry.name }} <span class="soft">{{ formatName(entry.format) }}</span>
            </button>
          </li>
        </ul>
        <p v-else class="soft">
          None yet. Copy one that ships, and describe the tool in your studio: its unit, what it takes, what
          it is known to do to a file.
        </p>
      </template>
      <el-button size="small" @click="chooser?.click()">Import from a file</el-button>
      <input
        ref="chooser"
        type="file"
        accept=".json"
        hidden
        data-test="destination-file"
        @change="importFile"
      />
    </nav>
    <main>
      <header>
        <div>
          <h1>{{ current.name }}</h1>
          <span class="soft"
            >{{ KIND_NAMES[current.kind] }}{{ shipped ? '; ships with Kelbo and stays as it is' : '' }}</span
          >
        </div>
        <div class="acts">
          <span v-if="complaint && !shipped" class="complaint" role="alert">{{ complaint }}</span>
          <el-button v-if="!shipped" type="primary" :disabled="!changed || complaint !== null" @click="save"
            >Save</el-button
          >
          <el-button :type="shipped ? 'primary' : 'default'" @click="copy">{{
            shipped ? 'Copy and edit' : 'Copy'
          }}</el-button>
          <a :href="api.destinationFileAddress(current.id)" download><el-button>Export</el-button></a>
          <el-popconfirm
            v-if="!shipped"
            :title="`Remove “${current.name}”?`"
            confirm-button-text="Remove"
            cancel-button-text="Keep it"
            width="240"
            @confirm="remove"
          >
            <template #reference><el-button text>Remove</el-button></template>
          </el-popconfirm>
        </div>
      </header>
      <DestinationForm :key="current.id" v-model="draft" :disabled="shipped" />
    </main>
  </div>
</template>

<style scoped>
.destinations {
  grid-template-columns: 236px minmax(0, 1fr);
}
nav h2 {
  margin: 0 0 4px;
}
nav ul + h2 {
  margin-top: 18px;
}
ul {
  list-style: none;
  margin: 0 0 10px;
  padding: 0;
}
li button {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  width: 100%;
  padding: 5px 8px;
  border-left: 3px solid transparent;
}
li button:hover {
  background: var(--paper-sunk);
}
li button.chosen {
  border-left-color: var(--accent);
  background: var(--paper-raised);
  font-weight: 600;
}
main {
  padding: 18px 28px;
  overflow: auto;
  min-height: 0;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: start;
  gap: 16px;
  margin-bottom: 14px;
}
.acts {
  display: flex;
  gap: 8px;
  align-items: center;
}
.acts :deep(.el-button + .el-button) {
  margin-left: 0;
}
.complaint {
  color: var(--lost);
}
</style>
