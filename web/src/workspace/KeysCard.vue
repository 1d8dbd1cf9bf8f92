<script setup lang="ts">
import { computed } from 'vue'
import { useWork } from '../stores/work'
import { BENCHES } from '../stores/benches'
import { useActions } from './actions'
import SheetCard from './SheetCard.vue'

/** The keys and gestures of the bench at hand. */
const emit = defineEmits<{ close: [] }>()
const work = useWork()
const actions = useActions()
const bench = computed(() => BENCHES.find((b) => b.name === work.bench))
const tools = computed(() => actions.value.filter((a) => a.bench === work.bench && a.stroke))
const GESTURES = [
  ['left', 'picks; with shift, one more; on what is picked, lets go'],
  ['right', 'lists what lies under the pointer'],
  ['right, dragged', 'turns the view'],
  ['middle, dragged', 'shifts the view'],
  ['wheel', 'nearer and farther; over a number, steps it'],
  ['figures', 'go to the field that waits'],
  ['Enter', 'accepts'],
  ['Escape', 'one step back'],
  ['ctrl z, ctrl shift z', 'undo, redo'],
  ['/', 'finds a tool by name or by what it is for'],
] as const
const OUTSIDE = [['left, dragged', 'turns the view; on a grip, moves that']] as const
const WITHIN = [
  ['left, dragged', 'moves what can move; on nothing, picks what lies in the box'],
  ['v', 'another way of drawing'],
  ['n, shift n', 'the next solution, the one before'],
  ['c', 'draws construction'],
  ['alt', 'holds inference back'],
  ['ctrl c, ctrl v', 'copies and pastes'],
  ['Delete', 'removes what is picked'],
] as const
</script>

<template>
  <SheetCard
    :named="`Keys and gestures: ${work.bench}`"
    closes="Close the keys"
    class="flex max-h-[calc(100%-60px)] w-[640px] max-w-[calc(100%-24px)] flex-col"
    data-testid="keys"
    @close="emit('close')"
  >
    <div class="grid min-h-0 grid-cols-[minmax(150px,auto)_1fr] gap-x-8 overflow-y-auto">
      <div>
        <h3 class="mb-1 text-muted">
          <kbd class="font-mono text-accent">{{ bench?.stroke }}</kbd>, then
        </h3>
        <ul>
          <li v-for="t in tools" :key="t.name" class="flex gap-2 py-0.5" :data-key-of="t.name">
            <kbd class="w-5 shrink-0 font-mono text-accent">{{ t.stroke }}</kbd>{{ t.label }}
          </li>
        </ul>
        <h3 class="mt-3 mb-1 text-muted">benches</h3>
        <ul class="grid grid-cols-2 gap-x-4">
          <li v-for="b in BENCHES" :key="b.name">
            <kbd class="font-mono text-accent">{{ b.stroke }}</kbd> {{ b.name }}
          </li>
        </ul>
      </div>
      <dl class="grid grid-cols-[auto_1fr] content-start gap-x-3 gap-y-0.5">
        <template v-for="[keys, does] in [...GESTURES, ...(work.sketch ? WITHIN : OUTSIDE)]" :key="keys">
          <dt class="whitespace-nowrap text-accent">{{ keys }}</dt>
          <dd>{{ does }}</dd>
        </template>
      </dl>
    </div>
  </SheetCard>
</template>
