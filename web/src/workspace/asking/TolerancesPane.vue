<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { show, useAsking, type ToleranceAnswer } from '../../stores/asking'
import { usePart } from '../../stores/part'
import { BELOW, HEIGHT, LEFT, RIGHT, WIDTH, axis } from './chart'
import AskBusy from './AskBusy.vue'
import ChartFrame from './ChartFrame.vue'

/** Worst case, root of squares and sampled parts of a reading, and which tolerance to change. */
const asking = useAsking()
const part = usePart()
const answer = ref<ToleranceAnswer | null>(null)
const refused = ref('')
const runs = ref(200)

async function ask(drawn: number | null): Promise<void> {
  refused.value = ''
  const told = await asking.ask<ToleranceAnswer>({
    ask: 'tolerances',
    reading: asking.reading,
    runs: drawn,
    seed: 1,
  })
  if (typeof told === 'string') refused.value = told
  else answer.value = told
}
watch(
  () => asking.reading,
  () => {
    answer.value = null
    if (asking.reading) void ask(0)
  },
  { immediate: true },
)

async function general(event: Event): Promise<void> {
  const chosen = (event.target as HTMLSelectElement).value || null
  refused.value = await asking.change({ command: 'set-general-tolerance', general: chosen })
  if (!refused.value) await ask(0)
}

async function change(step: string, name: string, event: Event): Promise<void> {
  const text = (event.target as HTMLInputElement).value
  refused.value = await asking.change({ command: 'set-tolerance', step, name, text })
  if (!refused.value) await ask(answer.value?.sampled ? answer.value.sampled.runs : 0)
}

/** Sizes that may be given a tolerance of their own here, whether they move this reading or not. */
const sizes = computed(() =>
  (part.snapshot?.steps ?? [])
    .filter((s) => s.kind !== 'reading' && !s.suppressed)
    .flatMap((s) => s.sizes.map((z) => ({ step: s.id, name: z.field, words: `${z.field} of ${s.name}` }))),
)
const one = ref('')

async function giveOne(event: Event): Promise<void> {
  const size = sizes.value.find((z) => `${z.step}/${z.name}` === one.value)
  if (size) await change(size.step, size.name, event)
}

const own = (step: string, name: string): string =>
  (step
    ? part.snapshot?.steps.find((s) => s.id === step)?.sizes.find((z) => z.field === name)?.tolerance
    : part.snapshot?.parameters.find((p) => p.name === name)?.tolerance) ?? ''

/** The bars of the histogram with both limits and the worst case. */
const chart = computed(() => {
  const a = answer.value
  const s = a?.sampled
  if (!a || !s || s.counts.length === 0) return null
  const scale = a.measure.scale
  const bins = s.counts.map((count, i) => ({
    from: (s.from + i * s.bin) * scale,
    to: (s.from + (i + 1) * s.bin) * scale,
    count,
  }))
  const x = axis(
    [
      bins[0]!.from,
      bins.at(-1)!.to,
      ...[a.least, a.most].filter((l) => l !== null && l !== undefined).map((l) => l! * scale),
    ],
    LEFT,
    WIDTH - RIGHT,
  )
  const y = axis([0, Math.max(...s.counts)], HEIGHT - BELOW, 14, 0.02, 4)
  const lines = [
    { at: a.least, words: 'least', dash: '6 3' },
    { at: a.most, words: 'most', dash: '6 3' },
    { at: a.value, words: 'as meant', dash: '' },
  ].filter((l) => l.at !== null && l.at !== undefined)
  return { bins, x, y, lines: lines.map((l) => ({ ...l, x: x.scale(l.at! * scale) })) }
})
const percent = (value: number): string => `${Number((value * 100).toPrecision(4))} %`
</script>

<template>
  <div data-testid="tolerances">
    <div class="flex flex-wrap items-center gap-2">
      <label class="flex items-center gap-1 text-muted"
        >sizes without a tolerance of their own
        <select class="field" :value="part.snapshot?.general ?? ''" data-testid="general" @change="general">
          <option value="">none</option>
          <option value="fine">ISO 2768 fine</option>
          <option value="medium">ISO 2768 medium</option>
          <option value="coarse">ISO 2768 coarse</option>
          <option value="very-coarse">ISO 2768 very coarse</option>
        </select></label
      >
    </div>
    <p v-if="refused" role="alert" class="mt-2 rounded bg-alert-soft p-1.5 text-alert">{{ refused }}</p>
    <AskBusy v-if="asking.busy" words="every size at its bounds, then parts at random" />
    <template v-else-if="answer">
      <table class="mt-2 tabular-nums">
        <tbody>
          <tr>
            <th class="pr-4 text-left font-normal text-muted">as meant</th>
            <td class="font-medium">{{ show(answer.value, answer.measure) }}</td>
          </tr>
          <tr>
            <th class="pr-4 text-left font-normal text-muted">worst case, built</th>
            <td data-testid="worst">
              {{ show(answer.worstLeast, answer.measure) }} to {{ show(answer.worstMost, answer.measure) }}
            </td>
          </tr>
          <tr>
            <th class="pr-4 text-left font-normal text-muted">root of the squares</th>
            <td data-testid="squares">
              {{ show(answer.mean, answer.measure) }} ± {{ show(answer.spread, answer.measure, 4) }}
              <span v-if="!answer.linear" class="text-muted"
                >contributions do not add up: look at the parts built at random</span
              >
            </td>
          </tr>
          <tr v-if="answer.within !== null && answer.within !== undefined">
            <th class="pr-4 text-left font-normal text-muted">within the limits</th>
            <td data-testid="within">
              {{ percent(answer.within) }}
              <template v-if="answer.cp"> · Cp {{ answer.cp.toFixed(2) }}</template>
              <template v-if="answer.cpk"> · Cpk {{ answer.cpk.toFixed(2) }}</template>
            </td>
          </tr>
          <tr v-if="answer.sampled">
            <th class="pr-4 text-left font-normal text-muted">{{ answer.sampled.runs }} built at random</th>
            <td>
              {{ show(answer.sampled.least, answer.measure) }} to
              {{ show(answer.sampled.most, answer.measure) }}, deviation
              {{ show(answer.sampled.deviation, answer.measure, 4) }}
              <span v-if="answer.sampled.failed" class="text-alert"
                >{{ answer.sampled.failed }} could not be built: {{ answer.sampled.why }}</span
              >
            </td>
          </tr>
        </tbody>
      </table>
      <ChartFrame
        v-if="chart"
        :named="`${answer.reading}, ${answer.sampled!.runs} parts`"
        :x="chart.x"
        :y="chart.y"
        :x-label="answer.measure.unit"
        y-label="parts"
        :table="[['from', 'to', 'parts'], ...chart.bins.map((b) => [b.from, b.to, b.count])]"
      >
        <rect
          v-for="b in chart.bins"
          :key="b.from"
          :x="chart.x.scale(b.from) + 0.5"
          :width="Math.max(1, chart.x.scale(b.to) - chart.x.scale(b.from) - 1)"
          :y="chart.y.scale(b.count)"
          :height="chart.y.scale(0) - chart.y.scale(b.count)"
          class="fill-[var(--accent)]"
        />
        <g v-for="l in chart.lines" :key="l.words">
          <line
            :x1="l.x"
            :x2="l.x"
            y1="14"
            :y2="HEIGHT - BELOW"
            class="stroke-[var(--copper)]"
            stroke-width="1.5"
            :stroke-dasharray="l.dash"
          />
          <text
            :x="l.x + 3"
            y="22"
            class="fill-[var(--copper)] stroke-canvas text-[11px] [paint-order:stroke] [stroke-width:4px]"
            >{{ l.words }}</text
          >
        </g>
      </ChartFrame>
      <div class="my-2 flex items-center gap-2">
        <input
          v-model.number="runs"
          type="number"
          min="1"
          max="20000"
          class="field w-20"
          aria-label="How many parts to build at random"
        />
        <button type="button" class="button" data-testid="draw-parts" @click="ask(runs)">
          Build parts at random
        </button>
      </div>
      <table class="w-full tabular-nums">
        <caption class="pb-0.5 text-left text-muted">
          Which tolerance matters: tighten those at the top, open those at the bottom
        </caption>
        <thead class="text-left text-muted">
          <tr>
            <th class="font-normal">size</th>
            <th class="font-normal">tolerance</th>
            <th class="font-normal">share</th>
            <th />
            <th class="text-right font-normal">half as wide</th>
            <th class="text-right font-normal">twice as wide</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in answer.contributions" :key="`${c.step}/${c.name}`" :data-contribution="c.words">
            <td class="max-w-44 truncate py-0.5" :title="c.written">{{ c.words }}</td>
            <td>
              <input
                class="field w-24 py-0"
                :value="own(c.step, c.name)"
                :placeholder="c.general ? c.written.split(' ').slice(-1)[0] : ''"
                :aria-label="`tolerance of ${c.words}`"
                @change="change(c.step, c.name, $event)"
              />
            </td>
            <td class="w-28">
              <span class="block h-3 bg-canvas" aria-hidden="true"
                ><span
                  class="block h-full bg-[var(--steel)]"
                  :style="{ width: `${Math.max(1, c.share * 100)}%` }"
              /></span>
            </td>
            <td class="w-14 pl-1 text-right">{{ Math.round(c.share * 100) }} %</td>
            <td class="pl-2 text-right">± {{ show(c.tightened, answer.measure, 4) }}</td>
            <td class="pl-2 text-right">± {{ show(c.opened, answer.measure, 4) }}</td>
          </tr>
        </tbody>
      </table>
      <div class="mt-2 flex items-center gap-2">
        <select v-model="one" class="field max-w-60" aria-label="a size that has a tolerance">
          <option value="">give another size a tolerance …</option>
          <option v-for="z in sizes" :key="`${z.step}/${z.name}`" :value="`${z.step}/${z.name}`">
            {{ z.words }}
          </option>
        </select>
        <input
          v-if="one"
          class="field w-24"
          placeholder="±0.1 or H7"
          aria-label="its tolerance"
          :value="own(one.split('/')[0]!, one.slice(one.indexOf('/') + 1))"
          @change="giveOne"
        />
      </div>
      <p v-if="answer.contributions.length === 0" class="text-muted">
        No size that has a tolerance moves it.
      </p>
      <p v-for="l in answer.left" :key="l" class="text-muted">not tried: {{ l }}</p>
    </template>
  </div>
</template>
