<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { importedEachSchema, type TripDocument } from '../../../contract/api.ts'
import { suggestedOf, type OptionValues } from '../../../core/base/options/option.ts'
import { api, isConflict } from '../../api.ts'
import { formatBytes } from '../../kit/format.ts'
import { useAssets } from '../../stores/assets.ts'
import { useDescriptors } from '../../stores/descriptors.ts'
import { useJobs } from '../../stores/jobs.ts'
import { useNotices } from '../../stores/notices.ts'
import JobProgress from '../../kit/JobProgress.vue'
import OptionsForm from '../../kit/form/OptionsForm.vue'

/** What to do with dropped files: a new asset, or what came back from a trip. */
const props = defineProps<{ files: readonly File[]; trip: TripDocument | null }>()
const emit = defineEmits<{ done: [] }>()

const router = useRouter()
const assets = useAssets()
const descriptors = useDescriptors()
const jobs = useJobs()
const notices = useNotices()

const asReturn = ref(props.trip !== null)
const name = ref('')
const nameInput = ref<{ select: () => void } | null>(null)
/** Formats that the files may be of, each with what the artist sets for it: what one says itself another leaves open. */
const formats = computed(() => descriptors.formatsOf(props.files.map((file) => file.name)))
const own = ref<Record<string, OptionValues>>({})
const valuesOf = (format: (typeof formats.value)[number]): OptionValues => ({
  ...suggestedOf(format.readOptions),
  ...own.value[format.id],
})
const setOf = (format: string, change: OptionValues): void => {
  own.value = { ...own.value, [format]: { ...own.value[format], ...change } }
}
/** Only what says something: null is what the file says itself. */
const assumed = computed(() =>
  Object.fromEntries(
    formats.value.map((format) => [
      format.id,
      Object.fromEntries(Object.entries(valuesOf(format)).filter(([, value]) => value !== null)),
    ]),
  ),
)
const uploading = ref<number | null>(null)
const jobId = ref<string | null>(null)
/** Several models are the parts of one asset, or an asset each. */
const models = computed(() => props.files.filter((file) => descriptors.isModelName(file.name)))
/** What a ZIP holds is known when it is read. */
const mayBeSeveral = computed(
  () => models.value.length > 1 || props.files.some((file) => /\.zip$/i.test(file.name)),
)
const each = ref(false)
const isEach = computed(() => each.value && mayBeSeveral.value)
/** What could not be read of several files, the rest of which is there. */
const left = ref<{ readonly made: string; readonly files: readonly string[] } | null>(null)
const problem = ref<{ message: string; advice: string } | null>(null)
const total = computed(() => props.files.reduce((sum, file) => sum + file.size, 0))
const busy = computed(() => uploading.value !== null || jobId.value !== null)

watch(
  () => props.files,
  (files) => {
    const model = files.find((file) => descriptors.isModelName(file.name)) ?? files[0]
    const stem = (model?.name ?? '')
      .replace(/\.[^.]+$/, '')
      .replace(/[_-]+/g, ' ')
      .trim()
    // a letter or two is no name to find something by again: the artist is asked for one
    name.value = [...stem].length > 2 ? stem : ''
  },
  { immediate: true },
)

function onEnter(): void {
  if (!busy.value && (isEach.value || name.value.trim())) void bringIn()
}

async function bringIn(): Promise<void> {
  problem.value = null
  uploading.value = 0
  try {
    const progress = (share: number): void => void (uploading.value = share)
    const started =
      asReturn.value && props.trip
        ? await api.returnFiles(props.trip.id, props.files, {}, props.trip.returnedSceneId, progress)
        : await api.importFiles(
            props.files,
            isEach.value ? null : name.value,
            { assumed: assumed.value },
            progress,
          )
    uploading.value = null
    jobId.value = started.jobId
    const job = await jobs.finished(started.jobId)
    if (asReturn.value && props.trip) {
      await assets.open(props.trip.assetId)
      await router.push({ name: 'return', params: { assetId: props.trip.assetId, tripId: props.trip.id } })
    } else if (isEach.value) {
      const made = importedEachSchema.parse(job.result)
      const said = `${made.assets.map((asset) => `“${asset.name}”`).join(', ')} ${made.assets.length === 1 ? 'is' : 'are'} here.`
      await router.push({ name: 'assets' })
      await assets.refresh()
      if (made.left.length) {
        left.value = { made: said, files: made.left }
        return
      }
      notices.done(said)
    } else {
      const assetId = String(job.result!.assetId)
      await assets.open(assetId)
      await router.push({ name: 'bench', params: { assetId } })
      notices.done(`“${name.value}” is on the bench.`)
    }
    emit('done')
  } catch (error) {
    // what came back meanwhile is known from here on: to bring this in again is to put it in that one's place
    if (isConflict(error) && props.trip) await assets.open(props.trip.assetId).catch(notices.failed)
    const document = (error as { document?: { message: string; advice: string } }).document
    if (document) problem.value = document
    else notices.failed(error)
  } finally {
    uploading.value = null
    jobId.value = null
  }
}
</script>

<template>
  <el-dialog
    :model-value="true"
    width="620"
    :show-close="!busy"
    :close-on-click-modal="false"
    :close-on-press-escape="!busy"
    title="Bring in"
    align-center
    @opened="nameInput?.select()"
    @close="emit('done')"
  >
    <ul class="files">
      <li v-for="file in files.slice(0, 6)" :key="file.name">
        <span>{{ file.name }}</span><span class="soft">{{ formatBytes(file.size) }}</span>
      </li>
      <li v-if="files.length > 6" class="soft">
        and {{ files.length - 6 }} more, {{ formatBytes(total) }} in all
      </li>
    </ul>
    <el-radio-group v-if="trip" v-model="asReturn" class="what">
      <el-radio :value="true"
        >It came back from trip {{ trip.number }}, the {{ trip.destination.name.toLowerCase() }}</el-radio
      >
      <el-radio :value="false">It is a new asset</el-radio>
    </el-radio-group>
    <template v-if="!asReturn && !left">
      <el-radio-group v-if="mayBeSeveral" v-model="each" class="what" aria-label="What the files become">
        <el-radio :value="false">One asset, with the parts of all models</el-radio>
        <el-radio :value="true">An asset for each model, called as its file is</el-radio>
      </el-radio-group>
      <label v-if="!isEach" class="name"
        >Name
        <el-input
          ref="nameInput"
          v-model="name"
          maxlength="120"
          aria-label="Name of the asset"
          placeholder="A name to find it by again"
          @keydown.enter="onEnter"
      /></label>
      <template v-for="format in formats" :key="format.id">
        <h3>How {{ format.name }} is meant, where the file doesn’t say or says it wrong</h3>
        <OptionsForm
          class="reading"
          role="group"
          :aria-label="`How ${format.name} is meant`"
          :options="format.readOptions"
          :values="valuesOf(format)"
          two
          @set="(change: OptionValues) => setOf(format.id, change)"
        />
      </template>
    </template>
    <p v-else-if="asReturn" class="soft">It is read the way it was sent: same unit, same axes.</p>
    <div v-if="left" class="problem" role="alert">
      <b>{{ left.made }}</b>
      <p v-for="file in left.files" :key="file">{{ file }}</p>
    </div>
    <div v-if="problem" class="problem" role="alert">
      <b>{{ problem.message }}</b>
      <p>{{ problem.advice }} Nothing was saved, and nothing else was touched.</p>
    </div>
    <template #footer>
      <JobProgress v-if="jobId" :job-id="jobId" />
      <el-progress v-else-if="uploading !== null" :percentage="Math.round(uploading * 100)" />
      <el-button v-else-if="left" type="primary" @click="emit('done')">Go on</el-button>
      <template v-else>
        <el-button @click="emit('done')">Leave it</el-button>
        <el-button type="primary" :disabled="!asReturn && !isEach && !name.trim()" @click="bringIn">
          {{ asReturn ? 'Take it back' : isEach ? 'Bring them in' : 'Bring it in' }}
        </el-button>
      </template>
    </template>
  </el-dialog>
</template>

<style scoped>
.files {
  list-style: none;
  margin: 0 0 12px;
  padding: 0;
  border-top: 1px solid var(--hairline);
}
.files li {
  display: flex;
  justify-content: space-between;
  padding: 3px 0;
  border-bottom: 1px solid var(--hairline);
}
.what {
  display: grid;
  justify-items: start;
  margin-bottom: 12px;
}
.name {
  display: grid;
  grid-template-columns: 112px 1fr;
  align-items: center;
  color: var(--ink-soft);
  margin-bottom: 14px;
}
h3 {
  margin-bottom: 6px;
}
.reading {
  --label-width: 112px;
  margin-bottom: 12px;
}
.problem {
  margin-top: 14px;
  padding: 10px 14px;
  border-left: 3px solid var(--lost);
  background: var(--paper-sunk);
}
.problem p {
  margin: 4px 0 0;
}
</style>
