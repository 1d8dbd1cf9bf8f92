<script setup lang="ts">
import { computed } from 'vue'
import ToolIcon from '../icons/ToolIcon.vue'
import { useWork } from '../stores/work'
import { useActions } from './actions'
import { BENCHES } from './benches'

const work = useWork()
const actions = useActions()
const shown = computed(() => actions.value.filter((a) => a.bench === work.bench))
const isActive = (name: string): boolean =>
  work.tool === name ||
  (name === 'extrude' && work.extrude !== null) ||
  (name === 'new-sketch' && work.awaitingPlane === 'select')
</script>

<template>
  <nav class="flex w-[168px] shrink-0 flex-col border-r border-hair bg-sheet" aria-label="Benches and tools">
    <div class="grid grid-cols-2 gap-px border-b border-hair bg-hair" role="tablist" aria-label="Benches">
      <button
        v-for="b in BENCHES"
        :key="b.name"
        type="button"
        role="tab"
        :aria-selected="work.bench === b.name"
        class="flex items-center justify-between px-2.5 py-2 text-left font-medium"
        :class="work.bench === b.name ? 'bg-accent text-on-accent' : 'bg-sheet hover:bg-accent-soft'"
        @click="work.bench = b.name"
      >
        {{ b.name }}<kbd class="font-mono text-[11px] opacity-70">{{ b.stroke }}</kbd>
      </button>
    </div>
    <div class="flex-1 overflow-auto py-1" role="tabpanel" :aria-label="work.bench">
      <ul>
        <li v-for="a in shown" :key="a.name">
          <button
            type="button"
            class="flex w-full items-center gap-2 px-2.5 py-[7px] text-left"
            :class="
              isActive(a.name)
                ? 'bg-accent-soft font-medium shadow-[inset_3px_0_0_var(--accent)]'
                : 'hover:bg-accent-soft'
            "
            :data-tool="a.name"
            :aria-pressed="isActive(a.name)"
            @click="a.run()"
          >
            <ToolIcon :name="a.icon" /><span class="flex-1 leading-tight">{{ a.label }}</span
            ><kbd class="font-mono text-[11px] text-muted">{{ a.stroke }}</kbd>
          </button>
        </li>
      </ul>
    </div>
    <button
      v-if="work.sketch"
      type="button"
      class="m-2 rounded bg-accent px-2 py-1.5 font-medium text-on-accent"
      data-testid="leave-sketch"
      @click="work.leaveSketch()"
    >
      Leave the sketch
    </button>
  </nav>
</template>
