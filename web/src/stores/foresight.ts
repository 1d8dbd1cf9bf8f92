import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import type { CurveMessage, OfferMessage, RebuiltMessage } from '../api/live'
import type { DatumAnswer, DatumDraft } from '../api/datums'
import type { FormDraft, PreviewMessage } from '../api/forms'
import type { GaugeValue } from '../api/gauge'
import { usePart } from './part'

/** How long the pointer rests on an offer before the server is asked what it would make, in milliseconds. */
const PAUSE = 120

/** A reading as it would be drawn. */
export type ForeseenReading = Pick<GaugeValue, 'shown' | 'points'>

const triples = (flat: number[]): [number, number, number][] =>
  Array.from({ length: flat.length / 3 }, (_, i) => flat.slice(3 * i, 3 * i + 3) as [number, number, number])

/** What an offer under the pointer would make, shown in the view until the pointer leaves it. Nothing is kept. */
export const useForesight = defineStore('foresight', () => {
  const part = usePart()
  const curves = shallowRef<CurveMessage[]>([])
  const datum = shallowRef<DatumAnswer | null>(null)
  const form = shallowRef<PreviewMessage | null>(null)
  const reading = shallowRef<ForeseenReading | null>(null)
  /** Bodies that are drawn through what is shown, to compare. */
  const beside = shallowRef<RebuiltMessage['bodies']>([])
  let turn = 0

  function hide(): void {
    turn++
    curves.value = []
    datum.value = null
    form.value = null
    reading.value = null
  }

  /** Shows an offer; of a sketch, where its step is given. Of several in a row only the newest counts. */
  async function show(offer: OfferMessage, sketch: string | null): Promise<void> {
    hide()
    const now = turn
    const live = part.live()
    if (!live) return
    if (sketch) {
      if (!offer.command || !/^(tie|merge|part|handles)/.test(offer.id)) return
      const found = await live.preview(sketch, offer.command)
      if (now === turn) curves.value = found ?? []
      return
    }
    if (offer.points.length >= 6) reading.value = { shown: offer.detail, points: triples(offer.points) }
    if (!offer.draft && !offer.form) return
    await new Promise((go) => setTimeout(go, PAUSE))
    if (now !== turn) return
    if (offer.draft) {
      const draft = JSON.parse(offer.draft) as Partial<DatumDraft>
      const json = await live.datum(
        JSON.stringify({ conditions: [], picks: [], flip: false, name: '', ...draft }),
      )
      if (now === turn && json) datum.value = JSON.parse(json) as DatumAnswer
    } else {
      const made = await live.previewForm(JSON.parse(offer.form!) as FormDraft, false, true)
      if (now === turn && made?.state === 'built') form.value = made
    }
  }

  return { curves, datum, form, reading, beside, show, hide }
})
