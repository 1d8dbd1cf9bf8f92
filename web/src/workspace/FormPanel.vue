<script setup lang="ts">
import { X } from 'lucide-vue-next'
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import type { FormFieldView } from '../api/forms'
import { useForm } from '../stores/form'
import { useNames } from '../stores/names'
import { usePart } from '../stores/part'
import FormTrouble from './FormTrouble.vue'
import HoleStrip from './HoleStrip.vue'
import PointField from './PointField.vue'

const form = useForm()
const names = useNames()
const part = usePart()
const typed = ref<Record<string, string>>({})
const more = ref(false)
const answer = computed(() => form.answer)
watch(
  () => answer.value?.draft.step.kind,
  () => {
    typed.value = {}
    more.value = false
  },
)

/** What is needed, or in use; the rest is behind "more". */
const isUsed = (f: FormFieldView): boolean =>
  f.active || !f.optional || f.picks.length > 0 || f.value !== '' || f.type === 'regions'
/** Flags that are seen though they are off. */
const FLAGS = ['flip', 'single', 'whole', 'modelled']
const rare = (f: FormFieldView): boolean =>
  f.type === 'flag' ? !f.on && !FLAGS.includes(f.name) : !isUsed(f)
const fields = computed(() => (answer.value?.fields ?? []).filter((f) => !rare(f) && !isDefault(f)))
const others = computed(() => (answer.value?.fields ?? []).filter((f) => rare(f) || isDefault(f)))
/** Choices that are mostly left as they are. */
const SELDOM = ['wall', 'keep', 'fit']
const isDefault = (f: FormFieldView): boolean =>
  f.type === 'choice' && SELDOM.includes(f.name) && f.value === f.options[0]?.value
const shown = computed(() => (more.value ? [...fields.value, ...others.value] : fields.value))

/** The field that the trouble is told at; none where that field is not shown. */
const troubled = computed(() => (shown.value.some((f) => f.name === form.where) ? form.where : ''))

async function hand(name: string): Promise<void> {
  const text = typed.value[name]
  if (text === undefined) return
  typed.value = Object.fromEntries(Object.entries(typed.value).filter(([n]) => n !== name))
  await form.set(name, text)
}

const values = (): HTMLInputElement[] => [
  ...document.querySelectorAll<HTMLInputElement>(
    '[data-testid=form-panel] input.field[data-field]:not([data-field=place])',
  ),
]

/** A form that needs no more picks is typed into at once. */
async function beginTyping(): Promise<void> {
  await nextTick()
  if (answer.value?.command) values()[0]?.focus()
}
onMounted(beginTyping)

/** From value to value; behind the last one the keyboard goes its usual way. */
function tab(name: string, event: KeyboardEvent): void {
  void hand(name)
  const all = values()
  const next = all[all.indexOf(event.target as HTMLInputElement) + (event.shiftKey ? -1 : 1)]
  if (!next) return
  event.preventDefault()
  next.focus()
}

async function enter(name: string, event: Event): Promise<void> {
  await hand(name)
  if (answer.value?.refusal) return
  await form.accept()
  if (!form.open) (event.target as HTMLElement).blur()
}

/** What is left over of a lost reference's name, to be picked again. */
const lost = computed(() => answer.value?.fields.flatMap((f) => f.picks).find((p) => p.lost) ?? null)
</script>

<template>
  <section
    v-if="answer"
    class="flex max-h-[66%] shrink-0 flex-col border-t border-hair"
    :aria-label="answer.title"
    data-testid="form-panel"
  >
    <div class="flex items-center gap-2 px-3 pt-2.5 pb-1">
      <h2 class="head flex-1">{{ answer.title }}</h2>
      <span v-if="form.building" class="text-muted" aria-live="polite">building …</span>
      <span
        v-else-if="form.preview && form.preview.state === 'built'"
        class="font-medium text-accent"
        data-testid="form-state"
        >ready</span
      >
      <span v-else-if="form.trouble" class="font-medium text-alert" data-testid="form-state">refused</span>
    </div>
    <div class="min-h-0 flex-1 overflow-auto px-3 pb-1">
      <FormTrouble v-if="form.trouble && !troubled" />
      <div
        v-for="f in shown"
        :key="f.name"
        class="flex min-h-[27px] flex-wrap items-start gap-x-2 py-px"
        :data-row="f.name"
      >
        <span class="w-[92px] shrink-0 pt-1 text-muted" :title="f.hint">{{ f.label }}</span>
        <div v-if="f.type === 'picks' || f.type === 'regions'" class="min-w-0 flex-1">
          <ul>
            <li v-for="p in f.type === 'regions' ? [] : f.picks" :key="p.reference" class="flex items-center">
              <span
                class="min-w-0 flex-1 truncate py-0.5"
                :class="p.lost ? 'font-medium text-alert' : ''"
                :title="p.words"
                :data-pick="p.reference"
                >{{ p.lost ? `${p.words} is lost` : p.words }}</span
              >
              <button
                type="button"
                class="rounded p-1.5 text-muted hover:text-alert"
                :aria-label="`Leave out ${p.words}`"
                @click="form.set(f.name, p.reference)"
              >
                <X :size="12" />
              </button>
            </li>
          </ul>
          <button
            type="button"
            class="min-h-6 w-full truncate rounded border px-1.5 py-0.5 text-left"
            :class="f.active ? 'border-accent bg-accent-soft' : 'border-hair text-muted hover:bg-accent-soft'"
            :aria-pressed="f.active"
            :title="f.hint"
            :data-field="f.name"
            @click="form.activate(f.name)"
          >
            <template v-if="f.type === 'regions'">{{
              f.picks.length ? `${f.picks.length} chosen` : 'all that are material'
            }}</template>
            <template v-else>{{
              f.active ? 'pick in the view' : f.picks.length ? 'add or change' : 'none'
            }}</template>
          </button>
          <label v-if="f.active && f.points" class="mt-0.5 flex items-center gap-1.5 text-muted"
            >or <PointField class="flex-1" @placed="(p) => form.pick(p, f.name)" @leave="form.close()"
          /></label>
        </div>
        <select
          v-else-if="f.type === 'choice'"
          class="field min-w-0 flex-1"
          :value="f.value"
          :aria-label="f.label"
          :data-field="f.name"
          @change="form.set(f.name, ($event.target as HTMLSelectElement).value)"
        >
          <option v-for="o in f.options" :key="o.value" :value="o.value">{{ o.words }}</option>
        </select>
        <label v-else-if="f.type === 'flag'" class="flex min-h-6 flex-1 items-center">
          <input
            type="checkbox"
            class="h-4 w-4 accent-[var(--accent)]"
            :checked="f.on"
            :aria-label="f.label"
            :data-field="f.name"
            @change="form.set(f.name, String(($event.target as HTMLInputElement).checked))"
          />
        </label>
        <template v-else>
          <input
            class="field min-w-0 flex-1"
            :value="typed[f.name] ?? f.value"
            :aria-label="f.label"
            :data-field="f.name"
            @input="typed[f.name] = ($event.target as HTMLInputElement).value"
            @keydown.enter.prevent="enter(f.name, $event)"
            @keydown.tab="tab(f.name, $event)"
            @blur="hand(f.name)"
            @keydown.esc.stop.prevent="form.close()"
            @focus="($event.target as HTMLInputElement).select()"
          />
          <span v-if="f.shown && f.shown !== f.value" class="w-16 truncate pt-1 text-right text-muted">{{
            f.shown
          }}</span>
        </template>
        <FormTrouble v-if="form.trouble && troubled === f.name" class="basis-full" />
      </div>
      <button
        v-if="others.length"
        type="button"
        class="min-h-6 text-[12px] text-muted underline hover:text-accent"
        data-testid="form-more"
        @click="more = !more"
      >
        {{
          more
            ? 'fewer fields'
            : `${others.length} more: ${others.map((o) => o.label.toLowerCase()).join(', ')}`
        }}
      </button>
      <div v-if="answer.centres.length" class="mt-1.5" data-testid="centres">
        <h3 class="head">Centres</h3>
        <label v-for="c in answer.centres" :key="c.reference" class="flex min-h-6 items-center gap-1.5">
          <input
            type="checkbox"
            class="h-4 w-4 accent-[var(--accent)]"
            :checked="c.in"
            :data-centre="c.reference"
            @change="form.pick(c.reference, 'centres')"
          /><span class="min-w-0 truncate" :class="c.in ? '' : 'text-muted'">{{ c.words }}</span>
        </label>
      </div>
      <HoleStrip
        v-for="h in form.preview?.holes.slice(0, 4) ?? []"
        :key="h.centre"
        :strip="h.strip"
        :start="h.start"
        :end="h.end"
        :title="`${h.size} at ${names.of(h.centre)}`"
      />
      <ul v-if="form.preview?.state === 'built' && form.preview.message" data-testid="form-notes">
        <li v-for="n in form.preview.message.split('; ')" :key="n" class="text-[var(--copper)]">{{ n }}</li>
      </ul>
      <p v-if="lost" class="mt-1 text-muted">Leave out what is lost and pick it anew.</p>
    </div>
    <div class="flex items-center gap-1.5 border-t border-hair px-3 py-2">
      <label class="flex min-w-0 flex-1 items-center gap-1.5 text-muted"
        >name<input
          class="field min-w-0 flex-1"
          :value="answer.draft.step.name"
          :title="answer.draft.step.name"
          placeholder="by itself"
          data-testid="form-name"
          @change="form.rename(($event.target as HTMLInputElement).value)"
      /></label>
      <button
        type="button"
        class="button-main"
        :disabled="!answer.command || form.refused"
        :title="form.refused ? 'It cannot be built as it is' : undefined"
        data-testid="form-accept"
        @click="form.accept()"
      >
        Accept
      </button>
      <button
        type="button"
        class="button"
        data-testid="form-cancel"
        @click="(form.building && part.stop(), form.close())"
      >
        Cancel
      </button>
    </div>
  </section>
</template>
