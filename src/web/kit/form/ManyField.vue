<script setup lang="ts" generic="Value extends string | number">
/** A line of a form: a word, and any number of a list's entries. */
defineProps<{
  label: string
  values: readonly Value[]
  choices: readonly { readonly value: Value; readonly label: string }[]
  /** What it is called for those who listen, where the word alone is too short. */
  name?: string
  placeholder?: string
  /** One line only: the first, and how many more. */
  short?: boolean
}>()
const emit = defineEmits<{ choose: [values: Value[]] }>()
</script>

<template>
  <label class="form-line" :class="{ top: !short }">
    {{ label }}
    <el-select
      :model-value="[...values]"
      :persistent="false"
      multiple
      :filterable="choices.length > 20"
      :collapse-tags="short"
      size="small"
      :placeholder="placeholder"
      :aria-label="name ?? label"
      @update:model-value="(chosen: Value[]) => emit('choose', chosen)"
    >
      <el-option v-for="choice in choices" :key="choice.value" :label="choice.label" :value="choice.value" />
    </el-select>
  </label>
</template>
