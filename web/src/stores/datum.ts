import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import type {
  CurveAnswer,
  CurveDraft,
  CurveShape,
  DatumAnswer,
  DatumCondition,
  DatumDraft,
  DatumKind,
} from '../api/datums'
import { stepMade } from './made'
import { usePart } from './part'

/** The datum or 3D curve being made or edited. The server says what a draft determines; this holds the draft. */
export const useDatum = defineStore('datum', () => {
  const part = usePart()
  const answer = shallowRef<DatumAnswer | null>(null)
  const curve = shallowRef<CurveAnswer | null>(null)
  /** The pick that the next one replaces: condition and place in it. */
  const replacing = ref<{ condition: number; pick: number } | null>(null)
  /** A quick sketch plane that follows the view: the points it stands on. */
  const quick = shallowRef<{ picks: string[]; answer: DatumAnswer } | null>(null)
  /** The frame that typed coordinates are read in, and those before it. */
  const frames = ref<string[]>([])
  let asked = 0
  let busy: Promise<void> = Promise.resolve()

  const open = computed(() => answer.value !== null || curve.value !== null)
  /** What it stands on. */
  const references = computed(() => [
    ...(answer.value?.draft.conditions.flatMap((c) => c.of.flatMap((o) => o.split(' + '))) ?? []),
    ...(curve.value?.draft.points.flatMap((p) => p.reference ?? p.made?.of ?? []) ?? []),
  ])
  const active = computed(() => frames.value.at(-1) ?? null)

  /** Asks in order; only the newest answer counts. */
  async function ask(draft: DatumDraft): Promise<void> {
    const turn = ++asked
    const live = part.live()
    if (!live) return
    busy = live.datum(JSON.stringify(draft)).then((json) => {
      if (turn === asked && json) answer.value = JSON.parse(json) as DatumAnswer
    })
    await busy
  }

  async function begin(makes: DatumKind, picks: string[]): Promise<void> {
    close()
    const blank: DatumDraft = { makes, conditions: [], picks, flip: false, name: '' }
    if (picks.length === 0 && (makes === 'point' || makes === 'frame')) blank.conditions = [placed(makes)]
    await ask(blank)
  }

  /** A free point or frame by coordinates in the active frame. */
  function placed(makes: DatumKind): DatumCondition {
    const zero = part.snapshot?.units === 'in' ? '0 in' : '0 mm'
    const turns = makes === 'frame' ? ['0 deg', '0 deg', '0 deg'] : []
    const relation = active.value
      ? makes === 'frame'
        ? 'like'
        : 'coordinates-in'
      : makes === 'frame'
        ? 'free'
        : 'coordinates'
    return { relation, of: active.value ? [active.value] : [], values: [zero, zero, zero, ...turns] }
  }

  async function openDraft(json: string): Promise<void> {
    close()
    const draft = JSON.parse(json) as Partial<DatumDraft> & { makes: DatumKind }
    await ask({ conditions: [], picks: [], flip: false, name: '', ...draft })
  }

  async function edit(step: string): Promise<void> {
    const json = await part.live()?.draft(step)
    if (!json) return
    close()
    const draft = JSON.parse(json) as DatumDraft | CurveDraft
    if ('makes' in draft) await ask({ ...draft, picks: [] })
    else await askCurve({ ...draft, points: draft.points ?? [] })
  }

  const PATHS = /^(at|normal-at|tangent-at)-(fraction|length)$/

  /** Lengthens the path of the last condition by another edge; false where there is none. */
  function lengthen(reference: string): boolean {
    const now = answer.value?.draft
    const index = now?.conditions.findLastIndex((c) => PATHS.test(c.relation)) ?? -1
    if (!now || index < 0) return false
    void change(index, (c) => ({ ...c, of: [`${c.of[0]} + ${reference}`] }))
    return true
  }

  async function pick(reference: string, ray: number[]): Promise<void> {
    if (curve.value) return pickForCurve(reference, ray)
    const now = answer.value?.draft
    if (!now || now.step === reference.split('/')[0]) return
    const where = replacing.value
    if (where) {
      replacing.value = null
      await change(where.condition, (c) => ({
        ...c,
        of: c.of.map((o, i) => (i === where.pick ? reference : o)),
      }))
      return
    }
    // What was only placed freely gives way to the first real pick.
    const free = now.conditions.every((c) =>
      ['coordinates', 'free', 'coordinates-in', 'like'].includes(c.relation),
    )
    const kept = free && !now.step && now.makes !== 'frame' ? [] : now.conditions
    if (kept.some((c) => c.of.includes(reference)))
      return ask({
        ...now,
        choice: undefined,
        conditions: [],
        picks: kept.flatMap((c) => c.of).filter((o) => o !== reference),
      })
    await ask({ ...now, conditions: kept, picks: [reference] })
  }

  function change(index: number, to: (c: DatumCondition) => DatumCondition): Promise<void> {
    const now = answer.value!.draft
    return ask({
      ...now,
      said: true,
      choice: undefined,
      conditions: now.conditions.map((c, i) => (i === index ? to(c) : c)),
    })
  }

  function read(conditions: DatumCondition[]): Promise<void> {
    return ask({ ...answer.value!.draft, said: true, choice: undefined, conditions })
  }

  function leaveOut(index: number): Promise<void> {
    const now = answer.value!.draft
    return ask({ ...now, choice: undefined, conditions: now.conditions.filter((_, i) => i !== index) })
  }

  /** Gives a value by its name; a bare number takes the display unit. */
  async function setValue(name: string, text: string): Promise<void> {
    if (curve.value) {
      const value = text.trim() === '' ? undefined : unit(text, name)
      // A circle has a radius or a diameter: the one typed takes the other's place.
      const other =
        value &&
        (name === 'radius' ? { diameter: undefined } : name === 'diameter' ? { radius: undefined } : {})
      return setCurve({ ...other, [name]: value })
    }
    const now = answer.value
    if (!now) return
    let at = 0
    const index = now.fields.findIndex((f) => f.name === name)
    const conditions = now.draft.conditions.map((c) => ({
      ...c,
      values: (c.values ?? []).map((v) => (at++ === index ? unit(text, name, v) : v)),
    }))
    await ask({ ...now.draft, said: true, conditions })
  }

  /** A bare number takes the unit of the kind of value it replaces. */
  function unit(text: string, name: string, before = ''): string {
    if (!/^\s*[-+]?[\d.]+\s*$/.test(text)) return text
    if (/deg|rad/.test(before) || ['from', 'to', 'angle', 'turn'].includes(name)) return `${text.trim()} deg`
    if (['fraction', 'u', 'v'].includes(name)) return text.trim()
    return `${text.trim()} ${part.snapshot?.units ?? 'mm'}`
  }

  function choose(index: number): void {
    const now = answer.value
    const label = now?.solutions[index]?.label
    if (now && label !== undefined) void ask({ ...now.draft, choice: label })
  }

  function next(by: number): void {
    const now = answer.value
    if (!now || now.solutions.length < 2) return
    choose((now.chosen + by + now.solutions.length) % now.solutions.length)
  }

  function flip(): void {
    const now = answer.value
    if (now) void ask({ ...now.draft, flip: !now.draft.flip })
  }

  function rename(name: string): void {
    if (answer.value) void ask({ ...answer.value.draft, name })
    else if (curve.value) void askCurve({ ...curve.value.draft, name })
  }

  /** The axis of a frame whose turn has a grip: that of the value that was worked on last. */
  const axis = ref('z')
  function attend(field: string): void {
    if (/^(about )?[xyz]$/.test(field)) axis.value = field.at(-1)!
  }

  let pulling = false
  async function pull(field: string, ray: number[], reach: number): Promise<void> {
    const live = part.live()
    if (!live || !answer.value || pulling) return
    attend(field)
    pulling = true
    const json = await live.dragDatum(JSON.stringify(answer.value.draft), field, ray, reach)
    pulling = false
    if (json && answer.value) answer.value = JSON.parse(json) as DatumAnswer
  }

  /** Makes it a step. True when that was done. */
  async function accept(): Promise<boolean> {
    await busy
    const command = answer.value?.command ?? curve.value?.command
    if (!command) {
      part.notice = answer.value?.prompt ?? curve.value?.prompt ?? null
      return false
    }
    if (await part.send(command)) return false
    close()
    return true
  }

  function close(): void {
    asked++
    answer.value = null
    curve.value = null
    replacing.value = null
    quick.value = null
  }

  async function askCurve(draft: CurveDraft): Promise<void> {
    const turn = ++asked
    const live = part.live()
    if (!live) return
    busy = live.curve(JSON.stringify(draft)).then((json) => {
      if (turn === asked && json) curve.value = JSON.parse(json) as CurveAnswer
    })
    await busy
  }

  async function beginCurve(shape: CurveShape, picks: string[]): Promise<void> {
    close()
    await askCurve({ shape, points: [], name: '' })
    for (const p of picks) await pickForCurve(p, [0, 0, 1e4, 0, 0, -1])
  }

  async function pickForCurve(reference: string, ray: number[]): Promise<void> {
    const live = part.live()
    const now = curve.value?.draft
    if (!live || !now) return
    const round = now.shape === 'circle' || now.shape === 'arc'
    const points = now.points ?? []
    if (replacing.value) {
      const at = replacing.value.pick
      replacing.value = null
      await askCurve({ ...now, points: points.map((p, i) => (i === at ? { reference } : p)) })
      return
    }
    if (round && points.length === 1) return askCurve({ ...now, support: reference })
    if (now.shape === 'line' && points.length === 2) return
    const made = JSON.parse(await live.pointAt(reference, ray)) as {
      condition?: DatumCondition
      refusal?: string
    }
    if (!made.condition) {
      part.notice = made.refusal ?? null
      return
    }
    // A point that is there serves as it is; elsewhere one is made along with the curve.
    const point = made.condition.relation === 'at' ? { reference } : { made: made.condition }
    await askCurve({ ...now, points: [...points, point] })
  }

  /** A point by typed coordinates, in the active frame. */
  async function typePoint(text: string): Promise<boolean> {
    const now = curve.value?.draft
    const made = now ? typed(text) : null
    if (!now || !made) return false
    await askCurve({ ...now, points: [...(now.points ?? []), { made }] })
    return true
  }

  /** What three typed coordinates say; null, and why, where they are not three. */
  function typed(text: string): DatumCondition | null {
    const values = text.split(',').map((v) => unit(v, 'x'))
    if (values.length !== 3 || values.some((v) => !v.trim())) {
      part.notice = 'Three numbers with commas between them place a point, such as 10, 0, 5.'
      return null
    }
    return active.value
      ? { relation: 'coordinates-in', of: [active.value], values }
      : { relation: 'coordinates', of: [], values }
  }

  /** A point of its own by typed coordinates, in the active frame; answers its id, or null where it was refused. */
  async function placePoint(text: string): Promise<string | null> {
    const live = part.live()
    const at = live ? typed(text) : null
    if (!live || !at) return null
    const draft: DatumDraft = { makes: 'point', conditions: [at], picks: [], flip: false, name: '' }
    const made = JSON.parse((await live.datum(JSON.stringify(draft))) ?? 'null') as DatumAnswer | null
    if (!made?.command) {
      part.notice = made?.refusal?.message ?? made?.prompt ?? null
      return null
    }
    const { command } = made
    return (await stepMade(part, async () => !(await part.send(command))))?.id ?? null
  }

  function setCurve(fields: Partial<CurveDraft>): Promise<void> {
    return curve.value ? askCurve({ ...curve.value.draft, ...fields }) : Promise.resolve()
  }

  function dropPoint(index: number): Promise<void> {
    const now = curve.value?.draft
    return now ? askCurve({ ...now, points: now.points.filter((_, i) => i !== index) }) : Promise.resolve()
  }

  /** The quick plane on one point or two, as the view stands. */
  async function follow(picks: string[], towards: number[]): Promise<void> {
    const live = part.live()
    if (!live) return
    const turn = asked
    const json = await live.quickPlane(picks, towards)
    // It may have been fixed or left meanwhile.
    if (turn === asked) quick.value = { picks, answer: JSON.parse(json) as DatumAnswer }
  }

  async function asViewed(view: number[]): Promise<void> {
    const json = await part.live()?.viewFrame(view)
    if (json) await openDraft(json)
  }

  function workIn(frame: string | null): void {
    if (frame) frames.value = [...frames.value.filter((f) => f !== frame), frame]
    else frames.value = frames.value.slice(0, -1)
  }

  return {
    axis,
    attend,
    answer,
    curve,
    replacing,
    quick,
    frames,
    open,
    references,
    active,
    lengthen,
    begin,
    openDraft,
    edit,
    pick,
    change,
    read,
    leaveOut,
    setValue,
    choose,
    next,
    flip,
    rename,
    pull,
    accept,
    close,
    beginCurve,
    typePoint,
    placePoint,
    setCurve,
    dropPoint,
    follow,
    asViewed,
    workIn,
  }
})
