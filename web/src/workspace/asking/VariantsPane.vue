<script setup lang="ts">
import { Plus, Trash2 } from 'lucide-vue-next'
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { give, saveAs } from '../../api/save'
import { show, useAsking, type VariantsAnswer } from '../../stores/asking'
import { useForesight } from '../../stores/foresight'
import { useFormats } from '../../stores/formats'
import { usePart } from '../../stores/part'
import AskBusy from './AskBusy.vue'
import { cells, csv } from './chart'

/** The table of variants: parameters as columns, readings beside them. */
const asking = useAsking()
const part = usePart()
const formats = useFormats()
onMounted(formats.load)
const answer = ref<VariantsAnswer | null>(null)
const refused = ref('')
const column = ref('')
const extra = ref<string[]>([])
const format = ref('step')
const rows = computed(() => part.snapshot?.variants ?? [])
type Row = (typeof rows.value)[number]
const columns = computed(() => [
  ...new Set([...rows.value.flatMap((v) => v.values.map((c) => c.name)), ...extra.value]),
])
const others = computed(() =>
  (part.snapshot?.parameters ?? []).map((p) => p.name).filter((n) => !columns.value.includes(n)),
)
const cell = (row: Row, name: string): string => row.values.find((c) => c.name === name)?.value ?? ''

async function read(): Promise<void> {
  if (rows.value.length === 0) return
  const told = await asking.ask<VariantsAnswer>({ ask: 'variants' })
  answer.value = typeof told === 'string' ? null : told
  if (typeof told === 'string') refused.value = told
}
watch(() => part.snapshot?.revision, read, { immediate: true })

const foresight = useForesight()
/** Name of the variant that is held against the part as it is. */
const compared = ref('')
onBeforeUnmount(() => part.leave())
watch(
  () => part.looking,
  (now) => {
    if (now !== null) return
    compared.value = ''
    foresight.beside = []
  },
  { flush: 'sync' },
)

/** Shows a variant in place of the part, which is drawn through it; once more, and all is as it was. */
async function compare(row: Row): Promise<void> {
  const again = compared.value === row.name
  part.leave()
  compared.value = again ? '' : row.name
  if (again) return
  const was = part.standing()
  const shown = await part.tryOut(
    { command: 'choose-variant', name: row.name },
    () => compared.value === row.name,
  )
  if (shown) foresight.beside = was
}

/** What differs between a variant and the part as it is: what is set, then what is read. */
const differences = computed(() => {
  const row = rows.value.find((r) => r.name === compared.value)
  const [now, then] = ['', compared.value].map((name) => answer.value?.rows.find((a) => a.name === name))
  if (!row) return []
  const found: { what: string; now: string; then: string; by: string }[] = []
  for (const { name, value } of row.values) {
    const p = part.snapshot?.parameters.find((q) => q.name === name)
    if (p && p.value !== value && p.shown !== value)
      found.push({ what: name, now: p.shown, then: value, by: '' })
  }
  const names = (ids: readonly string[] | undefined): string =>
    (ids ?? []).map((id) => part.snapshot?.steps.find((s) => s.id === id)?.name ?? id).join(', ') || 'nothing'
  if (row.suppressed) {
    const left = (part.snapshot?.steps ?? []).filter((s) => s.suppressed).map((s) => s.id)
    if (names(left) !== names(row.suppressed))
      found.push({ what: 'left out', now: names(left), then: names(row.suppressed), by: '' })
  }
  if (row.material && row.material.name !== part.snapshot?.material.name)
    found.push({ what: 'material', now: part.snapshot!.material.name, then: row.material.name, by: '' })
  answer.value?.columns.forEach((c, i) => {
    const [a, b] = [now?.readings[i], then?.readings[i]]
    if (a === b || (a == null && b == null)) return
    const text = (v: number | null | undefined): string => (v == null ? 'nothing' : show(v, c.measure))
    const by = a != null && b != null ? `${b > a ? '+' : '−'}${show(Math.abs(b - a), c.measure)}` : ''
    found.push({ what: c.name, now: text(a), then: text(b), by })
  })
  return found
})

async function keep(next: Row[]): Promise<boolean> {
  refused.value = await asking.change({ command: 'set-variants', variants: next })
  return !refused.value
}

async function set(row: Row, name: string, event: Event): Promise<void> {
  const field = event.target as HTMLInputElement
  const text = field.value.trim()
  const values = text
    ? row.values.some((c) => c.name === name)
      ? row.values.map((c) => (c.name === name ? { name, value: text } : c))
      : [...row.values, { name, value: text }]
    : row.values.filter((c) => c.name !== name)
  if (!(await keep(rows.value.map((r) => (r === row ? { ...row, values } : r))))) field.select()
}

const rename = (row: Row, event: Event): Promise<boolean> =>
  keep(rows.value.map((r) => (r === row ? { ...row, name: (event.target as HTMLInputElement).value } : r)))

/** A row with what the columns are now. */
async function add(): Promise<void> {
  const names = rows.value.map((r) => r.name)
  let n = rows.value.length + 1
  while (names.includes(`Variant ${n}`)) n++
  const values = columns.value.map((name) => ({
    name,
    value: part.snapshot?.parameters.find((p) => p.name === name)?.value ?? '',
  }))
  await keep([...rows.value, { name: `Variant ${n}`, values } as Row])
}

async function choose(row: Row): Promise<void> {
  refused.value = await asking.change({ command: 'choose-variant', name: row.name })
}

/** What steps are left out now becomes what the variant leaves out. */
const suppress = (row: Row, on: boolean): Promise<boolean> =>
  keep(
    rows.value.map((r) =>
      r === row
        ? ({
            ...row,
            suppressed: on
              ? (part.snapshot?.steps ?? []).filter((s) => s.suppressed).map((s) => s.id)
              : undefined,
          } as Row)
        : r,
    ),
  )

const material = (row: Row, on: boolean): Promise<boolean> =>
  keep(
    rows.value.map((r) =>
      r === row ? ({ ...row, material: on ? part.snapshot!.material : undefined } as Row) : r,
    ),
  )

function saveTable(): void {
  give(
    'variants.csv',
    new Blob(
      [
        csv([
          ['variant', ...columns.value, ...(answer.value?.columns.map((c) => c.name) ?? [])],
          ...rows.value.map((r) => {
            const told = answer.value?.rows.find((a) => a.name === r.name)
            return [
              r.name,
              ...columns.value.map((c) => cell(r, c)),
              ...(answer.value?.columns.map((c, i) => {
                const value = told?.readings[i]
                return value === null || value === undefined ? null : show(value, c.measure)
              }) ?? []),
            ]
          }),
        ]),
      ],
      { type: 'text/csv' },
    ),
  )
}

/** A table from elsewhere: its first row names the parameters, its first column the variants. */
async function paste(event: ClipboardEvent): Promise<void> {
  const table = cells(event.clipboardData?.getData('text/plain') ?? '')
  if (table.length < 2 || table[0]!.length < 2) return
  event.preventDefault()
  const [head, ...body] = table as [string[], ...string[][]]
  const known = new Set(part.snapshot?.parameters.map((p) => p.name))
  const at = head.map((name, i) => ({ name, i })).filter(({ name, i }) => i > 0 && known.has(name))
  if (at.length === 0) {
    refused.value = `None of the columns (${head.slice(1).join(', ')}) is a parameter of the part.`
    return
  }
  const fresh = body.map((cellsOf) => ({
    ...(rows.value.find((r) => r.name === cellsOf[0]) ?? {}),
    name: cellsOf[0] ?? '',
    values: at.flatMap(({ name, i }) => (cellsOf[i] ? [{ name, value: cellsOf[i]! }] : [])),
  }))
  const names = new Set(fresh.map((f) => f.name))
  await keep([...rows.value.filter((r) => !names.has(r.name)), ...(fresh as Row[])])
}

const download = async (only = ''): Promise<void> => {
  const query = new URLSearchParams({ format: format.value, ...(only ? { only } : {}) })
  refused.value =
    (await saveAs(`/api/parts/${part.snapshot?.id}/variants.zip?${query}`, 'variants.zip')) ?? ''
}
</script>

<template>
  <div data-testid="variants" @paste="paste">
    <p v-if="rows.length === 0" class="text-muted">
      A variant is a named set of values: sizes of a family, left and right, with and without. Choose a
      parameter that differs, then add one; or paste a table whose first row names parameters.
    </p>
    <p v-if="refused" role="alert" class="my-2 rounded bg-alert-soft p-1.5 text-alert">{{ refused }}</p>
    <AskBusy v-if="asking.busy" words="building each" />
    <div class="overflow-x-auto">
      <table v-if="rows.length" class="w-full tabular-nums">
        <thead class="text-left text-muted">
          <tr>
            <th class="font-normal">variant</th>
            <th v-for="c in columns" :key="c" class="pl-1 font-normal">{{ c }}</th>
            <th v-for="c in answer?.columns" :key="c.reading" class="pl-2 text-right font-normal">
              {{ c.name }}
            </th>
            <th />
          </tr>
        </thead>
        <tbody>
          <tr v-if="answer?.rows[0]" class="text-muted">
            <td class="py-0.5">as it is</td>
            <td v-for="c in columns" :key="c" class="pl-2">
              {{ part.snapshot?.parameters.find((p) => p.name === c)?.shown }}
            </td>
            <td v-for="(c, i) in answer.columns" :key="c.reading" class="pl-2 text-right whitespace-nowrap">
              {{ answer.rows[0].readings[i] != null ? show(answer.rows[0].readings[i]!, c.measure) : '–' }}
            </td>
            <td />
          </tr>
          <template v-for="r in rows" :key="r.name">
            <tr
              :data-variant="r.name"
              :class="part.snapshot?.variant === r.name ? 'bg-accent-soft' : 'bg-sheet'"
            >
              <td class="py-0.5">
                <input
                  class="field w-24 font-medium xl:w-28"
                  :value="r.name"
                  :aria-label="`name of ${r.name}`"
                  @change="rename(r, $event)"
                />
              </td>
              <td v-for="c in columns" :key="c" class="pl-1">
                <input
                  class="field w-20 xl:w-24"
                  :value="cell(r, c)"
                  :title="cell(r, c)"
                  :aria-label="`${c} of ${r.name}`"
                  placeholder="as it is"
                  @change="set(r, c, $event)"
                />
              </td>
              <td
                v-for="(c, i) in answer?.columns"
                :key="c.reading"
                class="pl-2 text-right whitespace-nowrap"
                :class="answer?.rows.find((a) => a.name === r.name)?.out[i] ? 'font-semibold text-alert' : ''"
              >
                {{
                  answer?.rows.find((a) => a.name === r.name)?.readings[i] != null
                    ? show(answer.rows.find((a) => a.name === r.name)!.readings[i]!, c.measure)
                    : '–'
                }}
              </td>
              <td class="sticky right-0 bg-inherit pl-2 whitespace-nowrap">
                <button
                  type="button"
                  class="button py-0.5"
                  :disabled="part.snapshot?.variant === r.name"
                  :data-choose="r.name"
                  @click="choose(r)"
                >
                  {{ part.snapshot?.variant === r.name ? 'shown' : 'Show' }}
                </button>
                <button
                  type="button"
                  class="ml-1 underline hover:text-accent"
                  :aria-pressed="compared === r.name"
                  :data-compare="r.name"
                  title="Shows what differs from the part as it is"
                  @click="compare(r)"
                >
                  compare
                </button>
                <button type="button" class="ml-1 underline hover:text-accent" @click="download(r.name)">
                  save
                </button>
                <button
                  type="button"
                  class="ml-1 rounded p-1.5 text-muted hover:text-alert"
                  :aria-label="`Remove ${r.name}`"
                  @click="keep(rows.filter((o) => o !== r))"
                >
                  <Trash2 :size="13" />
                </button>
              </td>
            </tr>
            <tr v-if="answer?.rows.find((a) => a.name === r.name)?.why">
              <td
                :colspan="columns.length + (answer?.columns.length ?? 0) + 2"
                role="alert"
                class="rounded bg-alert-soft p-1 text-alert"
              >
                {{ answer.rows.find((a) => a.name === r.name)!.why }}
              </td>
            </tr>
            <tr class="text-muted">
              <td :colspan="columns.length + 2" class="pb-1">
                <label class="mr-3"
                  ><input
                    type="checkbox"
                    :checked="!!r.suppressed"
                    @change="suppress(r, ($event.target as HTMLInputElement).checked)"
                  />
                  {{
                    r.suppressed
                      ? `leaves out ${r.suppressed.length} steps`
                      : 'leaves out what is left out now'
                  }}</label
                >
                <label
                  ><input
                    type="checkbox"
                    :checked="!!r.material"
                    @change="material(r, ($event.target as HTMLInputElement).checked)"
                  />
                  {{ r.material ? `of ${r.material.name}` : 'of what the part is made of now' }}</label
                >
              </td>
            </tr>
          </template>
        </tbody>
      </table>
    </div>
    <div v-if="compared" class="mt-2 rounded bg-accent-soft p-2" role="status" data-testid="compared">
      <p v-if="differences.length === 0">{{ compared }} and the part as it is do not differ.</p>
      <table v-else class="w-full tabular-nums">
        <thead class="text-left text-muted">
          <tr>
            <th class="font-normal">what differs</th>
            <th class="text-right font-normal">as it is</th>
            <th class="text-right font-normal">{{ compared }}</th>
            <th class="text-right font-normal">by</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="d in differences" :key="d.what" :data-differs="d.what">
            <td>{{ d.what }}</td>
            <td class="text-right">{{ d.now }}</td>
            <td class="text-right font-medium">{{ d.then }}</td>
            <td class="text-right">{{ d.by }}</td>
          </tr>
        </tbody>
      </table>
      <p class="mt-1 text-muted">
        The view shows {{ compared }}; the part as it is is drawn through it.
        <button type="button" class="underline hover:text-accent" @click="part.leave()">as it is</button>
      </p>
    </div>
    <div class="mt-2 flex flex-wrap items-center gap-2">
      <select
        v-model="column"
        class="field"
        aria-label="a parameter that differs"
        data-testid="variant-column"
        @change="(column && extra.push(column), (column = ''))"
      >
        <option value="">add a column …</option>
        <option v-for="o in others" :key="o" :value="o">{{ o }}</option>
      </select>
      <button
        type="button"
        class="button flex items-center gap-1"
        :disabled="columns.length === 0"
        data-testid="add-variant"
        @click="add"
      >
        <Plus :size="13" />Add a variant
      </button>
      <template v-if="rows.length">
        <button type="button" class="button" data-testid="variants-csv" @click="saveTable">
          Save as CSV
        </button>
        <select v-model="format" class="field" aria-label="format of the files">
          <option v-for="f in formats.all.filter((f) => !f.of)" :key="f.ending" :value="f.ending">
            {{ f.label }}
          </option>
        </select>
        <button type="button" class="button" data-testid="save-variants" @click="download()">
          Save all as files
        </button>
      </template>
    </div>
  </div>
</template>
