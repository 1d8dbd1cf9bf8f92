<script setup lang="ts">
import { Copy } from 'lucide-vue-next'
import { computed, onUnmounted, watch } from 'vue'
import ToolIcon from '../icons/ToolIcon.vue'
import type { OfferMessage } from '../api/live'
import { useForesight } from '../stores/foresight'
import { useNames } from '../stores/names'
import { learned, took } from '../stores/taken'
import { useWork } from '../stores/work'

const foresight = useForesight()
const work = useWork()
const names = useNames()
const icon = (o: OfferMessage): string =>
  ['construction', 'remove', 'merge', 'part', 'handles', 'reference'].includes(o.id)
    ? o.id
    : o.id.startsWith('tie-')
      ? o.id
      : o.id.startsWith('size-')
        ? 'dimension'
        : o.id.startsWith('sketch')
          ? 'sketch'
          : /^(plane|axis|point|frame)-/.test(o.id)
            ? o.id.split('-')[0]!
            : o.id === 'quick'
              ? 'sketch'
              : o.id.startsWith('form-')
                ? o.id.slice(5)
                : 'reading'
const own = computed(() =>
  learned(
    work.offers.filter((o) => !o.whyNot && (work.sketch !== null || !['volume', 'mass'].includes(o.id))),
  ),
)
const whole = computed(() =>
  work.offers.filter((o) => work.sketch === null && ['volume', 'mass'].includes(o.id)),
)

const listed = computed(() => [...own.value, ...whole.value])

const canPress = (o: OfferMessage): boolean => Boolean(o.command || o.draft || o.form) || o.id === 'quick'
/** The figure that presses an offer: the first nine that can be pressed have one, while something is picked. */
const keys = computed(() => {
  const pressable = work.picks.length > 0 ? listed.value.filter(canPress).slice(0, 9) : []
  return new Map(pressable.map((o, i) => [o.id, String(i + 1)]))
})

watch(() => work.offers, foresight.hide)
onUnmounted(foresight.hide)

/** Whether a group of offers begins here. */
const heads = (i: number): boolean =>
  listed.value[i]!.group !== '' && listed.value[i]!.group !== listed.value[i - 1]?.group

function press(o: OfferMessage): void {
  took(o.id)
  foresight.hide()
  void work.press(o)
}

function copy(text: string): void {
  void navigator.clipboard?.writeText(text)
}
</script>

<template>
  <section
    class="max-h-[42%] shrink-0 overflow-auto border-t border-hair px-3 py-2.5"
    aria-label="Picks and offers"
  >
    <div class="flex gap-2">
      <h2 class="head w-12 shrink-0 pt-0.5">Picks</h2>
      <p v-if="work.picks.length === 0" class="text-muted">nothing picked</p>
      <ul v-else class="min-w-0 flex-1">
        <li
          v-for="p in work.picks"
          :key="p"
          class="truncate"
          :title="names.of(p, work.sketch)"
          :data-pick="p"
        >
          {{ names.of(p, work.sketch) }}
        </li>
      </ul>
    </div>
    <div
      v-if="work.asked"
      role="alertdialog"
      aria-label="What else would go"
      class="mt-2 rounded border border-alert/40 bg-alert-soft p-2"
      data-testid="asked"
    >
      <p class="text-alert">{{ work.picks.length }} picked; these hang on them and would go too:</p>
      <ul class="mt-1 max-h-28 overflow-auto">
        <li v-for="t in work.asked.touches" :key="t" class="truncate text-[12px]" :title="t">{{ t }}</li>
      </ul>
      <div class="mt-1.5 flex gap-2">
        <button
          type="button"
          class="button-main"
          data-testid="confirm-remove"
          @click="work.press(work.asked)"
        >
          Remove all of it
        </button>
        <button type="button" class="button" @click="work.quiet()">Keep</button>
      </div>
    </div>
    <div class="mt-2 flex gap-2">
      <h2 class="head w-12 shrink-0 pt-1">Offers</h2>
      <div class="min-w-0 flex-1">
        <ul data-testid="offers">
          <li
            v-for="(o, i) in listed"
            :key="o.id"
            class="flex flex-wrap items-center"
            :class="i > 0 && heads(i) ? 'mt-1.5' : ''"
          >
            <h3 v-if="heads(i)" class="w-full px-1.5 text-[11px] text-muted">{{ o.group }}</h3>
            <button
              type="button"
              class="flex min-w-0 flex-1 flex-wrap items-center gap-x-1.5 rounded px-1.5 py-1 text-left hover:bg-accent-soft disabled:hover:bg-transparent"
              :disabled="!canPress(o)"
              :data-offer-key="keys.get(o.id)"
              :data-offer="o.id"
              :title="
                o.label +
                (o.note ? `, ${o.note}` : '') +
                (o.command ? ': press to keep it' : o.draft ? ': press to give its value and choose' : '')
              "
              @click="press(o)"
              @pointerenter="foresight.show(o, work.sketch)"
              @pointerleave="foresight.hide()"
              @focus="foresight.show(o, work.sketch)"
              @blur="foresight.hide()"
            >
              <ToolIcon :name="icon(o)" :size="14" class="shrink-0 text-muted" /><span
                class="min-w-[50%] flex-1 leading-tight"
                >{{ o.label }}</span
              >
              <span class="ml-auto text-right font-medium" data-value>{{ o.detail }}</span>
              <kbd v-if="keys.has(o.id)" class="w-3 shrink-0 text-right font-mono text-[11px] text-muted">{{
                keys.get(o.id)
              }}</kbd>
            </button>
            <button
              v-if="o.detail && o.id !== 'remove' && !o.draft && !o.form"
              type="button"
              class="rounded p-1.5 text-muted hover:text-accent"
              :aria-label="`Copy ${o.detail}`"
              @click="copy(o.detail)"
            >
              <Copy :size="12" />
            </button>
          </li>
        </ul>
        <p v-if="work.offers.length === 0" class="pt-0.5 text-muted">
          {{ work.sketch ? 'pick geometry in the sketch' : 'pick faces, edges, vertices or planes' }}; with
          shift, one more
        </p>
      </div>
    </div>
  </section>
</template>
