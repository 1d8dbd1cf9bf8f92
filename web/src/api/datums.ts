import type { PartCommand } from './client'

export type DatumKind = 'plane' | 'axis' | 'point' | 'frame'
export type Vec = [number, number, number]

/** Where a datum lies: of a plane z is the normal, of an axis x the direction. */
export interface Frame {
  origin: Vec
  x: Vec
  y: Vec
}
export interface DatumCondition {
  relation: string
  of: string[]
  values: string[]
}
export interface DatumDraft {
  makes: DatumKind
  conditions: DatumCondition[]
  /** Whether the user had a say in the conditions. */
  said?: boolean
  picks: string[]
  choice?: string
  flip: boolean
  name: string
  step?: string
  active?: string
}
export interface PickView {
  reference: string
  words: string
  lost: boolean
}
export interface ConditionView {
  condition: DatumCondition
  words: string
  of: PickView[]
  others: { words: string; condition: DatumCondition }[]
}
export interface DatumField {
  name: string
  formula: string
  shown: string
  grip?: Vec
  way: Vec
}
export interface DatumAnswer {
  draft: DatumDraft
  prompt: string
  conditions: ConditionView[]
  free: number
  left: string[]
  solutions: { label: string; frame: Frame }[]
  chosen: number
  fields: DatumField[]
  readings: { words: string; conditions: DatumCondition[]; solutions: number }[]
  extensions: Vec[]
  refusal?: { code: string; message: string; where?: string; involved: string[] }
  instead?: DatumDraft
  command?: PartCommand
}

export type CurveShape = 'line' | 'spline' | 'circle' | 'arc'
export interface CurvePoint {
  reference?: string
  made?: DatumCondition
}
export interface CurveDraft {
  shape: CurveShape
  points: CurvePoint[]
  support?: string
  before?: string
  after?: string
  radius?: string
  diameter?: string
  from?: string
  to?: string
  name: string
  step?: string
}
export interface CurveAnswer {
  draft: CurveDraft
  prompt: string
  drawn: Vec[]
  points: PickView[]
  places: Vec[]
  length: string
  refusal?: { code: string; message: string }
  command?: PartCommand
}

/** Something that meets a place of a sketch only as seen from the view. */
export interface SeenOnly {
  words: string
  here: Vec
  there: Vec
  crossing?: PartCommand
  copy?: PartCommand
  whyNoCrossing?: string
}
