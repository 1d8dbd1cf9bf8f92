<script setup lang="ts">
import ConstraintIcon from './ConstraintIcon.vue'

withDefaults(defineProps<{ name: string; size?: number }>(), { size: 17 })

const PATHS: Record<string, string> = {
  select: 'M4 2.5l8 6-3.6.7-1.6 3.6z',
  line: 'M3 13L13 3M3 13m-1.3 0a1.3 1.3 0 1 0 2.6 0a1.3 1.3 0 1 0-2.6 0M13 3m-1.3 0a1.3 1.3 0 1 0 2.6 0a1.3 1.3 0 1 0-2.6 0',
  rectangle:
    'M2.5 4.5h11v7h-11zM2.5 11.5m-1.2 0a1.2 1.2 0 1 0 2.4 0a1.2 1.2 0 1 0-2.4 0M13.5 4.5m-1.2 0a1.2 1.2 0 1 0 2.4 0a1.2 1.2 0 1 0-2.4 0',
  'rectangle-centre': 'M2.5 4.5h11v7h-11zM8 8m-1.2 0a1.2 1.2 0 1 0 2.4 0a1.2 1.2 0 1 0-2.4 0',
  circle: 'M8 8m-5.5 0a5.5 5.5 0 1 0 11 0a5.5 5.5 0 1 0-11 0M8 8h.01M8 8l4-4',
  arc: 'M3 12A8 8 0 0 1 13 5M3 12h10M13 12V5',
  point: 'M8 8m-1.6 0a1.6 1.6 0 1 0 3.2 0a1.6 1.6 0 1 0-3.2 0M8 1.5v3M8 11.5v3M1.5 8h3M11.5 8h3',
  slot: 'M5 4.500h6a3.500 3.500 0 0 1 0 7H5a3.500 3.500 0 0 1 0-7M5 8h6',
  polygon: 'M8 2l5.200 3v6L8 14l-5.200-3V5z',
  ellipse: 'M8 8m-6 0a6 3.600 0 1 0 12 0a6 3.600 0 1 0-12 0M8 8h6M8 8v-3.600',
  spline: 'M2 12C4 3 7 3 8 8s4 5 6-4M2 12h.010M8 8h.010M14 4h.010',
  trim: 'M2 5h4M10 5h4M6 2v6M10 2v6M6.500 11l3 3M9.500 11l-3 3',
  extend: 'M2 8h6M9 8h1.200M11.500 8h1M13.500 3v10M8 6v4',
  split: 'M2 8h4.500M9.500 8H14M8 3v2M8 11v2M6.500 6.500v3M9.500 6.500v3',
  corner: 'M3 13V8a5 5 0 0 1 5-5h5M3 3h1.500M3 3v1.500',
  offset: 'M3 13V6a3 3 0 0 1 3-3h7M7 13V9a2 2 0 0 1 2-2h4',
  mirror: 'M8 1.500v2M8 5v2M8 8.500v2M8 12v2M6 4L2 12h4zM10 4l4 8h-4z',
  'pattern-row': 'M2 6h3v4H2zM6.500 6h3v4h-3zM11 6h3v4h-3z',
  'pattern-ring':
    'M8 3m-1.500 0a1.500 1.500 0 1 0 3 0a1.500 1.500 0 1 0-3 0M12.500 10.500m-1.500 0a1.500 1.500 0 1 0 3 0a1.500 1.500 0 1 0-3 0M3.500 10.500m-1.500 0a1.500 1.500 0 1 0 3 0a1.500 1.500 0 1 0-3 0M8 8h.010',
  move: 'M8 2v12M2 8h12M6.500 3.500L8 2l1.500 1.500M6.500 12.500L8 14l1.500-1.500M3.500 6.500L2 8l1.500 1.500M12.500 6.500L14 8l-1.500 1.500',
  merge: 'M3 4l4 4-4 4M13 4L9 8l4 4M8 8m-1.300 0a1.300 1.300 0 1 0 2.600 0a1.300 1.300 0 1 0-2.600 0',
  part: 'M6 4L3 8l3 4M10 4l3 4-3 4M3 8h3M10 8h3',
  handles: 'M2 12C5 4 11 12 14 4M2 12l3-5M14 4l-3 5',
  reference: 'M4 4H3v8h1M12 4h1v8h-1M6 8h4',
  dimension: 'M2.5 3v10M13.5 3v10M2.5 8h11M5 6L2.5 8 5 10M11 6l2.5 2L11 10',
  plane: 'M2 10.5L6.5 4H14l-4.500 6.500z',
  axis: 'M2.500 13.500L13.500 2.500M5 8.500m-1 0a1 2 0 1 0 2 0M11 10a3 1.300 0 1 0 .010 0',
  frame: 'M5 11V3M5 11h8M5 11l-3 3M3.700 4.500L5 3l1.300 1.500M11.500 9.700L13 11l-1.500 1.300',
  section: 'M2 5l6-3 6 3v6l-6 3-6-3zM2 8.500l6 3 6-3',
  crossing: 'M2 10l6-3.500h6l-6 3.500zM8 1.500v5M8 10v4.500M8 8.200h.010',
  curve: 'M2 12C4 3 7 3 8 8s4 5 6-4M2 12h.010M14 4h.010',
  mesh: 'M2 13L8 3l6 10zM5 8h6M8 13L5 8M8 13l3-5',
  sketch: 'M2 11L6 5h8l-4 6zM6.500 9.500l4-3.500',
  extrude: 'M3 13h10v-3H3zM8 8.500V2M5.500 4.500L8 2l2.500 2.500',
  revolve: 'M8 2v12M11 5h3v6h-3zM8 8h3M5 4.500a3 6 0 0 0 0 7M3.800 10.300L5 11.500l1.300-1',
  sweep:
    'M2 13C3 6 8 10 13 3M2 13m-1.300 0a1.300 1.300 0 1 0 2.600 0a1.300 1.300 0 1 0-2.600 0M11 2.500l2 .500-.500 2',
  loft: 'M2.500 13h11M5.500 3h5M2.500 13L5.500 3M13.500 13l-3-10M4 8h8',
  hole: 'M2 5h4M10 5h4M6 5v6l2 2.500 2-2.500V5M6 11h4',
  thread: 'M5 2v12M11 2v12M5 4.500l6-2M5 7.500l6-2M5 10.500l6-2M5 13.500l6-2',
  fillet: 'M3 13V8a5 5 0 0 1 5-5h5M3 3h.010',
  chamfer: 'M3 13V8l5-5h5M3 3h.010',
  shell: 'M2.500 3v10h11V3h-2.500v7.500h-6V3z',
  draft: 'M5 3h6l2.500 10h-11zM8 1.500v13',
  pattern: 'M2 6h3v4H2zM6.500 6h3v4h-3zM11 6h3v4h-3z',
  combine: 'M2 4h7v7H2zM6 6.500h8v7H6z',
  probe: 'M8 1.500v13M5.500 4h5M5.500 7h5M5.500 9.500h5M5.500 12.500h5',
  reading:
    'M2.500 12.500L12.500 2.500M2.500 12.500l2-.400M2.500 12.500l.400-2M12.500 2.500l-2 .400M12.500 2.500l-.400 2M6 6l1.500 1.500M8.500 8.500L10 10',
  construction: 'M2.5 13.5l2-2M6 10l2-2M9.500 6.500l2-2M13 3l.500-.500',
  remove: 'M4 4l8 8M12 4l-8 8',
  import: 'M8 2v7M5.500 6.500L8 9l2.500-2.500M3 11v2.500h10V11',
}
</script>

<template>
  <ConstraintIcon v-if="name.startsWith('tie-')" :kind="name.slice(4)" :size="size" />
  <svg
    v-else
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
    <path :d="PATHS[name] ?? 'M3 8h10'" />
  </svg>
</template>
