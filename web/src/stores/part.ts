import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api, reach, reason, type PartCommand, type PartSnapshot, type Problem } from '../api/client'
import { useAccount } from './account'
import { LiveLink, type RebuiltMessage, type StepState } from '../api/live'
import { withGeometry } from '../api/sameBodies'
import { isMesh } from './meshFiles'

/** What the server reads at most: said before anything is sent. */
const LARGEST_FILE = 64 * 2 ** 20
const LARGEST_MESH = 128 * 2 ** 20

/** Answers after which a part cannot be shown any more: signed out, not allowed, removed. */
const GONE = [401, 403, 404]

/** The open part: what is kept, what was built, and the link that changes it. */
export const usePart = defineStore('part', () => {
  const snapshot = shallowRef<PartSnapshot | null>(null)
  const built = shallowRef<RebuiltMessage | null>(null)
  const missing = ref<string | null>(null)
  const connected = ref(true)
  /** The step that a long rebuild has come to. */
  const building = ref<string | null>(null)
  /** How far what is being read, written or meshed has come, from 0 to 1; null where nothing long is under way. */
  const share = ref<number | null>(null)
  const notice = ref<string | null>(null)
  /** The file that is being read into the part. */
  const importing = ref<string | null>(null)
  /** The state from the history that is looked at in place of the present one. */
  const looking = ref<number | null>(null)
  /** What is built of the present state meanwhile. */
  let present: RebuiltMessage | null = null
  let link: LiveLink | null = null
  let id = ''
  /** Changes of ours that are under way, and the newest revision that was heard of meanwhile. */
  let sending = 0
  let heard = 0

  const states = computed(() => new Map<string, StepState>((built.value?.steps ?? []).map((s) => [s.id, s])))
  const settled = computed(() => snapshot.value !== null && built.value?.revision === snapshot.value.revision)

  /** The link was ended: by signing out somewhere, or else it is begun again. */
  async function ended(part: string): Promise<void> {
    const { data } = await api.GET('/api/account')
    if (id !== part) return
    if (!data || data.email) return open(part)
    useAccount().email = null
    missing.value = 'You were signed out. What was kept is kept; sign in again to go on.'
  }

  async function open(part: string): Promise<void> {
    close()
    id = part
    // Both at once: the model may come before the part.
    const known = refresh()
    const mine = (link = new LiveLink(part, {
      changed: (revision) => {
        // The answer to our own change brings the part along; the word of it may come sooner.
        if (sending > 0) heard = Math.max(heard, revision)
        else if (snapshot.value && revision !== snapshot.value.revision) void refresh()
      },
      building: (step) => {
        building.value = step
        share.value = null
      },
      share: (now) => {
        share.value = now
      },
      rebuilt: (message) => {
        if (snapshot.value) rebuilt(message)
        else void known.then(() => link === mine && rebuilt(message))
      },
      connected: (on) => {
        connected.value = on
      },
      ended: () => void ended(part),
    }))
    const joined = mine.open().catch((e: unknown) => e)
    await known
    if (link !== mine) return
    if (missing.value) {
      mine.close()
      link = null
      return
    }
    const failed = await joined
    if (failed) throw failed
  }

  function rebuilt(message: RebuiltMessage): void {
    const bodies = withGeometry(message.bodies, (present ?? built.value)?.bodies ?? [])
    if (!bodies) return void link?.whole()
    if (looking.value === null) built.value = { ...message, bodies }
    else present = { ...message, bodies }
    building.value = share.value = null
    // What a sketch copies from the model moves without an edit.
    if (message.steps.some((s) => s.followed)) void refresh()
  }

  /** Shows a state from the history in place of the present one. */
  async function look(revision: number): Promise<boolean> {
    const message = await link?.at(revision).catch(() => null)
    if (!message || !built.value) return false
    present ??= built.value
    looking.value = revision
    // It counts as built: nothing is waited for.
    built.value = { ...message, revision: snapshot.value?.revision ?? 0 }
    return true
  }

  /** Shows the part as it would be after a command, until it is left; dropped where it is not wanted any more when it comes. Answers
   *  whether it is shown. */
  async function tryOut(command: object, still: () => boolean): Promise<boolean> {
    const message = await link?.tryCommand(JSON.stringify(command)).catch(() => null)
    if (!message || !built.value || !still()) return false
    const bodies = withGeometry(message.bodies, built.value.bodies)
    if (!bodies) return false
    present ??= built.value
    looking.value = snapshot.value?.revision ?? 0
    built.value = { ...message, bodies, revision: snapshot.value?.revision ?? 0 }
    return true
  }

  /** The bodies as they are at present, whatever is looked at. */
  const standing = (): RebuiltMessage['bodies'] => (present ?? built.value)?.bodies ?? []

  /** Back from the history to the present state. */
  function leave(): void {
    if (looking.value === null) return
    looking.value = null
    built.value = present ?? built.value
    present = null
  }

  function close(): void {
    looking.value = present = null
    link?.close()
    link = null
    snapshot.value = null
    built.value = null
    missing.value = null
    notice.value = null
  }

  async function refresh(): Promise<void> {
    const asked = id
    const { data, error } = await api.GET('/api/parts/{id}', { params: { path: { id } } })
    // Another part may have been opened meanwhile.
    if (asked !== id) return
    if (data) take(data)
    // A part that is shown stays while the server is away for a moment.
    else if (!snapshot.value || GONE.includes((error as Problem).status ?? 0)) missing.value = reason(error)
    else notice.value = reason(error)
  }

  function take(next: PartSnapshot): void {
    if (!snapshot.value || next.revision >= snapshot.value.revision) snapshot.value = next
  }

  async function ours<T>(change: () => Promise<T>): Promise<T> {
    leave()
    sending++
    try {
      return await change()
    } finally {
      sending--
      if (sending === 0 && heard > (snapshot.value?.revision ?? 0)) void refresh()
      if (sending === 0) heard = 0
    }
  }

  let pending = 0
  let queue: Promise<unknown> = Promise.resolve()

  /** One change of ours after the other, each on the part that the one before left; what was meant for a part that was left is dropped. */
  function inTurn(change: () => Promise<Problem | null>): Promise<Problem | null> {
    const of = id
    const turn = (): Promise<Problem | null> => (of === id ? ours(change) : Promise.resolve(null))
    const next = pending === 0 ? turn() : queue.then(turn)
    pending++
    queue = next.catch(() => null).finally(() => pending--)
    return next
  }

  /** Sends a command; answers what is wrong, or null. A stale one is shown with the part as it is now. */
  const send = (command: PartCommand): Promise<Problem | null> =>
    inTurn(async () => {
      const { data, error } = await api.POST('/api/parts/{id}/commands', {
        params: { path: { id } },
        body: { revision: snapshot.value?.revision ?? 0, command },
      })
      return answer(data, error)
    })

  /** Goes back to a state that the part was in; that can be undone. */
  const back = (revision: number): Promise<Problem | null> =>
    inTurn(async () => {
      const { data, error } = await api.POST('/api/parts/{id}/history/{revision}/back', {
        params: { path: { id, revision } },
        body: { revision: snapshot.value?.revision ?? 0 },
      })
      return answer(data, error)
    })

  /** Stops what is under way for the part: a rebuild, a preview, a file. */
  const stop = (): Promise<unknown> => api.POST('/api/parts/{id}/stop', { params: { path: { id } } })

  const step = (way: 'undo' | 'redo'): Promise<Problem | null> =>
    inTurn(async () => {
      const options = { params: { path: { id } }, body: { revision: snapshot.value?.revision ?? 0 } }
      const { data, error } =
        way === 'undo'
          ? await api.POST('/api/parts/{id}/undo', options)
          : await api.POST('/api/parts/{id}/redo', options)
      return answer(data, error)
    })

  /** Reads a body, triangles or a drawing into the part: as a new step, in place of an imported one, or into a sketch.
   * The unit is for triangles of a format that has none. */
  async function importFile(file: File, into?: string, unit?: string): Promise<Problem | null> {
    const largest = isMesh(file.name) ? LARGEST_MESH : LARGEST_FILE
    if (file.size > largest) {
      const detail = `${file.name} has ${Math.round(file.size / 2 ** 20)} MB; up to ${largest / 2 ** 20} MB are read.`
      notice.value = detail
      return { detail } as Problem
    }
    const query = new URLSearchParams({
      name: file.name,
      ...(into ? { step: into } : {}),
      ...(unit ? { unit } : {}),
    })
    importing.value = file.name
    return ours(async () => {
      const response = await reach(`/api/parts/${id}/import?${query}`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/octet-stream' },
        body: file,
      }).finally(() => (importing.value = share.value = null))
      const body = (await response.json().catch(() => ({}))) as unknown
      if (!response.ok) return answer(undefined, body)
      answer(body as PartSnapshot, undefined)
      const left = response.headers.get('Left-Out')
      if (left) notice.value = `${file.name}: ${decodeURIComponent(left)}.`
      return null
    })
  }

  function answer(data: PartSnapshot | undefined, error: unknown): Problem | null {
    if (data) {
      take(data)
      notice.value = data.said ?? null
      return null
    }
    const problem: Problem = { ...(error as Problem), detail: reason(error) }
    notice.value = problem.detail ?? null
    if (problem.code === 'edit.stale' || problem.code === 'edit.unsure') void refresh()
    return problem
  }

  return {
    looking,
    tryOut,
    look,
    leave,
    back,
    snapshot,
    built,
    states,
    settled,
    standing,
    missing,
    connected,
    building,
    share,
    notice,
    open,
    close,
    refresh,
    send,
    stop,
    step,
    importing,
    importFile,
    live: () => link,
  }
})
