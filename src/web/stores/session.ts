import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import type { SessionDocument } from '../../contract/accounts.ts'
import { api, onSignedOut } from '../api.ts'

/** Who is signed in, where that is needed. */
export const useSession = defineStore('session', () => {
  const session = ref<SessionDocument>({ needed: false, name: null })
  /** One has to sign in before anything else. */
  const outside = computed(() => session.value.needed && session.value.name === null)
  const name = computed(() => session.value.name)

  async function load(): Promise<void> {
    session.value = await api.session()
  }
  async function signIn(as: string, password: string): Promise<void> {
    session.value = await api.signIn(as, password)
  }
  async function signOut(): Promise<void> {
    await api.signOut()
    session.value = { needed: true, name: null }
  }
  // any request may be the one that finds it out
  onSignedOut(() => (session.value = { needed: true, name: null }))
  return { outside, name, load, signIn, signOut }
})
