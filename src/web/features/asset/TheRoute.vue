<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import type { AssetDocument, TripDocument } from '../../../contract/api.ts'
import { placeOf } from './place.ts'

/**
 * The route: an asset's versions on a line, and a loop out and back for each trip. It says where the asset
 * is and is the way from one view to another.
 */
const props = defineProps<{ asset: AssetDocument; current: { kind: string; id: string | null } }>()

const BASE = 74
const TOP = 22
const STEP = 150
const LOOP = 104

interface VersionStop {
  x: number
  id: string
  number: number
  newest: boolean
}
interface Loop {
  trip: TripDocument
  x0: number
  x1: number
  middle: number
}

/** Versions and trips in the order they came: a trip stands between the version sent and what it gave. */
const layout = computed(() => {
  const stops: VersionStop[] = []
  const loops: Loop[] = []
  let x = 44
  const { versions, trips } = props.asset
  const newest = versions[versions.length - 1]!
  const shown = versions.length > 5 ? versions.slice(-5) : versions
  const placed = new Set<string>()
  for (const version of shown) {
    stops.push({ x, id: version.id, number: version.number, newest: version.id === newest.id })
    // the loops that left from this version, one behind the other
    let from = x
    for (const trip of trips.filter((candidate) => candidate.versionId === version.id)) {
      if (placed.has(trip.id)) continue
      placed.add(trip.id)
      const x0 = from === x ? from : from + 14
      loops.push({ trip, x0, x1: x0 + LOOP + 24, middle: x0 + LOOP / 2 + 12 })
      from = x0 + LOOP + 24
    }
    x = from > x ? from + 30 : x + 76
  }
  return { stops, loops, end: x, width: x + STEP }
})

const place = computed(() => placeOf(props.asset))
const arcOut = (loop: Loop): string =>
  `M${loop.x0} ${BASE} C${loop.x0} ${TOP + 18} ${loop.middle - 30} ${TOP} ${loop.middle} ${TOP}`
const arcBack = (loop: Loop): string =>
  `M${loop.middle} ${TOP} C${loop.middle + 30} ${TOP} ${loop.x1} ${TOP + 18} ${loop.x1} ${BASE}`
const isCurrent = (kind: string, id: string | null): boolean =>
  props.current.kind === kind && props.current.id === id
const tripWords: Record<TripDocument['state'], string> = {
  out: 'out, waiting',
  back: 'back, to be looked at',
  settled: 'settled',
}
</script>

<template>
  <nav class="route" aria-label="The asset’s route">
    <div class="title">
      <h1>{{ asset.name }}</h1>
      <p class="soft" :class="place.state">{{ place.text }}</p>
    </div>
    <div class="line">
      <svg :width="layout.width" height="104" :viewBox="`0 0 ${layout.width} 104`">
        <path :d="`M20 ${BASE} H${layout.end + 6}`" class="base" />
        <g v-for="loop in layout.loops" :key="loop.trip.id">
          <RouterLink
            v-slot="{ href, navigate }"
            custom
            :to="{ name: 'sent', params: { assetId: asset.id, tripId: loop.trip.id } }"
          >
            <a
              :href="href"
              :aria-label="`Trip ${loop.trip.number}, sent to the ${loop.trip.destination.name}`"
              @click="navigate"
            >
              <path :d="`${arcOut(loop)} V${BASE - 4} Z`" class="hit" />
              <path :d="arcOut(loop)" class="arc" :class="{ current: isCurrent('sent', loop.trip.id) }" />
              <text :x="loop.middle" :y="TOP - 9" text-anchor="middle" class="stop-name">
                {{ loop.trip.destination.name }}
              </text>
            </a>
          </RouterLink>
          <RouterLink
            v-slot="{ href, navigate }"
            custom
            :to="{ name: 'return', params: { assetId: asset.id, tripId: loop.trip.id } }"
          >
            <a
              :href="href"
              :aria-label="`Trip ${loop.trip.number}, return: ${tripWords[loop.trip.state]}`"
              @click="navigate"
            >
              <path :d="`${arcBack(loop)} H${loop.middle} Z`" class="hit" />
              <path
                :d="arcBack(loop)"
                class="arc"
                :class="{ current: isCurrent('return', loop.trip.id), expected: loop.trip.state === 'out' }"
              />
              <text
                :x="loop.middle"
                :y="BASE - 14"
                text-anchor="middle"
                class="trip-state"
                :class="loop.trip.state"
              >
                {{ tripWords[loop.trip.state] }}
              </text>
            </a>
          </RouterLink>
          <rect :x="loop.middle - 5" :y="TOP - 5" width="10" height="10" class="stop" />
          <!-- where the asset is now -->
          <path
            v-if="loop.trip.state === 'out'"
            :d="`M${loop.middle} ${TOP + 9} l6 10 h-12 z`"
            class="here"
          />
          <path v-if="loop.trip.state === 'back'" :d="`M${loop.x1} ${BASE - 8} l6 -11 h-12 z`" class="here" />
        </g>
        <g v-for="stop in layout.stops" :key="stop.id">
          <RouterLink
            v-slot="{ href, navigate }"
            custom
            :to="
              stop.newest
                ? { name: 'bench', params: { assetId: asset.id } }
                : { name: 'version', params: { assetId: asset.id, versionId: stop.id } }
            "
          >
            <a
              :href="href"
              :aria-label="`Version ${stop.number}${stop.newest ? ', the master' : ''}, on the bench`"
              @click="navigate"
            >
              <circle
                :cx="stop.x"
                :cy="BASE"
                r="13"
                class="version"
                :class="{ newest: stop.newest, current: isCurrent('version', stop.id) }"
              />
              <text
                :x="stop.x"
                :y="BASE + 4"
                text-anchor="middle"
                class="number"
                :class="{ newest: stop.newest }"
              >
                {{ stop.number }}
              </text>
              <text v-if="stop.newest" :x="stop.x" :y="BASE + 27" text-anchor="middle" class="trip-state">
                master
              </text>
            </a>
          </RouterLink>
        </g>
        <RouterLink v-slot="{ href, navigate }" custom :to="{ name: 'send', params: { assetId: asset.id } }">
          <a :href="href" aria-label="Send the master on a new trip" @click="navigate">
            <rect :x="layout.end - 2" :y="TOP - 6" width="140" :height="BASE - TOP + 12" class="hit" />
            <path
              :d="`M${layout.end + 6} ${BASE} c0 -34 22 -44 50 -44`"
              class="arc next"
              :class="{ current: isCurrent('send', null) }"
            />
            <path
              :d="`M${layout.end + 50} ${BASE - 50} l8 6 -8 6`"
              class="arc"
              :class="{ current: isCurrent('send', null) }"
            />
            <text
              :x="layout.end + 66"
              :y="BASE - 40"
              class="send"
              :class="{ current: isCurrent('send', null) }"
            >
              Send it out
            </text>
          </a>
        </RouterLink>
      </svg>
    </div>
  </nav>
</template>

<style scoped>
.route {
  display: flex;
  height: 112px;
  border-bottom: 1px solid var(--hairline);
  background: var(--paper);
}
.title {
  width: 236px;
  flex: none;
  padding: 24px 8px 0 20px;
}
.title p {
  margin: 5px 0 0;
  line-height: 1.3;
}
.title p.back {
  color: var(--changed);
}
.title p.out {
  color: var(--accent);
}
.line {
  flex: 1;
  overflow: auto hidden;
}
svg {
  display: block;
  margin-top: 4px;
}
path {
  fill: none;
}
.base {
  stroke: var(--ink);
  stroke-width: 1.6;
}
.arc {
  stroke: var(--ink);
  stroke-width: 1.6;
}
.arc.expected,
.arc.next {
  stroke-dasharray: 3 4;
  stroke: var(--ink-soft);
}
.arc.current {
  stroke: var(--accent);
  stroke-width: 3;
}
.hit {
  fill: transparent;
  stroke: transparent;
  stroke-width: 12;
  pointer-events: all;
}
.stop,
.here {
  pointer-events: none;
}
a:hover .arc {
  stroke: var(--accent);
}
.stop {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 1.6;
}
.here {
  fill: var(--changed);
}
.version {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 1.6;
}
.version.newest {
  fill: var(--ink);
}
.version.newest.current,
.version.current {
  stroke: var(--accent);
  stroke-width: 4;
}
a:hover .version {
  stroke: var(--accent);
}
text {
  fill: var(--ink);
  font-size: 12px;
}
.number {
  font-weight: 600;
}
.number.newest {
  fill: var(--paper);
}
.trip-state,
.stop-name {
  font-size: 11.5px;
}
.trip-state {
  fill: var(--ink-soft);
}
.trip-state.back {
  fill: var(--changed);
}
.trip-state.out {
  fill: var(--accent);
}
.send {
  fill: var(--accent);
  font-weight: 500;
}
.send.current {
  font-weight: 650;
}
</style>
