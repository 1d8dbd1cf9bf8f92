<script setup lang="ts">
import { Copy, Download, LogOut, Plus, Search, Trash2, Upload } from 'lucide-vue-next'
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, reach, reason, type PartCommand, type PartListing, type PartSnapshot } from '../api/client'
import type { components } from '../api/schema'
import { useAccount } from '../stores/account'
import { useGuide } from '../stores/guide'
import { currentTheme } from '../theme'
import { listed, ORDERS, tagsOf, type Order } from './listing'
import PartCard from './PartCard.vue'

type ExampleView = components['schemas']['ExampleView']

const account = useAccount()
const guide = useGuide()
const dark = currentTheme() === 'dark'
const examples = ref<ExampleView[]>([])
const router = useRouter()
const parts = ref<PartListing[]>([])
const loaded = ref(false)
const name = ref('')
const error = ref<string | null>(null)
const search = ref('')
const tag = ref<string | null>(null)
const order = ref<Order>((localStorage.getItem('list-order') as Order | null) ?? 'changed')
/** Whether those are shown that were deleted. */
const bin = ref(false)
const chosen = ref(new Set<string>())
/** What was deleted last, to be had back at once. */
const deleted = ref<PartListing[]>([])
const shown = computed(() =>
  listed(parts.value, search.value, tag.value, order.value in ORDERS ? order.value : 'changed'),
)
const tags = computed(() => tagsOf(parts.value))
const picked = computed(() => shown.value.filter((p) => chosen.value.has(p.id)))

/** The server draws a part a moment after its last change; how often it is asked whether it has, at most. */
const MOST_LOOKS = 40
let looks = 0
let looking: ReturnType<typeof setTimeout> | undefined

async function load(): Promise<void> {
  const { data, error: failed } = await api.GET('/api/parts', { params: { query: { deleted: bin.value } } })
  parts.value = data ?? []
  loaded.value = true
  if (!data) error.value = reason(failed)
  if (tag.value !== null && !tags.value.includes(tag.value)) tag.value = null
  clearTimeout(looking)
  if (!bin.value && parts.value.some((p) => p.drawn !== p.revision) && looks++ < MOST_LOOKS)
    looking = setTimeout(() => void load(), 1500)
}

function sorted(): void {
  localStorage.setItem('list-order', order.value)
}

async function show(deletedOnes: boolean): Promise<void> {
  bin.value = deletedOnes
  chosen.value = new Set()
  error.value = null
  await load()
}

function choose(part: PartListing): void {
  const now = new Set(chosen.value)
  if (!now.delete(part.id)) now.add(part.id)
  chosen.value = now
}

/** Does one thing to each of some parts, and says what of it was refused. */
async function each(
  of: readonly PartListing[],
  act: (part: PartListing) => Promise<{ error?: unknown }>,
): Promise<void> {
  error.value = null
  for (const part of of) {
    const { error: failed } = await act(part)
    if (failed) error.value = `${part.name}: ${reason(failed)}`
  }
  chosen.value = new Set()
  looks = 0
  await load()
}

const at = (part: PartListing) => ({ params: { path: { id: part.id } } })

async function remove(of: readonly PartListing[]): Promise<void> {
  await each(of, (p) => api.DELETE('/api/parts/{id}', at(p)))
  deleted.value = of.filter((p) => !parts.value.some((q) => q.id === p.id))
}

async function restore(of: readonly PartListing[]): Promise<void> {
  deleted.value = []
  await each(of, (p) => api.POST('/api/parts/{id}/restore', at(p)))
}

const throwAway = (of: readonly PartListing[]): Promise<void> =>
  each(of, (p) => api.DELETE('/api/parts/{id}', { params: { path: { id: p.id }, query: { forever: true } } }))
const copy = (of: readonly PartListing[]): Promise<void> =>
  each(of, (p) => api.POST('/api/parts/{id}/copy', at(p)))
const retag = (part: PartListing, to: string[]): Promise<void> =>
  each([part], () => api.PUT('/api/parts/{id}/tags', { ...at(part), body: { tags: to } }))
const rename = (part: PartListing, to: string): Promise<void> =>
  each([part], () =>
    api.POST('/api/parts/{id}/commands', {
      ...at(part),
      body: {
        revision: part.revision,
        command: { command: 'rename-part', name: to } as unknown as PartCommand,
      },
    }),
  )

async function create(): Promise<void> {
  const { data, error: failed } = await api.POST('/api/parts', { body: { name: name.value || 'New part' } })
  if (data) await router.push(`/parts/${data.id}`)
  else error.value = reason(failed)
}

/** A first part, with the guide beside it. */
async function begin(): Promise<void> {
  guide.begin()
  name.value ||= 'My first part'
  await create()
}

/** A part to look into and take apart: a copy of one's own. */
async function take(example: ExampleView): Promise<void> {
  const { data, error: failed } = await api.POST('/api/examples/{name}', {
    params: { path: { name: example.name } },
  })
  if (data) await router.push(`/parts/${data.id}`)
  else error.value = reason(failed)
}

async function importFile(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (!file) return
  const archive = file.name.toLowerCase().endsWith('.zip')
  const response = await reach(`/api/parts/import.${archive ? 'zip' : 'json'}`, {
    method: 'POST',
    headers: { 'Content-Type': archive ? 'application/zip' : 'application/json' },
    body: file,
  })
  const body = (await response.json().catch(() => ({}))) as unknown
  input.value = ''
  error.value = null
  if (response.ok && archive) await load()
  else if (response.ok) await router.push(`/parts/${(body as PartSnapshot).id}`)
  else {
    const where = (body as { where?: string }).where
    error.value = `${file.name}${where ? `, ${where}` : ''}: ${reason(body)}`
  }
}

async function leave(): Promise<void> {
  await account.signOut()
  await router.push('/sign-in')
}

onMounted(async () => {
  await Promise.all([
    load(),
    api.GET('/api/examples').then(({ data }) => {
      examples.value = data ?? []
    }),
  ])
  // What opening a part needs is fetched while one looks at the list.
  void import('./Workspace.vue')
})
onBeforeUnmount(() => clearTimeout(looking))
</script>

<template>
  <div class="flex h-full flex-col">
    <header class="flex items-center gap-3 border-b border-hair bg-sheet px-5 py-2.5">
      <img src="/mark.svg" alt="" class="h-6 w-6" /><span class="text-base font-semibold">Ratiogon</span>
      <RouterLink to="/account" class="ml-auto text-muted underline hover:text-accent">{{
        account.visitor ? 'visitor, for a day' : account.email
      }}</RouterLink>
      <button type="button" class="button flex items-center gap-1.5" @click="leave">
        <LogOut :size="14" />Sign out
      </button>
    </header>
    <main class="flex-1 overflow-auto p-8">
      <div class="mx-auto max-w-5xl">
        <div class="flex items-end gap-3">
          <h1 class="mr-auto text-2xl font-semibold">Parts</h1>
          <form class="flex gap-2" @submit.prevent="create">
            <input
              v-model="name"
              class="field w-56 py-1.5"
              placeholder="Name of a new part"
              aria-label="Name of a new part"
              maxlength="120"
            />
            <button class="button-main flex items-center gap-1.5"><Plus :size="15" />New part</button>
          </form>
          <label class="button flex cursor-pointer items-center gap-1.5 py-1.5">
            <Upload :size="14" />Open a part or an archive<input
              type="file"
              accept=".json,.zip,application/json,application/zip"
              class="sr-only"
              data-testid="import-part"
              @change="importFile"
            />
          </label>
          <a
            v-if="parts.length"
            class="button flex items-center gap-1.5 py-1.5"
            href="/api/parts/archive.zip"
            download
            data-testid="save-archive"
            ><Download :size="14" />Save all</a
          >
        </div>
        <div class="mt-5 flex flex-wrap items-center gap-2" role="search">
          <label class="relative">
            <Search :size="14" class="absolute top-1/2 left-2 -translate-y-1/2 text-muted" /><input
              v-model="search"
              type="search"
              class="field w-64 py-1.5 pl-7"
              placeholder="Search names and tags"
              aria-label="Search names and tags"
              data-testid="search-parts"
            />
          </label>
          <label class="flex items-center gap-1.5 text-muted"
            >order
            <select v-model="order" class="field py-1.5 text-ink" data-testid="order-parts" @change="sorted">
              <option v-for="(words, o) in ORDERS" :key="o" :value="o">{{ words }}</option>
            </select></label
          >
          <button
            v-for="t in tags"
            :key="t"
            type="button"
            class="rounded border px-2 py-1"
            :class="tag === t ? 'border-accent bg-accent-soft' : 'border-hair text-muted hover:text-accent'"
            :aria-pressed="tag === t"
            :data-tag="t"
            @click="tag = tag === t ? null : t"
          >
            {{ t }}
          </button>
          <button
            type="button"
            class="ml-auto rounded px-2 py-1 text-muted underline hover:text-accent"
            :aria-pressed="bin"
            data-testid="deleted-parts"
            @click="show(!bin)"
          >
            {{ bin ? 'back to the parts' : 'deleted parts' }}
          </button>
        </div>
        <div
          v-if="picked.length"
          class="mt-3 flex items-center gap-2 rounded border border-accent bg-accent-soft px-3 py-1.5"
          data-testid="chosen-parts"
        >
          <span class="mr-auto">{{ picked.length }} of {{ shown.length }} chosen</span>
          <button type="button" class="button" @click="chosen = new Set(shown.map((p) => p.id))">
            Choose all
          </button>
          <template v-if="bin">
            <button type="button" class="button" data-all="restore" @click="restore(picked)">
              Bring back
            </button>
            <button type="button" class="button text-alert" data-all="forever" @click="throwAway(picked)">
              Throw away
            </button>
          </template>
          <template v-else>
            <button
              type="button"
              class="button flex items-center gap-1.5"
              data-all="copy"
              @click="copy(picked)"
            >
              <Copy :size="14" />Copy
            </button>
            <button
              type="button"
              class="button flex items-center gap-1.5 text-alert"
              data-all="delete"
              @click="remove(picked)"
            >
              <Trash2 :size="14" />Delete
            </button>
          </template>
          <button type="button" class="button" @click="chosen = new Set()">None</button>
        </div>
        <p
          v-if="deleted.length"
          class="mt-3 flex items-center gap-3 rounded border border-hair bg-sheet px-3 py-1.5"
          role="status"
        >
          {{
            deleted.length === 1 ? `${deleted[0]!.name} is deleted` : `${deleted.length} parts are deleted`
          }}; it can be had back for 30 days.
          <button type="button" class="button" data-testid="undelete" @click="restore(deleted)">
            Bring back
          </button>
        </p>
        <p v-if="error" role="alert" class="mt-4 rounded bg-alert-soft p-2.5 text-alert">{{ error }}</p>
        <div v-if="loaded && parts.length === 0 && !error" class="mt-16 text-center text-base text-muted">
          <p v-if="bin">Nothing was deleted within the last 30 days.</p>
          <template v-else>
            <p>No parts yet. Give one a name above and begin; or be shown how:</p>
            <button type="button" class="button-main mt-4" data-testid="begin-guide" @click="begin">
              Make a first part, step by step
            </button>
            <p class="mt-2 text-sm">
              seven steps on a part of your own, about three minutes; leave whenever you like
            </p>
          </template>
        </div>
        <p v-else-if="loaded && shown.length === 0" class="mt-16 text-center text-base text-muted">
          No part is called that{{ tag ? ` and has the tag ${tag}` : '' }}.
          <button type="button" class="underline hover:text-accent" @click="((search = ''), (tag = null))">
            Show all
          </button>
        </p>
        <ul
          class="mt-5 grid grid-cols-[repeat(auto-fill,minmax(240px,1fr))] gap-5"
          :aria-label="bin ? 'Deleted parts' : 'Parts'"
        >
          <PartCard
            v-for="part in shown"
            :key="part.id"
            :part="part"
            :chosen="chosen.has(part.id)"
            @choose="choose(part)"
            @rename="rename(part, $event)"
            @tag="retag(part, $event)"
            @copy="copy([part])"
            @remove="remove([part])"
            @restore="restore([part])"
            @forever="throwAway([part])"
          />
        </ul>
        <section v-if="!bin && examples.length && !account.visitor" class="mt-10" aria-label="Examples">
          <div class="flex items-baseline gap-3">
            <h2 class="head">Examples</h2>
            <span class="text-muted">parts of a dosing pump; pressing one makes it a part of yours</span>
            <button
              v-if="parts.length"
              type="button"
              class="ml-auto text-muted underline hover:text-accent"
              data-testid="begin-guide"
              @click="begin"
            >
              a first part, step by step
            </button>
          </div>
          <ul class="mt-2 grid grid-cols-[repeat(auto-fill,minmax(300px,1fr))] gap-3">
            <li v-for="e in examples" :key="e.name">
              <button
                type="button"
                class="flex w-full gap-3 rounded border border-hair bg-sheet p-2 text-left hover:border-accent"
                :data-example="e.name"
                @click="take(e)"
              >
                <img
                  :src="`/examples/${e.name}${dark ? '-dark' : ''}.png`"
                  alt=""
                  class="h-16 w-20 shrink-0 rounded bg-canvas object-contain"
                />
                <span
                  ><span class="font-medium">{{ e.title }}</span
                  ><span class="mt-0.5 block text-muted">{{ e.shows }}</span></span
                >
              </button>
            </li>
          </ul>
        </section>
      </div>
    </main>
  </div>
</template>
