<script setup lang="ts">
/** What happened to all of it, as a whole or to its layout of UVs, with the way to undo it. */
import { computed } from 'vue'

const props = defineProps<{
  /** In words, and what it was judged by; null where it stands as it stood, or is undone. */
  whole: { readonly text: string; readonly by?: string | undefined } | null
  layout: { readonly text: string } | null
  busy: boolean
}>()
defineEmits<{ undo: [] }>()

const judged = computed(() =>
  props.whole?.by === 'boxes'
    ? ', judged by the boxes of its parts alone'
    : props.whole?.by === 'surfaces'
      ? ', judged by where its surfaces lie'
      : '',
)
const action = computed(() =>
  !props.layout
    ? 'Bring it to its size and place'
    : props.whole
      ? 'Bring it and its UVs to their place'
      : 'Bring the UVs to their place',
)
</script>

<template>
  <div v-if="whole || layout" class="whole" role="status">
    <span>
      <template v-if="whole"
        >As a whole it is <b>{{ whole.text }}</b>{{ judged }}.
      </template>
      <template v-if="layout"
        >Its layout of UVs is <b>{{ layout.text }}</b>.</template
      >
    </span>
    <el-button v-if="!busy" size="small" type="primary" @click="$emit('undo')">{{ action }}</el-button>
  </div>
</template>

<style scoped>
.whole {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
  margin: 8px 16px 0;
  padding: 7px 12px;
  border-left: 3px solid var(--lost);
  background: var(--paper-raised);
}
</style>
