<script setup lang="ts">
import { MARKS } from './marks'

withDefaults(defineProps<{ name: string; size?: number }>(), { size: 17 })

/** Marks of what the interface brings itself; those of sketch tools and forms come with the tools. */
const PATHS: Record<string, string> = {
  part: 'M6 4L3 8l3 4M10 4l3 4-3 4M3 8h3M10 8h3',
  handles: 'M2 12C5 4 11 12 14 4M2 12l3-5M14 4l-3 5',
  reference: 'M4 4H3v8h1M12 4h1v8h-1M6 8h4',
  plane: 'M2 10.5L6.5 4H14l-4.500 6.500z',
  axis: 'M2.500 13.500L13.500 2.500M5 8.500m-1 0a1 2 0 1 0 2 0M11 10a3 1.300 0 1 0 .010 0',
  frame: 'M5 11V3M5 11h8M5 11l-3 3M3.700 4.500L5 3l1.300 1.500M11.500 9.700L13 11l-1.500 1.300',
  section: 'M2 5l6-3 6 3v6l-6 3-6-3zM2 8.500l6 3 6-3',
  crossing: 'M2 10l6-3.500h6l-6 3.500zM8 1.500v5M8 10v4.500M8 8.200h.010',
  curve: 'M2 12C4 3 7 3 8 8s4 5 6-4M2 12h.010M14 4h.010',
  mesh: 'M2 13L8 3l6 10zM5 8h6M8 13L5 8M8 13l3-5',
  sketch: 'M2 11L6 5h8l-4 6zM6.500 9.500l4-3.500',
  probe: 'M8 1.500v13M5.500 4h5M5.500 7h5M5.500 9.500h5M5.500 12.500h5',
  reading:
    'M2.500 12.500L12.500 2.500M2.500 12.500l2-.400M2.500 12.500l.400-2M12.500 2.500l-2 .400M12.500 2.500l-.400 2M6 6l1.500 1.500M8.500 8.500L10 10',
  construction: 'M2.5 13.5l2-2M6 10l2-2M9.500 6.500l2-2M13 3l.500-.500',
  remove: 'M4 4l8 8M12 4l-8 8',
  perspective: 'M6 3h4l4 10H2zM8 3v10M4.200 8h7.600',
  import: 'M8 2v7M5.500 6.500L8 9l2.500-2.500M3 11v2.500h10V11',
}
</script>

<template>
  <svg
    :width="size"
    :height="size"
    viewBox="0 0 16 16"
    fill="none"
    stroke="currentColor"
    stroke-width="1.3"
    stroke-linecap="round"
    stroke-linejoin="round"
    aria-hidden="true"
  >
    <path :d="MARKS[name] ?? PATHS[name] ?? 'M3 8h10'" />
  </svg>
</template>
