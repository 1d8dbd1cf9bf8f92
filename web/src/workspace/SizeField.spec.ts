// @vitest-environment happy-dom
import { beforeEach, describe, expect, it } from 'vitest'
import { usePart } from '../stores/part'
import { freshStores, mounted, settle, type Mounted } from '../testing'
import SizeField from './SizeField.vue'

const sent: unknown[] = []
let refusal: { detail: string } | null = null
let field: Mounted
let input: HTMLInputElement

describe('a size in its field', () => {
  beforeEach(async () => {
    freshStores()
    sent.length = 0
    refusal = null
    usePart().send = ((command: unknown) => {
      sent.push(command)
      return Promise.resolve(refusal)
    }) as never
    field = await mounted(SizeField, {
      step: 'extrude1',
      size: { field: 'length', formula: 't * 2', shown: '12 mm', tolerance: null, written: null },
    })
    input = field.all<HTMLInputElement>('input')[0]!
  })

  it('shows the formula, and its value as a hint', () => {
    expect([input.value, input.title]).toEqual(['t * 2', '= 12 mm'])
  })

  it('sends what was typed once, and nothing where nothing was', async () => {
    input.dispatchEvent(new Event('blur'))
    await settle()
    expect(sent).toEqual([])
    await field.type(input, '14 mm')
    input.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter' }))
    await settle()
    expect(sent).toEqual([{ command: 'set-size', step: 'extrude1', field: 'length', value: '14 mm' }])
  })

  it('keeps what was refused, with the reason, until Escape', async () => {
    refusal = { detail: 'A length is needed.' }
    await field.type(input, '14 kg')
    input.dispatchEvent(new Event('blur'))
    await settle()
    expect([input.value, input.getAttribute('aria-invalid')]).toEqual(['14 kg', 'true'])
    expect(field.text()).toBe('A length is needed.')
    input.dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape' }))
    await settle()
    expect([input.value, field.text()]).toEqual(['t * 2', ''])
  })
})
