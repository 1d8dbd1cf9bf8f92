// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import { usePart } from '../stores/part'
import { useWork } from '../stores/work'
import { freshStores, mounted, settle } from '../testing'
import WaysOut from './WaysOut.vue'

describe('a refusal', () => {
  it('is not there while nothing was refused', async () => {
    freshStores()
    expect((await mounted(WaysOut)).text()).toBe('')
  })

  it('has its ways on as buttons, shown before they are taken', async () => {
    freshStores()
    const [part, work] = [usePart(), useWork()]
    const sent: string[] = []
    work.send = (command: string) => {
      sent.push(command)
      return Promise.resolve(true)
    }
    const preview = [{ kind: 'line', points: [0, 0, 1, 1] }]
    part.notice = 'This clashes with 40 mm.'
    work.outs = [{ words: 'take 40 mm away', command: '{"command":"x"}', preview }] as never
    const shown = await mounted(WaysOut)
    expect(shown.part('refusal').textContent).toContain('This clashes with 40 mm.')
    const way = shown.all('li button')[0]!
    way.dispatchEvent(new Event('pointerenter'))
    await settle()
    expect(work.foreseen).toEqual(preview)
    way.dispatchEvent(new Event('pointerleave'))
    await settle()
    expect(work.foreseen).toEqual([])
    await shown.press(way)
    expect(sent).toEqual(['{"command":"x"}'])
    expect(part.notice).toBeNull()
  })
})
