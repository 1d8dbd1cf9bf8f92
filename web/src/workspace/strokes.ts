import { onBeforeUnmount, onMounted, ref, type Ref } from 'vue'
import { usePart } from '../stores/part'
import { useDatum } from '../stores/datum'
import { useForm } from '../stores/form'
import { useGauge } from '../stores/gauge'
import { useWork } from '../stores/work'
import { useActions } from './actions'
import { BENCHES } from '../stores/benches'

const TYPED = /^[\d.(+-]$/

/** Two-stroke shortcuts: a letter for the bench, then one for the tool. Digits go to the prompt line. */
export function useStrokes(to: { type(text: string): void; find(): void; keys(): void; close(): boolean }): {
  first: Ref<string | null>
} {
  const part = usePart()
  const work = useWork()
  const datum = useDatum()
  const form = useForm()
  const gauge = useGauge()
  const actions = useActions()
  const first = ref<string | null>(null)

  function onKey(event: KeyboardEvent): void {
    const target = event.target as HTMLElement
    if (target.closest('input, select, textarea, [role=dialog]')) return
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z') {
      event.preventDefault()
      void part.step(event.shiftKey ? 'redo' : 'undo')
      return
    }
    if ((event.ctrlKey || event.metaKey) && work.sketch && ['c', 'v'].includes(event.key.toLowerCase())) {
      event.preventDefault()
      void (event.key.toLowerCase() === 'c' ? work.copy() : work.paste())
      return
    }
    if (event.ctrlKey || event.metaKey || event.altKey) return
    if (event.key === 'Escape') return escape()
    if (event.key === 'Enter' && work.asked) return void work.press(work.asked)
    if (event.key === 'Enter') return enter(event)
    if (event.key === 'Delete') return void work.removePicked()
    if (event.key === '/') {
      event.preventDefault()
      to.find()
      return
    }
    if (event.key === '?') {
      event.preventDefault()
      to.keys()
      return
    }
    if (work.sketch && (work.answer?.fields.length ?? 0) > 0 && TYPED.test(event.key)) {
      event.preventDefault()
      to.type(event.key)
      return
    }
    if ((datum.open || form.open) && !work.sketch && TYPED.test(event.key)) {
      const inside = form.open ? '[data-testid=form-panel]' : 'footer'
      // A value is meant before a point, where both can be typed.
      const field =
        document.querySelector<HTMLInputElement>(`${inside} input[data-field]:not([data-field=place])`) ??
        document.querySelector<HTMLInputElement>(`${inside} [data-field=place]`)
      if (field) {
        event.preventDefault()
        field.focus()
        field.value = event.key
        field.dispatchEvent(new Event('input'))
        return
      }
    }
    if (!first.value && offerKey(event)) return
    if (!first.value && datum.answer && event.key.toLowerCase() === 'n') {
      event.preventDefault()
      datum.next(event.key === 'N' ? -1 : 1)
      return
    }
    if (!first.value && work.sketch && within(event)) return
    stroke(event)
  }

  /** A figure presses the offer that shows it, where nothing waits for figures. */
  function offerKey(event: KeyboardEvent): boolean {
    if (!/^[1-9]$/.test(event.key) || datum.open || form.open || gauge.open || work.picks.length === 0)
      return false
    const offer = document.querySelector<HTMLButtonElement>(`[data-offer-key="${event.key}"]`)
    if (!offer) return false
    event.preventDefault()
    offer.click()
    return true
  }

  /** Keys that act within the tool in use. */
  function within(event: KeyboardEvent): boolean {
    switch (event.key) {
      case 'v':
        if ((work.answer?.ways.length ?? 0) < 2) return false
        void work.input('way')
        break
      case 'n':
      case 'N':
        if ((work.answer?.solutions ?? 0) < 2) return false
        void work.input('next', { text: event.key === 'N' ? '-' : '+' })
        break
      case 'c':
        work.construction = !work.construction
        break
      default:
        return false
    }
    event.preventDefault()
    return true
  }

  function stroke(event: KeyboardEvent): void {
    const key = event.key.toLowerCase()
    if (first.value) {
      const action = actions.value.find((a) => a.bench === first.value && a.stroke === key)
      first.value = null
      if (action) {
        event.preventDefault()
        action.run()
      }
      return
    }
    const bench = BENCHES.find((b) => b.stroke === key)
    if (!bench) return
    event.preventDefault()
    first.value = bench.name
    work.bench = bench.name
  }

  function escape(): void {
    if (first.value) first.value = null
    // The card on top goes first.
    else if (to.close()) return
    else if (work.asked || work.outs.length > 0) work.quiet()
    else if (form.open) form.close()
    else if (gauge.open) gauge.close()
    else if (form.probed) form.probed = null
    else if (work.apart) work.apart = null
    else if (work.taking) work.taking = null
    else if (datum.replacing) datum.replacing = null
    else if (datum.open || datum.quick) datum.close()
    else if (work.awaitingPlane || work.moving) work.awaitingPlane = work.moving = null
    else if (work.sketch && work.tool === 'select' && work.picks.length === 0) work.leaveSketch()
    else if (work.sketch) void work.input('cancel')
    else work.picks = []
  }

  function enter(event: KeyboardEvent): void {
    const target = event.target as HTMLElement
    const tool = target.closest('[data-tool]') && (datum.open || work.taking || form.open)
    if (target.closest('button, a') && !tool) return
    // The button of the tool in use still has the focus after it was pressed: Enter goes on with the tool.
    if (tool) event.preventDefault()
    if (form.open) void form.accept()
    else if (datum.open && !work.sketch) void datum.accept()
    else if (work.taking === 'section') void work.take()
    else if (work.sketch) void work.input('accept')
  }

  onMounted(() => window.addEventListener('keydown', onKey))
  onBeforeUnmount(() => window.removeEventListener('keydown', onKey))
  return { first }
}
