import { createPinia, setActivePinia } from 'pinia'
import { createApp, nextTick, type Component } from 'vue'

/** A component as it stands on a page, for specs: what is in it, pressed and typed into. */
export interface Mounted {
  root: HTMLElement
  /** The one element of a test id; an error where there is none. */
  part(testid: string): HTMLElement
  all<E extends HTMLElement = HTMLElement>(selector: string): E[]
  /** All text, with single spaces. */
  text(): string
  press(element: Element): Promise<void>
  type(element: Element, text: string, event?: string): Promise<void>
  leave(): void
}

/** Stores of a spec, made anew. */
export function freshStores(): void {
  setActivePinia(createPinia())
}

/** Lets everything that waits for an answer go on. */
export async function settle(): Promise<void> {
  for (let i = 0; i < 4; i++) {
    await new Promise((go) => setTimeout(go, 0))
    await nextTick()
  }
}

/** Puts a component on the page, with the stores that are active. */
export async function mounted(component: Component, props: Record<string, unknown> = {}): Promise<Mounted> {
  const root = document.createElement('div')
  document.body.append(root)
  const app = createApp(component, props)
  const warnings: string[] = []
  app.config.warnHandler = (warning) => warnings.push(warning)
  app.mount(root)
  await settle()
  if (warnings.length) throw new Error(warnings.join('\n'))
  return {
    root,
    part(testid) {
      const found = root.querySelector<HTMLElement>(`[data-testid="${testid}"]`)
      if (!found) throw new Error(`nothing is called ${testid}`)
      return found
    },
    all: (selector) => [...root.querySelectorAll(selector)] as never,
    text: () => (root.textContent ?? '').replace(/\s+/g, ' ').trim(),
    async press(element) {
      ;(element as HTMLElement).click()
      await settle()
    },
    async type(element, text, event = 'input') {
      ;(element as HTMLInputElement).value = text
      element.dispatchEvent(new Event(event, { bubbles: true }))
      await settle()
    },
    leave() {
      app.unmount()
      root.remove()
    },
  }
}
