/** The benches with the first stroke of their shortcuts. */
export const BENCHES = [
  { name: 'Draw', stroke: 'd' },
  { name: 'Tie', stroke: 't' },
  { name: 'Size', stroke: 's' },
  { name: 'Datum', stroke: 'a' },
  { name: 'Form', stroke: 'f' },
  { name: 'Gauge', stroke: 'g' },
] as const

const form = <N extends string>(name: N, label: string, stroke: string, group: string) =>
  ({ name, bench: 'Form', group, label, stroke, icon: name }) as const

/** The forms, in the order in which they are mostly used. */
export const FORMS = [
  form('extrude', 'Extrude', 'e', ''),
  form('revolve', 'Revolve', 'r', ''),
  form('sweep', 'Sweep', 's', ''),
  form('loft', 'Loft', 'l', ''),
  form('hole', 'Hole', 'h', ''),
  form('fillet', 'Fillet', 'i', 'Edges and faces'),
  form('chamfer', 'Chamfer', 'c', 'Edges and faces'),
  form('shell', 'Shell', 'w', 'Edges and faces'),
  form('draft', 'Draft', 'd', 'Edges and faces'),
  form('mirror', 'Mirror', 'm', 'Copies and bodies'),
  form('pattern', 'Pattern', 'p', 'Copies and bodies'),
  form('split', 'Split', 'k', 'Copies and bodies'),
  form('combine', 'Combine', 'b', 'Copies and bodies'),
] as const

/** Tools that work on the model rather than in a sketch. */
export const MODEL_TOOLS = [
  { name: 'new-sketch', bench: 'Draw', label: 'New sketch', stroke: 'n', icon: 'sketch' },
  { name: 'plane', bench: 'Datum', label: 'Plane', stroke: 'p', icon: 'plane' },
  { name: 'axis', bench: 'Datum', label: 'Axis', stroke: 'x', icon: 'axis' },
  { name: 'point', bench: 'Datum', label: 'Point', stroke: 'o', icon: 'point' },
  { name: 'frame', bench: 'Datum', label: 'Frame', stroke: 'f', icon: 'frame' },
  {
    name: 'view-frame',
    bench: 'Datum',
    group: 'From the view',
    label: 'Frame as seen',
    stroke: 'v',
    icon: 'frame',
  },
  {
    name: 'quick',
    bench: 'Datum',
    group: 'From the view',
    label: 'Quick plane',
    stroke: 'q',
    icon: 'sketch',
  },
  {
    name: 'space-line',
    bench: 'Datum',
    group: 'Curves in space',
    label: 'Line in space',
    stroke: 'l',
    icon: 'line',
  },
  {
    name: 'space-spline',
    bench: 'Datum',
    group: 'Curves in space',
    label: 'Spline in space',
    stroke: 'i',
    icon: 'spline',
  },
  {
    name: 'space-circle',
    bench: 'Datum',
    group: 'Curves in space',
    label: 'Circle in space',
    stroke: 'c',
    icon: 'circle',
  },
  {
    name: 'space-arc',
    bench: 'Datum',
    group: 'Curves in space',
    label: 'Arc in space',
    stroke: 'r',
    icon: 'arc',
  },
  {
    name: 'take-copy',
    bench: 'Draw',
    group: 'From the model',
    label: 'Live copy',
    stroke: 'j',
    icon: 'import',
  },
  {
    name: 'take-section',
    bench: 'Draw',
    group: 'From the model',
    label: 'Section',
    stroke: 'q',
    icon: 'section',
  },
  {
    name: 'take-crossing',
    bench: 'Draw',
    group: 'From the model',
    label: 'Crossing point',
    stroke: 'z',
    icon: 'crossing',
  },
  ...FORMS,
  { name: 'probe', bench: 'Gauge', label: 'Probe an axis', stroke: 'p', icon: 'probe' },
  { name: 'volume', bench: 'Gauge', label: 'Volume', stroke: 'v', icon: 'reading' },
  { name: 'mass', bench: 'Gauge', label: 'Mass', stroke: 'm', icon: 'reading' },
  { name: 'area', bench: 'Gauge', label: 'Surface area', stroke: 'a', icon: 'reading' },
  { name: 'distance', bench: 'Gauge', label: 'Smallest distance', stroke: 'd', icon: 'reading' },
] as const
