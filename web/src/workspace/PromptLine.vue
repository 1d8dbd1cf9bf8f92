<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useDatum } from '../stores/datum'
import { useForm } from '../stores/form'
import { useGauge } from '../stores/gauge'
import { usePart } from '../stores/part'
import { useWork } from '../stores/work'
import DatumFields from './DatumFields.vue'
import WaysOut from './WaysOut.vue'

const part = usePart()
const work = useWork()
const datum = useDatum()
const form = useForm()
const gauge = useGauge()
const texts = ref<Record<string, string>>({})
const touched = ref(new Set<string>())
const line = ref<HTMLElement | null>(null)
const fields = computed(() => (work.sketch ? (work.answer?.fields ?? []) : []))
const ways = computed(() => (work.sketch ? (work.answer?.ways ?? []) : []))
const stage = computed(() => fields.value.map((f) => f.name).join())
const prompt = computed(() => {
  if (!part.connected)
    return 'The link to the server is away. What you do waits, and goes on when it is back.'
  if (form.answer && !work.sketch) return form.answer.prompt
  if (gauge.answer && !work.sketch) return gauge.answer.prompt
  if (work.moving) return 'Pick the plane, planar face or frame that the sketch is to lie on'
  if (work.awaitingPlane) return 'Pick a plane or a planar face to sketch on'
  if (work.sketch) return work.taking ? work.takingPrompt : (work.answer?.prompt ?? '')
  if (datum.replacing) return 'Pick what takes its place'
  if (datum.quick)
    return datum.quick.answer.refusal?.message ?? 'Quick plane: turn the view until it lies well, then draw'
  if (datum.answer) return datum.answer.prompt
  if (datum.curve) return datum.curve.prompt
  return 'Pick faces, edges, vertices or planes; offers are at the right'
})
const drawing = computed(() => work.sketch && work.tool !== 'select')

const frameName = computed(
  () => part.snapshot?.steps.find((s) => s.id === datum.active)?.name ?? datum.active,
)

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
  // What is typed fast goes behind what stands there already.
  const before = document.activeElement === input ? input.value : ''
  input.focus()
  input.select()
  if (text === undefined) return
  input.value = before + text
  set(input.dataset.field ?? '', before + text)
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
  else await again(name)
  return !refused
}

/** A refused value stays in its field, ready to be typed over. */
async function again(name: string): Promise<void> {
  await nextTick()
  const input = line.value?.querySelector<HTMLInputElement>(`input[data-field="${name}"]`)
  input?.focus()
  input?.select()
}

const enter = (name: string): Promise<void> => work.counted(entered(name))

async function entered(name: string): Promise<void> {
  const before = stage.value
  const prompted = prompt.value
  const was = touched.value.has(name)
  const point = (texts.value[name] ?? '').includes(',')
  if (!(await hand(name))) return
  // Two numbers place a point and with that end the stage.
  if (was && (before === 'point' || point)) return void blur()
  if ((stage.value === before && prompt.value === prompted) || !was) await work.input('accept')
  if (!work.answer?.refusal) return blur()
  const where = fields.value.find((f) => f.name === work.answer?.refusal?.where)
  await again(where?.name ?? name)
}

/** Tab hands the value over and goes to the next field; between two numbers of a place it puts the comma. */
function tab(name: string, event: KeyboardEvent): void {
  const text = texts.value[name] ?? ''
  if (name === 'point' && !event.shiftKey && text.trim() && !text.includes(',')) {
    event.preventDefault()
    const input = event.target as HTMLInputElement
    input.value = `${text}, `
    set(name, input.value)
    return
  }
  void work.counted(hand(name))
}

function blur(): void {
  if (document.activeElement instanceof HTMLElement) document.activeElement.blur()
}

async function escape(): Promise<void> {
  texts.value = {}
  touched.value = new Set()
  blur()
  await work.input('cancel')
}

defineExpose({ focusFirst })
</script>

<template>
  <footer
    ref="line"
    class="relative flex h-[42px] shrink-0 items-center gap-3 border-t border-hair bg-sheet px-4 py-1.5 whitespace-nowrap"
    aria-label="Prompt"
  >
    <span class="text-accent" aria-hidden="true">›</span>
    <span data-testid="prompt" class="min-w-[120px] truncate" aria-live="polite" :title="prompt">{{
      prompt
    }}</span>
    <label v-for="f in fields" :key="f.name" class="flex items-center gap-1.5">
      <span class="text-muted">{{ f.label }}</span>
      <input
        class="field"
        :class="[f.typed ? 'border-accent font-medium' : '', fields.length > 3 ? 'w-[72px]' : 'w-24']"
        :value="shown(f.name, f.text)"
        :data-field="f.name"
        @input="set(f.name, ($event.target as HTMLInputElement).value)"
        @keydown.enter.prevent="enter(f.name)"
        @keydown.tab="tab(f.name, $event)"
        @keydown.esc.stop.prevent="escape"
        @focus="($event.target as HTMLInputElement).select()"
      />
    </label>
    <DatumFields v-if="datum.open && !work.sketch" />
    <template v-if="datum.quick && !work.sketch">
      <button type="button" class="button-main" data-testid="quick-draw" @click="work.fixQuick()">
        Draw here
      </button>
      <button type="button" class="button" data-testid="quick-keep" @click="work.keepQuick()">
        Keep as a datum
      </button>
      <button type="button" class="button" @click="datum.close()">Cancel</button>
    </template>
    <button
      v-if="work.awaitingPlane || work.moving"
      type="button"
      class="button"
      @click="work.awaitingPlane = work.moving = null"
    >
      Cancel
    </button>
    <span
      v-if="work.answer?.inferred.length && work.sketch"
      class="max-w-[180px] truncate text-muted"
      data-testid="inferred"
      >{{ work.answer.inferred.join(', ') }}</span
    >
    <span
      v-if="work.answer?.note && work.sketch"
      class="max-w-[420px] truncate text-alert"
      role="status"
      :title="work.answer.note"
      data-testid="note"
      >{{ work.answer.note }}</span
    >
    <WaysOut />
    <div
      v-if="work.apart && work.sketch"
      class="absolute bottom-full left-[212px] z-10 mb-2 max-w-[640px] rounded border border-alert/40 bg-sheet p-3 whitespace-normal shadow-lg"
      role="alertdialog"
      aria-label="Only as seen from here"
      data-testid="apart"
    >
      <p>{{ work.apart.words }}</p>
      <p v-if="!work.apart.crossing && work.apart.whyNoCrossing" class="mt-1 text-muted">
        {{ work.apart.whyNoCrossing }}
      </p>
      <div class="mt-2 flex gap-2">
        <button
          v-if="work.apart.crossing"
          type="button"
          class="button-main"
          data-testid="apart-crossing"
          @click="work.takeSeen('crossing')"
        >
          Take the crossing point
        </button>
        <button
          v-if="work.apart.copy"
          type="button"
          class="button"
          data-testid="apart-copy"
          @click="work.takeSeen('copy')"
        >
          Take a live copy
        </button>
        <button type="button" class="button" @click="work.apart = null">Leave it</button>
      </div>
    </div>
    <div
      v-if="ways.length > 1"
      class="absolute bottom-full left-[212px] z-10 mb-2 flex overflow-hidden rounded border border-hair bg-sheet/95 shadow-sm"
      role="radiogroup"
      aria-label="Ways of drawing"
      data-testid="ways"
    >
      <button
        v-for="w in ways"
        :key="w.name"
        type="button"
        role="radio"
        :aria-checked="w.name === work.answer?.way"
        class="border-r border-hair px-2.5 py-1 last:border-r-0"
        :class="w.name === work.answer?.way ? 'bg-accent text-on-accent' : 'hover:bg-accent-soft'"
        :data-way="w.name"
        @click="work.input('way', { text: w.name })"
      >
        {{ w.label }}
      </button>
      <kbd class="px-2 py-1 font-mono text-muted" title="v: the next way">v</kbd>
      <template v-if="(work.answer?.solutions ?? 0) > 1">
        <button
          type="button"
          class="border-l border-hair px-2 py-1 hover:bg-accent-soft"
          data-testid="next-solution"
          @click="work.input('next', { text: '+' })"
        >
          next of {{ work.answer?.solutions }} <kbd class="font-mono text-muted">n</kbd>
        </button>
      </template>
    </div>
    <button
      v-if="drawing"
      type="button"
      class="ml-auto rounded px-2 py-0.5"
      :class="work.construction ? 'bg-accent font-medium text-on-accent' : 'text-muted hover:bg-accent-soft'"
      :aria-pressed="work.construction"
      data-testid="construction"
      @click="work.construction = !work.construction"
    >
      construction <kbd class="font-mono">c</kbd>
    </button>
    <button
      v-if="datum.active"
      type="button"
      class="ml-auto rounded px-2 py-0.5 text-accent hover:bg-accent-soft"
      title="Typed coordinates are read in this frame; press to return to the one before"
      data-testid="active-frame"
      @click="datum.workIn(null)"
    >
      in {{ frameName }} ×
    </button>
    <span class="text-muted" :class="drawing || datum.active ? '' : 'ml-auto'">{{
      work.sketch ? 'esc: leave · alt: no inference' : ''
    }}</span>
  </footer>
</template>
