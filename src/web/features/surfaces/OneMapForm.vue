<script setup lang="ts">
import { computed, ref } from 'vue'
import { CENTIMETRES_PER_INCH, mapSizeFor, pixelsForPrint } from '../../../core/image/print-size.ts'
import { ONE_MAP_DEFAULTS, ONE_MAP_MOST, type OneMapOptions } from '../../../core/surfaces/one-map/options.ts'
import ChoiceField from '../../kit/form/ChoiceField.vue'
import NumberField from '../../kit/form/NumberField.vue'
import { formatCount } from '../../kit/format.ts'

/** Whether all materials become one, and into which UVs and pixels they are drawn. */
const props = defineProps<{
  options: OneMapOptions | null
  /** Names of UV sets that the parts have. */
  sets: readonly string[]
}>()
const emit = defineEmits<{ change: [options: OneMapOptions | null] }>()

/** What stands for the set that is found by itself. */
const FOUND = '?'
const choices = computed(() => [
  { value: FOUND, label: 'with the fewest overlaps' },
  ...props.sets.map((set) => ({ value: set, label: set || 'without a name' })),
])
const sizes = [256, 512, 1024, 2048, 4096, 8192].map((value) => ({ value, label: `${value} × ${value}` }))
const change = (some: Partial<OneMapOptions>): void =>
  emit('change', { ...(props.options ?? ONE_MAP_DEFAULTS), ...some })

const length = ref<number | null>(null)
const unit = ref<'cm' | 'in'>('cm')
const dots = ref<number | null>(300)
const needed = computed(() => {
  if (!length.value || !dots.value) return null
  const pixels = pixelsForPrint(length.value * (unit.value === 'in' ? CENTIMETRES_PER_INCH : 1), dots.value)
  return { pixels, size: mapSizeFor(pixels) }
})
</script>

<template>
  <section class="one-map" aria-label="One map for all">
    <el-checkbox
      size="small"
      :model-value="options !== null"
      @change="(on: unknown) => emit('change', on ? ONE_MAP_DEFAULTS : null)"
    >
      One map for all materials
    </el-checkbox>
    <div v-if="options" class="fields">
      <ChoiceField
        label="UV set"
        :value="options.set ?? FOUND"
        :choices="choices"
        @choose="(set: string) => change({ set: set === FOUND ? null : set })"
      />
      <ChoiceField
        label="Size"
        name="Pixels on a side"
        :value="options.size"
        :choices="sizes"
        @choose="(size: number) => change({ size })"
      />
      <NumberField
        label="Padding"
        unit="px"
        whole
        :min="0"
        :max="256"
        :value="options.padding"
        @choose="(padding: number | null) => change({ padding: padding ?? 0 })"
      />
      <details class="print">
        <summary class="soft">Which size does a print need?</summary>
        <div class="measures">
          <NumberField label="Length" :min="0" :value="length" @choose="(one) => (length = one)" />
          <ChoiceField
            label=""
            name="Unit of the length"
            :value="unit"
            :choices="[
              { value: 'cm', label: 'cm' },
              { value: 'in', label: 'inches' },
            ]"
            @choose="(one: string) => (unit = one as 'cm' | 'in')"
          />
          <NumberField label="Dots" unit="/ inch" :min="1" :value="dots" @choose="(one) => (dots = one)" />
        </div>
        <p v-if="needed" class="soft">
          {{ formatCount(needed.pixels) }} pixels where a print is one whole map:
          <el-button
            v-if="needed.size <= ONE_MAP_MOST"
            link
            type="primary"
            size="small"
            @click="change({ size: Math.max(256, needed.size) })"
            >take {{ Math.max(256, needed.size) }}</el-button
          >
          <template v-else>more than the largest map here</template>
        </p>
      </details>
    </div>
  </section>
</template>

<style scoped>
.one-map {
  margin: 0 0 12px;
}
.fields {
  display: grid;
  gap: 6px;
  margin-top: 4px;
  --label-width: 58px;
}
.print summary {
  cursor: pointer;
  font-size: 12px;
}
.measures {
  display: grid;
  gap: 6px;
  margin-top: 6px;
}
.print p {
  margin: 6px 0 0;
}
</style>
