<script setup lang="ts">
import { LOOP, times } from './scene'

/** What changes of a shape within the loop of a card's drawing: `values` before, at the beginning and the end of its beat, and after. */
defineProps<{ of: string; values: string; from: number; until: number }>()
</script>

<template>
  <animate
    :attributeName="of"
    :values="values"
    :keyTimes="times(from, until)"
    :dur="LOOP"
    repeatCount="indefinite"
  />
</template>
