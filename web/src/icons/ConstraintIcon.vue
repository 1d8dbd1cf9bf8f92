<script setup lang="ts">
import { MARKS } from './marks'

withDefaults(defineProps<{ kind: string; size?: number }>(), { size: 16 })
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
    <path :d="MARKS[`tie-${kind}`] ?? 'M4 4h8v8H4z'" />
  </svg>
</template>
