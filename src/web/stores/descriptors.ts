import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import type { DescriptorsDocument } from '../../app/descriptors.ts'
import { renderText, type TextParameters } from '../../core/base/messages/render.ts'
import { tellStory, type StoryLedger } from '../../core/compare/story/tell-story.ts'
import type { Trait } from '../../core/compare/traits/registry.ts'
import type { TraitKinds } from '../../core/trips/fate.ts'
import { api } from '../api.ts'

/**
 * Everything that grows by kinds (formats, traits, checks, steps, stand-ins), as the server describes it: the page
 * knows none of them by name. It is there before the first view is.
 */
export const useDescriptors = defineStore('descriptors', () => {
  const held = shallowRef<DescriptorsDocument | null>(null)
  const all = (): DescriptorsDocument => {
    if (!held.value) throw new Error('The descriptors are not loaded.')
    return held.value
  }
  async function load(): Promise<void> {
    held.value = await api.descriptors()
  }

  const format = (id: string) => all().formats.find((entry) => entry.id === id) ?? null
  const check = (id: string) => all().checks.find((entry) => entry.id === id) ?? null
  const step = (id: string) => all().steps.find((entry) => entry.id === id) ?? null
  const standIn = (id: string) => all().standIns.find((entry) => entry.id === id) ?? null
  /** What a ledger says, in words. */
  const storyOf = (ledger: StoryLedger): string[] =>
    tellStory(ledger, {
      titleOf: (trait) => traitLabel(trait as Trait),
      isToolsOwn: (note) => all().notes[note]?.toolsOwn === true,
    })
  const traitLabel = (id: Trait): string => all().traits.find((entry) => entry.id === id)?.title ?? id
  const noteText = (note: string, parameters: TextParameters): string =>
    renderText(all().notes[note]?.ledger ?? note, parameters)
  const kinds = (): TraitKinds => ({
    notes: all().notes,
    isOfThePart: (trait) => all().traits.some((entry) => entry.id === trait && entry.ofThePart),
  })
  /** Formats whose files these may be, or lie inside; a ZIP may hold any. */
  const formatsOf = (names: readonly string[]) =>
    all().formats.filter(({ endings }) =>
      names.some((name) => [...endings, '.zip'].some((ending) => name.toLowerCase().endsWith(ending))),
    )
  /** A format's name by its id; the id where nobody knows it. */
  const formatName = (id: string): string => format(id)?.name ?? id
  /** Names of all formats, as a sentence lists them. */
  const formatNames = (): string =>
    all()
      .formats.map(({ name }) => name)
      .join(', ')
  const isModelName = (name: string): boolean =>
    all().formats.some(({ endings }) => endings.some((ending) => name.toLowerCase().endsWith(ending)))
  return {
    load,
    all,
    format,
    check,
    step,
    standIn,
    traitLabel,
    storyOf,
    noteText,
    kinds,
    formatsOf,
    formatName,
    formatNames,
    isModelName,
  }
})
