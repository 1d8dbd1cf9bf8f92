<script setup lang="ts">
import { usePart } from '../../stores/part'
import ShareDone from '../ShareDone.vue'

/** That an answer is being worked out, how far that is, and a way to end it. */
defineProps<{ words: string }>()
const part = usePart()
</script>

<template>
  <p class="flex items-center gap-2 text-muted" aria-live="polite" data-testid="ask-busy">
    {{ words }} … <ShareDone />
    <button type="button" class="button" data-testid="stop-asking" @click="part.stop()">Stop</button>
  </p>
</template>
