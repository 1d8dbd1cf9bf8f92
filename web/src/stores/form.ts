import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import type { PartCommand } from '../api/client'
import type { FormAnswer, FormDraft, FormInput, FormWay, PreviewMessage, ProbeView } from '../api/forms'
import type { BodyMessage } from '../api/live'
import { usePart } from './part'

/** How long a size has to stand still until the changed solid is drawn as it is, in milliseconds. */
const pause = 120

/** The form being made or edited. The server says what a draft is and builds it; this holds the draft and the picture. */
export const useForm = defineStore('form', () => {
  const part = usePart()
  const answer = shallowRef<FormAnswer | null>(null)
  /** The part as the form would make it. */
  const preview = shallowRef<PreviewMessage | null>(null)
  /** The bodies as they stood before the form that is edited; null for a new one. */
  const before = shallowRef<BodyMessage[] | null>(null)
  const building = ref(false)
  /** The stretches of material along an axis that was asked about. */
  const probed = shallowRef<ProbeView | null>(null)
  let asked = 0
  let busy: Promise<void> = Promise.resolve()
  let built = ''
  let waiting: FormDraft | null = null
  /** Ends the pause before what was drawn roughly is drawn as it is. */
  let wake: () => void = () => {}

  const open = computed(() => answer.value !== null)
  const references = computed(() =>
    (answer.value?.fields ?? [])
      .filter((f) => f.type === 'picks')
      .flatMap((f) => f.picks.map((p) => p.reference)),
  )
  /** The sketch whose regions can be chosen, and those that are. */
  const sketch = computed(() => (answer.value?.draft.step.sketch as string | undefined) ?? null)
  const regions = computed(() => answer.value?.fields.find((f) => f.type === 'regions')?.picks ?? [])
  const choosing = computed(() => answer.value?.fields.some((f) => f.type === 'regions' && f.active) ?? false)
  const taking = computed(() => {
    const step = answer.value?.draft.step
    return ['hole', 'chamfer', 'thread'].includes(step?.kind ?? '') || step?.operation === 'cut'
  })
  /** Why it cannot be built, in words; empty where it can. */
  const trouble = computed(
    () => answer.value?.refusal?.message ?? (preview.value?.state === 'failed' ? preview.value.message : ''),
  )

  /** Whether it was tried and cannot be built: then it cannot be accepted. */
  const refused = computed(() => preview.value?.state === 'failed')
  /** The field that the trouble is about; empty where it is about none that is shown. */
  const where = computed(() => {
    const named = answer.value?.refusal?.where ?? (refused.value ? preview.value?.where : '') ?? ''
    return answer.value?.fields.find((f) => f.name === named)?.name ?? ''
  })
  /** What can be done about it at once. */
  const ways = computed<FormWay[]>(() => {
    const now = answer.value
    if (now?.refusal || (now && !now.command)) return now.ways
    return refused.value ? (preview.value?.ways ?? []) : []
  })
  /** Forms laid aside with all that was typed, the newest first, of every part. */
  const laid = ref<{ part: string; title: string; draft: FormDraft }[]>([])
  const aside = computed(() => laid.value.filter((k) => k.part === part.snapshot?.id))

  function take(json: string | null, turn: number): void {
    if (turn !== asked || !json) return
    answer.value = JSON.parse(json) as FormAnswer
    foresee()
  }

  /** Builds the draft for the picture; only the newest waits while one is built. */
  function foresee(): void {
    const now = answer.value
    if (!now?.command) {
      preview.value = null
      built = ''
      return
    }
    const key = JSON.stringify({ ...now.draft.step, name: '' })
    if (key === built) return
    built = key
    const idle = waiting === null && !building.value
    waiting = now.draft
    wake()
    if (idle) void build()
  }

  /** First roughly, at once; as it is when nothing newer has come for a moment. */
  async function build(): Promise<void> {
    building.value = true
    while (waiting) {
      const draft = waiting
      waiting = null
      show(await part.live()?.previewForm(draft, false, true))
      if (preview.value?.rough && !(await newer())) show(await part.live()?.previewForm(draft))
    }
    building.value = false
  }

  function show(made: PreviewMessage | null | undefined): void {
    if (!waiting && answer.value) preview.value = answer.value.command ? (made ?? null) : null
  }

  /** Whether something newer is waiting, or comes within the pause. */
  function newer(): Promise<boolean> {
    if (waiting || !answer.value) return Promise.resolve(true)
    return new Promise((done) => {
      const over = (): void => {
        clearTimeout(timer)
        wake = () => {}
        done(waiting !== null || answer.value === null)
      }
      const timer = setTimeout(over, pause)
      wake = over
    })
  }

  /** Waits for the picture of the draft, but not for one that takes long. */
  async function settled(): Promise<void> {
    wake()
    for (let waited = 0; building.value && waited < 2000; waited += 20)
      await new Promise((done) => setTimeout(done, 20))
  }

  async function begin(kind: string, picks: string[]): Promise<void> {
    close()
    const turn = ++asked
    take((await part.live()?.beginForm(kind, picks)) ?? null, turn)
  }

  async function openDraft(json: string): Promise<void> {
    close()
    const turn = ++asked
    take((await part.live()?.form(JSON.parse(json) as FormDraft, {})) ?? null, turn)
  }

  async function edit(step: string): Promise<void> {
    close()
    const turn = ++asked
    const json = (await part.live()?.editForm(step)) ?? null
    if (!json || turn !== asked) return
    const draft = (JSON.parse(json) as FormAnswer).draft
    before.value = (await part.live()?.previewForm(draft, true))?.bodies ?? null
    take(json, turn)
  }

  /** Does things in order: each waits for the answer to the one before. */
  function ask(input: FormInput): Promise<void> {
    busy = busy.then(async () => {
      const now = answer.value
      const live = part.live()
      if (!now || !live) return
      take(await live.form(now.draft, input), asked)
    })
    return busy
  }

  const pick = (reference: string, field?: string): Promise<void> =>
    ask(field ? { pick: reference, field } : { pick: reference })

  /** Whether a flat face that is clicked on gets a point there. */
  const places = computed(() => answer.value?.fields.find((f) => f.active && f.places) ?? null)

  /** Makes a point where a flat face was clicked on, and takes it. */
  function place(face: string, ray: number[], reach: number): Promise<void> {
    busy = busy.then(async () => {
      const now = answer.value
      const field = places.value
      const live = part.live()
      if (!now || !field || !live) return
      const placed = JSON.parse(await live.placeCentre(now.draft, face, ray, reach)) as {
        command?: PartCommand
        reference?: string
        refusal?: string
      }
      if (!placed.command || !placed.reference) part.notice = placed.refusal ?? null
      else if (!(await part.send(placed.command)))
        take(await live.form(now.draft, { pick: placed.reference, field: field.name }), asked)
    })
    return busy
  }
  const set = (field: string, value: string): Promise<void> => ask({ field, value })
  const activate = (field: string): Promise<void> => ask({ field })
  const rename = (name: string): Promise<void> => ask({ name })

  /** Goes one way on: what the form stands on is changed at once, the form itself in its draft. */
  async function follow(way: FormWay): Promise<void> {
    if (!way.first)
      return ask(
        way.instead
          ? { field: way.field, pick: way.value, value: way.instead }
          : { field: way.field, value: way.value },
      )
    if (await part.send(JSON.parse(way.first) as PartCommand)) return
    // The draft says what it did; what it comes to is another thing now.
    built = ''
    await ask({})
  }

  /** Keeps the draft for later, while what it stands on is mended. */
  function layAside(): void {
    const now = answer.value
    if (!now || !part.snapshot) return
    laid.value = [{ part: part.snapshot.id, title: now.title, draft: now.draft }, ...laid.value]
    close()
  }

  async function takeUp(index: number): Promise<void> {
    const kept = aside.value[index]
    if (!kept) return
    forget(index)
    await openDraft(JSON.stringify(kept.draft))
  }

  function forget(index: number): void {
    const gone = aside.value[index]
    laid.value = laid.value.filter((k) => k !== gone)
  }

  let pulling = false
  async function pull(field: string, ray: number[], reach: number): Promise<void> {
    if (pulling) return
    pulling = true
    await ask({ field, ray, reach })
    pulling = false
  }

  async function accept(): Promise<void> {
    await busy
    await settled()
    const now = answer.value
    if (!now) return
    if (refused.value) {
      part.notice = trouble.value
      return
    }
    if (!now.command) {
      part.notice = now.refusal?.message ?? now.prompt
      return
    }
    if (await part.send(now.command)) return
    close()
  }

  function close(): void {
    asked++
    answer.value = null
    preview.value = null
    before.value = null
    waiting = null
    built = ''
    wake()
  }

  async function probe(reference: string): Promise<void> {
    const found = JSON.parse((await part.live()?.probe(reference)) ?? '{}') as ProbeView
    if (found.refusal) part.notice = found.refusal
    else probed.value = found
  }

  return {
    answer,
    preview,
    before,
    building,
    probed,
    open,
    references,
    sketch,
    regions,
    choosing,
    taking,
    trouble,
    refused,
    where,
    ways,
    aside,
    follow,
    layAside,
    takeUp,
    forget,
    begin,
    openDraft,
    edit,
    pick,
    places,
    place,
    set,
    activate,
    rename,
    pull,
    accept,
    close,
    probe,
  }
})
