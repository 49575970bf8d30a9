<script setup lang="ts">
import { ref } from 'vue'
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

async function save(command: string): Promise<void> {
  const [kind, size] = command.split(' ') as ['svg' | 'png', string]
  busy.value = true
  try {
    const svg = await props.bench.ask('layout', {
      set: '',
      size: Number(size),
      tile: { column: 0, row: 0 },
      nodes: props.node === null ? null : [props.node],
    })
    if (svg === null) {
      notices.refused('No polygon lies in the first tile.')
      return
    }
    const blob =
      kind === 'svg' ? new Blob([svg], { type: 'image/svg+xml' }) : await svgAsPng(svg, Number(size))
    const link = document.createElement('a')
    link.href = URL.createObjectURL(blob)
    link.download = `${props.name.replace(/[^\w .-]+/g, '_')}_uv.${kind}`
    link.click()
    setTimeout(() => URL.revokeObjectURL(link.href), 10000)
  } catch (error) {
    notices.failed(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <el-dropdown trigger="click" size="small" @command="save">
    <el-button size="small" class="save" :loading="busy">Save UVs</el-button>
    <template #dropdown>
      <el-dropdown-menu>
        <el-dropdown-item :command="`svg ${SIZES[1]}`">as SVG</el-dropdown-item>
        <el-dropdown-item v-for="size in SIZES" :key="size" :command="`png ${size}`"
          >as PNG, {{ size.toLocaleString('en-US') }} pixels</el-dropdown-item
        >
      </el-dropdown-menu>
    </template>
  </el-dropdown>
</template>
