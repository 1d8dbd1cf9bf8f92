/** The benches with the first stroke of their shortcuts. */
export const BENCHES = [
  { name: 'Draw', stroke: 'd' },
  { name: 'Tie', stroke: 't' },
  { name: 'Size', stroke: 's' },
  { name: 'Datum', stroke: 'a' },
  { name: 'Form', stroke: 'f' },
  { name: 'Gauge', stroke: 'g' },
] as const

/** Tools that work on the model rather than in a sketch. */
export const MODEL_TOOLS = [
  { name: 'new-sketch', bench: 'Draw', label: 'New sketch', stroke: 'n', icon: 'sketch' },
  { name: 'plane-at', bench: 'Datum', label: 'Plane at a distance', stroke: 'p', icon: 'plane' },
  { name: 'extrude', bench: 'Form', label: 'Extrude', stroke: 'e', icon: 'extrude' },
  { name: 'volume', bench: 'Gauge', label: 'Volume', stroke: 'v', icon: 'reading' },
  { name: 'mass', bench: 'Gauge', label: 'Mass', stroke: 'm', icon: 'reading' },
  { name: 'area', bench: 'Gauge', label: 'Surface area', stroke: 'a', icon: 'reading' },
  { name: 'distance', bench: 'Gauge', label: 'Smallest distance', stroke: 'd', icon: 'reading' },
] as const
