import { computed, onMounted, ref } from 'vue'
import type { CheckSettings } from '../../../core/checks/settings.ts'
import { checkSettingsOf } from '../../../core/trips/destinations/destination.ts'
import { useDescriptors } from '../../stores/descriptors.ts'
import { useDestinations } from '../../stores/destinations.ts'
import { useNotices } from '../../stores/notices.ts'

/** What a model is held against: a destination's expectations, and the artist's own limits over them. */
export function useLimits() {
  const destinations = useDestinations()
  const descriptors = useDescriptors()
  const notices = useNotices()
  onMounted(() => void destinations.refresh().catch(notices.failed))
  const heldAgainst = ref(destinations.first().id)
  const limits = ref<Partial<CheckSettings>>({})
  const expected = computed<Partial<CheckSettings>>(() => {
    const destination = destinations.find(heldAgainst.value)
    return destination ? checkSettingsOf(destination) : {}
  })
  const base = computed<CheckSettings>(() => ({ ...descriptors.all().checkSettings, ...expected.value }))
  const settings = computed<Partial<CheckSettings>>(() => ({ ...expected.value, ...limits.value }))
  return { heldAgainst, limits, base, settings }
}
