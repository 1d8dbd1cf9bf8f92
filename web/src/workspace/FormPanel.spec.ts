// @vitest-environment happy-dom
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { FormAnswer, FormFieldView } from '../api/forms'
import { useForm } from '../stores/form'
import { freshStores, mounted, settle, type Mounted } from '../testing'

vi.stubGlobal('localStorage', { getItem: () => null, setItem: () => undefined })
const { default: FormPanel } = await import('./FormPanel.vue')

const field = (name: string, type: string, more: Partial<FormFieldView> = {}): FormFieldView =>
  ({
    name,
    label: name.toUpperCase(),
    type,
    optional: false,
    active: false,
    points: false,
    picks: [],
    options: [],
    value: '',
    shown: '',
    on: false,
    hint: `give ${name}`,
    ...more,
  }) as unknown as FormFieldView
const answer = (fields: FormFieldView[], more: Partial<FormAnswer> = {}): FormAnswer =>
  ({
    title: 'Shell',
    draft: { step: { kind: 'shell', name: '' } },
    fields,
    centres: [],
    command: '{}',
    refusal: null,
    ...more,
  }) as unknown as FormAnswer

let panel: Mounted
const set: [string, string][] = []

async function open(fields: FormFieldView[], more: Partial<FormAnswer> = {}): Promise<void> {
  freshStores()
  const form = useForm()
  form.answer = answer(fields, more)
  form.set = ((name: string, value: string) => {
    set.push([name, value])
    return Promise.resolve()
  }) as never
  panel = await mounted(FormPanel)
}
const rows = (): string[] => panel.all('[data-row]').map((r) => r.dataset.row!)

describe('the panel of a form', () => {
  beforeEach(() => {
    document.body.innerHTML = ''
    set.length = 0
  })

  it('shows what decides, and folds the rest', async () => {
    await open([
      field('open', 'picks', { active: true }),
      field('thickness', 'length', { value: '2 mm' }),
      field('second', 'length', { optional: true }),
      field('outwards', 'flag'),
      field('flip', 'flag'),
      field('wall', 'choice', { value: 'a', options: [{ value: 'a', words: 'within' }] as never }),
    ])
    expect(rows()).toEqual(['open', 'thickness', 'flip'])
    expect(panel.part('form-more').textContent).toContain('3 more: second, outwards, wall')
    await panel.press(panel.part('form-more'))
    expect(rows()).toHaveLength(6)
    expect(panel.part('form-more').textContent).toContain('fewer fields')
  })

  it('hands a value over when it is left, and once', async () => {
    await open([field('thickness', 'length', { value: '2 mm' })])
    const input = panel.all<HTMLInputElement>('input[data-field=thickness]')[0]!
    await panel.type(input, '3 mm')
    input.dispatchEvent(new Event('blur'))
    input.dispatchEvent(new Event('blur'))
    await settle()
    expect(set).toEqual([['thickness', '3 mm']])
  })

  it('says that a pick is lost, and lets it be left out', async () => {
    const picks = [{ reference: 'e/side', words: 'right side of Plate', lost: true }] as never
    await open([field('open', 'picks', { picks })])
    expect(panel.text()).toContain('right side of Plate is lost')
    expect(panel.text()).toContain('Leave out what is lost and pick it anew.')
    await panel.press(panel.all('[aria-label="Leave out right side of Plate"]')[0]!)
    expect(set).toEqual([['open', 'e/side']])
  })

  it('tells trouble once: at its field, or above where that is folded', async () => {
    const fields = [
      field('thickness', 'length', { value: '30 mm' }),
      field('second', 'length', { optional: true }),
    ]
    const trouble = (where: string): Partial<FormAnswer> => ({
      command: null,
      refusal: { code: 'x', message: 'The wall is too thick.', where, involved: [] } as never,
    })
    await open(fields, trouble('thickness'))
    expect(panel.all('[data-testid=form-refusal]')).toHaveLength(1)
    expect(panel.all('[data-row=thickness] [data-testid=form-refusal]')).toHaveLength(1)
    await open(fields, trouble('second'))
    expect(panel.all('[data-testid=form-refusal]')).toHaveLength(1)
    expect(panel.all('[data-row] [data-testid=form-refusal]')).toHaveLength(0)
  })

  it('cannot be accepted while it lacks something', async () => {
    await open([field('open', 'picks', { active: true })], { command: null })
    expect((panel.part('form-accept') as HTMLButtonElement).disabled).toBe(true)
    await open([field('open', 'picks')])
    expect((panel.part('form-accept') as HTMLButtonElement).disabled).toBe(false)
  })
})
