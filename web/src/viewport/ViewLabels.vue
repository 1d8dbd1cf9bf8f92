<script setup lang="ts">
import { computed } from 'vue'
import ConstraintIcon from '../icons/ConstraintIcon.vue'
import DimensionField from './DimensionField.vue'
import type { useDimensionText } from './dimensionText'
import { useWork } from '../stores/work'
import type { Placed } from './placement'

/** What is written over the picture: sizes, constraints, places where something is wrong, readings. */
const props = defineProps<{
  labels: readonly Placed[]
  texts: ReturnType<typeof useDimensionText>
  involved: string[]
}>()
const editing = defineModel<string | null>('editing', { required: true })
const emit = defineEmits<{ moved: []; pick: [id: string, event: MouseEvent] }>()
const work = useWork()
/** Those that stand away from where they belong. */
const led = computed(() => props.labels.filter((l) => l.homeX !== undefined))
</script>

<template>
  <svg class="pointer-events-none absolute inset-0 h-full w-full text-muted" aria-hidden="true">
    <line
      v-for="l in led"
      :key="l.kind + l.id"
      :x1="l.homeX"
      :y1="l.homeY"
      :x2="l.x"
      :y2="l.y"
      stroke="currentColor"
      stroke-width="0.8"
      stroke-dasharray="2 2"
      :data-leader="l.id"
    />
  </svg>
  <template v-for="label in labels" :key="label.kind + label.id">
    <button
      v-if="label.kind === 'dimension' && editing !== label.id"
      type="button"
      class="absolute -translate-x-1/2 -translate-y-1/2 cursor-move touch-none rounded-sm bg-canvas/85 px-1 font-medium whitespace-nowrap hover:text-accent"
      :class="[
        work.picks.includes(label.id) ? 'text-accent outline outline-1 outline-accent' : '',
        involved.includes(label.id) ? 'clash-label' : '',
      ]"
      :style="{ left: `${label.x}px`, top: `${label.y}px` }"
      :data-dimension="label.id"
      :aria-label="`${label.id} ${label.text}, double click to change, arrow keys to step`"
      @pointerdown.stop="texts.grab($event, label.id)"
      @pointermove.stop="texts.drag($event) && emit('moved')"
      @pointerup.stop="texts.drop()"
      @dblclick.stop="editing = label.id"
      @click.stop="texts.moved() || emit('pick', label.id, $event)"
      @wheel.stop.prevent="texts.step(label.id, $event.deltaY < 0 ? 1 : -1, $event)"
      @keydown.enter.prevent="editing = label.id"
      @keydown.up.prevent="texts.step(label.id, 1, $event)"
      @keydown.down.prevent="texts.step(label.id, -1, $event)"
    >
      {{ label.text }}
    </button>
    <DimensionField
      v-else-if="label.kind === 'dimension'"
      :id="label.id"
      :style="{ left: `${label.x}px`, top: `${label.y}px` }"
      @done="editing = null"
    />
    <button
      v-else-if="label.kind === 'constraint'"
      type="button"
      class="absolute -translate-x-1/2 -translate-y-1/2 rounded-sm bg-canvas/80 hover:text-accent"
      :class="[
        work.picks.includes(label.id) ? 'text-accent outline outline-1 outline-accent' : 'text-muted',
        involved.includes(label.id) ? 'clash-label' : '',
        work.tool === 'select' ? '' : 'pointer-events-none',
      ]"
      :style="{ left: `${label.x}px`, top: `${label.y}px` }"
      :title="label.title"
      :data-constraint="label.id"
      :aria-label="label.title"
      tabindex="-1"
      @pointerdown.stop
      @pointerup.stop
      @click.stop="emit('pick', label.id, $event)"
    >
      <ConstraintIcon :kind="label.text" :size="14" />
    </button>
    <span
      v-else-if="label.kind === 'issue'"
      class="pointer-events-none absolute h-4 w-4 -translate-x-1/2 -translate-y-1/2 rounded-full border-2 border-dashed border-alert"
      :style="{ left: `${label.x}px`, top: `${label.y}px` }"
      :title="label.title"
      :data-issue-mark="label.text"
    />
    <span
      v-else-if="label.kind === 'grip'"
      class="pointer-events-none absolute -translate-x-1/2 -translate-y-1/2 rounded-sm bg-canvas/90 px-1 font-medium whitespace-nowrap text-accent"
      :style="{ left: `${label.x}px`, top: `${label.y}px` }"
      :data-grip="label.id.slice(5)"
      >{{ label.text }}</span
    >
    <span
      v-else
      class="pointer-events-none absolute -translate-x-1/2 -translate-y-1/2 rounded-sm bg-canvas/85 px-1 text-[11px] whitespace-nowrap"
      :class="
        label.kind === 'measured'
          ? 'font-semibold text-accent'
          : label.kind === 'reading-fail'
            ? 'font-semibold text-alert'
            : 'text-muted'
      "
      :style="{ left: `${label.x}px`, top: `${label.y}px` }"
      :data-reading-label="label.id"
      >{{ label.text }}</span
    >
  </template>
</template>
