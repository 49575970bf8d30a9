<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { RouterLink, RouterView, useRoute, useRouter } from 'vue-router'
import BrandMark from './kit/BrandMark.vue'
import { api } from './api.ts'
import AccountMenu from './features/sign-in/AccountMenu.vue'
import DropDialog from './features/bring-in/DropDialog.vue'
import { onKeyStroke } from './kit/use-keys.ts'
import { useAssets } from './stores/assets.ts'
import { areMaps, useDroppedMaps } from './stores/dropped-maps.ts'
import { useDescriptors } from './stores/descriptors.ts'
import { useJobs } from './stores/jobs.ts'
import { useLandings } from './stores/landings.ts'
import { useNotices } from './stores/notices.ts'
import { useSession } from './stores/session.ts'
import { useSettings } from './stores/settings.ts'

const route = useRoute()
const router = useRouter()
const assets = useAssets()
const descriptors = useDescriptors()
const jobs = useJobs()
const maps = useDroppedMaps()
const landings = useLandings()
const notices = useNotices()
const session = useSession()
const settings = useSettings()
const dragging = ref(false)
const dropped = shallowRef<File[]>([])
const helpOpen = ref(false)
const chooser = ref<HTMLInputElement>()

onMounted(() => {
  jobs.connect()
  assets.refresh().catch(notices.failed)
  landings.refresh().catch(notices.failed)
})
// what came home by itself shows on the list and on the route without anybody asking
watch(
  () => jobs.jobs.find(({ kind, state }) => kind === 'receive' && state === 'done'),
  (job, before) => {
    if (!job?.tripId || job.id === before?.id) return
    assets.cameBack(job.assetId!, job.tripId).catch(notices.failed)
  },
)

/** On an asset's page, a dropped file is likely what came back from its trip. */
const trip = computed(() => {
  const asset = typeof route.params.assetId === 'string' ? assets.find(route.params.assetId) : null
  if (!asset) return null
  const named = asset.trips.find((candidate) => candidate.id === route.params.tripId)
  return named ?? asset.trips.findLast((candidate) => candidate.state === 'out') ?? null
})

/** Files of a drop, with those inside dropped folders. */
async function filesOf(transfer: DataTransfer): Promise<File[]> {
  const entries = [...transfer.items]
    .map((item) => item.webkitGetAsEntry?.())
    .filter((entry) => entry !== null)
  if (!entries.some((entry) => entry?.isDirectory)) return [...transfer.files]
  const files: File[] = []
  const visit = async (entry: FileSystemEntry): Promise<void> => {
    if (entry.isFile) {
      const file = await new Promise<File>((resolve, reject) =>
        (entry as FileSystemFileEntry).file(resolve, reject),
      )
      // where it lay is part of what a map is called
      Object.defineProperty(file, 'webkitRelativePath', { value: entry.fullPath.replace(/^\//, '') })
      files.push(file)
    }
    if (entry.isDirectory) {
      const reader = (entry as FileSystemDirectoryEntry).createReader()
      for (;;) {
        const some = await new Promise<FileSystemEntry[]>((resolve, reject) =>
          reader.readEntries(resolve, reject),
        )
        if (some.length === 0) break
        for (const inner of some) await visit(inner)
      }
    }
  }
  for (const entry of entries) if (entry) await visit(entry)
  return files
}

/** How files of whole assets end, as the server writes them. */
const ARCHIVE_ENDING = '.kelbo-asset'
/** Whole assets come in as they are; of anything else it is asked what it is. */
async function take(files: File[]): Promise<void> {
  const assetId = typeof route.params.assetId === 'string' ? route.params.assetId : null
  if (assetId && areMaps(files)) {
    maps.offer(files)
    if (route.name !== 'surfaces') await router.push({ name: 'surfaces', params: { assetId } })
    return
  }
  if (files.length === 0 || !files.every((file) => file.name.toLowerCase().endsWith(ARCHIVE_ENDING))) {
    dropped.value = files
    return
  }
  for (const file of files) {
    const assetId = await api.importArchive(file)
    await assets.open(assetId)
    notices.done(`“${assets.find(assetId)!.name}” is here with its whole history.`)
    await router.push({ name: 'bench', params: { assetId } })
  }
  await assets.refresh()
}

/** Names of parts are drawn too. */
const hasFiles = (event: DragEvent): boolean => event.dataTransfer?.types.includes('Files') ?? false

async function onDrop(event: DragEvent): Promise<void> {
  dragging.value = false
  if (!event.dataTransfer || !hasFiles(event)) return
  // a place of its own has taken it already
  if (event.target instanceof Element && event.target.closest('[data-takes-drop]')) return
  try {
    await take(await filesOf(event.dataTransfer))
  } catch (error) {
    notices.failed(error)
  }
}
function onChosen(event: Event): void {
  const input = event.target as HTMLInputElement
  const files = [...(input.files ?? [])]
  input.value = ''
  take(files).catch(notices.failed)
}
onKeyStroke('?', () => (helpOpen.value = true))
const SHORTCUTS = [
  ['?', 'this list'],
  ['v', 'view all, or the selected part'],
  ['g', 'edges on and off'],
  ['m', 'maps on and off'],
  ['c', 'a checker on the model and under its UVs'],
  ['b', 'held: the model as it was before the steps'],
  ['k', 'stripe back faces'],
  ['o', 'only the selected part'],
  ['Esc', 'select nothing'],
  ['Ctrl Z', 'take back the last step on the bench'],
  [
    'Arrows',
    'turn the model; with Shift move it; in the ledger, go from mark to mark; on a line between panes, move it',
  ],
  ['+ −', 'closer, farther'],
  ['Drag', 'turn the model; with Shift or the right button, move it'],
  ['Click', 'select a part and a polygon, in either view'],
]
</script>

<template>
  <div
    class="page"
    @dragover.prevent="dragging = hasFiles($event)"
    @dragleave.self="dragging = false"
    @drop.prevent="onDrop"
  >
    <header>
      <RouterLink to="/" class="brand">
        <BrandMark :width="26" />
        Kelbo
      </RouterLink>
      <nav aria-label="Main">
        <RouterLink to="/" :class="{ on: route.name === 'assets' }">
          Assets<template v-if="landings.landings.length"> ({{ landings.landings.length }} landed)</template>
        </RouterLink>
        <RouterLink to="/destinations" :class="{ on: route.name === 'destinations' }"
          >Destinations</RouterLink
        >
        <RouterLink to="/practice" :class="{ on: route.name === 'practice' }">Practice</RouterLink>
        <RouterLink to="/jobs" :class="{ on: route.name === 'jobs' }">
          Jobs<template v-if="jobs.active.length"> ({{ jobs.active.length }})</template>
        </RouterLink>
      </nav>
      <span class="gap"></span>
      <span v-if="!jobs.connected" class="soft">reconnecting …</span>
      <el-button type="primary" size="small" @click="chooser?.click()">Bring in a model</el-button>
      <input ref="chooser" type="file" multiple hidden data-test="chooser" @change="onChosen" />
      <el-button
        text
        size="small"
        class="tool"
        :aria-pressed="settings.dark"
        @click="settings.dark = !settings.dark"
      >
        {{ settings.dark ? 'Light' : 'Dark' }}
      </el-button>
      <AccountMenu v-if="session.name" />
      <el-button text size="small" class="tool" aria-label="Shortcuts" @click="helpOpen = true">?</el-button>
    </header>
    <main>
      <RouterView @bring-in="chooser?.click()" />
    </main>
    <div
      v-if="dragging"
      class="drop"
      :class="{ through: route.name === 'surfaces' }"
      @dragleave.prevent="dragging = false"
    >
      <p v-if="route.name === 'surfaces'">Drop maps anywhere, or one on the parameter that it is for</p>
      <p v-else>
        Drop it: {{ descriptors.formatNames() }} with materials and maps, several of them, or a ZIP
      </p>
    </div>
    <DropDialog v-if="dropped.length" :files="dropped" :trip="trip" @done="dropped = []" />
    <el-dialog v-model="helpOpen" title="Shortcuts" width="520" align-center>
      <dl>
        <template v-for="[key, meaning] in SHORTCUTS" :key="key">
          <dt>{{ key }}</dt>
          <dd>{{ meaning }}</dd>
        </template>
      </dl>
    </el-dialog>
    <div class="notices" aria-live="polite">
      <div v-for="notice in notices.notices" :key="notice.id" class="notice" :class="notice.kind">
        <div>
          <b>{{ notice.text }}</b>
          <p v-if="notice.advice">{{ notice.advice }}</p>
        </div>
        <el-button link size="small" aria-label="Put away" @click="notices.drop(notice.id)">✕</el-button>
      </div>
    </div>
  </div>
</template>

<style scoped>
.page {
  display: grid;
  grid-template-rows: 46px minmax(0, 1fr);
  height: 100%;
}
header {
  display: flex;
  align-items: center;
  gap: 18px;
  padding: 0 18px 0 20px;
  border-bottom: 1px solid var(--hairline);
}
.brand {
  display: flex;
  align-items: center;
  gap: 9px;
  font-weight: 650;
  font-size: 16px;
  letter-spacing: -0.02em;
  color: var(--ink);
  text-decoration: none;
  margin-right: 20px;
}
header nav {
  display: flex;
  gap: 22px;
  height: 100%;
}
header nav a {
  color: var(--ink-soft);
  text-decoration: none;
  line-height: 44px;
  border-bottom: 2px solid transparent;
}
header nav a.on {
  color: var(--ink);
  border-color: var(--accent);
}
.gap {
  flex: 1;
}
.tool {
  padding: 4px 6px;
  color: var(--ink-soft);
}
main {
  min-height: 0;
  overflow: hidden;
}
.drop {
  position: fixed;
  inset: 0;
  background: rgb(14 109 120 / 14%);
  border: 3px dashed var(--accent);
  display: grid;
  place-items: center;
  z-index: 50;
  pointer-events: none;
}
/* where single places take a drop, they stay to be seen */
.through {
  background: none;
  place-items: end center;
  padding-bottom: 40px;
}
.drop p {
  background: var(--paper-raised);
  padding: 16px 26px;
  font-size: 17px;
  border-radius: 4px;
}
dl {
  display: grid;
  grid-template-columns: 90px 1fr;
  gap: 6px 12px;
  margin: 0;
}
dt {
  font-weight: 600;
}
dd {
  margin: 0;
}
.notices {
  position: fixed;
  right: 18px;
  bottom: 18px;
  display: grid;
  gap: 8px;
  width: 380px;
  z-index: 4000;
}
.notice {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  background: var(--paper-raised);
  border: 1px solid var(--hairline);
  border-left: 3px solid var(--accent);
  padding: 10px 14px;
  border-radius: 3px;
  box-shadow: 0 4px 18px rgb(0 0 0 / 12%);
}
.notice.error {
  border-left-color: var(--lost);
}
.notice b {
  font-weight: 600;
}
.notice p {
  margin: 3px 0 0;
  color: var(--ink-soft);
}
</style>
