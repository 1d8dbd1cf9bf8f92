<script setup lang="ts">
import { computed } from 'vue'
import { usePart } from '../stores/part'

/** How far something long has come: a bar with its percents, or dots while that is not known. */
const part = usePart()
const percent = computed(() => (part.share === null ? null : Math.round(100 * part.share)))
</script>

<template>
  <span v-if="percent === null">…</span>
  <span v-else class="flex items-center gap-1.5">
    <span
      class="inline-block h-1.5 w-16 overflow-hidden rounded-full bg-hair"
      role="progressbar"
      aria-label="done so far"
      aria-valuemin="0"
      aria-valuemax="100"
      :aria-valuenow="percent"
      data-testid="share-done"
    >
      <span class="block h-full bg-accent" :style="{ width: `${percent}%` }" />
    </span>
    <span class="w-8 tabular-nums">{{ percent }} %</span>
  </span>
</template>
