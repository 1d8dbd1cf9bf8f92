import { shallowRef, watch, type Ref } from 'vue'
import type { PartCommand } from '../api/client'
import type { AnswerMessage, OfferMessage, WayOutMessage } from '../api/live'
import { useDatum } from './datum'
import { useForm } from './form'
import { stepMade } from './made'
import { usePart } from './part'

/** How long offers of the whole part wait for the picture, in milliseconds. */
const UNTIL_WHOLE = 300

/** What offers need of the work that they are made for. */
interface Working {
  sketch: Ref<string | null>
  bench: Ref<string>
  picks: Ref<string[]>
  answer: Ref<AnswerMessage | null>
  /** What a thing under the pointer would touch. */
  touched: Ref<string[]>
  /** What could be done instead of what was refused last. */
  outs: Ref<WayOutMessage[]>
  view: { towards: number[] }
  /** Takes back whatever was only shown. */
  quiet(): void
  enterSketch(id: string): Promise<void>
}

/** What the picks can become, and what happens when one of these offers is pressed. */
export function useOffering(work: Working) {
  const { sketch, bench, picks, answer, touched, outs, view, quiet, enterSketch } = work
  const part = usePart()
  const datum = useDatum()
  const form = useForm()
  const offers = shallowRef<OfferMessage[]>([])
  /** An offer that waits to be pressed again, since more goes than was picked. */
  const asked = shallowRef<OfferMessage | null>(null)

  async function press(offer: OfferMessage): Promise<void> {
    if (offer.id === 'quick') return datum.follow([...picks.value], view.towards)
    if (!offer.command && offer.form) {
      bench.value = 'Form'
      await form.openDraft(offer.form)
      picks.value = []
      return
    }
    if (!offer.command && offer.draft) {
      bench.value = 'Datum'
      await datum.openDraft(offer.draft)
      picks.value = []
      return
    }
    if (!offer.command) return
    if (offer.touches.length > 0 && asked.value?.id !== offer.id) {
      asked.value = offer
      touched.value = offer.touches
      return
    }
    const { command } = offer
    const made = await stepMade(part, async () => {
      const done = await send(command)
      if (done) picks.value = []
      return done
    })
    if (made?.kind === 'sketch') await enterSketch(made.id)
  }

  /** Sends a command that the server wrote; where it is refused, asks for the ways out. True when it was done. */
  async function send(command: string): Promise<boolean> {
    quiet()
    const problem = await part.send(JSON.parse(command) as PartCommand)
    if (!problem) {
      if (answer.value?.refusal) answer.value = { ...answer.value, refusal: null }
      return true
    }
    const live = part.live()
    if (live && (problem.code?.startsWith('sketch.') || problem.code === 'dimension.value'))
      outs.value = await live.waysOut(command)
    if (answer.value && problem.involved)
      answer.value = {
        ...answer.value,
        refusal: { code: '', message: problem.detail ?? '', where: null, involved: problem.involved },
      }
    return false
  }

  /** Removes the picks; asks first where more would go. What is offered is asked for anew: the keys may be quicker. */
  async function removePicked(): Promise<void> {
    const live = part.live()
    if (!live || picks.value.length === 0) return
    if (!asked.value) offers.value = await live.offers(sketch.value, picks.value)
    const offer = asked.value ?? offers.value.find((o) => o.id === 'remove')
    if (offer) await press(offer)
  }

  watch(
    () => picks.value.join('\n'),
    () => {
      asked.value = null
      touched.value = []
    },
  )

  let asking = 0
  watch(
    // In a sketch they follow what is drawn; else the model, once it is built.
    () =>
      [
        picks.value.join('\n'),
        sketch.value,
        sketch.value ? part.snapshot?.revision : part.settled && part.built?.revision,
      ] as const,
    async () => {
      const live = part.live()
      if (!live || !part.snapshot || (!sketch.value && !part.settled)) return
      // What is offered of a model that is being built may take its time; only the newest answer counts.
      const turn = ++asking
      // Of the whole part nothing is wanted before it is seen.
      if (!sketch.value && picks.value.length === 0) await new Promise((go) => setTimeout(go, UNTIL_WHOLE))
      if (turn !== asking) return
      const found = await live.offers(sketch.value, picks.value).catch(() => [])
      if (turn === asking) offers.value = found
    },
  )

  return { offers, asked, press, send, removePicked }
}
