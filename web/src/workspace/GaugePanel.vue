<script setup lang="ts">
import { Copy, X } from 'lucide-vue-next'
import { ref } from 'vue'
import type { GaugeSlot } from '../api/gauge'
import { useGauge } from '../stores/gauge'
import PointField from './PointField.vue'

/** The measuring tool: its slots, each replaceable by itself, and every value they have. */
const gauge = useGauge()
const typed = ref('')
const EMPTY: Record<string, string> = { along: 'any direction', in: 'the world' }
const short = (text: string): string => text.replace(/\^/g, ' ∧ ')

function snap(slot: GaugeSlot, name: string): void {
  void gauge.ask({ do: 'snap', slot: slot.slot, text: slot.snap === name ? '' : name })
}

function share(slot: GaugeSlot, event: Event): void {
  const text = (event.target as HTMLInputElement).value.trim()
  if (text) void gauge.ask({ do: 'snap', slot: slot.slot, text })
}

async function direct(): Promise<void> {
  if (typed.value.trim()) await gauge.ask({ do: 'type', slot: 'along', text: typed.value.trim() })
  if (!gauge.answer?.refusal) typed.value = ''
}

function copy(text: string): void {
  void navigator.clipboard?.writeText(text)
}
</script>

<template>
  <section
    v-if="gauge.answer"
    class="flex max-h-[66%] shrink-0 flex-col border-t border-hair"
    aria-label="Measure"
    data-testid="gauge-panel"
  >
    <div class="flex items-center px-3 pt-2.5">
      <h2 class="head">Measure</h2>
      <button
        type="button"
        class="ml-auto rounded p-1.5 hover:text-accent"
        aria-label="Leave measuring"
        @click="gauge.close()"
      >
        <X :size="15" />
      </button>
    </div>
    <div class="min-h-0 flex-1 overflow-auto px-3 pb-2.5">
      <div v-for="s in gauge.answer.slots" :key="s.slot" class="mt-1.5 border-b border-hair pb-1.5">
        <div class="flex items-start gap-1.5">
          <span class="w-12 shrink-0 pt-1 text-muted">{{ s.label }}</span>
          <button
            type="button"
            class="min-h-7 min-w-0 flex-1 rounded border px-1.5 py-0.5 text-left"
            :class="s.active ? 'border-accent bg-accent-soft' : 'border-hair hover:border-accent'"
            :aria-pressed="s.active"
            :data-slot="s.slot"
            :title="s.text"
            @click="gauge.ask({ do: 'use', slot: s.slot })"
          >
            <template v-if="s.text">
              <span class="line-clamp-2 leading-tight">{{ s.words }}</span>
              <span class="block truncate font-mono text-[11px] text-muted">{{ short(s.text) }}</span>
            </template>
            <span v-else class="text-muted">{{
              s.active ? 'pick it in the view' : (EMPTY[s.slot] ?? 'empty')
            }}</span>
          </button>
          <button
            v-if="s.text"
            type="button"
            class="rounded p-1.5 text-muted hover:text-accent"
            :aria-label="`Clear ${s.label.toLowerCase()}`"
            @click="gauge.ask({ do: 'clear', slot: s.slot })"
          >
            <X :size="13" />
          </button>
        </div>
        <div v-if="s.snaps.length || s.snap" class="mt-1 ml-[54px] flex flex-wrap items-center gap-1">
          <button
            v-for="n in s.snaps"
            :key="n"
            type="button"
            class="min-h-6 rounded border px-1.5 text-[11.5px]"
            :class="s.snap === n ? 'border-accent text-accent' : 'border-hair text-muted hover:text-accent'"
            :aria-pressed="s.snap === n"
            :data-snap="`${s.slot} ${n}`"
            @click="snap(s, n)"
          >
            {{ n }}
          </button>
          <label v-if="s.shared" class="text-[11.5px] text-muted"
            >at<input
              class="field ml-1 w-12 py-0 text-[11.5px]"
              :value="s.snap && !s.snaps.includes(s.snap) ? s.snap : ''"
              placeholder="0.25"
              :aria-label="`Share of the length, ${s.label.toLowerCase()}`"
              :data-share="s.slot"
              @change="share(s, $event)"
          /></label>
        </div>
        <label
          v-if="['first', 'second'].includes(s.slot) && s.active"
          class="mt-1 ml-[54px] flex items-center gap-1.5 text-muted"
          >or <PointField class="flex-1" @placed="(p) => gauge.pick(p, false)" @leave="gauge.close()"
        /></label>
        <label
          v-if="s.slot === 'along' && s.active"
          class="mt-1 ml-[54px] flex items-center gap-1.5 text-muted"
          >or
          <input
            v-model="typed"
            class="field min-w-0 flex-1"
            placeholder="0, 0, 1"
            aria-label="Direction as three numbers"
            data-testid="gauge-direction"
            @keydown.enter.prevent="direct()"
            @keydown.esc.stop.prevent="typed = ''"
        /></label>
      </div>
      <p v-if="gauge.answer.refusal" class="mt-1.5 text-alert" role="alert" data-testid="gauge-refusal">
        {{ gauge.answer.refusal }}
      </p>
      <ul class="mt-1.5">
        <li v-for="v in gauge.answer.values" :key="v.what" class="flex items-start gap-1">
          <button
            type="button"
            class="min-w-0 flex-1 rounded px-1.5 py-1 text-left hover:bg-accent-soft"
            :data-value-of="v.what"
            :title="`${v.label}: press to keep it as a reading`"
            @click="gauge.keep(v)"
            @pointerenter="gauge.shown = v.what"
            @focus="gauge.shown = v.what"
          >
            <span class="flex gap-2"
              ><span class="flex-1">{{ v.label }}</span
              ><b class="font-medium tabular-nums" data-value>{{ v.shown }}</b></span
            >
            <span v-if="v.note" class="block text-[11.5px] leading-tight text-muted">{{ v.note }}</span>
          </button>
          <button
            type="button"
            class="rounded p-1.5 text-muted hover:text-accent"
            :aria-label="`Copy ${v.shown}`"
            @click="copy(v.shown)"
          >
            <Copy :size="12" />
          </button>
        </li>
      </ul>
    </div>
  </section>
</template>
