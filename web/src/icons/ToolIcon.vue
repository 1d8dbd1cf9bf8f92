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
  dimension: 'M2.5 3v10M13.5 3v10M2.5 8h11M5 6L2.5 8 5 10M11 6l2.5 2L11 10',
  plane: 'M2 10.5L6.5 4H14l-4.500 6.500z',
  sketch: 'M2 11L6 5h8l-4 6zM6.500 9.500l4-3.500',
  extrude: 'M3 13h10v-3H3zM8 8.500V2M5.500 4.500L8 2l2.500 2.500',
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
