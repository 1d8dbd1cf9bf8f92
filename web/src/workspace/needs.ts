/** What people say when they need a tool, beside its name: by its name in the catalogue. */
export const NEEDS: Record<string, string> = {
  line: 'straight edge polyline chain',
  rectangle: 'box square plate outline corners parallelogram rounded',
  'rectangle-centre': 'box square plate outline about the middle centred symmetric',
  circle: 'round disc bore diameter three points touching',
  arc: 'round curve bow bend',
  slot: 'oblong elongated hole groove keyway long hole',
  polygon: 'hexagon across flats nut triangle octagon',
  ellipse: 'oval',
  spline: 'freeform curve smooth through points',
  point: 'mark bolt circle grid pattern of points',
  trim: 'cut away remove piece shorten',
  extend: 'lengthen up to',
  split: 'divide break in two',
  corner: 'fillet chamfer round bevel corner radius',
  offset: 'parallel copy distance wall contour',
  mirror: 'symmetric other half reflect',
  'pattern-row': 'repeat row several copies array linear',
  'pattern-ring': 'repeat round circular array polar copies',
  move: 'shift turn rotate scale copy drag',
  dimension: 'size length width diameter radius angle distance measure drive',
  'tie-horizontal': 'level flat along x',
  'tie-vertical': 'upright plumb along y',
  'tie-perpendicular': 'square right angle 90',
  'tie-parallel': 'same direction',
  'tie-tangent': 'touch smooth meets',
  'tie-coincident': 'join together same place',
  'tie-midpoint': 'middle half centre of a line',
  'tie-symmetric': 'mirror both sides',
  'tie-equal': 'same length same radius',
  'tie-concentric': 'same centre',
  'tie-fixed': 'lock hold nail',
  'new-sketch': 'draw on a face plane begin outline',
  plane: 'middle plane between two faces offset tangent at an angle through three points square to',
  axis: 'line of a hole centre line through two points crossing of planes',
  point3: 'middle centre on a path',
  frame: 'coordinate system axes inclined leaning local',
  quick: 'plane now looking at it',
  extrude: 'pull pad boss thickness height cut pocket through material solid body',
  revolve: 'turn lathe round body rotate',
  sweep: 'pipe tube along a path rail hose',
  loft: 'transition between outlines blend funnel',
  hole: 'drill tapped thread countersink counterbore screw angle inclined bolt',
  thread: 'screw tap M6 pitch',
  fillet: 'round edges radius blend soften',
  chamfer: 'bevel break edges 45',
  shell: 'hollow wall thickness empty inside case',
  draft: 'taper lean mould release angle',
  pattern: 'repeat row ring grid copies array',
  'mirror-form': 'symmetric other half reflect',
  split3: 'divide cut body in two',
  combine: 'join subtract common bodies boolean unite',
  measure: 'distance angle radius how far clearance gap between',
  volume: 'how much content litres',
  mass: 'weight heavy grams',
  area: 'surface how large paint',
  readings: 'table of values limits',
  holes: 'table of drilled holes list positions',
  probe: 'how thick material along an axis depth',
  section: 'cut open inside look into',
}

/** Something that can be found. */
export interface Findable {
  name: string
  bench: string
  group: string
  label: string
}

/** What the part is like now, for what fits it. */
export interface Present {
  sketch: boolean
  bodies: boolean
}

/** The benches that make sense now, the likeliest first. */
function fits(a: Findable, now: Present): number {
  if (now.sketch) return ['Draw', 'Tie', 'Size'].includes(a.bench) ? 1 : 0
  if (now.bodies) return ['Form', 'Datum', 'Gauge'].includes(a.bench) ? 1 : 0
  return a.bench === 'Draw' ? 1 : 0
}

/**
 * What answers to some words: every word in the name or in what it is for. Names before needs; of equals what fits the part as it is
 * now, then what was used last.
 */
export function find<T extends Findable>(
  all: readonly T[],
  query: string,
  recent: readonly string[],
  now: Present,
): T[] {
  const words = query.toLowerCase().split(/\s+/).filter(Boolean)
  const scored = all.flatMap((a, order) => {
    const own = `${a.label} ${a.bench}`.toLowerCase()
    const need = `${own} ${a.group} ${NEEDS[a.name] ?? ''}`.toLowerCase()
    if (!words.every((w) => need.includes(w))) return []
    const at = recent.indexOf(`${a.bench}/${a.name}`)
    const named = words.length > 0 && words.every((w) => own.includes(w)) ? 1 : 0
    const begins = words.length > 0 && own.startsWith(words.join(' ')) ? 1 : 0
    const used = at < 0 ? 0 : 1 - at / 100
    // With nothing typed what was used last comes first; else what fits.
    const score = words.length === 0 ? [used, fits(a, now)] : [named, fits(a, now), begins, used]
    return [{ a, order, score }]
  })
  const before = (x: (typeof scored)[number], y: (typeof scored)[number]): number => {
    for (let i = 0; i < x.score.length; i++) if (x.score[i] !== y.score[i]) return y.score[i]! - x.score[i]!
    return x.order - y.order
  }
  return scored.sort(before).map((s) => s.a)
}

const KEY = 'used-tools'
const MOST = 12

/** The tools that were used last, the newest first. */
export function recent(): string[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(KEY) ?? '[]')
    return Array.isArray(kept) ? kept.filter((k): k is string => typeof k === 'string') : []
  } catch {
    return []
  }
}

export function used(a: Findable): void {
  const name = `${a.bench}/${a.name}`
  localStorage.setItem(KEY, JSON.stringify([name, ...recent().filter((r) => r !== name)].slice(0, MOST)))
}
