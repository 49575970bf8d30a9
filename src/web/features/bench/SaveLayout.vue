<script setup lang="ts">
import { ref } from 'vue'
import type { SheetPages } from '../../../core/uv/panels/sheet-pdf.ts'
import { svgAsPng } from '../../kit/svg-as-png.ts'
import { useNotices } from '../../stores/notices.ts'
import type { useBench } from './use-bench.ts'

/** How the UVs lie, as a picture, for a painter's template. */
const props = defineProps<{
  bench: ReturnType<typeof useBench>
  /** What the file is called. */
  name: string
  /** The selected part's node; null: all parts. */
  node: number | null
}>()
const notices = useNotices()
const SIZES = [1024, 2048, 4096]
const busy = ref(false)

const nodes = (): number[] | null => (props.node === null ? null : [props.node])

function give(blob: Blob, ending: string): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(blob)
  link.download = `${props.name.replace(/[^\w .-]+/g, '_')}_${ending}`
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 10000)
}
async function saveLayout(kind: 'svg' | 'png', size: number): Promise<void> {
  const tile = { column: 0, row: 0 }
  const svg = await props.bench.ask('layout', { set: '', size, tile, nodes: nodes() })
  if (svg === null) return notices.refused('No polygon lies in the first tile.')
  give(kind === 'svg' ? new Blob([svg], { type: 'image/svg+xml' }) : await svgAsPng(svg, size), `uv.${kind}`)
}
async function savePanels(pages: SheetPages | null): Promise<void> {
  const sheet = await props.bench.ask('panels', { nodes: nodes(), pages })
  if (sheet === null) return notices.refused('No part has UVs that panels could be made of.')
  const kind = pages === null ? 'svg' : 'pdf'
  give(
    new Blob([sheet as BlobPart], { type: kind === 'svg' ? 'image/svg+xml' : 'application/pdf' }),
    `panels.${kind}`,
  )
}
async function save(command: string): Promise<void> {
  const [what, how] = command.split(' ') as ['svg' | 'png' | 'panels', string]
  busy.value = true
  try {
    if (what === 'panels') await savePanels(how === 'svg' ? null : (how as SheetPages))
    else await saveLayout(what, Number(how))
  } catch (error) {
    notices.failed(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <el-dropdown trigger="click" size="small" :persistent="false" @command="save">
    <el-button size="small" class="save" :loading="busy">Save UVs</el-button>
    <template #dropdown>
      <el-dropdown-menu>
        <el-dropdown-item :command="`svg ${SIZES[1]}`">as SVG</el-dropdown-item>
        <el-dropdown-item v-for="size in SIZES" :key="size" :command="`png ${size}`"
          >as PNG, {{ size.toLocaleString('en-US') }} pixels</el-dropdown-item
        >
        <el-dropdown-item divided command="panels svg">as panels at true size, SVG</el-dropdown-item>
        <el-dropdown-item command="panels one">as panels at true size, PDF</el-dropdown-item>
        <el-dropdown-item command="panels a4">as panels on A4 pages, PDF</el-dropdown-item>
      </el-dropdown-menu>
    </template>
  </el-dropdown>
</template>
