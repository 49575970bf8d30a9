<script setup lang="ts">
import { computed } from 'vue'
import type { MaterialSheetDocument } from '../../../contract/surfaces.ts'
import { fileNameOf } from '../../../core/image/map-sets/path-names.ts'
import { formatCount } from '../../kit/format.ts'

/** What one map for all leaves, in a few lines: a look at it is a version of it on the bench. */
const props = defineProps<{ sheet: MaterialSheetDocument; size: number }>()
const images = computed(() => [...new Set(props.sheet.parameters.flatMap(({ map }) => map ?? []))])
const tileCount = computed(() => props.sheet.drawnInto?.tileCount ?? 1)
</script>

<template>
  <section class="facts" aria-label="What is drawn">
    <p class="count">
      {{ sheet.drawnFrom!.length }} {{ sheet.drawnFrom!.length === 1 ? 'material' : 'materials' }}, one map a
      slot
    </p>
    <dl>
      <dt>Drawn into</dt>
      <dd>{{ sheet.drawnInto?.set || 'the set without a name' }}; the other UV sets go</dd>
      <dt>Images</dt>
      <dd>
        {{ images.length }} of {{ size }} × {{ size
        }}<template v-if="tileCount > 1">, in {{ formatCount(tileCount) }} squares</template>
      </dd>
    </dl>
    <ul>
      <li v-for="image in images" :key="image">{{ fileNameOf(image) }}</li>
    </ul>
    <p class="soft">
      Layers and decals are drawn in their order, normals lean the same way on the model. On the model, above,
      they are drawn as they will be.
    </p>
  </section>
</template>

<style scoped>
.facts {
  padding: 14px 16px;
  overflow: auto;
}
.count {
  font-size: 15px;
  font-weight: 600;
  margin: 0 0 10px;
}
dl {
  display: grid;
  grid-template-columns: 76px minmax(0, 1fr);
  gap: 4px 10px;
  margin: 0 0 10px;
}
dt {
  color: var(--ink-soft);
}
dd {
  margin: 0;
}
ul {
  margin: 0 0 12px;
  padding: 0 0 0 16px;
  overflow-wrap: anywhere;
}
</style>
