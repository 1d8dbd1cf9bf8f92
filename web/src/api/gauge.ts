import type { components } from './schema'

type Schemas = components['schemas']

export type GaugeDraft = Schemas['GaugeDraft']
export type GaugeInput = Pick<Schemas['GaugeInput'], 'do'> & Partial<Schemas['GaugeInput']>
export type GaugeSlot = Schemas['GaugeSlot']
export type GaugeValue = Schemas['GaugeShown']
export type GaugeAnswer = Schemas['GaugeAnswer']
