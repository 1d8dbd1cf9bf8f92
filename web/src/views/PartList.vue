<script setup lang="ts">
import { Download, LogOut, Plus, Trash2, Upload } from 'lucide-vue-next'
import { onBeforeUnmount, onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, reach, reason, type PartListing, type PartSnapshot } from '../api/client'
import { useAccount } from '../stores/account'
import { currentTheme } from '../theme'

const account = useAccount()
const router = useRouter()
const parts = ref<PartListing[]>([])
const name = ref('')
const error = ref<string | null>(null)
const doomed = ref<PartListing | null>(null)
const dark = currentTheme() === 'dark'

/** The server draws a part a moment after its last change; how often it is asked whether it has, at most. */
const MOST_LOOKS = 40
let looks = 0
let looking: ReturnType<typeof setTimeout> | undefined

async function load(): Promise<void> {
  const { data, error: failed } = await api.GET('/api/parts')
  parts.value = data ?? []
  error.value = data ? null : reason(failed)
  clearTimeout(looking)
  if (parts.value.some((p) => p.drawn !== p.revision) && looks++ < MOST_LOOKS)
    looking = setTimeout(() => void load(), 1500)
}

async function create(): Promise<void> {
  const { data, error: failed } = await api.POST('/api/parts', { body: { name: name.value || 'New part' } })
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

async function remove(part: PartListing): Promise<void> {
  const { error: failed } = await api.DELETE('/api/parts/{id}', { params: { path: { id: part.id } } })
  doomed.value = null
  await load()
  if (failed) error.value = reason(failed)
}

async function leave(): Promise<void> {
  await account.signOut()
  await router.push('/sign-in')
}

onMounted(async () => {
  await load()
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
        <p v-if="error" role="alert" class="mt-4 rounded bg-alert-soft p-2.5 text-alert">{{ error }}</p>
        <p v-if="parts.length === 0 && !error" class="mt-16 text-center text-base text-muted">
          No parts yet. Give one a name and begin.
        </p>
        <ul class="mt-6 grid grid-cols-3 gap-5">
          <li
            v-for="part in parts"
            :key="part.id"
            class="group relative overflow-hidden rounded-md border border-hair bg-sheet"
          >
            <RouterLink :to="`/parts/${part.id}`" class="block">
              <img
                v-if="part.hasPicture"
                :src="`/api/parts/${part.id}/picture?dark=${dark}&at=${part.drawn}`"
                alt=""
                class="h-44 w-full border-b border-hair bg-canvas object-cover"
                data-testid="part-picture"
              />
              <span
                v-else
                class="flex h-44 items-center justify-center border-b border-hair bg-canvas text-muted"
                >{{ part.drawn === part.revision ? 'nothing to see yet' : 'being drawn …' }}</span
              >
              <span class="block px-3 pt-2.5 text-[15px] font-medium">{{ part.name }}</span>
              <span class="block px-3 pb-2.5 text-muted"
                >{{ part.steps }} steps · {{ new Date(part.changed).toLocaleString() }}</span
              >
            </RouterLink>
            <button
              type="button"
              class="absolute right-2 bottom-3 rounded p-1.5 text-muted hover:text-alert"
              :aria-label="`Delete ${part.name}`"
              @click="doomed = part"
            >
              <Trash2 :size="15" />
            </button>
            <div
              v-if="doomed === part"
              role="alertdialog"
              class="absolute inset-0 flex flex-col items-center justify-center gap-3 bg-sheet/95 p-4 text-center"
            >
              <span>Delete {{ part.name }} with all its steps? This cannot be undone.</span>
              <span class="flex gap-2">
                <button type="button" class="button" @click="doomed = null">Keep it</button>
                <button type="button" class="button border-alert text-alert" @click="remove(part)">
                  Delete
                </button>
              </span>
            </div>
          </li>
        </ul>
      </div>
    </main>
  </div>
</template>
