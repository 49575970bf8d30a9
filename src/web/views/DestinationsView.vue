<script setup lang="ts">
import { DESTINATIONS } from '../../core/destinations/destination.ts'
import { OBJ_WRITE_DEFAULTS } from '../../core/formats/obj/options.ts'

const WORDS: Record<string, string> = {
  normals: 'normals',
  creases: 'creases',
  uvs: 'UVs',
  smoothing: 'smoothing groups',
  groups: 'face groups',
  colors: 'vertex colours',
}
const leaves = (options: object): string =>
  Object.entries({ ...OBJ_WRITE_DEFAULTS, ...options })
    .filter(([key, value]) => value === false && key in WORDS)
    .map(([key]) => WORDS[key])
    .join(', ') || 'nothing'
</script>

<template>
  <section>
    <h1>Destinations</h1>
    <p class="soft">The kinds of tool that files go to, and what each hop is for.</p>
    <table>
      <thead>
        <tr>
          <th>Destination</th>
          <th>What it does</th>
          <th>Format</th>
          <th>Left out on the way</th>
          <th>Taken on return</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="entry in DESTINATIONS" :key="entry.id">
          <td class="name">{{ entry.name }}</td>
          <td>{{ entry.description }}</td>
          <td>{{ entry.format.toUpperCase() }}</td>
          <td>{{ leaves(entry.writeOptions) }}</td>
          <td>{{ entry.purpose.join(', ') }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
section {
  padding: 26px 32px;
  height: 100%;
  overflow: auto;
}
table {
  margin-top: 16px;
}
th {
  border-bottom: 1px solid var(--ink);
  padding: 6px 18px 6px 0;
}
td {
  border-bottom: 1px solid var(--hairline);
  padding: 12px 18px 12px 0;
  vertical-align: top;
  max-width: 360px;
}
.name {
  font-weight: 600;
  font-size: 15px;
  white-space: nowrap;
}
</style>
