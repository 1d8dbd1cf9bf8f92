<script setup lang="ts">
import { useNames } from '../stores/names'

/** Everything under the pointer in order of depth, to be picked by name. */
defineProps<{ at: { x: number; y: number; names: string[] } }>()
const emit = defineEmits<{ hover: [name: string]; take: [name: string, more: boolean]; close: [] }>()
const names = useNames()
</script>

<template>
  <ol
    class="absolute z-20 max-h-72 w-64 overflow-auto rounded border border-hair bg-sheet py-1 shadow-lg"
    :style="{ left: `${at.x + 6}px`, top: `${at.y + 6}px` }"
    aria-label="Under the pointer, nearest first"
    data-testid="under"
    @pointerdown.stop
    @pointerup.stop
    @pointermove.stop
    @keydown.esc.stop="emit('close')"
  >
    <li v-for="(name, i) in at.names" :key="name">
      <button
        type="button"
        class="flex min-h-6 w-full items-center gap-2 px-2 py-0.5 text-left hover:bg-accent-soft"
        :data-under="name"
        @pointerenter="emit('hover', name)"
        @pointerleave="emit('hover', '')"
        @focus="emit('hover', name)"
        @click.stop="emit('take', name, $event.shiftKey || $event.ctrlKey)"
      >
        <span class="w-4 text-right text-muted tabular-nums">{{ i + 1 }}</span>
        <span class="min-w-0 flex-1 truncate" :title="names.of(name)">{{ names.of(name) }}</span>
      </button>
    </li>
  </ol>
</template>
