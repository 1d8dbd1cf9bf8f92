// @vitest-environment happy-dom
import { beforeEach, describe, expect, it } from 'vitest'
import { useDatum } from '../stores/datum'
import { freshStores, mounted, settle, type Mounted } from '../testing'
import DatumPanel from './DatumPanel.vue'

const answer = (more: object): never =>
  ({
    draft: { makes: 'plane', conditions: [], picks: [], flip: false, name: '' },
    conditions: [],
    fields: [],
    solutions: [{ label: '', frame: {} }],
    chosen: 0,
    readings: [],
    extensions: [],
    nearest: [],
    left: [],
    free: 0,
    refusal: null,
    command: {},
    prompt: '',
    ...more,
  }) as never
let panel: Mounted

async function open(more: object): Promise<void> {
  freshStores()
  useDatum().answer = answer(more)
  panel = await mounted(DatumPanel)
}

describe('the panel of a datum', () => {
  beforeEach(() => (document.body.innerHTML = ''))

  it('says how far it is determined', async () => {
    await open({})
    expect(panel.part('datum-state').textContent).toBe('set')
    await open({ free: 1 })
    expect(panel.part('datum-state').textContent).toBe('1 freedom left')
    await open({ solutions: [{ label: 'a' }, { label: 'b' }] })
    expect(panel.part('datum-state').textContent).toBe('2 solutions')
    await open({ refusal: { message: 'They are parallel.' }, command: null })
    expect(panel.part('datum-state').textContent).toBe('refused')
    expect(panel.part('datum-refusal').textContent!.trim()).toBe('They are parallel.')
    expect((panel.part('datum-accept') as HTMLButtonElement).disabled).toBe(true)
  })

  it('chooses among solutions', async () => {
    await open({ solutions: [{ label: 'left' }, { label: 'right' }] })
    const chosen: number[] = []
    useDatum().choose = (index: number) => void chosen.push(index)
    await panel.press(panel.all('[data-solution=right]')[0]!)
    expect(chosen).toEqual([1])
  })

  it('stands in another relation to a pick where one is chosen, and says the one that is', async () => {
    const condition = { relation: 'on', of: ['a'], values: [] }
    const other = { relation: 'parallel', of: ['a'], values: [] }
    await open({
      draft: { makes: 'plane', conditions: [condition], picks: [], flip: false, name: '' },
      conditions: [
        {
          condition,
          words: 'on',
          of: [{ reference: 'a', words: 'top of Plate', lost: false }],
          others: [{ words: 'parallel to', condition: other }],
        },
      ],
    })
    const select = panel.all<HTMLSelectElement>('[data-relation="0"]')[0]!
    expect(select.selectedOptions[0]!.textContent).toBe('on')
    const changed: unknown[] = []
    useDatum().change = ((index: number, to: (c: object) => object) => {
      changed.push([index, to({})])
      return Promise.resolve()
    }) as never
    await panel.type(select, '0', 'change')
    await settle()
    expect(changed).toEqual([[0, other]])
    expect(panel.text()).toContain('top of Plate')
  })
})
