<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import type { PartCommand } from '../api/client'
import { usePart } from '../stores/part'
import { useWork } from '../stores/work'

const part = usePart()
const work = useWork()
const texts = ref<Record<string, string>>({})
const touched = ref(new Set<string>())
const line = ref<HTMLElement | null>(null)
const fields = computed(() => (work.sketch ? (work.answer?.fields ?? []) : []))
const stage = computed(() => fields.value.map((f) => f.name).join())
const refusal = computed(() => work.answer?.refusal?.message ?? part.notice)
const prompt = computed(() => {
  if (work.extrude) return 'Extrude: click regions to choose them, or none for all'
  if (work.awaitingPlane) return 'Pick a plane or a planar face to sketch on'
  if (work.sketch) return work.answer?.prompt ?? ''
  return 'Pick faces, edges, vertices or planes; offers are at the right'
})

watch(stage, () => {
  texts.value = {}
  touched.value = new Set()
})

watch(stage, async (now) => {
  // A value that is asked for alone is ready to be typed.
  if (now !== 'value') return
  await nextTick()
  focusFirst()
})

function focusFirst(text?: string): void {
  const input = line.value?.querySelector<HTMLInputElement>('input[data-field]')
  if (!input) return
  input.focus()
  input.select()
  if (text !== undefined) set(input.dataset.field ?? '', text)
}

function set(name: string, text: string): void {
  texts.value = { ...texts.value, [name]: text }
  touched.value.add(name)
}

function shown(name: string, text: string): string {
  return touched.value.has(name) ? (texts.value[name] ?? '') : text
}

async function hand(name: string): Promise<boolean> {
  if (!touched.value.has(name)) return true
  await work.input('typed', { field: name, text: texts.value[name] ?? '' })
  const refused = work.answer?.refusal != null
  if (!refused) touched.value.delete(name)
  return !refused
}

async function enter(name: string): Promise<void> {
  const before = stage.value
  const was = touched.value.has(name)
  if (!(await hand(name))) return
  if (before === 'point' && was) return void blur()
  if (stage.value === before || !was) await work.input('accept')
  if (!work.answer?.refusal) blur()
}

function blur(): void {
  if (document.activeElement instanceof HTMLElement) document.activeElement.blur()
}

async function escape(): Promise<void> {
  blur()
  await work.input('cancel')
}

async function takeAlternative(): Promise<void> {
  const json = work.answer?.alternative
  if (!json || !work.answer) return
  work.answer = { ...work.answer, alternative: null, refusal: null }
  await part.send(JSON.parse(json) as PartCommand)
}

defineExpose({ focusFirst })
</script>

<template>
  <footer
    ref="line"
    class="relative flex h-[42px] shrink-0 items-center gap-3 border-t border-hair bg-sheet px-4 py-1.5"
    aria-label="Prompt"
  >
    <span class="text-accent" aria-hidden="true">›</span>
    <span data-testid="prompt" aria-live="polite">{{ prompt }}</span>
    <label v-for="f in fields" :key="f.name" class="flex items-center gap-1.5">
      <span class="text-muted">{{ f.label }}</span>
      <input
        class="field w-28"
        :class="f.typed ? 'border-accent font-medium' : ''"
        :value="shown(f.name, f.text)"
        :data-field="f.name"
        @input="set(f.name, ($event.target as HTMLInputElement).value)"
        @keydown.enter.prevent="enter(f.name)"
        @keydown.tab="hand(f.name)"
        @keydown.esc.stop.prevent="escape"
        @focus="($event.target as HTMLInputElement).select()"
      />
    </label>
    <form
      v-if="work.extrude"
      class="flex items-center gap-2"
      data-testid="extrude-form"
      @submit.prevent="work.acceptExtrude()"
    >
      <span v-if="work.extrude.regions.length" class="text-muted"
        >{{ work.extrude.regions.length }} chosen</span
      >
      <label v-if="work.extrude.extent !== 'through-all'" class="flex items-center gap-1.5"
        >length<input
          v-model="work.extrude.length"
          class="field w-24"
          aria-label="length"
          data-field="length"
      /></label>
      <select v-model="work.extrude.extent" class="field" aria-label="extent">
        <option value="length">one side</option>
        <option value="symmetric">symmetric</option>
        <option value="through-all">through all</option>
      </select>
      <select v-model="work.extrude.operation" class="field" aria-label="operation">
        <option value="join">join</option>
        <option value="cut">cut</option>
      </select>
      <label class="flex items-center gap-1"><input v-model="work.extrude.flip" type="checkbox" />flip</label>
      <button class="button-main" data-testid="accept-extrude">Accept</button>
      <button type="button" class="button" @click="work.extrude = null">Cancel</button>
    </form>
    <button v-if="work.awaitingPlane" type="button" class="button" @click="work.awaitingPlane = null">
      Cancel
    </button>
    <span v-if="work.answer?.inferred.length && work.sketch" class="text-muted">{{
      work.answer.inferred.join(', ')
    }}</span>
    <span
      v-if="refusal"
      role="alert"
      class="absolute right-3 bottom-full z-20 mb-2 max-w-[620px] rounded border border-alert/30 bg-alert-soft px-3 py-1.5 text-alert shadow"
      data-testid="refusal"
    >
      {{ refusal }}
      <button v-if="work.answer?.alternative" type="button" class="ml-1 underline" @click="takeAlternative">
        Keep it as a reference
      </button>
    </span>
    <span class="ml-auto text-muted">{{ work.sketch ? 'esc: leave · alt: no inference' : '' }}</span>
  </footer>
</template>
