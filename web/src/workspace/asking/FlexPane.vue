<script setup lang="ts">
import { computed, onBeforeUnmount, ref, shallowRef, watch } from 'vue'
import { show, useAnswer, useAsking, type FlexAnswer } from '../../stores/asking'
import { usePart } from '../../stores/part'
import { BELOW, HEIGHT, LEFT, RIGHT, WIDTH, axis } from './chart'
import AskBusy from './AskBusy.vue'
import ChartFrame from './ChartFrame.vue'
import KnobChoice from './KnobChoice.vue'

/** Builds the part over the ranges of its parameters: where it holds, and what ends it. */
const asking = useAsking()
const part = usePart()
const of = ref<string[]>(asking.knobs.filter((k) => k.least && k.most).map((k) => k.name))
const tries = ref(120)
const { answer, refused, ask: put } = useAnswer<FlexAnswer>()

async function ask(): Promise<void> {
  part.leave()
  seen.value = null
  await put({
    ask: 'flex',
    of: of.value,
    tries: tries.value,
    pair: of.value.length >= 2 ? of.value.slice(0, 2) : [],
  })
}

/** Takes the stretch over which the part holds as the parameter's range. */
async function take(k: FlexAnswer['knobs'][number]): Promise<void> {
  const text = (v: number): string =>
    `${Number((v * k.measure.scale).toPrecision(6))} ${k.measure.unit}`.trim()
  refused.value = await asking.change({
    command: 'limit-parameter',
    name: k.knob.name,
    least: text(k.holdsFrom),
    most: text(k.holdsTo),
    stride: part.snapshot?.parameters.find((p) => p.name === k.knob.name)?.stride,
  })
}
const ranged = (name: string): string => {
  const p = part.snapshot?.parameters.find((q) => q.name === name)
  return p?.least || p?.most ? `${p.least ?? '…'} to ${p.most ?? '…'}` : ''
}

const SIGN = { good: '●', limits: '◐', failed: '×', clash: '⊘' } as const
const TINT = {
  good: 'fill-[var(--accent)]',
  limits: 'fill-[var(--amber)]',
  failed: 'fill-[var(--alert)]',
  clash: 'fill-[var(--alert)]',
} as const

type Try = FlexAnswer['tries'][number]
const built = (t: Try): boolean => t.state === 'good' || t.state === 'limits'

/** The try that is looked at, and the one that the view shows for it: itself, or the nearest that is good where it cannot be built. */
const seen = shallowRef<{ tried: Try; shown: Try | null } | null>(null)
onBeforeUnmount(() => part.leave())
watch(
  () => part.looking,
  (now) => now === null && (seen.value = null),
  { flush: 'sync' },
)

/** How far two tries lie apart, each parameter as a share of its range. */
function apart(a: Try, b: Try): number {
  return Math.hypot(...answer.value!.knobs.map((k, i) => (a.at[i]! - b.at[i]!) / (k.most - k.least || 1)))
}

function nearestGood(to: Try): Try | null {
  const all = [...answer.value!.map, ...answer.value!.tries].filter(built)
  return all.reduce<Try | null>((best, t) => (!best || apart(t, to) < apart(best, to) ? t : best), null)
}

/** What a try set, in words. */
const at = (t: Try): string =>
  answer.value!.knobs.map((k, i) => `${k.knob.words} ${show(t.at[i]!, k.measure, 4)}`).join(', ')

/** Shows a try on the model; once more, or another question, and the model is as it is again. */
async function look(tried: Try): Promise<void> {
  const again = seen.value?.tried === tried
  part.leave()
  const shown = built(tried) ? tried : nearestGood(tried)
  seen.value = again ? null : { tried, shown }
  if (again || !shown) return
  const commands = answer.value!.knobs.map((k, i) => {
    const value = `${shown.at[i]! * k.measure.scale} ${k.measure.unit}`.trim()
    return k.knob.step
      ? { command: 'set-size', step: k.knob.step, field: k.knob.name, value }
      : { command: 'set-parameter', name: k.knob.name, value }
  })
  await part.tryOut({ command: 'several', what: 'a try', commands }, () => seen.value?.tried === tried)
}

/** The arrow keys go from dot to dot. */
function step(event: KeyboardEvent, i: number): void {
  const side = answer.value!.mapSide
  const by = { ArrowRight: 1, ArrowLeft: -1, ArrowUp: side, ArrowDown: -side }[event.key]
  const next = by === undefined ? null : document.getElementById(`try-${i + by}`)
  if (!next || (Math.abs(by!) === 1 && Math.floor((i + by!) / side) !== Math.floor(i / side))) return
  event.preventDefault()
  next.focus()
}

/** The grid of two parameters: signs as well as colours. */
const map = computed(() => {
  const a = answer.value
  if (!a || a.map.length === 0) return null
  const [i, j] = a.mapOf as [number, number]
  const [ki, kj] = [a.knobs[i]!, a.knobs[j]!]
  const x = axis(
    a.map.map((t) => t.at[i]! * ki.measure.scale),
    LEFT,
    WIDTH - RIGHT,
    0.06,
  )
  const y = axis(
    a.map.map((t) => t.at[j]! * kj.measure.scale),
    HEIGHT - BELOW,
    14,
    0.08,
    5,
  )
  return {
    x,
    y,
    ki,
    kj,
    dots: a.map.map((t) => ({
      t,
      x: x.scale(t.at[i]! * ki.measure.scale),
      y: y.scale(t.at[j]! * kj.measure.scale),
    })),
    now: {
      x: x.scale((ki.knob.value.value ?? 0) * ki.measure.scale),
      y: y.scale((kj.knob.value.value ?? 0) * kj.measure.scale),
    },
  }
})
const whys = computed(() => {
  const counts = new Map<string, number>()
  // Numbers in a reason differ from try to try: one of each kind is told.
  const kinds = new Map<string, string>()
  for (const t of answer.value?.tries ?? [])
    if (t.why) {
      const kind = t.why.replaceAll(/[\d.,]+/g, '#')
      kinds.set(kind, kinds.get(kind) ?? t.why)
      counts.set(kind, (counts.get(kind) ?? 0) + 1)
    }
  return [...counts].sort((a, b) => b[1] - a[1]).map(([kind, n]) => ({ n, why: kinds.get(kind)! }))
})
</script>

<template>
  <div data-testid="flex">
    <KnobChoice v-model="of" named="turned over their ranges" />
    <form class="flex items-center gap-2" @submit.prevent="ask">
      <input
        v-model.number="tries"
        type="number"
        min="1"
        max="5000"
        class="field w-20"
        aria-label="how many tries"
      />
      <button class="button-main" :disabled="asking.busy || asking.knobs.length === 0" data-testid="ask-flex">
        Build them
      </button>
      <span class="text-muted">without a range, a fifth less and more; the map is of the first two</span>
    </form>
    <p v-if="refused" role="alert" class="mt-2 rounded bg-alert-soft p-1.5 text-alert">{{ refused }}</p>
    <AskBusy v-if="asking.busy" words="each alone, the corners, then all together" />
    <template v-else-if="answer">
      <p class="py-1.5 font-medium" data-testid="flex-said">{{ answer.said }}</p>
      <table class="w-full tabular-nums">
        <thead class="text-left text-muted">
          <tr>
            <th class="pr-3 font-normal">turned alone</th>
            <th class="font-normal">tried</th>
            <th class="font-normal">holds</th>
            <th />
          </tr>
        </thead>
        <tbody>
          <template v-for="k in answer.knobs" :key="k.knob.words">
            <tr :data-flex="k.knob.name">
              <td class="py-0.5 pr-3 font-medium">{{ k.knob.words }}</td>
              <td class="pr-2 whitespace-nowrap text-muted">
                {{ show(k.least, k.measure, 4) }} to {{ show(k.most, k.measure, 4) }}
              </td>
              <td class="pr-2 whitespace-nowrap">
                {{ show(k.holdsFrom, k.measure, 4) }} to {{ show(k.holdsTo, k.measure, 4) }}
              </td>
              <td class="text-right">
                <button
                  v-if="!k.knob.step && k.holdsFrom < k.holdsTo"
                  type="button"
                  class="underline hover:text-accent"
                  :title="ranged(k.knob.name) ? `its range is ${ranged(k.knob.name)}` : 'it has no range yet'"
                  @click="take(k)"
                >
                  make that its range
                </button>
              </td>
            </tr>
            <tr v-if="k.border" class="text-muted">
              <td />
              <td colspan="3" class="pb-1.5">what ends it: {{ k.border }}</td>
            </tr>
          </template>
        </tbody>
      </table>
      <ChartFrame
        v-if="map"
        pressed
        :named="`Where it holds, ${map.kj.knob.words} over ${map.ki.knob.words}`"
        :x="map.x"
        :y="map.y"
        :x-label="`${map.ki.knob.words}${map.ki.measure.unit ? `, ${map.ki.measure.unit}` : ''}`"
        :y-label="`${map.kj.knob.words}${map.kj.measure.unit ? `, ${map.kj.measure.unit}` : ''}`"
        :table="[
          [...answer.knobs.map((k) => k.knob.words), 'state', 'why'],
          ...[...answer.tries, ...answer.map].map((t) => [
            ...t.at.map((v, n) => v * answer!.knobs[n]!.measure.scale),
            t.state,
            t.why ?? null,
          ]),
        ]"
      >
        <text
          v-for="(d, i) in map.dots"
          :id="`try-${i}`"
          :key="i"
          :x="d.x"
          :y="d.y + 5"
          text-anchor="middle"
          class="cursor-pointer text-[14px]"
          :class="[
            TINT[d.t.state as keyof typeof TINT],
            seen?.tried === d.t ? 'stroke-ink stroke-1' : seen?.shown === d.t ? 'stroke-accent stroke-1' : '',
          ]"
          :data-try="d.t.state"
          role="button"
          :tabindex="i === 0 || seen?.tried === d.t ? 0 : -1"
          :aria-label="`${at(d.t)}: ${d.t.why ?? 'good'}`"
          :aria-pressed="seen?.tried === d.t"
          @click="look(d.t)"
          @keydown.enter.prevent="look(d.t)"
          @keydown.space.prevent="look(d.t)"
          @keydown="step($event, i)"
        >
          {{ SIGN[d.t.state as keyof typeof SIGN] }}<title>{{ d.t.why ?? 'good' }}</title>
        </text>
        <circle :cx="map.now.x" :cy="map.now.y" r="8" fill="none" class="stroke-ink" stroke-width="1.5" />
        <template #caption
          ><span
            >● good &nbsp;◐ beyond a limit &nbsp;× cannot be built &nbsp;⊘ sizes clash &nbsp;○ as it is</span
          ></template
        >
      </ChartFrame>
      <p v-if="!seen" class="text-muted">Press a try to see the part so.</p>
      <div v-else class="rounded bg-accent-soft p-1.5" role="status" data-testid="flex-seen">
        <span class="font-medium">{{ at(seen.tried) }}:</span> {{ seen.tried.why ?? 'good' }}
        <template v-if="seen.shown !== seen.tried"
          ><br />{{
            seen.shown ? `Shown: the nearest that can be built, ${at(seen.shown)}.` : 'None can be built.'
          }}</template
        >
        <button type="button" class="ml-1 underline hover:text-accent" @click="look(seen.tried)">
          as it is
        </button>
      </div>
      <ul class="mt-1">
        <li v-for="w in whys" :key="w.why" class="text-muted">{{ w.n }} × {{ w.why }}</li>
      </ul>
    </template>
  </div>
</template>
