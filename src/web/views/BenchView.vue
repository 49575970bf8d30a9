<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { AssetDocument } from '../../contract/api.ts'
import type { SceneInspection } from '../../core/inspect/inspect-scene.ts'
import { api } from '../api.ts'
import EdgeLengthChart from '../components/EdgeLengthChart.vue'
import MessageList from '../components/MessageList.vue'
import ModelViews from '../components/ModelViews.vue'
import { formatCount, formatSize, formatTime } from '../composables/format.ts'
import { masterOf } from '../composables/place.ts'
import { useNotices } from '../stores/notices.ts'

const props = defineProps<{ asset: AssetDocument; versionId?: string }>()
const notices = useNotices()
const version = computed(
  () => props.asset.versions.find((candidate) => candidate.id === props.versionId) ?? masterOf(props.asset),
)
const inspection = ref<SceneInspection | null>(null)
const selected = ref<number | null>(null)
const filter = ref('')

watch(
  () => version.value.sceneId,
  async (sceneId) => {
    selected.value = null
    try {
      inspection.value = (await api.scene(sceneId)).inspection
    } catch (error) {
      notices.failed(error)
    }
  },
  { immediate: true },
)

const parts = computed(() =>
  (inspection.value?.nodes ?? []).flatMap((node, index) =>
    node.mesh === null ? [] : [{ node: index, name: node.name, mesh: inspection.value!.meshes[node.mesh]! }],
  ),
)
const shown = computed(() =>
  parts.value.filter((part) => part.name.toLowerCase().includes(filter.value.trim().toLowerCase())),
)
const polygonsOf = (part: (typeof parts.value)[number]): number =>
  part.mesh.faces['3'] + part.mesh.faces['4'] + part.mesh.faces.n
const part = computed(() => parts.value.find((candidate) => candidate.node === selected.value) ?? null)
const materials = computed(() => {
  const names = part.value?.mesh.materials.map((material) => material.name)
  return (inspection.value?.materials ?? []).filter((material) => !names || names.includes(material.name))
})
const unit = computed(() => inspection.value?.unitMeters ?? null)

function onRowKey(event: KeyboardEvent, index: number): void {
  const next = event.key === 'ArrowDown' ? index + 1 : event.key === 'ArrowUp' ? index - 1 : -1
  const target = shown.value[next]
  if (!target) return
  event.preventDefault()
  selected.value = target.node
  ;(event.currentTarget as HTMLElement).parentElement?.querySelectorAll<HTMLElement>('tr')[next]?.focus()
}
</script>

<template>
  <div class="split bench">
    <div class="panel">
      <div class="whole">
        <h2>
          Version {{ version.number
          }}<template v-if="version.id === masterOf(asset).id">, the master</template>
        </h2>
        <p class="soft">{{ version.note }} · {{ formatTime(version.createdAt) }}</p>
        <p v-if="inspection" class="size">{{ formatSize(inspection.bounds, unit, inspection.upAxis) }}</p>
      </div>
      <div class="list">
        <el-input
          v-if="parts.length > 14"
          v-model="filter"
          size="small"
          placeholder="Find a part"
          clearable
        />
        <table>
          <thead>
            <tr>
              <th>{{ parts.length }} parts</th>
              <th class="figure">Vertices</th>
              <th class="figure">Polygons</th>
            </tr>
          </thead>
          <tbody>
            <tr
              v-for="(row, index) in shown"
              :key="row.node"
              tabindex="0"
              :aria-selected="row.node === selected"
              :class="{ selected: row.node === selected }"
              @click="selected = row.node === selected ? null : row.node"
              @keydown="onRowKey($event, index)"
              @keydown.enter="selected = row.node"
              @keydown.escape="selected = null"
            >
              <td class="part">{{ row.name }}</td>
              <td class="figure">{{ formatCount(row.mesh.vertices) }}</td>
              <td class="figure">{{ formatCount(polygonsOf(row)) }}</td>
            </tr>
          </tbody>
          <tfoot>
            <tr>
              <td>all</td>
              <td class="figure">{{ formatCount(version.vertices) }}</td>
              <td class="figure">{{ formatCount(version.polygons) }}</td>
            </tr>
          </tfoot>
        </table>
      </div>
      <div v-if="inspection" class="detail">
        <h2>Materials</h2>
        <ul class="materials">
          <li v-for="material in materials" :key="material.name">
            {{ material.name }}
            <span class="soft">
              <template v-if="material.maps.length">
                {{ material.maps.map((map) => (map.found ? map.slot : `${map.slot} (missing)`)).join(', ') }}
              </template>
              <template v-else>no maps</template>
            </span>
          </li>
          <li v-if="!materials.length" class="soft">none</li>
        </ul>
        <template v-if="inspection.messages.length">
          <h2>What reading it had to say</h2>
          <MessageList :messages="inspection.messages" />
        </template>
      </div>
    </div>
    <ModelViews
      :master-scene="version.sceneId"
      :selected-node="selected"
      @select="(node) => (selected = node)"
      ><template v-if="part" #foot
        ><div class="facts">
          <h2>{{ part.name }}</h2>
          <dl>
            <dt>Size</dt>
            <dd>{{ formatSize(part.mesh.bounds, unit, inspection?.upAxis) }}</dd>
            <dt>Polygons</dt>
            <dd>
              {{ formatCount(part.mesh.faces['4']) }} quads,
              {{ formatCount(part.mesh.faces['3']) }} triangles, {{ formatCount(part.mesh.faces.n) }} larger
            </dd>
            <dt>UVs</dt>
            <dd>
              <template v-if="part.mesh.uvSets.length">
                <span v-for="set in part.mesh.uvSets" :key="set.name"
                  >“{{ set.name }}”, {{ set.islands }} islands</span
                >
              </template>
              <template v-else>none</template>
            </dd>
            <dt>Smoothing</dt>
            <dd>
              {{
                part.mesh.smoothingGroups.length
                  ? `${part.mesh.smoothingGroups.length} groups, ${formatCount(part.mesh.hardEdges)} hard edges`
                  : 'none'
              }}
            </dd>
            <dt>Creases</dt>
            <dd>
              {{
                part.mesh.creases.edges || part.mesh.creases.corners
                  ? `${formatCount(part.mesh.creases.edges)} edges, ${part.mesh.creases.corners} corners, up to ${part.mesh.creases.maxSharpness}`
                  : 'none'
              }}
            </dd>
            <dt>Normals</dt>
            <dd>{{ part.mesh.normals ? 'authored' : 'follow from the smoothing' }}</dd>
            <dt>Groups</dt>
            <dd>{{ part.mesh.groups.map((group) => group.name).join(', ') || 'none' }}</dd>
            <dt>Materials</dt>
            <dd>{{ part.mesh.materials.map((material) => material.name).join(', ') || 'none' }}</dd>
          </dl>
          <EdgeLengthChart
            :scene-id="version.sceneId"
            :node="part.node"
            :unit-meters="unit"
          /></div></template
    ></ModelViews>
  </div>
</template>

<style scoped>
.bench {
  grid-template-columns: 330px minmax(0, 1fr);
}
.panel {
  display: flex;
  flex-direction: column;
  gap: 12px;
  padding-right: 0;
  overflow: hidden;
}
.whole p {
  margin: 2px 16px 0 0;
}
.whole .size {
  font-size: 15px;
  font-weight: 500;
}
.list {
  overflow: auto;
  min-height: 150px;
  flex: 1 1 auto;
  padding-right: 16px;
}
.detail {
  flex: 0 1 auto;
  max-height: 56%;
  overflow: auto;
  padding-right: 16px;
  border-top: 1px solid var(--ink);
  padding-top: 10px;
}
th {
  border-bottom: 1px solid var(--ink);
  padding: 3px 0;
  position: sticky;
  top: 0;
  background: var(--paper);
}
th.figure {
  text-align: right;
}
td {
  padding: 2.5px 0;
  border-bottom: 1px solid var(--hairline);
}
tbody tr {
  cursor: pointer;
}
tbody tr:hover {
  background: var(--paper-sunk);
}
tr.selected td {
  background: var(--accent-wash);
  font-weight: 550;
}
.part {
  padding-left: 4px;
  max-width: 150px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
tfoot td {
  position: sticky;
  bottom: 0;
  background: var(--paper);
  border-top: 1px solid var(--ink);
  border-bottom: 0;
  color: var(--ink-soft);
}
dl {
  display: grid;
  grid-template-columns: 78px 1fr;
  gap: 2px 8px;
  margin: 6px 0 8px;
}
dt {
  color: var(--ink-soft);
}
dd {
  margin: 0;
  overflow-wrap: anywhere;
}
.facts {
  padding: 10px 16px;
}
.materials {
  list-style: none;
  margin: 4px 0 12px;
  padding: 0;
}
.materials li {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  padding: 3px 0;
  border-bottom: 1px solid var(--hairline);
}
</style>
