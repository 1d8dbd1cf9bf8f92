<script setup lang="ts">
withDefaults(defineProps<{ kind: string; size?: number }>(), { size: 16 })

/** Our own marks: drawn from what each constraint says. */
const PATHS: Record<string, string> = {
  coincident: 'M8 8m-2.2 0a2.2 2.2 0 1 0 4.4 0a2.2 2.2 0 1 0-4.4 0M8 2v3M8 11v3M2 8h3M11 8h3',
  'on-curve': 'M2 12C5 5 10 4 14 5M8.2 6.2m-1.8 0a1.8 1.8 0 1 0 3.6 0a1.8 1.8 0 1 0-3.6 0',
  midpoint: 'M2 11h12M2 9v4M14 9v4M8 11L5.5 5h5z',
  horizontal: 'M2 8h12M5 5.5v5M11 5.5v5',
  vertical: 'M8 2v12M5.5 5h5M5.5 11h5',
  parallel: 'M4 13L8 3M8 13l4-10',
  perpendicular: 'M3 13h10M8 13V3M8 10h3v3',
  equal: 'M3 6h10M3 10h10',
  concentric:
    'M8 8m-5.5 0a5.5 5.5 0 1 0 11 0a5.5 5.5 0 1 0-11 0M8 8m-2.3 0a2.3 2.3 0 1 0 4.6 0a2.3 2.3 0 1 0-4.6 0',
  crossing: 'M3 3l10 10M13 3L3 13M8 8m-2 0a2 2 0 1 0 4 0a2 2 0 1 0-4 0',
  collinear: 'M2 11l4-2M10 7l4-2M7.200 8.400l1.600-.800',
  tangent: 'M2 12.500h12M8 7.500m-5 0a5 5 0 1 0 10 0a5 5 0 1 0-10 0',
  smooth: 'M2 12C5 12 6 4 8 4s3 8 6 8M8 4h.010',
  symmetric: 'M8 2v12M5 5L2.500 8 5 11M11 5l2.500 3-2.500 3',
  same: 'M8 8m-5 0a5 5 0 1 0 10 0a5 5 0 1 0-10 0M5.500 8h5M5.500 6h5M5.500 10h5',
  fixed: 'M8 2v6M5 8h6M3 13l2-3M7 13l2-3M11 13l2-3M4 10h9',
}
</script>

<template>
  <svg
    :width="size"
    :height="size"
    viewBox="0 0 16 16"
    fill="none"
    stroke="currentColor"
    stroke-width="1.4"
    stroke-linecap="round"
    stroke-linejoin="round"
    aria-hidden="true"
  >
    <path :d="PATHS[kind] ?? 'M4 4h8v8H4z'" />
  </svg>
</template>
