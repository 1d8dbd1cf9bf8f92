import type { PartCommand } from './client'
import type { BodyMessage } from './live'

/** What the Form bench says; see the core for what each part means. */
export interface FormDraft {
  step: { kind: string; id: string; name: string; [field: string]: unknown }
  active?: string | null
}
export interface FormFieldView {
  name: string
  label: string
  type: 'picks' | 'regions' | 'value' | 'choice' | 'flag'
  hint: string
  active: boolean
  optional: boolean
  planes: boolean
  points: boolean
  picks: { reference: string; words: string; lost: boolean }[]
  value: string
  shown: string
  options: { value: string; words: string }[]
  on: boolean
}
export interface FormGrip {
  field: string
  at: [number, number, number]
  way: [number, number, number]
  shown: string
}
export interface FormAnswer {
  draft: FormDraft
  title: string
  prompt: string
  fields: FormFieldView[]
  grips: FormGrip[]
  centres: { reference: string; words: string; in: boolean }[]
  refusal?: { code: string; message: string; where?: string; involved: string[] }
  command?: PartCommand
}
/** One thing done on the bench. */
export interface FormInput {
  pick?: string
  field?: string
  value?: string
  name?: string
  ray?: number[]
  reach?: number
}
/** A stretch of material along an axis, in millimetres from its origin. */
export interface Stretch {
  from: number
  to: number
  shown: string
  in: string
  out: string
}
export interface HoleView {
  centre: string
  at: number[]
  way: number[]
  size: string
  radius: number
  start: number
  end: number
  thread: number
  strip: Stretch[]
  notes: string[]
}
export interface PreviewMessage {
  step: string
  state: string
  message: string
  holes: HoleView[]
  /** Places that the message speaks of. */
  points: number[]
  bodies: BodyMessage[]
  volume: number
}
export interface ProbeView {
  origin: [number, number, number]
  way: [number, number, number]
  strip: Stretch[]
  total: string
  refusal?: string
}
