import { computed, ref, shallowRef, watch } from 'vue'
import { remapResultSchema, type RemapResultDocument } from '../../../contract/surfaces.ts'
import { groupMapSets } from '../../../core/image/map-sets/group-map-sets.ts'
import type { OneMapOptions } from '../../../core/surfaces/one-map/options.ts'
import { OWN_MODEL, type OwnModelDocument } from '../../../core/surfaces/own-model.ts'
import type { MapNaming } from '../../../core/surfaces/remap/map-naming.ts'
import type { RemapRule, RemapRules } from '../../../core/surfaces/remap/rules.ts'
import { api } from '../../api.ts'
import { useJobs } from '../../stores/jobs.ts'
import { useNotices } from '../../stores/notices.ts'

/** One material's parameter, as rules name them. */
const sameCell = (rule: RemapRule, material: string, parameter: string): boolean =>
  rule.material === material && rule.parameter === parameter

/** For the way to the server, which takes lists that may be written to. */
const plainModel = ({ name, slots }: OwnModelDocument) => ({
  name,
  slots: slots.map((slot) => ({ ...slot })),
})

const ALL_MATERIALS = '*'
/** Whether a rule decides a cell: its own, or one for all materials. */
const holdsFor = (rule: RemapRule, material: string, parameter: string): boolean =>
  rule.parameter === parameter && (rule.material === material || rule.material === ALL_MATERIALS)

/** Which materials a rule by hand is for: the one that is looked at, those that are chosen in the list, or all. */
export type RuleScope = 'one' | 'chosen' | 'all'

/** Milliseconds after a change before the server is asked: several changes are one question. */
const QUIET = 250

/** What becomes of a version's materials in another surface model, asked anew whenever something is changed. */
export function useRemap(assetId: () => string, versionId: () => string) {
  const jobs = useJobs()
  const notices = useNotices()
  const surface = ref('openpbr')
  const maps = shallowRef<readonly { id: string; name: string; byteLength: number }[]>([])
  const rules = shallowRef<RemapRules>({ rules: [], sets: {} })
  const found = shallowRef<RemapResultDocument | null>(null)
  const job = ref<string | null>(null)
  const uploading = ref<number | null>(null)

  const requestOf = (mode: 'look' | 'show' | 'keep' | 'files') => ({
    versionId: versionId(),
    surface: surface.value,
    fileIds: maps.value.map(({ id }) => id),
    rules: {
      rules: rules.value.rules.map((rule) => ({
        ...rule,
        ...(Array.isArray(rule.value) ? { value: [...(rule.value as readonly number[])] } : {}),
      })) as never[],
      sets: { ...rules.value.sets },
      ...(rules.value.rename ? { rename: { ...rules.value.rename } } : {}),
      ...(rules.value.ownModel ? { ownModel: plainModel(rules.value.ownModel) } : {}),
      ...(rules.value.naming ? { naming: { ...rules.value.naming } } : {}),
      ...(rules.value.green ? { green: rules.value.green } : {}),
      ...(rules.value.oneMap ? { oneMap: { ...rules.value.oneMap } } : {}),
    },
    mode,
  })

  let ticket = 0
  let timer: ReturnType<typeof setTimeout> | undefined
  async function look(): Promise<void> {
    const mine = ++ticket
    try {
      const { jobId } = await api.remap(assetId(), requestOf('look'))
      if (mine !== ticket) return void api.cancelJob(jobId).catch(notices.failed)
      job.value = jobId
      const done = await jobs.finished(jobId)
      if (mine === ticket) found.value = remapResultSchema.parse(done.result)
    } catch (error) {
      if (mine === ticket) notices.failed(error)
    } finally {
      if (mine === ticket) job.value = null
    }
  }
  watch(
    [surface, maps, rules, versionId],
    () => {
      clearTimeout(timer)
      timer = setTimeout(() => void look(), found.value ? QUIET : 0)
    },
    { immediate: true },
  )

  async function addMaps(files: readonly File[]): Promise<void> {
    uploading.value = 0
    try {
      const stored = await api.addMaps(assetId(), files, (share) => (uploading.value = share))
      takeMade(stored)
    } catch (error) {
      notices.failed(error)
    } finally {
      uploading.value = null
    }
  }

  /** Images that an operation made, beside the others or in the place of those of the same name. */
  function takeMade(made: readonly { id: string; name: string; byteLength: number }[]): void {
    const names = new Set(made.map(({ name }) => name))
    maps.value = [...maps.value.filter(({ name }) => !names.has(name)), ...made]
  }

  /**
   * A rule for one cell takes the place of the one before, one for all materials that of each of theirs; null takes back
   * what holds for this cell.
   */
  function setCell(
    material: string,
    parameter: string,
    change: Omit<RemapRule, 'material' | 'parameter'> | null,
    everywhere = false,
  ): void {
    const own = everywhere ? ALL_MATERIALS : material
    const { material: _name, ...said } =
      rules.value.rules.findLast((rule) => holdsFor(rule, material, parameter)) ?? {}
    const rest = rules.value.rules.filter((rule) =>
      everywhere
        ? rule.parameter !== parameter
        : change
          ? !sameCell(rule, material, parameter)
          : !holdsFor(rule, material, parameter),
    )
    rules.value = {
      ...rules.value,
      rules: change ? [...rest, { ...said, material: own, parameter, ...change }] : rest,
    }
  }
  /** One image for one cell, whatever its name says. */
  async function dropOn(material: string, parameter: string, file: File): Promise<void> {
    await addMaps([file])
    if (maps.value.some(({ name }) => name === file.name))
      setCell(material, parameter, { map: { file: file.name } })
  }
  /** Images for one material, whatever material their names are like; what each is for their names say. */
  async function dropOnMaterial(material: string, files: readonly File[]): Promise<void> {
    await addMaps(files)
    const { sets } = groupMapSets(files.map((file) => file.webkitRelativePath || file.name))
    rules.value = {
      ...rules.value,
      sets: { ...rules.value.sets, ...Object.fromEntries(sets.map(({ name }) => [name, material])) },
    }
  }
  const setOwner = (set: string, material: string): void => {
    rules.value = { ...rules.value, sets: { ...rules.value.sets, [set]: material } }
  }
  /** A model of the artist's own, which everything is wired for from now on. */
  const setOwnModel = (ownModel: OwnModelDocument): void => {
    rules.value = { ...rules.value, ownModel }
    surface.value = OWN_MODEL
  }
  /** How maps are named as they are written; null: as they came. */
  const setNaming = (naming: MapNaming | null): void => {
    const { naming: _before, ...rest } = rules.value
    rules.value = naming ? { ...rest, naming } : rest
  }
  /** Several materials drawn into one, or each its own maps: null. */
  const setOneMap = (options: OneMapOptions | null): void => {
    const { oneMap: _before, ...rest } = rules.value
    rules.value = options ? { ...rest, oneMap: options } : rest
  }
  const isRuled = (material: string, parameter: string): boolean =>
    rules.value.rules.some((rule) => holdsFor(rule, material, parameter))

  /** Runs a job that makes something. @returns what it made; null where it failed, which was told. */
  async function make(
    mode: 'keep' | 'files',
    format: string | null,
    beside: string | null,
  ): Promise<RemapResultDocument | null> {
    try {
      const { jobId } = await api.remap(assetId(), { ...requestOf(mode), format, beside })
      job.value = jobId
      return remapResultSchema.parse((await jobs.finished(jobId)).result)
    } catch (error) {
      notices.failed(error)
      return null
    } finally {
      job.value = null
    }
  }

  /** Sets that no likeness of names settles, and maps whose use is open. */
  const doubts = computed(() => ({
    sets: (found.value?.sets ?? []).filter(
      // one whose maps are all open themselves has nothing to be given to
      ({ how, files }) => files > 0 && (how === 'doubtful' || how === 'none'),
    ),
    maps: found.value?.doubtful ?? [],
  }))
  return {
    surface,
    maps,
    rules,
    found,
    job,
    uploading,
    doubts,
    addMaps,
    takeMade,
    setCell,
    dropOn,
    dropOnMaterial,
    setOwner,
    setOneMap,
    setNaming,
    setOwnModel,
    isRuled,
    make,
    requestOf,
  }
}
