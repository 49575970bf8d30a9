<script setup lang="ts">
import { computed, ref } from 'vue'
import { ElMessageBox } from 'element-plus'
import { KelboError } from '../../../core/base/messages/collector.ts'
import { parseRules, type RemapRules } from '../../../core/surfaces/remap/rules.ts'
import { remapRulesSchema } from '../../../contract/surface-rules.ts'
import ChoiceField from '../../kit/form/ChoiceField.vue'
import { saveText } from '../../kit/save-text.ts'
import { useNotices } from '../../stores/notices.ts'
import { useSavedRules } from './use-saved-rules.ts'

/** What was settled by hand: kept under a name for other assets and for destinations, or as a file. */
const props = defineProps<{ rules: RemapRules; surface: string }>()
const emit = defineEmits<{ take: [rules: RemapRules, surface: string | null] }>()
const notices = useNotices()
const { saved, keep, drop } = useSavedRules()

const taken = ref<string | null>(null)
/** What stands for none of them. */
const NONE = '?'
const choices = computed(() => [
  { value: NONE, label: saved.value.length ? 'none' : 'none yet' },
  ...saved.value.map(({ id, name }) => ({ value: id, label: name })),
])
const chosen = computed(() => saved.value.find(({ id }) => id === taken.value) ?? null)
function take(id: string): void {
  taken.value = id === NONE ? null : id
  if (chosen.value) emit('take', chosen.value.rules as RemapRules, chosen.value.surface)
}
const count = computed(
  () =>
    props.rules.rules.length +
    Object.keys(props.rules.sets ?? {}).length +
    Object.keys(props.rules.rename ?? {}).length +
    (props.rules.oneMap ? 1 : 0) +
    (props.rules.green ? 1 : 0),
)
async function keepAs(): Promise<void> {
  let name: string
  try {
    const answer = await ElMessageBox.prompt('A name for these rules', 'Keep them', {
      inputValue: chosen.value?.name ?? '',
      inputPattern: /\S/,
      inputErrorMessage: 'They need a name.',
      confirmButtonText: 'Keep',
      cancelButtonText: 'Leave it',
    })
    name = (answer as { value: string }).value.trim()
  } catch {
    return
  }
  await keep({ name, surface: props.surface, rules: remapRulesSchema.parse(props.rules) })
  taken.value = saved.value.find((one) => one.name === name)?.id ?? null
}

const file = (): void =>
  saveText('surface-rules.json', JSON.stringify(props.rules, null, 2), 'application/json')
const chooser = ref<HTMLInputElement>()
async function onFile(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const [own] = input.files ?? []
  input.value = ''
  if (!own) return
  try {
    emit('take', parseRules(JSON.parse(await own.text())), null)
  } catch (error) {
    const why = error instanceof KelboError ? ` ${String(error.parameters.what)}` : ' it is no JSON'
    notices.failed(new Error(`These rules can’t be used:${why}.`))
  }
}
</script>

<template>
  <section class="rules" aria-label="Rules">
    <ChoiceField
      v-if="saved.length"
      label="Rules"
      name="Kept rules"
      :value="taken ?? NONE"
      :choices="choices"
      @choose="take"
    />
    <div class="line">
      <span class="soft">{{ count }} {{ count === 1 ? 'rule' : 'rules' }} by hand</span>
      <el-button link type="primary" size="small" @click="keepAs">Keep as …</el-button>
      <el-button v-if="chosen" link type="danger" size="small" @click="drop(chosen)">Delete</el-button>
      <el-button link type="primary" size="small" @click="file">Export</el-button>
      <el-button link type="primary" size="small" @click="chooser?.click()">Import</el-button>
      <input
        ref="chooser"
        type="file"
        hidden
        accept=".json"
        aria-label="Rules from a file"
        @change="onFile"
      />
    </div>
  </section>
</template>

<style scoped>
.rules {
  display: grid;
  gap: 6px;
  --label-width: 40px;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 5px;
  align-items: baseline;
}
.line :deep(.el-button) {
  margin-left: 0;
}
</style>
