<script setup lang="ts">
import { FlipHorizontal2, X } from 'lucide-vue-next'
import { computed } from 'vue'
import { useNames } from '../stores/names'
import { useDatum } from '../stores/datum'

const datum = useDatum()
const names = useNames()
const answer = computed(() => datum.answer)
const TITLES = { plane: 'Plane', axis: 'Axis', point: 'Point', frame: 'Frame' }
const title = computed(() => {
  const draft = answer.value?.draft ?? datum.curve?.draft
  if (!draft) return ''
  const what = 'makes' in draft ? TITLES[draft.makes] : `${draft.shape} in space`
  return draft.step ? `Edit ${draft.name || draft.step}` : `New ${what.toLowerCase()}`
})
const name = computed(() => answer.value?.draft.name ?? datum.curve?.draft.name ?? '')
const state = computed(() => {
  const a = answer.value
  if (!a) return null
  if (a.refusal) return { text: 'refused', bad: true }
  if (a.free > 0) return { text: a.free === 1 ? '1 freedom left' : `${a.free} freedoms left`, bad: false }
  return { text: a.solutions.length > 1 ? `${a.solutions.length} solutions` : 'set', bad: false }
})
/** Readings other than the one in use, as whole sentences. */
const readings = computed(() => {
  const now = answer.value?.draft.conditions.map((c) => `${c.relation} ${c.of.join()}`).join(';')
  return (answer.value?.readings ?? [])
    .filter((r) => r.conditions.map((c) => `${c.relation} ${c.of.join()}`).join(';') !== now)
    .slice(0, 6)
})
const isReplaced = (condition: number, pick: number): boolean =>
  datum.replacing?.condition === condition && datum.replacing.pick === pick
const toReplace = (condition: number, pick: number): void => {
  datum.replacing = isReplaced(condition, pick) ? null : { condition, pick }
}

/** The first pick that is gone: its condition and place in it. */
const lost = computed(() => {
  const condition = answer.value?.conditions.findIndex((c) => c.of.some((p) => p.lost)) ?? -1
  return condition < 0
    ? null
    : { condition, pick: answer.value!.conditions[condition]!.of.findIndex((p) => p.lost) }
})

function replaceLost(reference: string): void {
  datum.replacing = lost.value
  void datum.pick(reference, [])
}

function relate(index: number, event: Event): void {
  const other = answer.value?.conditions[index]?.others[Number((event.target as HTMLSelectElement).value)]
  if (other) void datum.change(index, () => other.condition)
}
</script>

<template>
  <section
    class="flex max-h-[58%] shrink-0 flex-col border-t border-hair"
    :aria-label="title"
    data-testid="datum-panel"
  >
    <div class="flex items-center gap-2 px-3 pt-2.5 pb-1">
      <h2 class="head flex-1">{{ title }}</h2>
      <span
        v-if="state"
        class="font-medium"
        :class="state.bad ? 'text-alert' : answer!.free > 0 ? 'text-[var(--copper)]' : 'text-accent'"
        data-testid="datum-state"
        >{{ state.text }}</span
      >
      <button
        v-if="answer && answer.draft.makes !== 'point'"
        type="button"
        class="button flex items-center gap-1"
        :aria-pressed="answer.draft.flip"
        data-testid="datum-flip"
        @click="datum.flip()"
      >
        <FlipHorizontal2 :size="13" />flip
      </button>
    </div>
    <div v-if="answer" class="min-h-0 flex-1 overflow-auto px-3">
      <p v-if="answer.refusal" class="mb-1 text-alert" role="alert" data-testid="datum-refusal">
        {{ answer.refusal.message }}
      </p>
      <ul class="space-y-1.5">
        <li
          v-for="(c, i) in answer.conditions"
          :key="i"
          class="border-l-2 border-hair pl-2"
          :data-condition="c.condition.relation"
        >
          <div class="flex items-center gap-1">
            <!-- Made anew with its words: the browser would go on showing what was pressed last. -->
            <select
              :key="`${c.words} ${c.others.length}`"
              class="field min-w-0 flex-1"
              :value="-1"
              :aria-label="`How it stands to pick ${i + 1}`"
              :data-relation="i"
              @change="relate(i, $event)"
            >
              <option :value="-1">{{ c.words }}</option>
              <option v-for="(o, k) in c.others" :key="k" :value="k">{{ o.words }}</option>
            </select>
            <button
              type="button"
              class="rounded p-1.5 text-muted hover:text-alert"
              :aria-label="`Leave out: ${c.words}`"
              @click="datum.leaveOut(i)"
            >
              <X :size="13" />
            </button>
          </div>
          <button
            v-for="(p, k) in c.of"
            :key="k"
            type="button"
            class="mt-0.5 flex min-h-6 w-full items-center gap-1.5 truncate rounded px-1 py-0.5 text-left hover:bg-accent-soft"
            :class="[
              p.lost ? 'font-medium text-alert' : '',
              isReplaced(i, k) ? 'bg-accent-soft outline outline-1 outline-accent' : '',
            ]"
            :title="`${p.words}: press, then pick something else in its place`"
            :data-pick="p.reference"
            @click="toReplace(i, k)"
          >
            <span class="min-w-0 flex-1 truncate">{{ p.lost ? `${p.words} is lost` : p.words }}</span>
            <span class="text-[11px] text-muted">{{ isReplaced(i, k) ? 'pick another' : 'replace' }}</span>
          </button>
        </li>
      </ul>
      <p v-if="answer.left.length" class="mt-1.5 text-muted" data-testid="datum-left">
        {{ answer.left.join('; ') }}
      </p>
      <ul v-if="lost && answer.refusal?.involved.length" aria-label="Closest now">
        <li v-for="c in answer.refusal.involved" :key="c">
          <button
            type="button"
            class="min-h-6 w-full truncate rounded px-1 py-0.5 text-left hover:bg-accent-soft"
            :data-candidate="c"
            @click="replaceLost(c)"
          >
            take {{ names.of(c) }}
          </button>
        </li>
      </ul>
      <button
        v-if="answer.instead"
        type="button"
        class="button mt-1"
        data-testid="datum-instead"
        @click="datum.openDraft(JSON.stringify(answer.instead))"
      >
        Take the {{ answer.instead.makes }} instead
      </button>
      <div v-if="answer.solutions.length > 1" class="mt-2 flex flex-wrap items-center gap-1">
        <span class="mr-1 text-muted">solution</span>
        <button
          v-for="(s, i) in answer.solutions"
          :key="s.label"
          type="button"
          class="min-h-6 min-w-6 rounded border border-hair px-1.5 py-0.5 tabular-nums"
          :class="i === answer.chosen ? 'bg-accent text-on-accent' : 'hover:bg-accent-soft'"
          :aria-pressed="i === answer.chosen"
          :data-solution="s.label"
          @click="datum.choose(i)"
        >
          {{ i + 1 }}
        </button>
        <kbd class="font-mono text-muted" title="n: the next solution">n</kbd>
      </div>
      <details v-if="readings.length" class="mt-2" open>
        <summary class="head min-h-6 cursor-pointer py-1.5">The same picks, read otherwise</summary>
        <button
          v-for="r in readings"
          :key="r.words"
          type="button"
          class="block min-h-6 w-full truncate rounded px-1 py-0.5 text-left hover:bg-accent-soft"
          :title="r.words"
          data-reading
          @click="datum.read(r.conditions)"
        >
          {{ r.words }}
        </button>
      </details>
    </div>
    <div v-else-if="datum.curve" class="min-h-0 flex-1 overflow-auto px-3">
      <ol class="mt-1.5 space-y-0.5">
        <li v-for="(p, i) in datum.curve.points" :key="i" class="flex items-center gap-1">
          <span class="w-4 text-right text-muted tabular-nums">{{ i + 1 }}</span>
          <button
            type="button"
            class="min-h-6 min-w-0 flex-1 truncate rounded px-1 py-0.5 text-left hover:bg-accent-soft"
            :class="[
              p.lost ? 'font-medium text-alert' : '',
              isReplaced(0, i) ? 'bg-accent-soft outline outline-1 outline-accent' : '',
            ]"
            :data-pick="p.reference"
            @click="toReplace(0, i)"
          >
            {{ datum.curve.draft.points[i]?.made ? 'new point' : p.words }}
          </button>
          <button
            type="button"
            class="rounded p-1.5 text-muted hover:text-alert"
            :aria-label="`Leave out point ${i + 1}`"
            @click="datum.dropPoint(i)"
          >
            <X :size="13" />
          </button>
        </li>
      </ol>
      <p v-if="datum.curve.draft.support" class="mt-1 text-muted">
        parallel to <span class="text-ink">{{ datum.curve.draft.support }}</span>
      </p>
      <p v-if="datum.curve.length" class="mt-1 text-muted">length {{ datum.curve.length }}</p>
      <p v-if="datum.curve.refusal" class="mt-1.5 text-alert" role="alert" data-testid="datum-refusal">
        {{ datum.curve.refusal.message }}
      </p>
    </div>
    <div class="mt-1.5 flex items-center gap-1.5 border-t border-hair px-3 py-2">
      <label class="flex min-w-0 flex-1 items-center gap-1.5 text-muted"
        >name<input
          class="field min-w-0 flex-1"
          :value="name"
          :title="name"
          placeholder="by itself"
          data-testid="datum-name"
          @change="datum.rename(($event.target as HTMLInputElement).value)"
      /></label>
      <button
        type="button"
        class="button-main"
        :disabled="!(answer?.command ?? datum.curve?.command)"
        data-testid="datum-accept"
        @click="datum.accept()"
      >
        Accept
      </button>
      <button type="button" class="button" data-testid="datum-cancel" @click="datum.close()">Cancel</button>
    </div>
  </section>
</template>
