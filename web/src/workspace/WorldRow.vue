<script setup lang="ts">
import { useChoice } from '../stores/choice'
import { useWork } from '../stores/work'

/** The world's planes, axes and origin, to be picked where a body hides them. */
const work = useWork()
const { choose } = useChoice()
const THINGS = [
  ['world/xy', 'xy'],
  ['world/yz', 'yz'],
  ['world/xz', 'xz'],
  ['world/x', 'x'],
  ['world/y', 'y'],
  ['world/z', 'z'],
  ['world/origin', 'origin'],
] as const
const TITLES: Record<string, string> = { origin: 'The origin' }
</script>

<template>
  <div
    v-if="!work.sketch"
    class="flex items-center gap-1 border-t border-hair px-3 py-1 text-muted"
    role="group"
    aria-label="World"
    data-testid="world-row"
  >
    <span class="mr-1">World</span>
    <button
      v-for="[name, words] in THINGS"
      :key="name"
      type="button"
      class="min-h-6 min-w-6 rounded px-1.5 hover:bg-accent-soft hover:text-accent"
      :class="work.picks.includes(name) ? 'bg-accent-soft font-medium text-accent' : ''"
      :aria-pressed="work.picks.includes(name)"
      :title="TITLES[words] ?? (words.length === 2 ? `The ${words} plane` : `The ${words} axis`)"
      :data-world="name"
      @pointerenter="work.hover = name"
      @pointerleave="work.hover = ''"
      @click="choose(name, $event.shiftKey || $event.ctrlKey)"
    >
      {{ words }}
    </button>
  </div>
</template>
