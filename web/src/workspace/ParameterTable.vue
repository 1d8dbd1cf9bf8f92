<script setup lang="ts">
import { ArrowDown, ArrowUp, ListPlus, Plus, Trash2 } from 'lucide-vue-next'
import { computed, nextTick, ref } from 'vue'
import type { PartCommand, PartSnapshot } from '../api/client'
import { useAsking } from '../stores/asking'
import { useLook } from '../stores/look'
import { usePart } from '../stores/part'
import { cells } from './asking/chart'
import SheetCard from './SheetCard.vue'

type Row = PartSnapshot['parameters'][number]

const emit = defineEmits<{ close: [] }>()
const part = usePart()
const asking = useAsking()
const look = useLook()
const fresh = ref({ name: '', value: '', note: '' })
const errors = ref<Record<string, string>>({})
/** What was typed and refused, by row and column: it stays in its field. */
const refused = ref<Record<string, string>>({})
/** The parameter whose range, heading and uses are shown. */
const open = ref<string | null>(null)
const search = ref('')

/** The rows in their order, each with the heading that begins before it. */
const rows = computed(() => {
  const wanted = search.value.trim().toLowerCase()
  let group: string | null | undefined = null
  return (part.snapshot?.parameters ?? [])
    .filter((p) => !wanted || `${p.name} ${p.note} ${p.value}`.toLowerCase().includes(wanted))
    .map((p) => {
      const heading = (p.group ?? null) !== group ? (p.group ?? '') : null
      group = p.group ?? null
      return { p, heading }
    })
})

async function send(command: object, at: string): Promise<boolean> {
  const problem = await part.send(command as PartCommand)
  errors.value = { ...errors.value, [at]: problem?.detail ?? '' }
  if (problem) part.notice = null
  return problem === null
}

const set = (name: string, value: string, note: string, at: string): Promise<boolean> =>
  send({ command: 'set-parameter', name, value, note }, at)

/** Sends what a field says; when it is refused it stays there, selected, ready to be typed over. */
async function change(
  field: HTMLInputElement,
  row: string,
  old: string,
  send: (text: string) => Promise<boolean>,
): Promise<void> {
  const text = field.value
  const key = `${row}/${field.name}`
  if (text === old) {
    errors.value = { ...errors.value, [row]: '' }
  } else if (!(await send(text))) {
    refused.value = { ...refused.value, [key]: text }
    await nextTick()
    field.focus()
    field.select()
    return
  }
  refused.value = Object.fromEntries(Object.entries(refused.value).filter(([k]) => k !== key))
}

const rename = (name: string, event: Event): Promise<void> =>
  change(event.target as HTMLInputElement, name, name, (to) =>
    send({ command: 'rename-parameter', name, to }, name),
  )

const rework = (name: string, old: string, note: string, event: Event): Promise<void> =>
  change(event.target as HTMLInputElement, name, old, (value) => set(name, value, note, name))

const annotate = (p: Row, event: Event): Promise<void> =>
  change(event.target as HTMLInputElement, p.name, p.note, (note) => set(p.name, p.value, note, p.name))

const limit = (p: Row, what: 'least' | 'most' | 'stride', event: Event): Promise<void> =>
  change(event.target as HTMLInputElement, p.name, p[what] ?? '', (text) =>
    send(
      {
        command: 'limit-parameter',
        name: p.name,
        least: p.least,
        most: p.most,
        stride: p.stride,
        [what]: text || null,
      },
      p.name,
    ),
  )

const place = (p: Row, index: number, group: string | null | undefined): Promise<boolean> =>
  send({ command: 'place-parameter', name: p.name, index, group: group || null }, p.name)

const at = (p: Row): number => (part.snapshot?.parameters ?? []).indexOf(p)

/** Where a slider stands while it is moved: the part is shown so, and changed once it is let go. */
const sliding = ref<{ name: string; share: number } | null>(null)
let busy = false
let last = ''

/** The value at a place of the range, on the stride where there is one, with the unit of its bounds. */
function valueAt(p: Row, share: number): string {
  const number = (text: string): number => Number.parseFloat(text)
  const unit = (p.most ?? '').replace(/^[-+\d.eE]+\s*/, '')
  const [least, most] = [number(p.least!), number(p.most!)]
  const raw = least + (most - least) * share
  const stride = p.stride ? number(p.stride) : (most - least) / 200
  const value = Math.min(most, least + Math.round((raw - least) / stride) * stride)
  return `${Number(value.toPrecision(6))}${unit ? ` ${unit}` : ''}`
}

async function slide(p: Row, event: Event): Promise<void> {
  sliding.value = { name: p.name, share: Number((event.target as HTMLInputElement).value) }
  if (busy) return
  busy = true
  try {
    while (sliding.value) {
      const value = valueAt(p, sliding.value.share)
      if (value === last) break
      last = value
      await part.tryOut(
        { command: 'set-parameter', name: p.name, value },
        () => sliding.value?.name === p.name,
      )
    }
  } finally {
    busy = false
  }
}

async function slid(p: Row, event: Event): Promise<void> {
  const value = valueAt(p, Number((event.target as HTMLInputElement).value))
  sliding.value = null
  last = ''
  await set(p.name, value, p.note, p.name)
  part.leave()
}

async function add(): Promise<void> {
  if (await set(fresh.value.name, fresh.value.value, fresh.value.note, '+'))
    fresh.value = { name: '', value: '', note: '' }
}

const remove = (name: string): Promise<boolean> => send({ command: 'remove-parameter', name }, name)

/** A table from elsewhere, name and value and perhaps what for: all rows become one edit, or none. */
async function paste(event: ClipboardEvent): Promise<void> {
  const text = event.clipboardData?.getData('text/plain') ?? ''
  const table = cells(text).filter((r) => r.length >= 2 && r[0] && r[1])
  const inField = (event.target as HTMLElement).tagName === 'INPUT' && !/[\t\n]/.test(text.trim())
  if (inField || table.length === 0) return
  event.preventDefault()
  const named = table[0]!.map((c) => c.toLowerCase())
  const body = named[0] === 'name' ? table.slice(1) : table
  await send(
    {
      command: 'set-parameters',
      parameters: body.map(([name, value, note]) => ({
        name,
        value,
        note: note ?? part.snapshot?.parameters.find((p) => p.name === name)?.note ?? '',
      })),
    },
    '+',
  )
}

/** Goes to a step that uses the parameter. */
function show(step: string): void {
  asking.why = { step, name: '' }
  asking.begin('why')
  look.card = 'ask'
  emit('close')
}
const nameOf = (step: string): string => part.snapshot?.steps.find((s) => s.id === step)?.name ?? step
</script>

<template>
  <SheetCard
    named="Parameters"
    closes="Close the parameters"
    class="flex max-h-[calc(100%-60px)] w-[700px] max-w-[calc(100%-24px)] flex-col"
    data-testid="parameters"
    @close="emit('close')"
    @paste="paste"
  >
    <div class="min-h-0 overflow-y-auto">
      <input
        v-if="(part.snapshot?.parameters.length ?? 0) > 12"
        v-model="search"
        class="field mb-2 w-48"
        placeholder="search"
        aria-label="search the parameters"
      />
      <table class="w-full table-fixed">
        <colgroup>
          <col class="w-[92px] xl:w-[118px]" />
          <col class="w-[98px] xl:w-[132px]" />
          <col class="w-[72px] xl:w-[86px]" />
          <col class="w-[76px] xl:w-[128px]" />
          <col />
          <col class="w-[30px]" />
        </colgroup>
        <thead class="text-left text-muted">
          <tr>
            <th class="font-normal">name</th>
            <th class="font-normal">formula</th>
            <th class="pr-3 text-right font-normal">value</th>
            <th class="font-normal">range</th>
            <th class="pl-[7px] font-normal">for</th>
            <th />
          </tr>
        </thead>
        <tbody>
          <template v-for="{ p, heading } in rows" :key="p.name">
            <tr v-if="heading !== null && (heading || rows.some((r) => r.p.group))">
              <td colspan="6" class="head pt-2 pb-0.5">{{ heading || 'others' }}</td>
            </tr>
            <tr :data-row="p.name">
              <td class="py-0.5 pr-2">
                <input
                  class="field w-full font-medium"
                  name="name"
                  :value="refused[`${p.name}/name`] ?? p.name"
                  :aria-label="`name of ${p.name}`"
                  @change="rename(p.name, $event)"
                />
              </td>
              <td class="pr-2">
                <input
                  class="field w-full"
                  name="formula"
                  :value="refused[`${p.name}/formula`] ?? p.value"
                  :aria-label="`formula of ${p.name}`"
                  :title="p.value"
                  :data-parameter="p.name"
                  @change="rework(p.name, p.value, p.note, $event)"
                />
              </td>
              <td class="truncate pr-3 text-right tabular-nums" :title="p.shown">
                {{ sliding?.name === p.name ? valueAt(p, sliding.share) : p.shown }}
              </td>
              <td class="pr-2">
                <input
                  v-if="p.share !== null && p.share !== undefined"
                  type="range"
                  class="w-full accent-[var(--accent)]"
                  min="0"
                  max="1"
                  step="0.005"
                  :value="sliding?.name === p.name ? sliding.share : p.share"
                  :aria-label="`${p.name} over its range`"
                  :aria-valuetext="p.shown"
                  :title="`from ${p.least} to ${p.most}`"
                  :data-slide="p.name"
                  @input="slide(p, $event)"
                  @change="slid(p, $event)"
                />
                <button
                  v-else
                  type="button"
                  class="text-muted underline hover:text-accent"
                  @click="open = open === p.name ? null : p.name"
                >
                  {{ p.least || p.most ? `${p.least ?? '…'} – ${p.most ?? '…'}` : 'none' }}
                </button>
              </td>
              <td class="pr-1">
                <input
                  class="field w-full border-transparent text-muted"
                  name="note"
                  :value="refused[`${p.name}/note`] ?? p.note"
                  :title="p.note"
                  :aria-label="`what ${p.name} is for`"
                  @change="annotate(p, $event)"
                />
              </td>
              <td>
                <button
                  type="button"
                  class="rounded p-1.5 text-muted hover:text-accent"
                  :aria-label="`More of ${p.name}`"
                  :aria-expanded="open === p.name"
                  :data-more="p.name"
                  @click="open = open === p.name ? null : p.name"
                >
                  <ListPlus :size="14" />
                </button>
              </td>
            </tr>
            <tr v-if="open === p.name">
              <td colspan="6" class="rounded bg-canvas p-2" :data-details="p.name">
                <div class="flex flex-wrap items-center gap-x-3 gap-y-1.5">
                  <label
                    v-for="[what, words] in [
                      ['least', 'from'],
                      ['most', 'to'],
                      ['stride', 'going by'],
                    ] as const"
                    :key="what"
                    class="flex items-center gap-1 text-muted"
                    >{{ words
                    }}<input
                      class="field w-20"
                      :name="what"
                      :value="refused[`${p.name}/${what}`] ?? p[what] ?? ''"
                      placeholder="any"
                      :aria-label="`${what} of ${p.name}`"
                      @change="limit(p, what, $event)"
                  /></label>
                  <label class="flex items-center gap-1 text-muted"
                    >heading<input
                      class="field w-28"
                      name="group"
                      :value="p.group ?? ''"
                      :aria-label="`heading of ${p.name}`"
                      @change="place(p, at(p), ($event.target as HTMLInputElement).value)"
                  /></label>
                  <span class="flex">
                    <button
                      type="button"
                      class="rounded p-1.5 hover:text-accent"
                      :aria-label="`Move ${p.name} up`"
                      @click="place(p, at(p) - 1, p.group)"
                    >
                      <ArrowUp :size="14" />
                    </button>
                    <button
                      type="button"
                      class="rounded p-1.5 hover:text-accent"
                      :aria-label="`Move ${p.name} down`"
                      @click="place(p, at(p) + 1, p.group)"
                    >
                      <ArrowDown :size="14" />
                    </button>
                    <button
                      type="button"
                      class="rounded p-1.5 hover:text-alert"
                      :aria-label="`Remove ${p.name}`"
                      @click="remove(p.name)"
                    >
                      <Trash2 :size="14" />
                    </button>
                  </span>
                </div>
                <p class="mt-1.5 text-muted">
                  <template v-if="p.usedBy.length">
                    used by
                    <button
                      v-for="s in p.usedBy"
                      :key="s"
                      type="button"
                      class="mr-1.5 text-ink underline hover:text-accent"
                      :data-used-by="s"
                      @click="show(s)"
                    >
                      {{ nameOf(s) }}
                    </button>
                  </template>
                  <template v-else>no step uses it by itself</template>
                </p>
              </td>
            </tr>
            <tr v-if="errors[p.name]">
              <td colspan="6" role="alert" class="rounded bg-alert-soft p-1 text-alert">
                {{ errors[p.name] }}
              </td>
            </tr>
          </template>
        </tbody>
      </table>
    </div>
    <form class="mt-2 flex gap-2 border-t border-hair pt-2" @submit.prevent="add">
      <input
        v-model="fresh.name"
        class="field w-28"
        placeholder="name"
        aria-label="name of a new parameter"
      />
      <input
        v-model="fresh.value"
        class="field w-36"
        placeholder="plate_w/2 + 3 mm"
        aria-label="formula of a new parameter"
      />
      <input
        v-model="fresh.note"
        class="field min-w-0 flex-1"
        placeholder="for"
        aria-label="what it is for"
      />
      <button class="button flex items-center gap-1"><Plus :size="13" />Add</button>
    </form>
    <p class="mt-1 text-muted">A table of names and values can be pasted here: all of it becomes one edit.</p>
    <p v-if="errors['+']" role="alert" class="mt-1 rounded bg-alert-soft p-1 text-alert">{{ errors['+'] }}</p>
  </SheetCard>
</template>
