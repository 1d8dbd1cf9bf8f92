<script setup lang="ts">
import { computed } from 'vue'
import { cardOf } from './drawn'
import Loop from './Loop.vue'
import { LOOP, timed } from './scene'

/** What a tool is for, what it needs, and a drawing of its use that moves, where motion is wanted. */
const props = defineProps<{ bench: string; tool: string; label: string; stroke: string }>()
const card = computed(() => cardOf(props.bench, props.tool))
const beats = computed(() => timed(card.value?.scene ?? []))
const calm = window.matchMedia('(prefers-reduced-motion: reduce)').matches
const place = (d: string): { x: number; y: number } => {
  const [x, y] = d.split(' ').map(Number)
  return { x: x!, y: y! }
}
/** Where the pointer goes: from press to press. */
const pointer = computed(() => {
  const presses = beats.value.filter((b) => b.kind === 'press')
  if (presses.length === 0) return null
  const stops = [
    { x: 112, y: 66, at: 0 },
    ...presses.map((b) => ({ ...place(b.d), at: (b.from + b.until) / 2 })),
  ]
  const last = stops.at(-1)!
  return {
    places: [...stops, last].map((s) => `${s.x} ${s.y}`).join(';'),
    times: [...stops.map((s) => s.at), 1].join(';'),
  }
})
</script>

<template>
  <div
    v-if="card"
    class="w-[268px] rounded-md border border-hair bg-sheet p-2.5 shadow-xl"
    role="tooltip"
    data-testid="tool-card"
    :data-card="tool"
  >
    <h3 class="mb-1.5 flex justify-between font-medium">
      {{ label }}<kbd class="font-mono text-[11px] text-muted">{{ stroke }}</kbd>
    </h3>
    <svg
      viewBox="0 0 120 72"
      class="mb-1.5 w-full rounded bg-canvas"
      aria-hidden="true"
      data-testid="tool-scene"
    >
      <g fill="none" stroke-width="1" stroke-linecap="round" stroke-linejoin="round">
        <template v-for="(b, i) in beats" :key="i">
          <path v-if="b.kind === 'there'" :d="b.d" stroke="var(--muted)" />
          <template v-else-if="b.kind === 'pick'">
            <path :d="b.d" stroke="var(--muted)" />
            <path :d="b.d" stroke="var(--accent)" stroke-width="1.3">
              <Loop v-if="!calm" of="opacity" values="0;0;1;1" :from="b.from" :until="b.until" />
            </path>
          </template>
          <path
            v-else-if="b.kind === 'draw'"
            :d="b.d"
            stroke="var(--accent)"
            stroke-width="1.3"
            pathLength="1"
            stroke-dasharray="1 1"
          >
            <Loop v-if="!calm" of="stroke-dashoffset" values="1;1;0;0" :from="b.from" :until="b.until" />
          </path>
          <path v-else-if="b.kind === 'fill'" :d="b.d" fill="var(--accent)" stroke="none" opacity="0.35">
            <Loop v-if="!calm" of="opacity" values="0;0;0.35;0.35" :from="b.from" :until="b.until" />
          </path>
          <path v-else-if="b.kind === 'go'" :d="b.d" stroke="var(--muted)" :opacity="calm ? 0.25 : 1">
            <Loop v-if="!calm" of="opacity" values="1;1;0;0" :from="b.from" :until="b.until" />
          </path>
          <path
            v-else-if="b.kind === 'turn'"
            :d="calm ? b.to : b.d"
            stroke="var(--accent)"
            stroke-width="1.3"
          >
            <Loop
              v-if="!calm"
              of="d"
              :values="`${b.d};${b.d};${b.to};${b.to}`"
              :from="b.from"
              :until="b.until"
            />
          </path>
          <circle v-else r="3" :cx="place(b.d).x" :cy="place(b.d).y" stroke="var(--accent)">
            <Loop v-if="!calm" of="opacity" values="0;0;1;0" :from="b.from" :until="b.until" />
          </circle>
        </template>
        <path v-if="pointer && !calm" d="M0 0l2.5 8.5l2 -3.6l3.8 -1.6Z" fill="var(--ink)" stroke="none">
          <animateTransform
            attributeName="transform"
            type="translate"
            :values="pointer.places"
            :keyTimes="pointer.times"
            :dur="LOOP"
            repeatCount="indefinite"
          />
        </path>
      </g>
    </svg>
    <p>{{ card.when }}</p>
    <p class="mt-1 text-muted">{{ card.needs }}</p>
  </div>
</template>
