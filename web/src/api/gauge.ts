/** The measuring tool as it travels: JSON over the live link. */
export interface GaugeDraft {
  first?: string | null
  second?: string | null
  along?: string | null
  in?: string | null
  active: string
}
export interface GaugeInput {
  do: 'pick' | 'snap' | 'type' | 'use' | 'clear'
  slot?: string
  text?: string
  more?: boolean
}
export interface GaugeSlot {
  slot: string
  label: string
  text: string
  words: string
  snap: string | null
  snaps: string[]
  active: boolean
  /** Whether it has a length to take a share of. */
  shared: boolean
}
export interface GaugeValue {
  what: string
  label: string
  shown: string
  note: string
  points: [number, number, number][]
  keep: object
}
export interface GaugeAnswer {
  draft: GaugeDraft
  slots: GaugeSlot[]
  values: GaugeValue[]
  prompt: string
  refusal: string | null
}
