import { nextTick, onBeforeUnmount, onMounted } from 'vue'
import { useWork } from '../stores/work'

const PROMPT = 'footer[aria-label=Prompt]'
const ELSEWHERE = 'input, select, textarea, [role=dialog]'

/** What one key was when it was pressed, and where the pointer was then. */
interface Press {
  init: KeyboardEventInit
  pointer: { x: number; y: number; reach: number }
}

/** Typing ahead: keys and clicks that come while something is still being answered wait in one queue, in order, and each meets the
 *  state that the ones before it led to, however long that takes. */
export function useAhead(): void {
  const work = useWork()
  const queue: (Press | (() => Promise<void> | void))[] = []
  const replayed = new WeakSet<Event>()
  let running = false

  function onKey(event: KeyboardEvent): void {
    const target = event.target as HTMLElement
    if (replayed.has(event) || !work.sketch || (work.underWay === 0 && queue.length === 0)) return
    if (!target.closest(PROMPT) && target.closest(ELSEWHERE)) return
    // Keys that only go with others mean nothing by themselves.
    if (['Shift', 'Control', 'Alt', 'Meta', 'Dead', 'Unidentified'].includes(event.key)) return
    event.preventDefault()
    event.stopImmediatePropagation()
    const { key, code, shiftKey, ctrlKey, altKey, metaKey } = event
    queue.push({ init: { key, code, shiftKey, ctrlKey, altKey, metaKey }, pointer: { ...work.pointer } })
    void run()
  }

  /** Does something after the keys that wait; at once where none does. */
  function after(act: () => Promise<void> | void): void {
    if (queue.length === 0 && !running) return void act()
    queue.push(act)
    void run()
  }

  async function run(): Promise<void> {
    if (running) return
    running = true
    try {
      for (;;) {
        await settled()
        const next = queue.shift()
        if (!next) return
        if (typeof next === 'function') await next()
        else press(next)
      }
    } finally {
      running = false
      if (queue.length > 0) void run()
    }
  }

  /** Waits until all that was sent is answered and shown. */
  async function settled(): Promise<void> {
    do {
      await work.idle()
      await nextTick()
      await nextTick()
    } while (work.underWay > 0)
  }

  /** A key as if it were pressed now, with the pointer where it was. */
  function press({ init, pointer }: Press): void {
    const now = { ...work.pointer }
    Object.assign(work.pointer, pointer)
    const target = document.activeElement ?? document.body
    const event = new KeyboardEvent('keydown', { ...init, bubbles: true, cancelable: true })
    replayed.add(event)
    if (target.dispatchEvent(event) && target instanceof HTMLInputElement) write(target, init)
    Object.assign(work.pointer, now)
  }

  /** What the browser does with a key in a field when it was really pressed there. */
  function write(field: HTMLInputElement, { key = '', shiftKey, ctrlKey, metaKey }: KeyboardEventInit): void {
    if (ctrlKey || metaKey) return
    if (key === 'Tab') {
      const fields = [...document.querySelectorAll<HTMLInputElement>(`${PROMPT} input[data-field]`)]
      fields[fields.indexOf(field) + (shiftKey ? -1 : 1)]?.focus()
      return
    }
    const [from, to] = [field.selectionStart ?? field.value.length, field.selectionEnd ?? field.value.length]
    if (key.length === 1) field.setRangeText(key, from, to, 'end')
    else if (key === 'Backspace')
      field.setRangeText('', from === to ? Math.max(0, from - 1) : from, to, 'end')
    else return
    field.dispatchEvent(new Event('input', { bubbles: true }))
  }

  onMounted(() => {
    work.after = after
    window.addEventListener('keydown', onKey, { capture: true })
  })
  onBeforeUnmount(() => {
    work.after = (act) => void act()
    window.removeEventListener('keydown', onKey, { capture: true })
  })
}
