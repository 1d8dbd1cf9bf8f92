import type { components } from './schema'

type Schemas = components['schemas']

/** A form as the bench holds it: its fields are known by the names that the bench answers. */
export type FormDraft = Omit<Schemas['FormDraft'], 'step'> & {
  step: Pick<Schemas['PartSnapshot']['steps'][number]['step'], 'id' | 'name'> & {
    kind: string
    [field: string]: unknown
  }
}
export type FormFieldView = Schemas['FormFieldView']
export type FormWay = Omit<Schemas['FormWayMessage'], 'instead' | 'first'> & {
  instead?: string | null
  first?: string | null
}
export type FormGrip = Schemas['FormGrip']
export type FormAnswer = Omit<Schemas['FormAnswer'], 'draft'> & { draft: FormDraft }
/** One thing done on the bench. */
export type FormInput = Partial<Schemas['FormInput']>
export type Stretch = Schemas['StretchMessage']
export type HoleView = Schemas['HoleMessage']
export type PreviewMessage = Schemas['PreviewMessage']
export type ProbeView = Schemas['ProbeView'] & { refusal?: string }
