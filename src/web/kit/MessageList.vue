<script setup lang="ts">
import { computed, ref } from 'vue'
import type { MessageDocument } from '../../contract/api.ts'

/** What reading a file had to say, the serious first. */
const props = defineProps<{ messages: readonly MessageDocument[] }>()
const RANK = { error: 0, warning: 1, info: 2 }
const WORD = { error: 'Left out', warning: 'Look at', info: 'Note' }
const open = ref(false)
const sorted = computed(() => [...props.messages].sort((a, b) => RANK[a.severity] - RANK[b.severity]))
const shown = computed(() => (open.value ? sorted.value : sorted.value.slice(0, 4)))
</script>

<template>
  <ul v-if="messages.length" class="messages">
    <li v-for="(message, index) in shown" :key="index">
      <b :class="message.severity">{{ WORD[message.severity] }}</b>
      {{ message.message }}
      <span class="soft"
        >{{ message.where
        }}<template v-if="message.total > 1"> ({{ message.total }} of these)</template></span
      >
    </li>
    <li v-if="sorted.length > 4">
      <el-button link size="small" class="more" @click="open = !open">{{
        open ? 'Fewer' : `All ${sorted.length}`
      }}</el-button>
    </li>
  </ul>
</template>

<style scoped>
.messages {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  padding: 5px 0;
  border-bottom: 1px solid var(--hairline);
  overflow-wrap: anywhere;
}
b {
  font-weight: 600;
}
.error {
  color: var(--lost);
}
.warning {
  color: var(--changed);
}
.more {
  color: var(--accent);
}
</style>
