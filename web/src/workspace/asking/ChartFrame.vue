<script setup lang="ts">
import { ref } from 'vue'
import { give } from '../../api/save'
import { BELOW, HEIGHT, LEFT, RIGHT, WIDTH, csv, type Axis } from './chart'

/** A chart with axes, that can be saved as a drawing and as a table. */
const props = defineProps<{
  named: string
  x: Axis
  y: Axis | null
  xLabel: string
  yLabel?: string
  table: (string | number | null)[][]
  /** Whether what is in it can be pressed. */
  pressed?: boolean
}>()
const drawing = ref<SVGSVGElement | null>(null)

/** The drawing by itself: colours as they are shown, for there is no style sheet where it goes. */
function svg(): string {
  const copy = drawing.value!.cloneNode(true) as SVGSVGElement
  const shown = drawing.value!.querySelectorAll('*')
  copy.querySelectorAll('*').forEach((element, i) => {
    const style = getComputedStyle(shown[i]!)
    for (const name of [
      'fill',
      'stroke',
      'stroke-width',
      'stroke-dasharray',
      'font-family',
      'font-size',
      'opacity',
    ])
      element.setAttribute(name, style.getPropertyValue(name))
    element.removeAttribute('class')
  })
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg')
  return new XMLSerializer().serializeToString(copy)
}

const save = (ending: string, type: string, content: string): void =>
  give(file(ending), new Blob([content], { type }))
const file = (ending: string): string =>
  `${props.named.toLowerCase().replaceAll(/[^a-z0-9]+/g, '-')}.${ending}`
</script>

<template>
  <figure class="my-2">
    <svg
      ref="drawing"
      :viewBox="`0 0 ${WIDTH} ${HEIGHT}`"
      class="w-full bg-canvas"
      :role="pressed ? 'group' : 'img'"
      :aria-label="named"
      data-testid="chart"
    >
      <title>{{ named }}</title>
      <g class="text-[11px]">
        <template v-for="t in x.ticks" :key="`x${t.at}`">
          <line :x1="t.at" :x2="t.at" :y1="10" :y2="HEIGHT - BELOW" class="stroke-hair" />
          <text :x="t.at" :y="HEIGHT - BELOW + 14" text-anchor="middle" class="fill-muted">
            {{ t.label }}
          </text>
        </template>
        <template v-for="t in y?.ticks" :key="`y${t.at}`">
          <line :x1="LEFT" :x2="WIDTH - RIGHT" :y1="t.at" :y2="t.at" class="stroke-hair" />
          <text :x="LEFT - 5" :y="t.at + 4" text-anchor="end" class="fill-muted">{{ t.label }}</text>
        </template>
        <text :x="WIDTH - RIGHT" :y="HEIGHT - 1" text-anchor="end" class="fill-ink">{{ xLabel }}</text>
        <text v-if="yLabel" x="2" y="9" class="fill-ink">{{ yLabel }}</text>
      </g>
      <slot />
    </svg>
    <figcaption class="mt-1 flex flex-wrap gap-x-3 text-muted">
      <button
        type="button"
        class="whitespace-nowrap underline hover:text-accent"
        @click="save('svg', 'image/svg+xml', svg())"
      >
        save as SVG
      </button>
      <button
        type="button"
        class="whitespace-nowrap underline hover:text-accent"
        data-testid="chart-csv"
        @click="save('csv', 'text/csv', csv(table))"
      >
        save as CSV
      </button>
      <slot name="caption" />
    </figcaption>
  </figure>
</template>
