<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { RouterLink, RouterView, useRoute } from 'vue-router'
import { ApiError } from '../../api.ts'
import TheRoute from './TheRoute.vue'
import { masterOf } from './place.ts'
import { useAssets } from '../../stores/assets.ts'
import { useNotices } from '../../stores/notices.ts'

/** Every page of an asset: the route on top, one of the views below. */
const props = defineProps<{ assetId: string }>()
const route = useRoute()
const assets = useAssets()
const notices = useNotices()
/** Why there is nothing to show. */
const problem = ref<string | null>(null)
const asset = computed(() => assets.find(props.assetId))
watch(
  () => props.assetId,
  async (id) => {
    problem.value = null
    try {
      await assets.open(id)
    } catch (error) {
      if (error instanceof ApiError && id === props.assetId) problem.value = error.document.message
      else notices.failed(error)
    }
  },
  { immediate: true },
)

// the route is painted before the view below it is built
const ready = ref(false)
onMounted(() => requestAnimationFrame(() => setTimeout(() => (ready.value = true), 0)))

const current = computed(() => {
  const { tripId, versionId } = route.params
  if (route.name === 'sent' || route.name === 'return') return { kind: route.name, id: String(tripId) }
  if (route.name === 'send' || route.name === 'surfaces') return { kind: route.name, id: null }
  return {
    kind: 'version',
    id: versionId ? String(versionId) : asset.value ? masterOf(asset.value).id : null,
  }
})
</script>

<template>
  <div v-if="asset" class="layout">
    <TheRoute :asset="asset" :current="current" />
    <div class="view">
      <RouterView v-if="ready" v-slot="{ Component }">
        <component :is="Component" :key="route.fullPath" :asset="asset" />
      </RouterView>
    </div>
  </div>
  <div v-else-if="problem" class="nothing" role="alert">
    <h2>{{ problem }}</h2>
    <RouterLink to="/">To the assets</RouterLink>
  </div>
</template>

<style scoped>
.layout {
  display: grid;
  grid-template-rows: 72px minmax(0, 1fr);
  height: 100%;
}
.nothing {
  margin: 90px auto;
  text-align: center;
}
.view {
  min-height: 0;
  overflow: hidden;
}
</style>
