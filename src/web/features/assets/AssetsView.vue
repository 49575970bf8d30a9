<script setup lang="ts">
import { computed, onMounted } from 'vue'
import { RouterLink } from 'vue-router'
import { ElMessageBox } from 'element-plus'
import { api } from '../../api.ts'
import { formatCount, formatTime } from '../../kit/format.ts'
import { placeOf } from '../asset/place.ts'
import { useDescriptors } from '../../stores/descriptors.ts'
import { useAssets } from '../../stores/assets.ts'
import { useNotices } from '../../stores/notices.ts'
import type { AssetSummary } from '../../../contract/api.ts'

const emit = defineEmits<{ bringIn: [] }>()
const assets = useAssets()
const descriptors = useDescriptors()
const notices = useNotices()
onMounted(() => void assets.refresh().catch(notices.failed))

const ORDER = { back: 0, out: 1, here: 2 }
const rows = computed(() =>
  assets.assets
    .map((asset) => ({ asset, place: placeOf(asset), master: asset.master }))
    .sort((a, b) => ORDER[a.place.state] - ORDER[b.place.state]),
)

async function remove(asset: AssetSummary): Promise<void> {
  try {
    await ElMessageBox.confirm(
      `“${asset.name}” with its ${asset.versionCount} version(s) and ${asset.tripCount} trip(s) will be destroyed. This can’t be undone.`,
      'Destroy this asset?',
      { confirmButtonText: 'Destroy it', cancelButtonText: 'Keep it', type: 'warning' },
    )
  } catch {
    return
  }
  try {
    await api.remove(asset.id)
    await assets.refresh()
  } catch (error) {
    notices.failed(error)
  }
}
async function rename(asset: AssetSummary): Promise<void> {
  try {
    const { value } = await ElMessageBox.prompt('Name of the asset', 'Rename', {
      inputValue: asset.name,
      confirmButtonText: 'Rename',
      cancelButtonText: 'Leave it',
      inputValidator: (text: string) => (text.trim() ? true : 'A name is needed.'),
    })
    await api.rename(asset.id, value.trim(), asset.name)
    await assets.refresh()
  } catch (error) {
    if (error !== 'cancel' && error !== 'close') notices.failed(error)
  }
}
</script>

<template>
  <section class="assets">
    <div class="head">
      <h1>Assets</h1>
      <p class="soft">Every character and prop, and where it is now. Drop a model anywhere to bring it in.</p>
    </div>
    <table v-if="rows.length">
      <thead>
        <tr>
          <th>Asset</th>
          <th>Where it is</th>
          <th class="figure">Master</th>
          <th class="figure">Parts</th>
          <th class="figure">Vertices</th>
          <th class="figure">Polygons</th>
          <th class="figure">Since</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="{ asset, place, master } in rows" :key="asset.id">
          <td class="asset">
            <RouterLink :to="{ name: 'bench', params: { assetId: asset.id } }">{{ asset.name }}</RouterLink>
          </td>
          <td>
            <RouterLink
              class="place"
              :class="place.state"
              :to="
                place.trip
                  ? {
                      name: place.state === 'back' ? 'return' : 'sent',
                      params: { assetId: asset.id, tripId: place.trip.id },
                    }
                  : { name: 'bench', params: { assetId: asset.id } }
              "
            >
              <svg width="74" height="30" viewBox="0 0 74 30" aria-hidden="true">
                <path d="M4 24H70" class="base" />
                <path d="M12 24C12 2 62 2 62 24" class="loop" :class="{ dashed: place.state === 'here' }" />
                <circle cx="12" cy="24" r="4" class="end" />
                <circle v-if="place.state === 'here'" cx="12" cy="24" r="4" class="now" />
                <circle v-if="place.state === 'out'" cx="37" cy="7.5" r="4.6" class="now" />
                <circle v-if="place.state === 'back'" cx="62" cy="24" r="4.6" class="now" />
              </svg>
              {{ place.text }}
            </RouterLink>
          </td>
          <td class="figure">{{ master.number }}</td>
          <td class="figure">{{ formatCount(master.parts) }}</td>
          <td class="figure">{{ formatCount(master.vertices) }}</td>
          <td class="figure">{{ formatCount(master.polygons) }}</td>
          <td class="figure soft">
            {{ formatTime(place.trip?.returnedAt ?? place.trip?.sentAt ?? master.createdAt) }}
          </td>
          <td class="figure">
            <el-button size="small" text @click="rename(asset)">Rename</el-button>
            <el-button size="small" text @click="remove(asset)">Destroy …</el-button>
          </td>
        </tr>
      </tbody>
    </table>
    <div v-else-if="assets.loaded" class="empty">
      <h2>Nothing here yet</h2>
      <p>
        Drop a model with its materials and maps on this page ({{ descriptors.formatNames() }}), or a ZIP that
        holds them. Kelbo keeps it as version 1, the master.
      </p>
      <el-button type="primary" @click="emit('bringIn')">Bring in a model</el-button>
    </div>
  </section>
</template>

<style scoped>
.assets {
  padding: 26px 32px;
  height: 100%;
  overflow: auto;
}
.head {
  margin-bottom: 18px;
}
.head p {
  margin: 4px 0 0;
}
th {
  padding: 6px 14px 6px 0;
  border-bottom: 1px solid var(--ink);
}
th.figure {
  text-align: right;
}
td {
  padding: 12px 14px 12px 0;
  border-bottom: 1px solid var(--hairline);
}
.asset a {
  font-size: 16px;
  font-weight: 600;
  color: var(--ink);
  text-decoration: none;
}
.asset a:hover {
  text-decoration: underline;
}
.place {
  display: flex;
  align-items: center;
  gap: 12px;
  text-decoration: none;
  color: var(--ink);
}
.place:hover {
  text-decoration: underline;
}
.place.back {
  color: var(--changed);
}
.place.out {
  color: var(--accent);
}
.base,
.loop {
  fill: none;
  stroke: var(--ink-soft);
  stroke-width: 1.4;
}
.loop.dashed {
  stroke: var(--hairline);
  stroke-dasharray: 3 3;
}
.end {
  fill: var(--paper);
  stroke: var(--ink-soft);
  stroke-width: 1.4;
}
.now {
  fill: currentColor;
}
.empty {
  max-width: 460px;
  margin: 90px auto;
  text-align: center;
}
</style>
