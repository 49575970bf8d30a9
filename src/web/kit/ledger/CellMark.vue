<script setup lang="ts">
import type { LedgerCellDocument } from '../../../contract/ledger.ts'
import { fateOf, type FateDestination } from '../../../core/trips/fate.ts'
import type { Trait } from '../../../core/compare/traits/registry.ts'
import { useDescriptors } from '../../stores/descriptors.ts'
import FateMark from './FateMark.vue'
import StateMark from './StateMark.vue'

/** The mark of a ledger's cell: on the way out what becomes of the trait, on the way back what became of it. */
const descriptors = useDescriptors()
defineProps<{ trait: Trait; cell: LedgerCellDocument; destination?: FateDestination | null }>()
</script>

<template>
  <FateMark
    v-if="destination"
    :fate="fateOf(trait, cell, destination, descriptors.kinds())"
    :empty="cell.empty"
  />
  <StateMark v-else :state="cell.state" :empty="cell.empty" />
</template>
