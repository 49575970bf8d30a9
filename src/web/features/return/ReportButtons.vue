<script setup lang="ts">
import type { AssetDocument, TripDetail } from '../../../contract/api.ts'
import { makeReport, reportPage, type Report } from '../../../core/compare/story/report.ts'
import { formatTime } from '../../kit/format.ts'
import { saveText } from '../../kit/save-text.ts'
import { useDescriptors } from '../../stores/descriptors.ts'

/** The ledger as something to keep. */
const props = defineProps<{ asset: AssetDocument; detail: TripDetail }>()
const { all } = useDescriptors()

function report(): Report {
  const { trip, ledger } = props.detail
  return makeReport({
    asset: props.asset.name,
    trip: trip.number,
    destination: trip.destination.name,
    file: trip.returnedFileName ?? '',
    at: trip.returnedAt ? formatTime(trip.returnedAt) : '',
    ledger: ledger!,
    traits: all().traits.filter(({ scope }) => scope === 'part'),
    notes: all().notes,
  })
}
const stem = (): string =>
  `${props.asset.name.replace(/[^\p{L}\p{N}._-]+/gu, '_').toLowerCase()}_trip_${props.detail.trip.number}`
</script>

<template>
  <span class="report">
    <span class="soft">Report</span>
    <el-button
      size="small"
      link
      type="primary"
      @click="saveText(`${stem()}.html`, reportPage(report()), 'text/html;charset=utf-8')"
      >as a page</el-button
    >
    <el-button
      size="small"
      link
      type="primary"
      @click="saveText(`${stem()}.json`, JSON.stringify(report(), null, 2), 'application/json')"
      >as data</el-button
    >
  </span>
</template>

<style scoped>
.report {
  display: flex;
  gap: 8px;
  align-items: baseline;
  margin-left: auto;
  white-space: nowrap;
}
.report :deep(.el-button + .el-button) {
  margin-left: 0;
}
</style>
