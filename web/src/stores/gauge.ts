import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import type { GaugeAnswer, GaugeInput, GaugeValue } from '../api/gauge'
import type { PartCommand } from '../api/client'
import { usePart } from './part'

const SLOTS = ['first', 'second', 'along']

/** The measuring tool: two slots and a direction; the core says what they have in common. */
export const useGauge = defineStore('gauge', () => {
  const part = usePart()
  const answer = shallowRef<GaugeAnswer | null>(null)
  /** The value whose foot points are drawn. */
  const shown = ref<string | null>(null)
  const open = computed(() => answer.value !== null)
  const references = computed(() =>
    (answer.value?.slots ?? [])
      .flatMap((s) => s.text.split('@')[0]!.split(' & '))
      .filter((t) => t.length > 0),
  )
  const drawn = computed<GaugeValue | null>(() => {
    const values = answer.value?.values ?? []
    return values.find((v) => v.what === shown.value) ?? values.find((v) => v.points.length >= 2) ?? null
  })
  let busy = Promise.resolve()

  function take(json: string | null | undefined): void {
    const found = json ? (JSON.parse(json) as GaugeAnswer) : null
    if (found?.slots) answer.value = found
    else if (found?.refusal) part.notice = found.refusal
  }

  function ask(input: GaugeInput | null): Promise<void> {
    busy = busy.then(async () => {
      const draft = answer.value?.draft ?? { active: 'first' }
      take(await part.live()?.gauge(JSON.stringify(draft), input ? JSON.stringify(input) : null))
    })
    return busy
  }

  /** Begins with what is picked. */
  async function begin(picks: readonly string[]): Promise<void> {
    close()
    await ask(null)
    for (const [i, text] of picks.slice(0, SLOTS.length).entries())
      await ask({ do: 'pick', slot: SLOTS[i]!, text })
  }

  const pick = (text: string, more: boolean): Promise<void> => ask({ do: 'pick', text, more })

  async function keep(value: GaugeValue): Promise<void> {
    await part.send(value.keep as PartCommand)
  }

  function close(): void {
    answer.value = null
    shown.value = null
  }

  // The values follow the model.
  watch(
    () => part.built?.revision,
    () => {
      if (open.value) void ask(null)
    },
  )

  return { answer, open, references, drawn, shown, ask, begin, pick, keep, close }
})
