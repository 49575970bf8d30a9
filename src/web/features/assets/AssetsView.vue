<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { ElMessageBox } from 'element-plus'
import { api } from '../../api.ts'
import { formatCount, formatTime } from '../../kit/format.ts'
import { placeOf } from '../asset/place.ts'
import LandingList from './LandingList.vue'
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
const STATES = [
  { id: 'all', title: 'All' },
  { id: 'back', title: 'Back' },
  { id: 'out', title: 'Out' },
  { id: 'here', title: 'Here' },
] as const
/** Assets from which on they are searched and sorted out, and not looked over. */
const MANY = 8
const words = ref('')
const state = ref<(typeof STATES)[number]['id']>('all')
const all = computed(() =>
  assets.assets
    .map((asset) => {
      const place = placeOf(asset)
      const since = place.trip?.returnedAt ?? place.trip?.sentAt ?? asset.master.createdAt
      return { asset, place, master: asset.master, since }
    })
    .sort((a, b) => ORDER[a.place.state] - ORDER[b.place.state]),
)
const rows = computed(() => {
  const wanted = words.value.trim().toLowerCase()
  return all.value.filter(
    ({ asset, place }) =>
      (state.value === 'all' || place.state === state.value) && asset.name.toLowerCase().includes(wanted),
  )
})
type Row = (typeof all.value)[number]
const byName = (a: Row, b: Row): number => a.asset.name.localeCompare(b.asset.name)
const byPlace = (a: Row, b: Row): number => ORDER[a.place.state] - ORDER[b.place.state]
const bySince = (a: Row, b: Row): number => a.since.localeCompare(b.since)
/** Scenes whose picture could not be had: those from before there were any, and those of which nothing is shown. */
const without = ref(new Set<string>())

function act(command: string, asset: AssetSummary): void {
  if (command === 'rename') void rename(asset)
  else if (command === 'destroy') void remove(asset)
  else location.assign(api.archiveAddress(asset.id))
}

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
    <LandingList />
    <div v-if="all.length > MANY" class="tools">
      <el-input
        v-model="words"
        placeholder="Find an asset"
        aria-label="Find an asset"
        clearable
        class="find"
      />
      <el-radio-group v-model="state" aria-label="Where it is">
        <el-radio-button v-for="{ id, title } in STATES" :key="id" :value="id">{{ title }}</el-radio-button>
      </el-radio-group>
      <span class="soft">{{
        rows.length === all.length ? `${all.length} assets` : `${rows.length} of ${all.length}`
      }}</span>
    </div>
    <el-table v-if="all.length" :data="rows" row-key="asset.id" empty-text="None of them fits.">
      <el-table-column label="Asset" min-width="270" sortable :sort-method="byName">
        <template #default="{ row }: { row: Row }">
          <RouterLink class="asset" :to="{ name: 'bench', params: { assetId: row.asset.id } }">
            <span class="frame">
              <img
                v-if="row.master.parts > 0 && !without.has(row.master.sceneId)"
                :src="api.pictureAddress(row.master.sceneId)"
                width="84"
                height="63"
                alt=""
                loading="lazy"
                @error="without = new Set([...without, row.master.sceneId])"
              />
            </span>
            {{ row.asset.name }}
          </RouterLink>
        </template>
      </el-table-column>
      <el-table-column label="Where it is" min-width="370" sortable :sort-method="byPlace">
        <template #default="{ row: { asset, place } }: { row: Row }">
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
        </template>
      </el-table-column>
      <el-table-column label="Version" prop="master.number" width="106" align="right" sortable />
      <el-table-column label="Parts" prop="master.parts" width="90" align="right" sortable>
        <template #default="{ row }: { row: Row }">{{ formatCount(row.master.parts) }}</template>
      </el-table-column>
      <el-table-column label="Polygons" prop="master.polygons" width="122" align="right" sortable>
        <template #default="{ row }: { row: Row }">
          <span :title="`${formatCount(row.master.vertices)} vertices`">{{
            formatCount(row.master.polygons)
          }}</span>
        </template>
      </el-table-column>
      <el-table-column label="Since" width="140" align="right" sortable :sort-method="bySince">
        <template #default="{ row }: { row: Row }">
          <span class="soft">{{ formatTime(row.since) }}</span>
        </template>
      </el-table-column>
      <el-table-column width="64" align="right">
        <template #default="{ row: { asset } }: { row: Row }">
          <el-dropdown
            trigger="click"
            :persistent="false"
            @command="(command: string) => act(command, asset)"
          >
            <el-button size="small" text :aria-label="`More for ${asset.name}`">…</el-button>
            <template #dropdown>
              <el-dropdown-menu>
                <el-dropdown-item command="rename">Rename …</el-dropdown-item>
                <el-dropdown-item command="export">Export with its history</el-dropdown-item>
                <el-dropdown-item command="destroy" divided>Destroy …</el-dropdown-item>
              </el-dropdown-menu>
            </template>
          </el-dropdown>
        </template>
      </el-table-column>
    </el-table>
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
.tools {
  display: flex;
  align-items: center;
  gap: 16px;
  margin-bottom: 12px;
}
.find {
  width: 260px;
}
.asset {
  display: flex;
  align-items: center;
  gap: 14px;
  font-size: 16px;
  font-weight: 600;
  color: var(--ink);
  text-decoration: none;
}
.asset:hover {
  text-decoration: underline;
}
.frame {
  flex: none;
  width: 84px;
  height: 63px;
}
.frame img {
  display: block;
}
.place {
  display: flex;
  align-items: center;
  gap: 12px;
  text-decoration: none;
  color: var(--ink);
}

.place svg {
  flex: none;
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
