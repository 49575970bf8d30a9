<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import { imageWorkSchema, type ImageWorkDocument } from '../../../contract/surfaces.ts'
import { defaultsOf, type OptionValues } from '../../../core/base/options/option.ts'
import { api } from '../../api.ts'
import ChoiceField from '../../kit/form/ChoiceField.vue'
import OptionsForm from '../../kit/form/OptionsForm.vue'
import { formatBytes } from '../../kit/format.ts'
import JobProgress from '../../kit/JobProgress.vue'
import { useDescriptors } from '../../stores/descriptors.ts'
import { useJobs } from '../../stores/jobs.ts'
import { useNotices } from '../../stores/notices.ts'

/** An operation on some of the maps; what it makes lies beside them, or in the place of those of the same name. */
const props = defineProps<{
  assetId: string
  /** The version whose islands an operation may ask for. */
  versionId: string
  maps: readonly { readonly id: string; readonly name: string; readonly byteLength: number }[]
}>()
const emit = defineEmits<{
  made: [files: ImageWorkDocument['files']]
  done: []
}>()
const { all: descriptors } = useDescriptors()
const jobs = useJobs()
const notices = useNotices()

const operations = computed(() => descriptors().imageOperations)
const id = ref(operations.value[0]?.id ?? '')
const operation = computed(() => operations.value.find((one) => one.id === id.value)!)
const options = ref<OptionValues>({})
watch(operation, ({ options: all }) => (options.value = defaultsOf(all)), { immediate: true })

/** In the order in which they were ticked: it is that of the channels of several into one. */
const ticked = ref<string[]>([])
const tick = (file: string, on: boolean): void => {
  ticked.value = on ? [...ticked.value, file] : ticked.value.filter((one) => one !== file)
}
const placeOf = (file: string): number => ticked.value.indexOf(file)
const allTicked = computed(() => props.maps.length > 0 && ticked.value.length === props.maps.length)
const tickAll = (): void => {
  ticked.value = allTicked.value ? [] : props.maps.map((map) => map.id)
}

const job = ref<string | null>(null)
const result = shallowRef<ImageWorkDocument | null>(null)
async function work(): Promise<void> {
  result.value = null
  try {
    const { jobId } = await api.workOnImages(props.assetId, {
      operation: id.value,
      options: { ...options.value },
      fileIds: ticked.value,
      versionId: props.versionId,
    })
    job.value = jobId
    const done = imageWorkSchema.parse((await jobs.finished(jobId)).result)
    result.value = done
    // what was replaced is no longer there to be ticked
    const names = new Set(done.files.map(({ name }) => name))
    const gone = props.maps.filter((map) => names.has(map.name)).map((map) => map.id)
    ticked.value = ticked.value.filter((one) => !gone.includes(one))
    emit('made', done.files)
  } catch (error) {
    notices.failed(error)
  } finally {
    job.value = null
  }
}
const CHANNELS = ['red', 'green', 'blue', 'opacity']
</script>

<template>
  <el-dialog :model-value="true" title="Work on maps" width="760" align-center @close="emit('done')">
    <div class="work">
      <section class="maps" aria-label="Maps">
        <el-checkbox :model-value="allTicked" size="small" @change="tickAll">All of them</el-checkbox>
        <ul>
          <li v-for="map in maps" :key="map.id">
            <el-checkbox
              size="small"
              :model-value="placeOf(map.id) >= 0"
              @change="(on: unknown) => tick(map.id, on === true)"
            >
              {{ map.name }}
              <small class="soft">
                {{ formatBytes(map.byteLength)
                }}<template v-if="operation.takes === 'all' && CHANNELS[placeOf(map.id)]"
                  >, {{ CHANNELS[placeOf(map.id)] }}</template
                >
              </small>
            </el-checkbox>
          </li>
        </ul>
      </section>
      <section class="what">
        <ChoiceField
          label="Do"
          name="Operation"
          :value="id"
          :choices="operations.map((one) => ({ value: one.id, label: one.title }))"
          @choose="(chosen: string) => (id = chosen)"
        />
        <p class="soft">{{ operation.description }}</p>
        <OptionsForm
          v-if="operation.options.length"
          plain
          :options="operation.options"
          :values="options"
          @set="(change: OptionValues) => (options = { ...options, ...change })"
        />
        <p class="soft">
          What is made lies among the maps; one of the same name takes the other’s place here. Your own files
          stay as they are.
        </p>
        <el-button type="primary" :disabled="ticked.length === 0 || job !== null" @click="work">
          {{ operation.title }}
          ({{ ticked.length }})
        </el-button>
        <JobProgress v-if="job" :job-id="job" />
        <div v-if="result" role="status" class="result">
          <p v-if="result.files.length">
            {{ result.files.length }} {{ result.files.length === 1 ? 'image' : 'images' }} made.
            <a v-if="result.fileId" :href="api.fileAddress(result.fileId)" download>Save as ZIP</a>
          </p>
          <p v-for="note in result.notes ?? []" :key="note" class="soft">{{ note }}</p>
          <ul v-if="result.refused.length">
            <li v-for="one in result.refused" :key="one.file">
              <b>{{ one.file }}</b> was left as it is: {{ one.why }}
            </li>
          </ul>
        </div>
      </section>
    </div>
  </el-dialog>
</template>

<style scoped>
.work {
  font-size: 13px;
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 24px;
}
.maps ul,
.result ul {
  list-style: none;
  margin: 4px 0 0;
  padding: 0;
}
.maps ul {
  max-height: 380px;
  overflow: auto;
  border-top: 1px solid var(--hairline);
}
.maps li {
  border-bottom: 1px solid var(--hairline);
}
.maps :deep(.el-checkbox) {
  height: auto;
  min-height: 28px;
  white-space: normal;
  overflow-wrap: anywhere;
}
.what {
  --label-width: 96px;
}
.result {
  margin-top: 12px;
}
</style>
