<script setup lang="ts">
import { ref, watch } from 'vue'
import SignInForm from './features/sign-in/SignInForm.vue'
import { useDescriptors } from './stores/descriptors.ts'
import { useDestinations } from './stores/destinations.ts'
import { useJobs } from './stores/jobs.ts'
import { useSession } from './stores/session.ts'
import ThePage from './ThePage.vue'

/**
 * The page, or the door to it. Who is signed out while they work signs in over what they were doing: it stays as it is.
 */
const session = useSession()
const begun = ref(false)
const trouble = ref('')

async function begin(): Promise<void> {
  try {
    await Promise.all([useDescriptors().load(), useDestinations().refresh()])
    begun.value = true
  } catch (error) {
    // without these no view can be drawn; the sentence is the server's own where there is one
    if (!session.outside) trouble.value = `${(error as Error).message} Reload the page when it is back.`
  }
}
session.load().then(
  () => (session.outside ? undefined : begin()),
  (error: Error) => (trouble.value = `${error.message} Reload the page when it is back.`),
)
watch(
  () => session.outside,
  (outside) => {
    if (outside) return
    if (begun.value) useJobs().connect()
    else void begin()
  },
)
</script>

<template>
  <ThePage v-if="begun" />
  <p v-else-if="trouble" class="unreachable">{{ trouble }}</p>
  <div v-else-if="session.outside" class="door">
    <SignInForm />
  </div>
  <el-dialog
    v-if="begun && session.outside"
    :model-value="true"
    width="420"
    align-center
    :show-close="false"
    :close-on-click-modal="false"
    :close-on-press-escape="false"
  >
    <SignInForm again />
  </el-dialog>
</template>

<style scoped>
.unreachable {
  display: grid;
  place-items: center;
  height: 100%;
  margin: 0;
  padding: 0 20%;
  text-align: center;
}
.door {
  height: 100%;
  display: grid;
  place-items: center;
  padding-bottom: 12vh;
}
</style>
