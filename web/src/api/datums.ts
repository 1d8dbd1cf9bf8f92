import type { components } from './schema'

type Schemas = components['schemas']

export type DatumKind = Schemas['DatumKind']
export type Vec = Schemas['Vec3']
export type Frame = Schemas['Frame']
export type DatumCondition = Schemas['DatumCondition']
/** Whether the user had a say is left out while nothing was said. */
export type DatumDraft = Omit<Schemas['DatumDraft'], 'said'> & { said?: boolean }
export type PickView = Schemas['PickView']
export type ConditionView = Schemas['ConditionView']
export type DatumField = Schemas['FieldView']
export type DatumAnswer = Omit<Schemas['DatumAnswer'], 'draft'> & { draft: DatumDraft }
export type CurveShape = Schemas['CurveShape']
export type CurvePoint = Schemas['CurvePoint']
export type CurveDraft = Schemas['CurveDraft']
export type CurveAnswer = Schemas['CurveAnswer']
export type SeenOnly = Schemas['SeenOnly']
