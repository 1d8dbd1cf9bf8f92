<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useAsking, type WhyAnswer } from '../../stores/asking'
import { usePart } from '../../stores/part'

/** What a step, size or parameter hangs on and what hangs on it: a list that is walked by pressing. */
const asking = useAsking()
const part = usePart()
const answer = ref<WhyAnswer | null>(null)
const refused = ref('')

const choices = computed(() => [
  ...(part.snapshot?.parameters ?? []).map((p) => ({
    step: '',
    name: p.name,
    words: p.name,
    group: 'parameters',
  })),
  ...(part.snapshot?.steps ?? []).map((s) => ({
    step: s.id,
    name: '',
    words: `${s.number} ${s.name}`,
    group: 'steps',
  })),
])
const sizes = computed(() => part.snapshot?.steps.find((s) => s.id === asking.why.step)?.sizes ?? [])

watch(
  () => [asking.why, part.snapshot?.revision],
  async () => {
    if (!asking.why.step && !asking.why.name) {
      const first = choices.value[0]
      if (first) asking.why = { step: first.step, name: first.name }
      return
    }
    const told = await asking.ask<WhyAnswer>({ ask: 'why', step: asking.why.step, name: asking.why.name })
    answer.value = typeof told === 'string' ? null : told
    refused.value = typeof told === 'string' ? told : ''
    asking.lit = [{ step: asking.why.step, name: asking.why.name, share: 1 }]
  },
  { immediate: true },
)

/** The graph: what stands above on the left, the thing in the middle, what hangs on it on the right. */
const graph = computed(() => {
  const a = answer.value
  if (!a) return null
  const near = (nodes: WhyAnswer['above']): WhyAnswer['above'] =>
    nodes.filter((n) => n.away === 1).slice(0, 9)
  const [left, right] = [near(a.above), near(a.below)]
  const height = Math.max(left.length, right.length, 1) * 24 + 8
  const y = (i: number, n: number): number => height / 2 + (i - (n - 1) / 2) * 24
  return {
    height,
    left: left.map((n, i) => ({ n, y: y(i, left.length) })),
    right: right.map((n, i) => ({ n, y: y(i, right.length) })),
  }
})
const shorten = (text: string): string => (text.length > 22 ? `${text.slice(0, 21)}…` : text)
</script>

<template>
  <div data-testid="why">
    <div class="flex items-center gap-2 p-0.5">
      <select
        class="field"
        aria-label="of what"
        :value="`${asking.why.step}/${asking.why.step ? '' : asking.why.name}`"
        @change="
          asking.why =
            choices.find((c) => `${c.step}/${c.name}` === ($event.target as HTMLSelectElement).value) ??
            asking.why
        "
      >
        <optgroup v-for="g in ['parameters', 'steps']" :key="g" :label="g">
          <option
            v-for="c in choices.filter((c) => c.group === g)"
            :key="c.words"
            :value="`${c.step}/${c.name}`"
          >
            {{ c.words }}
          </option>
        </optgroup>
      </select>
      <select
        v-if="sizes.length"
        class="field"
        aria-label="which size"
        :value="asking.why.name"
        @change="asking.why = { step: asking.why.step, name: ($event.target as HTMLSelectElement).value }"
      >
        <option value="">the step</option>
        <option v-for="z in sizes" :key="z.field" :value="z.field">{{ z.field }}</option>
      </select>
    </div>
    <p v-if="refused" role="alert" class="mt-2 rounded bg-alert-soft p-1.5 text-alert">{{ refused }}</p>
    <template v-else-if="answer && graph">
      <svg
        :viewBox="`0 0 560 ${graph.height}`"
        class="my-2 w-full bg-canvas"
        role="img"
        :aria-label="`what hangs on ${answer.words}`"
      >
        <g v-for="l in graph.left" :key="`l${l.n.words}`">
          <path
            :d="`M176,${l.y}C200,${l.y} 190,${graph.height / 2} 206,${graph.height / 2}`"
            fill="none"
            class="stroke-hair"
            stroke-width="1.5"
          />
          <text
            x="172"
            :y="l.y + 4"
            text-anchor="end"
            class="cursor-pointer fill-ink text-[12px] hover:fill-accent"
            @click="asking.why = { step: l.n.step, name: l.n.name }"
          >
            {{ shorten(l.n.words) }}
          </text>
        </g>
        <rect
          x="206"
          :y="graph.height / 2 - 12"
          width="148"
          height="24"
          rx="4"
          class="fill-[var(--accent-soft)] stroke-[var(--accent)]"
        />
        <text x="280" :y="graph.height / 2 + 4" text-anchor="middle" class="fill-ink text-[12px] font-medium">
          {{ shorten(answer.words) }}
        </text>
        <g v-for="r in graph.right" :key="`r${r.n.words}`">
          <path
            :d="`M354,${graph.height / 2}C370,${graph.height / 2} 360,${r.y} 384,${r.y}`"
            fill="none"
            class="stroke-hair"
            stroke-width="1.5"
          />
          <text
            x="388"
            :y="r.y + 4"
            class="cursor-pointer fill-ink text-[12px] hover:fill-accent"
            @click="asking.why = { step: r.n.step, name: r.n.name }"
          >
            {{ shorten(r.n.words) }}
          </text>
        </g>
      </svg>
      <div class="grid grid-cols-2 gap-4">
        <div
          v-for="[heading, nodes] in [
            ['it hangs on', answer.above],
            ['on it hang, built again when it changes', answer.below],
          ] as const"
          :key="heading"
        >
          <h3 class="text-muted">{{ heading }}</h3>
          <p v-if="nodes.length === 0">nothing</p>
          <ul class="max-h-52 overflow-y-auto">
            <li
              v-for="n in nodes"
              :key="`${n.step}/${n.name}`"
              :style="{ paddingLeft: `${(n.away - 1) * 10}px` }"
            >
              <button
                type="button"
                class="hover:text-accent hover:underline"
                :data-why="n.words"
                @click="asking.why = { step: n.step, name: n.name }"
              >
                {{ n.words }}
              </button>
              <span class="ml-1.5 text-muted">{{ n.via }}</span>
            </li>
          </ul>
        </div>
      </div>
      <p v-if="answer.after.length" class="mt-1 text-muted">
        Built again after it, on the same material: {{ answer.after.join(', ') }}.
      </p>
    </template>
  </div>
</template>
