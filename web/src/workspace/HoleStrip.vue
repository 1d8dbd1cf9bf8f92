<script setup lang="ts">
import { computed } from 'vue'
import type { Stretch } from '../api/forms'

/** The material along an axis, drawn to scale from left to right, with what a hole takes of it. */
const props = defineProps<{ strip: readonly Stretch[]; title: string; start?: number; end?: number }>()
const WIDTH = 300
const range = computed(() => {
  const ends = props.strip.flatMap((s) => [s.from, s.to])
  if (props.start !== undefined) ends.push(props.start)
  if (props.end !== undefined) ends.push(props.end)
  const [low, high] = [Math.min(...ends, 0), Math.max(...ends, 1)]
  const spare = (high - low) * 0.04
  return { low: low - spare, scale: WIDTH / (high - low + 2 * spare) }
})
const x = (v: number): number => (v - range.value.low) * range.value.scale
</script>

<template>
  <figure class="mt-1.5" data-testid="strip" :aria-label="title">
    <figcaption class="truncate text-[11.5px] text-muted">{{ title }}</figcaption>
    <svg :viewBox="`0 0 ${WIDTH} 34`" class="w-full" role="img">
      <title>{{ strip.map((s) => `${s.shown}, ${s.in}, ${s.out}`).join('; ') }}</title>
      <line x1="0" y1="11" :x2="WIDTH" y2="11" stroke="var(--hair)" stroke-width="1" />
      <g v-for="s in strip" :key="s.from">
        <rect
          :x="x(s.from)"
          y="3"
          :width="(s.to - s.from) * range.scale"
          height="16"
          fill="var(--body)"
          stroke="var(--body-edge)"
        />
        <text
          :x="x((s.from + s.to) / 2)"
          y="31"
          text-anchor="middle"
          font-size="10.5"
          fill="currentColor"
          data-stretch
        >
          {{ s.shown }}
        </text>
      </g>
      <rect
        v-if="start !== undefined && end !== undefined"
        :x="x(start)"
        y="7"
        :width="(end - start) * range.scale"
        height="8"
        fill="var(--taken)"
        opacity="0.75"
      />
      <path :d="`M${x(0)} 1v20`" stroke="var(--accent)" stroke-width="1.5" />
    </svg>
  </figure>
</template>
