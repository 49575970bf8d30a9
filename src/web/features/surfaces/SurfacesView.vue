<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import type { AssetDocument, SceneDocument } from '../../../contract/api.ts'
import { OWN_MODEL, type OwnModelDocument } from '../../../core/surfaces/own-model.ts'
import type { RemapRules } from '../../../core/surfaces/remap/rules.ts'
import { api } from '../../api.ts'
import ChoiceField from '../../kit/form/ChoiceField.vue'
import JobProgress from '../../kit/JobProgress.vue'
import MessageList from '../../kit/MessageList.vue'
import { useStillHere } from '../../kit/still-here.ts'
import { useAssets } from '../../stores/assets.ts'
import { useDescriptors } from '../../stores/descriptors.ts'
import { useDroppedMaps } from '../../stores/dropped-maps.ts'
import { useNotices } from '../../stores/notices.ts'
import { masterOf } from '../asset/place.ts'
import DoubtTable from './DoubtTable.vue'
import OneMapFacts from './OneMapFacts.vue'
import ImageWorkDialog from './ImageWorkDialog.vue'
import MaterialList from './MaterialList.vue'
import MapNamingForm from './MapNamingForm.vue'
import ModelLook from './ModelLook.vue'
import OneMapForm from './OneMapForm.vue'
import OwnModelDialog from './OwnModelDialog.vue'
import SavedRules from './SavedRules.vue'
import SheetTable from './SheetTable.vue'
import SurfaceLook from './SurfaceLook.vue'
import { useRemap, type RuleScope } from './use-remap.ts'

/** Materials and maps rewired for a renderer: materials left, their slots in the middle, the look on the right. */
const props = defineProps<{ asset: AssetDocument }>()
const router = useRouter()
const assets = useAssets()
const notices = useNotices()
const dropped = useDroppedMaps()
const { all: descriptors } = useDescriptors()

const version = computed(() => masterOf(props.asset))
const {
  surface,
  maps,
  rules,
  found,
  job,
  uploading,
  doubts,
  addMaps,
  takeMade,
  setCell,
  dropOn,
  dropOnMaterial,
  setOwner,
  setOneMap,
  setNaming,
  setOwnModel,
  isRuled,
  make,
  requestOf,
} = useRemap(
  () => props.asset.id,
  () => version.value.id,
)
const scene = shallowRef<SceneDocument | null>(null)
watch(
  () => version.value.sceneId,
  (id) => void api.scene(id).then((document) => (scene.value = document), notices.failed),
  { immediate: true },
)
const models = computed(() => [
  ...descriptors().surfaceModels.map(({ id, title }) => ({ value: id, label: title })),
  ...(rules.value.ownModel ? [{ value: OWN_MODEL, label: rules.value.ownModel.name }] : []),
])
/** The look: on balls, or on the model itself. */
const onModel = ref(false)
function choose(name: string, came: number | null): void {
  const isOneForAll = sheets.value.some(({ drawnFrom }) => drawnFrom)
  const at =
    came !== null && !isOneForAll
      ? came
      : sheets.value.findIndex(({ material, drawnFrom }) => material === name || drawnFrom?.includes(name))
  if (at >= 0) chosen.value = at
}
const worksOnMaps = ref(false)
const makesModel = ref(false)
function takeModel(model: OwnModelDocument | null): void {
  makesModel.value = false
  if (model) setOwnModel(model)
}
const titleOf = (id: string): string => models.value.find(({ value }) => value === id)?.label ?? id
const formats = computed(() => descriptors().formats.map(({ id, name }) => ({ value: id, label: name })))
const format = ref(formats.value[0]?.value ?? '')

const chosen = ref(0)
const sheets = computed(() => found.value?.sheets ?? [])
const sheet = computed(() => sheets.value[Math.min(chosen.value, sheets.value.length - 1)] ?? null)
/** Names of the sets that the parts have, those of most parts first. */
const uvSets = computed(() => {
  const counts = new Map<string, number>()
  for (const mesh of scene.value?.inspection.meshes ?? [])
    for (const { name } of mesh.uvSets) counts.set(name, (counts.get(name) ?? 0) + 1)
  return [...counts].sort((a, b) => b[1] - a[1]).map(([name]) => name)
})
/** Materials that are chosen besides the one that is looked at. */
const alsoChosen = ref<ReadonlySet<number>>(new Set())
const chosenNames = computed(() =>
  alsoChosen.value.size
    ? sheets.value.flatMap(({ material }, at) => (alsoChosen.value.has(at) ? [material] : []))
    : sheet.value
      ? [sheet.value.material]
      : [],
)
function setCells(parameter: string, change: Parameters<typeof setCell>[2], scope: RuleScope): void {
  const own = sheet.value!.material
  for (const material of scope === 'chosen' ? chosenNames.value : [own])
    setCell(material, parameter, change, scope === 'all')
}
watch(
  () => dropped.waiting,
  (files) => {
    if (files.length) void addMaps(dropped.takeAll())
  },
  { immediate: true },
)
const chooser = ref<HTMLInputElement>()
function onChosen(event: Event): void {
  const input = event.target as HTMLInputElement
  const files = [...(input.files ?? [])]
  input.value = ''
  if (files.length) void addMaps(files)
}

const isMaking = ref(false)
const watchHere = useStillHere(() => props.asset.id)
async function keep(): Promise<void> {
  const isHere = watchHere()
  isMaking.value = true
  const made = await make('keep', null, null)
  isMaking.value = false
  await assets.open(props.asset.id).catch(notices.failed)
  if (!made?.versionNumber) return
  notices.done(`Version ${made.versionNumber} is the new master, its materials as ${titleOf(surface.value)}.`)
  if (isHere()) await router.push({ name: 'bench', params: { assetId: props.asset.id } })
}
async function writeFiles(): Promise<void> {
  isMaking.value = true
  const made = await make('files', format.value, null)
  isMaking.value = false
  if (!made?.fileId) return
  const link = document.createElement('a')
  link.href = api.fileAddress(made.fileId)
  link.download = ''
  link.click()
  notices.done('The model, its maps and documents are written.')
}
function takeRules(taken: RemapRules, model: string | null): void {
  rules.value = taken
  if (model && models.value.some(({ value }) => value === model)) surface.value = model
}
</script>

<template>
  <div class="surfaces" :class="{ wide: onModel }">
    <aside class="panel left">
      <h2>Materials</h2>
      <ChoiceField
        class="target"
        label="Wire for"
        name="Surface model"
        :value="surface"
        :choices="models"
        @choose="(id: string) => (surface = id)"
      />
      <el-button link type="primary" size="small" class="own" @click="makesModel = true">
        {{ rules.ownModel ? 'Change your own model …' : 'A model of your own …' }}
      </el-button>
      <OwnModelDialog v-if="makesModel" :model="rules.ownModel ?? null" @done="takeModel" />
      <OneMapForm :options="rules.oneMap ?? null" :sets="uvSets" @change="setOneMap" />
      <MaterialList
        v-model:chosen="chosen"
        v-model:also="alsoChosen"
        :sheets="sheets"
        :title-of="titleOf"
        @drop="dropOnMaterial"
      />
      <p v-if="found && !sheets.length" class="soft">This model has no materials.</p>
      <div class="drop">
        <template v-if="maps.length">
          <b>{{ maps.length }} {{ maps.length === 1 ? 'file' : 'files' }} of maps</b>
          <span class="doing">
            <el-button link type="primary" size="small" @click="worksOnMaps = true">Work on them …</el-button>
            <el-button link type="primary" size="small" @click="maps = []">Take them away</el-button>
          </span>
          <ImageWorkDialog
            v-if="worksOnMaps"
            :asset-id="asset.id"
            :version-id="version.id"
            :maps="maps"
            @made="takeMade"
            @done="worksOnMaps = false"
          />
        </template>
        <p class="soft">
          Drop a folder of maps, or a ZIP, anywhere here. Their names say which material and which slot.
        </p>
        <el-button size="small" @click="chooser?.click()">Choose maps …</el-button>
        <input
          ref="chooser"
          type="file"
          multiple
          hidden
          accept="image/*,.tga,.exr,.hdr,.tif,.tiff,.zip"
          @change="onChosen"
        />
        <p v-if="uploading !== null" role="status">Sending {{ Math.round(uploading * 100) }} %</p>
      </div>
    </aside>
    <section class="middle" aria-label="Slots">
      <div class="heading">
        <h2 v-if="sheet">{{ sheet.material }}</h2>
        <span v-if="sheet" class="soft">
          <template v-if="sheet.drawnFrom">
            {{ titleOf(sheet.surface) }}, drawn from {{ sheet.drawnFrom.join(', ') }}
          </template>
          <template v-else>from {{ titleOf(sheet.from.model) }} to {{ titleOf(sheet.surface) }}</template>
        </span>
        <JobProgress v-if="job && isMaking" :job-id="job" />
      </div>
      <DoubtTable
        :sets="doubts.sets"
        :maps="doubts.maps"
        :materials="sheets.map(({ material }) => material)"
        @owner="setOwner"
      />
      <SheetTable
        v-if="sheet"
        :sheet="sheet"
        :files="maps.map(({ name }) => name)"
        :is-ruled="isRuled"
        :chosen-count="chosenNames.length"
        @change="setCells"
        @drop="(parameter, file) => dropOn(sheet!.material, parameter, file)"
      />
      <MessageList v-if="found?.messages.length" :messages="found.messages" class="messages" />
    </section>
    <aside class="right">
      <el-radio-group v-if="sheets.length" v-model="onModel" size="small" class="which" aria-label="The look">
        <el-radio-button :value="false">{{ sheet?.drawnFrom ? 'Facts' : 'On a ball' }}</el-radio-button>
        <el-radio-button :value="true">On the model</el-radio-button>
      </el-radio-group>
      <ModelLook
        v-if="onModel"
        :asset-id="asset.id"
        :found="found"
        :sheet="sheet"
        :request="() => requestOf('show')"
        @choose="choose"
      />
      <OneMapFacts v-else-if="sheet?.drawnFrom" :sheet="sheet" :size="rules.oneMap?.size ?? 0" />
      <SurfaceLook v-else-if="sheet" :sheet="sheet" :titles="titleOf" :own="rules.ownModel ?? null" />
      <div class="out">
        <el-button type="primary" :disabled="!sheets.length || isMaking" @click="keep">
          Make a version of it
        </el-button>
        <div class="files">
          <ChoiceField
            label="File"
            :value="format"
            :choices="formats"
            @choose="(id: string) => (format = id)"
          />
          <el-button :disabled="!sheets.length || isMaking" @click="writeFiles">Write the files</el-button>
        </div>
        <MapNamingForm :naming="rules.naming ?? null" @change="setNaming" />
        <p v-if="!onModel" class="soft">With its maps, documents and a sheet to wire by.</p>
        <SavedRules :rules="rules" :surface="surface" @take="takeRules" />
      </div>
    </aside>
  </div>
</template>

<style scoped>
.surfaces {
  display: grid;
  grid-template-columns: 252px minmax(0, 1fr) 300px;
  height: 100%;
}
.wide {
  grid-template-columns: 232px minmax(0, 1fr) minmax(300px, 42%);
}
.which {
  margin: 10px 16px 2px;
}
.target {
  --label-width: 58px;
  margin: 8px 0 4px;
}
.own {
  margin: 0 0 8px;
}
.drop {
  margin-top: 16px;
  padding-top: 12px;
  border-top: 1px solid var(--hairline);
}
.doing {
  display: flex;
  flex-wrap: wrap;
  gap: 0 6px;
}
.doing :deep(.el-button) {
  margin: 0;
}
.drop p {
  margin: 2px 0 8px;
}
.middle {
  overflow: auto;
  padding: 14px 18px;
  min-height: 0;
}
.heading {
  display: flex;
  gap: 10px;
  align-items: baseline;
  margin-bottom: 8px;
}
.messages {
  margin-top: 14px;
}
.right {
  border-left: 1px solid var(--hairline);
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.out {
  margin-top: auto;
  padding: 12px 16px;
  border-top: 1px solid var(--hairline);
  display: grid;
  gap: 8px;
}
.out p {
  margin: 0;
}
.wide .out {
  grid-template-columns: auto minmax(0, 1fr);
  padding: 8px 16px;
}
.wide .out > :last-child,
.wide .out > .naming {
  grid-column: 1 / -1;
}
.wide .out > .naming {
  max-width: 300px;
}
.files {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 8px;
  --label-width: 40px;
}
</style>
