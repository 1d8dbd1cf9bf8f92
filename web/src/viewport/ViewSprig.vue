<script setup lang="ts">
import { computed } from 'vue'
import { tips, type Tip } from './sprig'

/** The world's directions in a corner of the view, turning with it: an end that is pressed is looked from, dragging turns the view. */
const props = defineProps<{ right: number[]; up: number[]; back: number[] }>()
const emit = defineEmits<{ from: [at: [number, number, number]]; turn: [x: number, y: number] }>()
const REACH = 27
const TINT = { x: 'var(--copper)', y: 'var(--accent)', z: 'var(--steel)' } as const
const seen = computed(() => tips(props.right, props.up, props.back))
const named = (t: Tip): string => `${t.sign > 0 ? '' : '−'}${t.axis}`
let dragged = false

function begin(event: PointerEvent): void {
  const area = event.currentTarget as SVGElement
  let [x, y] = [event.clientX, event.clientY]
  dragged = false
  const follow = (e: PointerEvent): void => {
    if (!dragged && Math.hypot(e.clientX - x, e.clientY - y) < 4) return
    if (!dragged) area.setPointerCapture(event.pointerId)
    dragged = true
    emit('turn', e.clientX - x, e.clientY - y)
    ;[x, y] = [e.clientX, e.clientY]
  }
  const end = (): void => {
    area.removeEventListener('pointermove', follow)
    window.removeEventListener('pointerup', end)
  }
  area.addEventListener('pointermove', follow)
  window.addEventListener('pointerup', end)
}

const look = (t: Tip): void => {
  if (!dragged) emit('from', t.from)
}
</script>

<template>
  <svg
    viewBox="-40 -40 80 80"
    class="absolute right-3 bottom-3 h-20 w-20 cursor-grab touch-none select-none"
    role="group"
    aria-label="Directions of the world"
    data-testid="sprig"
    @pointerdown.stop="begin"
    @pointerup.stop
  >
    <circle r="38" fill="transparent" />
    <g
      v-for="t in seen"
      :key="named(t)"
      role="button"
      tabindex="0"
      class="cursor-pointer outline-none [&:focus-visible>circle]:stroke-ink [&:hover>circle]:stroke-[var(--hover)]"
      :aria-label="`Look from ${named(t)}`"
      :data-sprig="named(t)"
      @click="look(t)"
      @keydown.enter.stop.prevent="emit('from', t.from)"
    >
      <line
        v-if="t.sign > 0"
        :x2="REACH * t.x"
        :y2="REACH * t.y"
        :stroke="TINT[t.axis]"
        :stroke-width="2.2 + 0.8 * t.near"
        stroke-linecap="round"
      />
      <circle
        :cx="REACH * t.x"
        :cy="REACH * t.y"
        :r="t.sign > 0 ? 7 + t.near : 3.6 + t.near"
        :fill="t.sign > 0 ? TINT[t.axis] : 'var(--canvas)'"
        :stroke="TINT[t.axis]"
        stroke-width="1.6"
      />
      <text
        v-if="t.sign > 0"
        :x="REACH * t.x"
        :y="REACH * t.y + 3.5"
        text-anchor="middle"
        class="pointer-events-none fill-canvas text-[10px] font-semibold"
      >
        {{ t.axis }}
      </text>
    </g>
  </svg>
</template>
