<script setup lang="ts">
import { shownName } from '../../../core/base/messages/names-text.ts'
import SeverityMark from '../../kit/SeverityMark.vue'
import type { WorseDocument } from '../../../contract/api.ts'

/** What the new version would have wrong that the master has not; nothing is made yet. */
defineProps<{ worse: readonly WorseDocument[] }>()
</script>

<template>
  <section class="worse" aria-label="What would be wrong with it" data-test="worse">
    <p><b>Not kept yet.</b> The new version would have faults that the master does not have:</p>
    <ul>
      <li v-for="entry in worse" :key="`${entry.part} ${entry.message}`">
        <SeverityMark :severity="entry.severity" />
        <span
          ><b v-if="entry.part !== null">{{ shownName(entry.part) }}</b> {{ entry.message }}
          <span class="soft">{{ entry.advice }}</span></span
        >
      </li>
    </ul>
  </section>
</template>

<style scoped>
.worse {
  border-top: 1px solid var(--hairline);
  padding: 10px 16px;
  max-height: 180px;
  overflow: auto;
}
p {
  margin: 0 0 6px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  align-items: baseline;
  gap: 8px;
  padding: 2px 0;
}
</style>
