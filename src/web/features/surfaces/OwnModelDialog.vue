<script setup lang="ts">
import { computed, ref } from 'vue'
import { KelboError } from '../../../core/base/messages/collector.ts'
import {
  COMMON_CHOICES,
  OWN_MODEL,
  parseOwnModel,
  type OwnModelDocument,
} from '../../../core/surfaces/own-model.ts'

/** A surface model of the artist's own: its name, its slots, and what each is taken from. */
const props = defineProps<{ model: OwnModelDocument | null }>()
const emit = defineEmits<{ done: [model: OwnModelDocument | null] }>()

interface Row {
  name: string
  from: string
  times: number
  inverted: boolean
}
const name = ref(props.model?.name ?? '')
const rows = ref<Row[]>(
  (
    props.model?.slots ?? [
      { name: 'colour', from: 'baseColor' },
      { name: 'roughness', from: 'roughness' },
      { name: 'normals', from: 'normal' },
    ]
  ).map((slot) => ({
    name: slot.name,
    from: slot.from,
    times: slot.times ?? 1,
    inverted: slot.inverted ?? false,
  })),
)
const isMap = (from: string): boolean => COMMON_CHOICES.find(({ id }) => id === from)?.kind === 'map'
const made = computed((): OwnModelDocument => ({
  name: name.value.trim(),
  slots: rows.value.map(({ name: own, from, times, inverted }) => ({
    name: own.trim(),
    from,
    ...(times === 1 || isMap(from) ? {} : { times }),
    ...(inverted ? { inverted } : {}),
  })),
}))
const complaint = computed((): string => {
  try {
    parseOwnModel(made.value, OWN_MODEL)
    return ''
  } catch (error) {
    if (!(error instanceof KelboError)) throw error
    return String(error.parameters.what)
  }
})
const add = (): void => void rows.value.push({ name: '', from: 'baseColor', times: 1, inverted: false })
</script>

<template>
  <el-dialog
    :model-value="true"
    title="A surface model of your own"
    width="640"
    align-center
    @close="emit('done', null)"
  >
    <label class="name">
      Name
      <el-input v-model="name" size="small" maxlength="80" aria-label="Name of the model" />
    </label>
    <table>
      <thead>
        <tr>
          <th>Slot, as the renderer calls it</th>
          <th>Taken from</th>
          <th>Times</th>
          <th>Turned round</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(row, at) in rows" :key="at">
          <td>
            <el-input
              v-model="row.name"
              size="small"
              maxlength="200"
              :aria-label="`Name of slot ${at + 1}`"
            />
          </td>
          <td>
            <el-select
              v-model="row.from"
              :persistent="false"
              size="small"
              :aria-label="`What slot ${at + 1} is taken from`"
            >
              <el-option v-for="{ id, title } in COMMON_CHOICES" :key="id" :label="title" :value="id" />
            </el-select>
          </td>
          <td>
            <el-input-number
              v-if="!isMap(row.from)"
              v-model="row.times"
              size="small"
              :controls="false"
              :aria-label="`What slot ${at + 1} is multiplied by`"
            />
          </td>
          <td><el-checkbox v-model="row.inverted" :aria-label="`Slot ${at + 1} turned round`" /></td>
          <td>
            <el-button link size="small" :disabled="rows.length === 1" @click="rows.splice(at, 1)">
              Take away
            </el-button>
          </td>
        </tr>
      </tbody>
    </table>
    <el-button link type="primary" size="small" @click="add">Another slot</el-button>
    <p v-if="complaint && name" class="soft" role="status">Not yet: {{ complaint }}.</p>
    <template #footer>
      <el-button size="small" @click="emit('done', null)">Leave it</el-button>
      <el-button size="small" type="primary" :disabled="complaint !== ''" @click="emit('done', made)">
        Wire for it
      </el-button>
    </template>
  </el-dialog>
</template>

<style scoped>
.name {
  display: grid;
  grid-template-columns: 50px 260px;
  align-items: center;
  margin-bottom: 12px;
}
th {
  text-align: left;
  font-size: 12px;
  font-weight: 500;
  padding: 0 10px 4px 0;
}
td {
  padding: 3px 10px 3px 0;
}
td :deep(.el-input-number) {
  width: 76px;
}
td :deep(.el-select) {
  width: 190px;
}
</style>
