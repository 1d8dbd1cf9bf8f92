import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api, reason, type PartCommand, type PartSnapshot, type Problem } from '../api/client'
import type { components } from '../api/schema'
import { usePart } from './part'

export type Question = components['schemas']['Question']
export type Measure = components['schemas']['Measure']
export type ToleranceAnswer = components['schemas']['AnswerToleranceAnswer']
export type AimAnswer = components['schemas']['AnswerAimAnswer']
export type CourseAnswer = components['schemas']['AnswerCourseAnswer']
export type FlexAnswer = components['schemas']['AnswerFlexAnswer']
export type VariantsAnswer = components['schemas']['AnswerVariantsAnswer']
export type WhyAnswer = components['schemas']['AnswerWhyAnswer']

/** What can be asked, in the order in which it is shown. */
export const QUESTIONS = [
  { name: 'drives', label: 'What moves it', of: 'reading' },
  { name: 'tolerances', label: 'What tolerances do to it', of: 'reading' },
  { name: 'aim', label: 'Bring it somewhere', of: 'reading' },
  { name: 'course', label: 'Its course', of: 'reading' },
  { name: 'flex', label: 'Where the part holds', of: 'part' },
  { name: 'variants', label: 'Variants', of: 'part' },
  { name: 'why', label: 'What hangs on what', of: 'part' },
] as const
export type Asked = (typeof QUESTIONS)[number]['name']

/** A number as it is shown: four to six figures, with its unit. */
export function show(value: number, measure: Measure, figures = 6): string {
  const text = Number((value * measure.scale).toPrecision(figures)).toString()
  return measure.unit ? `${text} ${measure.unit}` : text
}

/** Something that lights up in the view: a size or parameter and its share. */
export interface Lit {
  step: string
  name: string
  share: number
}

const uses = (formula: string, name: string): boolean =>
  new RegExp(`(^|[^\\w])${name}($|[^\\w])`).test(formula)

/** The parameters that hang on one, itself among them. */
function follows(snapshot: PartSnapshot, name: string): string[] {
  const found = [name]
  for (const at of found)
    for (const p of snapshot.parameters) if (!found.includes(p.name) && uses(p.value, at)) found.push(p.name)
  return found
}

/** How strongly each face is lit, from -1 to 1: those that the sizes make, through sketches and formulas. */
export function litFaces(snapshot: PartSnapshot, faces: string[], lit: Lit[]): Map<string, number> {
  const strength = new Map<string, number>()
  const add = (face: string, share: number): void => {
    if (Math.abs(share) > Math.abs(strength.get(face) ?? 0)) strength.set(face, share)
  }
  const most = Math.max(...lit.map((l) => Math.abs(l.share)), 1e-12)
  for (const { step, name, share } of lit) {
    const names = step ? [] : follows(snapshot, name)
    for (const s of snapshot.steps) {
      const sizes = s.sizes.filter((z) =>
        step ? s.id === step && z.field === name : names.some((n) => uses(z.formula, n)),
      )
      for (const size of sizes) {
        const curves = s.sketch?.dimensions.find((d) => d.id === size.field)?.of ?? []
        // Faces of a form are named after the curves that they come from.
        const made = (face: string): boolean =>
          s.sketch
            ? curves.some((c) => face.includes(`/${c}`) || face.includes(`(${s.id}/${c}`))
            : face.startsWith(`${s.id}/`)
        for (const face of faces) if (made(face)) add(face, share / most)
      }
    }
  }
  return strength
}

/** What is asked of the part, and what lights up for it. */
export const useAsking = defineStore('asking', () => {
  const part = usePart()
  /** Which question is shown; null while none is. */
  const open = ref<Asked | null>(null)
  /** Id of the reading that is asked about. */
  const reading = ref('')
  /** A step or parameter whose place among the others is asked. */
  const why = shallowRef<{ step: string; name: string }>({ step: '', name: '' })
  const busy = ref(false)
  const lit = shallowRef<Lit[]>([])

  const readings = computed(() =>
    (part.snapshot?.steps ?? []).filter((s) => s.kind === 'reading' && !s.suppressed),
  )
  const knobs = computed(() => (part.snapshot?.parameters ?? []).filter((p) => /^-?[\d.]/.test(p.value)))

  function begin(question: Asked, of = ''): void {
    open.value = question
    if (of) reading.value = of
    if (!readings.value.some((r) => r.id === reading.value)) reading.value = readings.value[0]?.id ?? ''
  }

  function close(): void {
    open.value = null
    lit.value = []
  }

  /** The answer, or why there is none. */
  async function ask<T>(question: Question): Promise<T | string> {
    const id = part.snapshot?.id
    if (!id) return 'There is no part.'
    busy.value = true
    part.share = null
    try {
      const { data, error } = await api.POST('/api/parts/{id}/ask', {
        params: { path: { id } },
        body: question,
      })
      return data ? (data as T) : reason(error as Problem)
    } finally {
      busy.value = false
      part.share = null
    }
  }

  /** Makes a change; answers why it was refused, or nothing. The card says that, so the screen says it nowhere else. */
  async function change(command: object): Promise<string> {
    const problem = await part.send(command as PartCommand)
    if (!problem) return ''
    part.notice = null
    return problem.detail ?? ''
  }

  return { open, reading, why, busy, lit, readings, knobs, begin, close, ask, change }
})

/** An answer that a pane shows, or why there is none. */
export function useAnswer<T>() {
  const asking = useAsking()
  const answer = shallowRef<T | null>(null)
  const refused = ref('')

  async function ask(question: Question): Promise<void> {
    refused.value = ''
    const told = await asking.ask<T>(question)
    answer.value = typeof told === 'string' ? null : told
    if (typeof told === 'string') refused.value = told
  }

  return { answer, refused, ask }
}
