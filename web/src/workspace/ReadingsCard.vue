<script setup lang="ts">
import { ref, watch } from 'vue'
import { api, type PartCommand } from '../api/client'
import type { components } from '../api/schema'
import { useAsking } from '../stores/asking'
import { useLook } from '../stores/look'
import { usePart } from '../stores/part'
import SheetCard from './SheetCard.vue'

type Row = components['schemas']['ReadingRow']

/** Every reading with its limits, edited in place. */
const emit = defineEmits<{ close: [] }>()
const part = usePart()
const rows = ref<Row[]>([])
const asking = useAsking()
const look = useLook()

/** Questions about a reading are asked in a card of their own. */
function ask(reading: string): void {
  asking.begin('drives', reading)
  look.card = 'ask'
}

watch(
  () => part.built?.revision,
  async () => {
    const id = part.snapshot?.id
    if (!id) return
    const { data } = await api.GET('/api/parts/{id}/readings', { params: { path: { id } } })
    rows.value = data ?? []
  },
  { immediate: true },
)

const WORDS: Record<string, string> = { none: '', pass: 'passes', near: 'near a limit', fail: 'fails' }
const TINT: Record<string, string> = {
  pass: 'text-[var(--steel)]',
  near: 'text-[var(--copper)] font-medium',
  fail: 'text-alert font-semibold',
}

async function limit(row: Row, side: 'least' | 'most', event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const text = input.value.trim()
  if (text === row[side]) return
  const refused = await part.send({
    command: 'set-limits',
    step: row.step,
    least: side === 'least' ? text : row.least,
    most: side === 'most' ? text : row.most,
  } as PartCommand)
  if (refused) input.value = row[side]
}
</script>

<template>
  <SheetCard
    named="Readings"
    closes="Close the readings"
    class="w-[780px] max-w-[calc(100%-24px)]"
    data-testid="readings-card"
    @close="emit('close')"
  >
    <p v-if="rows.length === 0" class="text-muted">
      There are no readings yet: measure something, then press a value to keep it.
    </p>
    <div v-else class="max-h-[52vh] overflow-x-hidden overflow-y-auto">
      <table class="w-full">
        <thead class="text-left text-muted">
          <tr>
            <th class="pr-1.5 font-normal">no.</th>
            <th class="font-normal">name</th>
            <th class="font-normal">reading</th>
            <th class="text-right font-normal">value</th>
            <th class="pl-3 font-normal">least</th>
            <th class="pl-1 font-normal">most</th>
            <th class="pl-2 font-normal">limits</th>
            <th />
          </tr>
        </thead>
        <tbody class="tabular-nums">
          <template v-for="r in rows" :key="r.step">
            <tr class="border-t border-hair" :data-reading="r.step">
              <td class="py-0.5 pr-1.5">{{ r.number }}</td>
              <td class="max-w-32 truncate" :title="r.formula ? `formulas use it as ${r.formula}` : r.name">
                {{ r.name }}
              </td>
              <td
                class="max-w-28 truncate text-muted"
                :title="`${part.states.get(r.step)?.summary ?? r.what} ${r.note}`"
              >
                {{ r.what }}
              </td>
              <td class="text-right font-medium whitespace-nowrap">{{ r.value || '–' }}</td>
              <td class="pl-3">
                <input
                  class="field w-[76px] py-0"
                  :value="r.least"
                  :aria-label="`Least of ${r.name}`"
                  :data-least="r.step"
                  @change="limit(r, 'least', $event)"
                />
              </td>
              <td class="pl-1">
                <input
                  class="field w-[76px] py-0"
                  :value="r.most"
                  :aria-label="`Most of ${r.name}`"
                  :data-most="r.step"
                  @change="limit(r, 'most', $event)"
                />
              </td>
              <td class="pl-2 whitespace-nowrap" :class="TINT[r.verdict]" :data-verdict="r.verdict">
                {{ r.value ? WORDS[r.verdict] : 'cannot be read' }}
              </td>
              <td class="pl-2 text-right">
                <button
                  type="button"
                  class="rounded px-1 py-1 whitespace-nowrap text-muted underline hover:text-accent"
                  :data-moves="r.step"
                  @click="ask(r.step)"
                >
                  what moves it …
                </button>
              </td>
            </tr>
          </template>
        </tbody>
      </table>
    </div>
    <div v-if="rows.length" class="mt-2 flex gap-2">
      <a
        class="button inline-block"
        :href="`/api/parts/${part.snapshot?.id}/readings.csv`"
        download
        data-testid="readings-csv"
        >Save as CSV</a
      >
    </div>
  </SheetCard>
</template>
