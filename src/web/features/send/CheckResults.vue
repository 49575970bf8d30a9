<script setup lang="ts">
import { shownName } from '../../../core/base/messages/names-text.ts'
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import type { CheckResultDocument } from '../../../contract/api.ts'
import SeverityMark from '../../kit/SeverityMark.vue'

/** As many as leave the files below them in view. */
const MOST = 6
/** What the checks found in what is about to leave; those that the destination wants clean come first. */
const props = defineProps<{ checks: readonly CheckResultDocument[]; assetId: string }>()
const required = computed(() => props.checks.filter((entry) => entry.mustBeClean))
const others = computed(() => props.checks.filter((entry) => !entry.mustBeClean && entry.severity !== 'info'))
</script>

<template>
  <div class="checks">
    <p v-if="!required.length && !others.length" class="clean">
      Checked for this destination: nothing found.
    </p>
    <template v-else>
      <p v-if="required.length">
        <b
          >{{ required.length }} {{ required.length === 1 ? 'finding' : 'findings' }} should be mended
          first</b
        >
      </p>
      <p v-else class="soft">What has to be clean is clean. Beside that:</p>
      <ul>
        <li v-for="(entry, index) in [...required, ...others].slice(0, MOST)" :key="index">
          <SeverityMark :severity="entry.severity" />
          <span
            ><template v-if="entry.part !== null">{{ shownName(entry.part.split('/').pop()!) }}: </template
            >{{ entry.message }}</span
          >
        </li>
      </ul>
      <p class="soft">
        <template v-if="required.length + others.length > MOST"
          >and {{ required.length + others.length - MOST }} more. </template
        ><RouterLink :to="{ name: 'bench', params: { assetId } }">Mend them on the Bench</RouterLink>
      </p>
    </template>
  </div>
</template>

<style scoped>
p {
  margin: 2px 0;
}
ul {
  list-style: none;
  margin: 4px 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 18px 1fr;
  padding: 2px 0;
}
</style>
