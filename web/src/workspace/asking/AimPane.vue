<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { show, useAnswer, useAsking, type AimAnswer } from '../../stores/asking'
import { usePart } from '../../stores/part'
import AskBusy from './AskBusy.vue'
import KnobChoice from './KnobChoice.vue'

/** Brings a reading to a value, into its limits, or to its least or most, by turning parameters. */
const asking = useAsking()
const part = usePart()
const goal = ref<'value' | 'limits' | 'least' | 'most'>('value')
const value = ref('')
const by = ref<string[]>([])
const { answer, refused, ask: put } = useAnswer<AimAnswer>()
const taken = ref(false)
watch(
  () => asking.reading,
  () => (answer.value = null),
)

async function ask(): Promise<void> {
  taken.value = false
  await put({
    ask: 'aim',
    reading: asking.reading,
    goal: goal.value,
    value: goal.value === 'value' ? value.value : undefined,
    by: by.value,
  })
}

/** Gives the parameters the values that were found, in one edit. */
async function use(): Promise<void> {
  const rows = answer.value!.knobs.map((k) => ({
    name: k.knob.name,
    value: k.text,
    note: part.snapshot?.parameters.find((p) => p.name === k.knob.name)?.note ?? '',
  }))
  refused.value = await asking.change({ command: 'set-parameters', parameters: rows })
  taken.value = !refused.value
}
const ready = computed(() => by.value.length > 0 && (goal.value !== 'value' || value.value.trim() !== ''))
</script>

<template>
  <div data-testid="aim">
    <form class="flex flex-wrap items-center gap-2" @submit.prevent="ask">
      <select v-model="goal" class="field" aria-label="where to bring it">
        <option value="value">to the value</option>
        <option value="limits">into its limits</option>
        <option value="least">as low as it goes</option>
        <option value="most">as high as it goes</option>
      </select>
      <input
        v-if="goal === 'value'"
        v-model="value"
        class="field w-28"
        placeholder="90 g"
        aria-label="value to reach"
      />
      <button class="button-main" :disabled="!ready || asking.busy" data-testid="ask-aim">Find it</button>
    </form>
    <KnobChoice v-model="by" named="by turning" />
    <p v-if="refused" role="alert" class="rounded bg-alert-soft p-1.5 text-alert">{{ refused }}</p>
    <AskBusy v-if="asking.busy" words="turning and building" />
    <template v-else-if="answer">
      <p class="py-1 font-medium" :class="answer.met ? '' : 'text-[var(--copper)]'" data-testid="aim-said">
        {{ answer.said }}
      </p>
      <table class="tabular-nums">
        <tbody>
          <tr v-for="k in answer.knobs" :key="k.knob.words">
            <th class="pr-4 text-left font-normal">{{ k.knob.words }}</th>
            <td class="pr-2 text-muted">{{ show(k.knob.value.value ?? 0, k.measure) }}</td>
            <td class="pr-2">→</td>
            <td class="font-medium" :data-aimed="k.knob.name">{{ show(k.to, k.measure, 8) }}</td>
          </tr>
        </tbody>
      </table>
      <div class="my-2 flex items-center gap-2">
        <button v-if="!taken" type="button" class="button" data-testid="use-aim" @click="use">
          Use these values
        </button>
        <span v-else class="text-muted">taken; undo brings the old ones back</span>
      </div>
      <details>
        <summary class="cursor-pointer py-1 text-muted">{{ answer.tries.length }} tries</summary>
        <ol class="max-h-40 overflow-y-auto tabular-nums">
          <li v-for="(t, i) in answer.tries" :key="i" class="flex gap-3">
            <span v-for="(v, n) in t.at" :key="n">{{ show(v, answer.knobs[n]!.measure, 8) }}</span>
            <span class="font-medium">{{
              t.reading !== null && t.reading !== undefined ? show(t.reading, answer.measure, 8) : 'not built'
            }}</span>
            <span class="truncate text-muted">{{ t.why }}</span>
          </li>
        </ol>
      </details>
    </template>
  </div>
</template>
