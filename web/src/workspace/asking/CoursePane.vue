<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { show, useAnswer, useAsking, type CourseAnswer } from '../../stores/asking'
import { BELOW, HEIGHT, LEFT, RIGHT, WIDTH, axis, path } from './chart'
import AskBusy from './AskBusy.vue'
import ChartFrame from './ChartFrame.vue'
import KnobChoice from './KnobChoice.vue'

/** A reading over the range of one parameter. */
const asking = useAsking()
const by = ref<string[]>([])
const from = ref('')
const to = ref('')
const { answer, refused, ask: put } = useAnswer<CourseAnswer>()
watch(
  () => [asking.reading, by.value],
  () => void ask(),
)

async function ask(): Promise<void> {
  if (!by.value[0] || !asking.reading) return
  await put({
    ask: 'course',
    reading: asking.reading,
    by: by.value[0],
    from: from.value || null,
    to: to.value || null,
  })
}

const chart = computed(() => {
  const a = answer.value
  if (!a) return null
  const points = a.points.map((p) => ({
    at: p.at[0]! * a.by.scale,
    reading: p.reading === null || p.reading === undefined ? null : p.reading * a.measure.scale,
    why: p.why,
  }))
  const limits = [
    { at: a.least, words: 'least' },
    { at: a.most, words: 'most' },
  ].filter((l) => l.at !== null && l.at !== undefined)
  const x = axis(
    points.map((p) => p.at),
    LEFT,
    WIDTH - RIGHT,
    0.02,
  )
  const y = axis(
    [
      ...points.flatMap((p) => (p.reading === null ? [] : [p.reading])),
      ...limits.map((l) => l.at! * a.measure.scale),
    ],
    HEIGHT - BELOW,
    16,
    0.08,
    5,
  )
  return {
    x,
    y,
    points: points.map((p) => ({
      ...p,
      x: x.scale(p.at),
      y: p.reading === null ? null : y.scale(p.reading),
    })),
    limits: limits.map((l) => ({ ...l, y: y.scale(l.at! * a.measure.scale) })),
    now: x.scale((a.knob.value.value ?? 0) * a.by.scale),
  }
})
</script>

<template>
  <div data-testid="course">
    <KnobChoice v-model="by" one named="over" />
    <form class="flex items-center gap-2" @submit.prevent="ask">
      <input v-model="from" class="field w-24" placeholder="from" aria-label="from" />
      <input v-model="to" class="field w-24" placeholder="to" aria-label="to" />
      <button class="button" :disabled="!by[0] || asking.busy">Draw</button>
      <span class="text-muted">nothing typed: its range, or half and one and a half of what it is</span>
    </form>
    <p v-if="refused" role="alert" class="mt-2 rounded bg-alert-soft p-1.5 text-alert">{{ refused }}</p>
    <AskBusy v-if="asking.busy" words="building along the range" />
    <ChartFrame
      v-else-if="chart && answer"
      :named="`${answer.reading} over ${answer.knob.words}`"
      :x="chart.x"
      :y="chart.y"
      :x-label="`${answer.knob.words}${answer.by.unit ? `, ${answer.by.unit}` : ''}`"
      :y-label="`${answer.reading}${answer.measure.unit ? `, ${answer.measure.unit}` : ''}`"
      :table="[
        [answer.knob.words, answer.reading, 'why not'],
        ...chart.points.map((p) => [p.at, p.reading, p.why ?? null]),
      ]"
    >
      <line
        v-for="l in chart.limits"
        :key="l.words"
        :x1="LEFT"
        :x2="WIDTH - RIGHT"
        :y1="l.y"
        :y2="l.y"
        class="stroke-[var(--copper)]"
        stroke-dasharray="6 3"
      />
      <text
        v-for="l in chart.limits"
        :key="`${l.words} words`"
        :x="WIDTH - RIGHT - 2"
        :y="l.y - 3"
        text-anchor="end"
        class="fill-[var(--copper)] text-[11px]"
      >
        {{ l.words }}
      </text>
      <line
        :x1="chart.now"
        :x2="chart.now"
        y1="14"
        :y2="HEIGHT - BELOW"
        class="stroke-[var(--muted)]"
        stroke-dasharray="2 3"
      />
      <path :d="path(chart.points)" fill="none" class="stroke-[var(--accent)]" stroke-width="2" />
      <template v-for="p in chart.points" :key="p.at">
        <circle v-if="p.y !== null" :cx="p.x" :cy="p.y" r="2.5" class="fill-[var(--accent)]">
          <title>
            {{ show(p.at, { scale: 1, unit: answer.by.unit }) }}:
            {{ show(p.reading!, { scale: 1, unit: answer.measure.unit }) }}
          </title>
        </circle>
        <path
          v-else
          :d="`M${p.x - 4},${HEIGHT - BELOW - 8}l8,8m0,-8l-8,8`"
          class="stroke-[var(--alert)]"
          stroke-width="2"
        >
          <title>{{ show(p.at, { scale: 1, unit: answer.by.unit }) }}: {{ p.why }}</title>
        </path>
      </template>
    </ChartFrame>
    <p v-if="chart?.points.some((p) => p.y === null)" class="text-alert">
      × cannot be built: {{ chart.points.find((p) => p.y === null)!.why }}
    </p>
  </div>
</template>
