<script setup lang="ts">
import type { MeshInspection } from '../../../core/inspect/inspect-scene.ts'
import { formatChange, formatCount, formatSize } from '../../kit/format.ts'

/** What a part is, in numbers. */
defineProps<{ mesh: MeshInspection; unitMeters: number | null; upAxis: string }>()
</script>

<template>
  <dl>
    <dt>Size</dt>
    <dd>{{ formatSize(mesh.bounds, unitMeters, upAxis) }}</dd>
    <dt>Polygons</dt>
    <dd>
      {{ formatCount(mesh.faces['4']) }} quads, {{ formatCount(mesh.faces['3']) }} triangles,
      {{ formatCount(mesh.faces.n) }} larger
    </dd>
    <dt>UVs</dt>
    <dd>
      <template v-if="mesh.uvSets.length">
        <span v-for="set in mesh.uvSets" :key="set.name"
          >“{{ set.name }}”, {{ formatChange(set.islands, 'islands') }}
        </span>
      </template>
      <template v-else>none</template>
    </dd>
    <dt>Smoothing</dt>
    <dd>
      {{
        mesh.smoothingGroups.length || mesh.hardEdges
          ? `${formatChange(mesh.smoothingGroups.length, 'groups')}, ${formatChange(mesh.hardEdges, 'hard edges')}`
          : 'none'
      }}
    </dd>
    <dt>Creases</dt>
    <dd>
      {{
        mesh.creases.edges || mesh.creases.corners
          ? `${formatChange(mesh.creases.edges, 'edges')}, ${formatChange(mesh.creases.corners, 'corners')}, up to ${mesh.creases.maxSharpness}`
          : 'none'
      }}
    </dd>
    <dt>Normals</dt>
    <dd>{{ mesh.normals ? 'authored' : 'follow from the smoothing' }}</dd>
    <dt>Groups</dt>
    <dd>{{ mesh.groups.map((group) => group.name).join(', ') || 'none' }}</dd>
  </dl>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: 70px 1fr;
  gap: 1px 8px;
  margin: 0 0 6px;
}
dt {
  color: var(--ink-soft);
}
dd {
  margin: 0;
  overflow-wrap: anywhere;
}
</style>
