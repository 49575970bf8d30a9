<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import type { AssetDocument, TripDocument } from '../../../contract/api.ts'
import { by, formatTime } from '../../kit/format.ts'
import { useWidth } from '../../kit/use-width.ts'
import { placeOf } from './place.ts'
import { layRoute, type Fold, type TripLoop, type VersionStop } from './route-layout.ts'

/**
 * The route: an asset's versions on a line, and a loop out and back for each trip. It says where the asset
 * is and is the way from one view to another.
 */
const props = defineProps<{ asset: AssetDocument; current: { kind: string; id: string | null } }>()

const line = ref<HTMLElement>()
const room = useWidth(line)
const layout = computed(() => layRoute(props.asset, room.value || 900))
/** Where the line runs and where loops have their stop: with loops on both sides it lies in the middle. */
const BASE = computed(() => (layout.value.parallel ? 36 : 46))
const stopOf = (loop: TripLoop): number => (loop.side === 'below' ? 63 : layout.value.parallel ? 9 : 17)
/** Up is against the line's own direction for a loop below it. */
const upOf = (loop: TripLoop): number => (loop.side === 'below' ? -1 : 1)
/** All versions and trips in the order they came, for whoever wants the whole history. */
const history = computed(() =>
  [
    ...props.asset.versions.map((version) => ({
      key: version.id,
      at: version.createdAt,
      title: `Version ${version.number}`,
      text: version.note + by(version.madeBy),
      to: { name: 'version', params: { assetId: props.asset.id, versionId: version.id } },
    })),
    ...props.asset.trips.map((trip) => ({
      key: trip.id,
      at: trip.sentAt,
      title: `Trip ${trip.number}`,
      text: `version ${trip.versionNumber} to the ${trip.destination.name.toLowerCase()}${by(trip.sentBy)}, ${tripWords[trip.state]}${trip.returnedBy && trip.returnedBy !== trip.sentBy ? `, brought back${by(trip.returnedBy)}` : ''}`,
      to: {
        name: trip.returnedSceneId ? 'return' : 'sent',
        params: { assetId: props.asset.id, tripId: trip.id },
      },
    })),
  ].sort((a, b) => b.at.localeCompare(a.at)),
)
const foldWords = (fold: Fold): string =>
  fold.what === 'earlier' ? `${fold.count} earlier` : `${fold.count} ${fold.count === 1 ? 'trip' : 'trips'}`

const place = computed(() => placeOf(props.asset))
/** How far a loop runs level on either side of its stop. */
const bend = computed(() => (layout.value.parallel ? 56 : 30))
const arcOut = (loop: TripLoop): string => {
  const top = stopOf(loop)
  return `M${loop.x0} ${BASE.value} C${loop.x0} ${top + 16 * upOf(loop)} ${loop.middle - bend.value} ${top} ${loop.middle} ${top}`
}
const arcBack = (loop: TripLoop): string => {
  const top = stopOf(loop)
  return `M${loop.middle} ${top} C${loop.middle + bend.value} ${top} ${loop.x1} ${top + 16 * upOf(loop)} ${loop.x1} ${BASE.value}`
}
/** Words inside a loop on either side of the line: its destination and its state; else the one above, the other inside. */
const wordsAt = (loop: TripLoop): number => (loop.side === 'below' ? BASE.value + 17 : BASE.value - 8)
const triangle = (x: number, y: number, way: number): string => `M${x} ${y} l6 ${-11 * way} h-12 z`
/** What a version is, and what it was made of. */
const versionWords = ({ number, newest, madeOf }: VersionStop): string =>
  `Version ${number}${newest ? ', the master' : ''}${madeOf ? `, made of ${madeOf.replace(' on ', ' on version ')}` : ''}`
const isCurrent = (kind: string, id: string | null): boolean =>
  props.current.kind === kind && props.current.id === id
const tripWords: Record<TripDocument['state'], string> = {
  out: 'out',
  back: 'back',
  settled: 'settled',
  closed: 'closed',
}
</script>

<template>
  <nav class="route" aria-label="The asset’s route">
    <div class="title">
      <h1>{{ asset.name }}</h1>
      <p class="soft" :class="place.state">{{ place.text }}</p>
    </div>
    <div ref="line" class="line">
      <svg :width="layout.width" height="71" :viewBox="`0 0 ${layout.width} 71`">
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
              <path :d="`${arcOut(loop)} V${BASE - 4 * upOf(loop)} Z`" class="hit" />
              <path :d="arcOut(loop)" class="arc" :class="{ current: isCurrent('sent', loop.trip.id) }" />
              <text
                :x="loop.middle"
                :y="layout.parallel ? wordsAt(loop) : stopOf(loop) - 6"
                text-anchor="middle"
                class="stop-name"
              >
                {{ loop.trip.destination.name }}
                <tspan v-if="layout.parallel" dx="5" class="trip-state" :class="loop.trip.state">
                  {{ tripWords[loop.trip.state] }}
                </tspan>
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
                :class="{ current: isCurrent('return', loop.trip.id), expected: !loop.trip.returnedSceneId }"
              />
              <text
                v-if="!layout.parallel"
                :x="loop.middle"
                :y="wordsAt(loop)"
                text-anchor="middle"
                class="trip-state"
                :class="loop.trip.state"
              >
                {{ tripWords[loop.trip.state] }}
              </text>
            </a>
          </RouterLink>
          <rect
            :x="loop.middle - 5"
            :y="stopOf(loop) - 5"
            width="10"
            height="10"
            class="stop"
            :class="{ holds: layout.parallel && loop.trip.state === 'out' }"
          />
          <!-- where the asset is now -->
          <path
            v-if="loop.trip.state === 'out' && !layout.parallel"
            :d="`M${loop.middle} ${stopOf(loop) + 6 * upOf(loop)} l4 ${5 * upOf(loop)} h-8 z`"
            class="here"
          />
          <path
            v-if="loop.trip.state === 'back'"
            :d="triangle(loop.x1, BASE - 6 * upOf(loop), upOf(loop))"
            class="here"
          />
        </g>
        <g v-for="fold in layout.folds" :key="`${fold.what} ${fold.x}`" class="fold" aria-hidden="true">
          <path :d="`M${fold.x - 8} ${BASE} h5 m3 0 h4 m3 0 h5`" class="gap" />
          <text :x="fold.x + 2" :y="BASE - 10" text-anchor="middle" class="trip-state">
            {{ foldWords(fold) }}
          </text>
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
            <a :href="href" :aria-label="`${versionWords(stop)}, on the bench`" @click="navigate">
              <circle
                :cx="stop.x"
                :cy="BASE"
                r="12"
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
              <title>{{ versionWords(stop) }}</title>
              <text
                v-if="stop.madeOf && !layout.parallel"
                :x="stop.x"
                :y="BASE + 23"
                text-anchor="middle"
                class="trip-state made"
              >
                {{ stop.madeOf }}
              </text>
            </a>
          </RouterLink>
        </g>
        <RouterLink v-slot="{ href, navigate }" custom :to="{ name: 'send', params: { assetId: asset.id } }">
          <a :href="href" aria-label="Send the master on a new trip" @click="navigate">
            <rect :x="layout.end - 2" y="10" width="140" :height="BASE - 17" class="hit" />
            <path
              :d="`M${layout.end + 6} ${BASE} c0 -20 22 -26 50 -26`"
              class="arc next"
              :class="{ current: isCurrent('send', null) }"
            />
            <path
              :d="`M${layout.end + 50} ${BASE - 32} l8 6 -8 6`"
              class="arc"
              :class="{ current: isCurrent('send', null) }"
            />
            <text
              :x="layout.end + 66"
              :y="BASE - 22"
              class="send"
              :class="{ current: isCurrent('send', null) }"
            >
              Send it out
            </text>
          </a>
        </RouterLink>
        <RouterLink
          v-slot="{ href, navigate }"
          custom
          :to="{ name: 'surfaces', params: { assetId: asset.id } }"
        >
          <a :href="href" aria-label="The master’s surfaces" @click="navigate">
            <rect :x="layout.end + 2" :y="BASE + 3" width="136" height="22" class="hit" />
            <path
              :d="`M${layout.end + 6} ${BASE} c0 10 22 12 50 12`"
              class="arc"
              :class="{ current: isCurrent('surfaces', null) }"
            />
            <text
              :x="layout.end + 66"
              :y="BASE + 16"
              class="send"
              :class="{ current: isCurrent('surfaces', null) }"
            >
              Surfaces
            </text>
          </a>
        </RouterLink>
      </svg>
    </div>
    <el-popover v-if="history.length > 2" trigger="click" placement="bottom-end" :width="430">
      <template #reference>
        <el-button text size="small" class="all" aria-label="The whole history">History</el-button>
      </template>
      <ol class="history" aria-label="The whole history">
        <li v-for="entry in history" :key="entry.key">
          <RouterLink :to="entry.to">{{ entry.title }}</RouterLink>
          <span>{{ entry.text }}</span>
          <time class="soft">{{ formatTime(entry.at) }}</time>
        </li>
      </ol>
    </el-popover>
  </nav>
</template>

<style scoped>
.route {
  display: flex;
  height: 72px;
  border-bottom: 1px solid var(--hairline);
  background: var(--paper);
}
.title {
  width: 236px;
  flex: none;
  padding: 8px 8px 0 20px;
}
.title p {
  margin: 1px 0 0;
  line-height: 1.15;
  font-size: 12.5px;
}
.title p.back {
  color: var(--changed);
}
.title p.out {
  color: var(--accent);
}
.line {
  flex: 1;
  min-width: 0;
  overflow: auto hidden;
}
svg {
  display: block;
}
path {
  fill: none;
}
.gap {
  stroke: var(--paper);
  stroke-width: 4;
}
.all {
  flex: none;
  align-self: center;
  margin-right: 14px;
}
.history {
  margin: 0;
  padding: 0;
  max-height: 60vh;
  overflow: auto;
  list-style: none;
}
.history li {
  display: grid;
  grid-template-columns: 84px 1fr auto;
  gap: 10px;
  padding: 5px 2px;
  border-bottom: 1px solid var(--hairline);
}
.history span {
  overflow-wrap: anywhere;
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

.stop.holds {
  fill: var(--changed);
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
.made {
  font-size: 10.5px;
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
