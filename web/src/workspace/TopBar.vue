<script setup lang="ts">
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue'
import {
  ChevronDown,
  CircleQuestionMark,
  CircleUser,
  History,
  Redo2,
  Search,
  SlidersHorizontal,
  Undo2,
} from 'lucide-vue-next'
import { computed, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import { waiting, type PartCommand } from '../api/client'
import { useAccount } from '../stores/account'
import { useAsking } from '../stores/asking'
import { useGuide } from '../stores/guide'
import { useLook } from '../stores/look'
import { usePart } from '../stores/part'
import { useWork } from '../stores/work'
import { saveAs } from '../api/save'
import { SPACE_FILES, hasNoUnit } from '../stores/meshFiles'
import ShareDone from './ShareDone.vue'
import UnitQuestion from './UnitQuestion.vue'
import { currentTheme, setTheme, THEMES } from '../theme'

const emit = defineEmits<{ parameters: []; find: [] }>()
const part = usePart()
const look = useLook()
const asking = useAsking()
const guide = useGuide()
const work = useWork()
const account = useAccount()
const router = useRouter()
const renaming = ref(false)
const theme = ref(currentTheme())
const file = ref<HTMLInputElement | null>(null)
/** Triangles that wait for their unit. */
const unitless = shallowRef<File | null>(null)
const buildingStep = computed(() => {
  const steps = part.snapshot?.steps ?? []
  const at = steps.findIndex((s) => s.id === part.building)
  return at < 0 ? '' : `${steps[at]!.name}, ${at + 1} of ${steps.length} `
})
const kept = computed(() =>
  part.snapshot
    ? new Date(part.snapshot.changed).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit' })
    : '',
)

async function rename(event: Event): Promise<void> {
  const name = (event.target as HTMLInputElement).value
  renaming.value = false
  if (name !== part.snapshot?.name) await part.send({ command: 'rename-part', name } as PartCommand)
}

async function table(name: 'readings' | 'parameters' | 'holes'): Promise<void> {
  part.notice = await saveAs(`/api/parts/${part.snapshot?.id}/${name}.csv`, `${name}.csv`)
}

async function importFile(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const chosen = input.files?.[0]
  input.value = ''
  if (!chosen) return
  if (hasNoUnit(chosen.name)) unitless.value = chosen
  else await part.importFile(chosen, chosen.name.endsWith('.svg') ? (work.sketch ?? undefined) : undefined)
}

async function importIn(unit: string): Promise<void> {
  const chosen = unitless.value
  unitless.value = null
  if (chosen) await part.importFile(chosen, undefined, unit)
}

const files = [
  { name: 'export', label: 'Export …', run: () => (look.card = 'export') },
  { name: 'import', label: 'Import a body, triangles or a drawing …', run: () => file.value?.click() },
  { name: 'save-readings', label: 'Save the readings as CSV', run: () => void table('readings') },
  { name: 'save-parameters', label: 'Save the parameters as CSV', run: () => void table('parameters') },
  { name: 'save-holes', label: 'Save the hole table as CSV', run: () => void table('holes') },
]

async function signOut(): Promise<void> {
  await account.signOut()
  await router.push('/sign-in')
}

function openAsk(): void {
  if (look.card === 'ask') look.card = null
  else {
    asking.begin(asking.open ?? (asking.readings.length > 0 ? 'drives' : 'flex'))
    look.card = 'ask'
  }
}

/** Gives the part the values of a variant; the first row opens the table of them. */
async function variant(event: Event): Promise<void> {
  const chosen = event.target as HTMLSelectElement
  if (chosen.value) await part.send({ command: 'choose-variant', name: chosen.value } as PartCommand)
  else {
    asking.begin('variants')
    look.card = 'ask'
  }
  chosen.value = part.snapshot?.variant ?? ''
}

const setUnits = (units: 'mm' | 'in'): Promise<unknown> =>
  part.send({ command: 'set-units', units } as PartCommand)
</script>

<template>
  <header class="flex h-11 shrink-0 items-center gap-2 border-b border-hair bg-sheet px-3">
    <RouterLink
      to="/parts"
      class="flex items-center gap-2 rounded px-1 py-1 font-semibold hover:text-accent"
      title="All parts"
      ><img src="/mark.svg" alt="" class="h-6 w-6" />Ratiogon</RouterLink
    >
    <span class="mx-1 h-5 w-px bg-hair" />
    <input
      v-if="renaming"
      class="field w-56 font-medium"
      :value="part.snapshot?.name"
      aria-label="Name of the part"
      maxlength="120"
      autofocus
      @blur="rename"
      @keydown.enter="($event.target as HTMLInputElement).blur()"
      @keydown.esc="renaming = false"
    />
    <button
      v-else
      type="button"
      class="max-w-64 truncate rounded px-1.5 py-1 text-[14px] font-medium hover:bg-accent-soft"
      title="Rename"
      data-testid="part-name"
      @click="renaming = true"
    >
      {{ part.snapshot?.name }}
    </button>
    <select
      v-if="part.snapshot?.variants.length"
      class="field max-w-36 py-1"
      aria-label="Variant"
      data-testid="variant"
      :value="part.snapshot.variant ?? ''"
      @change="variant"
    >
      <option value="">{{ part.snapshot.variant ? 'variants …' : 'no variant' }}</option>
      <option v-for="v in part.snapshot.variants" :key="v.name" :value="v.name">{{ v.name }}</option>
    </select>
    <span class="text-muted" data-testid="kept">{{
      waiting > 0
        ? 'not kept yet, sent again by itself …'
        : part.connected
          ? `kept ${kept}`
          : 'reconnecting …'
    }}</span>
    <span v-if="!part.settled" class="flex items-center gap-1.5 text-muted" aria-live="polite"
      >building {{ buildingStep }} <ShareDone v-if="!part.importing" />
      <button
        v-if="part.building"
        type="button"
        class="button"
        data-testid="stop-building"
        @click="part.stop()"
      >
        Stop
      </button></span
    >
    <span v-if="part.importing" class="flex items-center gap-1.5 text-muted" aria-live="polite"
      >reading {{ part.importing }} <ShareDone />
      <button type="button" class="button" data-testid="stop-import" @click="part.stop()">Stop</button></span
    >
    <span class="flex-1" />
    <button
      type="button"
      class="button flex items-center gap-1.5"
      :disabled="!part.snapshot?.undo"
      :title="part.snapshot?.undo ?? ''"
      aria-label="Undo"
      data-testid="undo"
      @click="part.step('undo')"
    >
      <Undo2 :size="14" /><span class="hidden xl:inline">Undo</span>
    </button>
    <button
      type="button"
      class="button flex items-center gap-1.5"
      :disabled="!part.snapshot?.redo"
      :title="part.snapshot?.redo ?? ''"
      aria-label="Redo"
      data-testid="redo"
      @click="part.step('redo')"
    >
      <Redo2 :size="14" /><span class="hidden xl:inline">Redo</span>
    </button>
    <button
      type="button"
      class="button p-1.5"
      aria-label="History of the part"
      title="History of the part"
      :aria-pressed="look.card === 'history'"
      :disabled="work.sketch !== null"
      data-testid="open-history"
      @click="look.card = look.card === 'history' ? null : 'history'"
    >
      <History :size="15" />
    </button>
    <span class="mx-1 h-5 w-px bg-hair" />
    <button
      type="button"
      class="button flex items-center gap-1.5"
      aria-label="Parameters"
      title="Parameters"
      data-testid="open-parameters"
      @click="emit('parameters')"
    >
      <SlidersHorizontal :size="14" /><span class="hidden xl:inline">Parameters</span>
    </button>
    <button
      type="button"
      class="button flex items-center gap-1.5"
      title="Ask the part: what moves a reading, what tolerances do, which value gives which, where it holds, its variants"
      aria-label="Ask the part"
      :aria-pressed="look.card === 'ask'"
      data-testid="open-ask"
      @click="openAsk()"
    >
      <CircleQuestionMark :size="14" /><span class="hidden xl:inline">Ask</span>
    </button>
    <button
      type="button"
      class="button flex items-center gap-1.5"
      title="Find a tool ( / )"
      aria-label="Find"
      @click="emit('find')"
    >
      <Search :size="14" /><span class="hidden xl:inline">Find</span>
    </button>
    <select
      class="field py-1"
      aria-label="Display unit"
      :value="part.snapshot?.units"
      @change="setUnits(($event.target as HTMLSelectElement).value as 'mm' | 'in')"
    >
      <option value="mm">mm</option>
      <option value="in">in</option>
    </select>
    <Menu as="div" class="relative">
      <MenuButton class="button flex items-center gap-1" data-testid="files"
        >Files<ChevronDown :size="13"
      /></MenuButton>
      <MenuItems class="absolute right-0 z-30 mt-1 w-60 rounded border border-hair bg-sheet py-1 shadow-lg">
        <MenuItem v-for="f in files" :key="f.name" v-slot="{ active }"
          ><button
            type="button"
            class="block w-full px-3 py-1.5 text-left"
            :class="active ? 'bg-accent-soft' : ''"
            :data-testid="f.name"
            @click="f.run()"
          >
            {{ f.label }}
          </button></MenuItem
        >
      </MenuItems>
    </Menu>
    <input
      ref="file"
      type="file"
      :accept="`${SPACE_FILES},.svg`"
      class="hidden"
      aria-label="File to import"
      data-testid="import-file"
      @change="importFile"
    />
    <UnitQuestion v-if="unitless" :file="unitless.name" @unit="importIn" @close="unitless = null" />
    <Menu as="div" class="relative">
      <MenuButton class="rounded p-1.5 hover:text-accent" aria-label="Account"
        ><CircleUser :size="18"
      /></MenuButton>
      <MenuItems class="absolute right-0 z-30 mt-1 w-56 rounded border border-hair bg-sheet py-1 shadow-lg">
        <p class="truncate px-3 py-1.5 text-muted">{{ account.email }}</p>
        <MenuItem v-for="(words, t) in THEMES" :key="t" v-slot="{ active }"
          ><button
            type="button"
            class="flex w-full px-3 py-1.5 text-left"
            :class="active ? 'bg-accent-soft' : ''"
            :aria-pressed="theme === t"
            :data-theme-choice="t"
            @click="(setTheme(t), (theme = t))"
          >
            {{ words }}<Check v-if="theme === t" :size="14" class="ml-auto" /></button
        ></MenuItem>
        <MenuItem v-slot="{ active }"
          ><button
            type="button"
            class="block w-full px-3 py-1.5 text-left"
            :class="active ? 'bg-accent-soft' : ''"
            data-testid="take-up-guide"
            @click="guide.on ? (guide.on = false) : guide.begin()"
          >
            {{ guide.on ? 'Leave the guide' : 'Guide through a first part' }}
          </button></MenuItem
        >
        <MenuItem v-slot="{ active }"
          ><button
            type="button"
            class="block w-full px-3 py-1.5 text-left"
            :class="active ? 'bg-accent-soft' : ''"
            @click="signOut"
          >
            Sign out
          </button></MenuItem
        >
      </MenuItems>
    </Menu>
  </header>
</template>
