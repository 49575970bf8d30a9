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
const MOST_PLAIN = 100
</script>

<template>
  <label class="form-line" :class="{ top: !short }">
    {{ label }}
    <!-- thousands of choices are more than the plain list can do -->
    <el-select-v2
      v-if="choices.length > MOST_PLAIN"
      :model-value="[...values]"
      :options="[...choices]"
      multiple
      filterable
      collapse-tags
      size="small"
      :placeholder="placeholder"
      :aria-label="name ?? label"
      @update:model-value="(chosen: Value[]) => emit('choose', chosen)"
    />
    <el-select
      v-else
      :model-value="[...values]"
      :persistent="false"
      multiple
      :filterable="choices.length > 20"
      default-first-option
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
