<script setup lang="ts">
import { ChevronDown, ChevronRight, EllipsisVertical } from 'lucide-vue-next'
import { computed, ref } from 'vue'
import type { StepView } from '../api/client'
import type { StepState } from '../api/live'
import ToolIcon from '../icons/ToolIcon.vue'
import { SPACE_FILES } from '../stores/meshFiles'
import { useLook } from '../stores/look'
import { useNames } from '../stores/names'
import { usePart } from '../stores/part'
import { useWork } from '../stores/work'
import { DRAWN, bodiesIn, mainSize, noteOf, sheetRows, standing, wide } from './sheet'
import { useSheetActions } from './sheetActions'
import SheetMenu from './SheetMenu.vue'
import SizeField from './SizeField.vue'
import WorldRow from './WorldRow.vue'

const part = usePart()
const names = useNames()
const work = useWork()
const look = useLook()
const open = ref(new Set<string>())
const folded = ref(new Set<string>())
const renaming = ref<string | null>(null)
const grouping = ref<StepView | null>(null)
const search = ref('')
const newer = ref<HTMLInputElement | null>(null)
let replaced = ''

const steps = computed(() => part.snapshot?.steps ?? [])
/** What is left out is drawn faintly; not its menu, which would then lie under the rows below it. */
const faint = (s: StepView): string =>
  s.suppressed || (part.snapshot?.stopLine ?? Infinity) < s.number ? 'opacity-55' : ''
/** The step that made what is under the pointer in the view. */
const seen = computed(() => (work.sketch ? '' : (work.hover.split(/[/^]/)[0] ?? '')))
const rows = computed(() => sheetRows(steps.value, search.value))
const isFolded = (s: StepView): boolean => s.group != null && folded.value.has(s.group) && !search.value
const groupNames = computed(() => [...new Set(steps.value.map((s) => s.group).filter((g) => g != null))])
const stateOf = (s: StepView): StepState | undefined => part.states.get(s.id)
const stands = (s: StepView): { text: string; bad: boolean } => standing(s, stateOf(s))

function flip(set: Set<string>, item: string): void {
  if (!set.delete(item)) set.add(item)
}

const { edit, rename, group, mend, stopBelow, showKind, leaveOut, choices } = useSheetActions({
  toggle: (id) => flip(open.value, id),
  open: (id) => open.value.add(id),
  rename: (id) => (renaming.value = id),
  group: (step) => (grouping.value = step),
  replace(step) {
    replaced = step.id
    newer.value?.click()
  },
})

const kinds = computed(() =>
  DRAWN.filter((k) => steps.value.some((s) => s.kind === k)).map((kind) => {
    const shown = steps.value.some((s) => s.kind === kind && s.hidden !== true)
    const label = `${shown ? 'Hide' : 'Show'} every ${kind}`
    return { label, mark: kind, run: () => void showKind(kind, !shown) }
  }),
)

function putInGroup(event: Event): void {
  const step = grouping.value
  grouping.value = null
  if (step) void group(step, ((event.target as HTMLFormElement).group as HTMLInputElement).value)
}

function named(step: StepView, event: Event): void {
  renaming.value = null
  void rename(step, (event.target as HTMLInputElement).value)
}

async function takeNewer(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const chosen = input.files?.[0]
  input.value = ''
  if (chosen) await part.importFile(chosen, replaced)
}
</script>

<template>
  <section class="flex min-h-0 flex-1 flex-col" aria-label="Build sheet">
    <input
      ref="newer"
      type="file"
      :accept="SPACE_FILES"
      class="hidden"
      aria-label="File to put in its place"
      data-testid="replace-file"
      @change="takeNewer"
    />
    <div class="flex items-center px-3 pt-2.5 pb-1.5">
      <h2 class="head flex-1">Build sheet</h2>
      <input
        v-if="steps.length > 5"
        v-model="search"
        class="field mr-1 w-28"
        placeholder="search"
        aria-label="Search the build sheet"
        data-testid="search-sheet"
      />
      <SheetMenu
        v-if="kinds.length"
        :choices="kinds"
        width="w-40"
        class="min-h-6 px-1.5 text-[11.5px] text-muted hover:text-accent"
        data-testid="shown-kinds"
        >shown</SheetMenu
      >
    </div>
    <form
      v-if="grouping"
      class="flex items-center gap-1.5 px-3 pb-1.5"
      data-testid="grouping"
      @submit.prevent="putInGroup"
    >
      <span class="min-w-0 flex-1 truncate text-muted">group for {{ grouping.name }}</span>
      <input name="group" class="field w-32" list="groups" aria-label="Name of the group" autofocus />
      <datalist id="groups"><option v-for="g in groupNames" :key="g" :value="g" /></datalist>
      <button class="button">Put</button>
      <button type="button" class="button" @click="grouping = null">Cancel</button>
    </form>
    <WorldRow />
    <div class="min-h-0 flex-1 overflow-auto">
      <table class="w-full table-fixed border-collapse" data-testid="build-sheet">
        <thead class="sr-only">
          <tr>
            <th>Number</th>
            <th>Step</th>
            <th>Main size</th>
            <th>State</th>
          </tr>
        </thead>
        <colgroup>
          <col class="w-10" />
          <col />
          <col class="w-[74px]" />
          <col class="w-[66px]" />
        </colgroup>
        <tbody>
          <template v-for="{ step: s, begins } in rows" :key="s.id">
            <tr v-if="begins" class="border-t border-hair bg-paper" :data-group="begins">
              <td colspan="4" class="px-3 py-1">
                <button
                  type="button"
                  class="flex min-h-6 items-center gap-1.5 font-medium"
                  :aria-expanded="!folded.has(begins)"
                  @click="flip(folded, begins)"
                >
                  <component :is="folded.has(begins) ? ChevronRight : ChevronDown" :size="14" />{{ begins }}
                </button>
              </td>
            </tr>
            <tr
              v-if="!isFolded(s)"
              class="group border-t border-hair"
              :class="[
                work.sketch === s.id ? 'bg-accent-soft' : '',
                seen === s.id && work.sketch !== s.id ? 'shadow-[inset_3px_0_0_var(--hover)]' : '',
              ]"
              :data-step="s.id"
              :data-state="stateOf(s)?.state ?? ''"
              :data-frame="stateOf(s)?.plane?.join(' ') ?? ''"
              :data-seen="seen === s.id"
              @pointerenter="look.lit = s.id"
              @pointerleave="look.lit = null"
            >
              <td class="py-1.5 pl-3 text-muted" :class="faint(s)">{{ s.number }}</td>
              <td
                class="py-1.5"
                :class="[s.kind === 'reading' ? 'pr-11' : '', faint(s)]"
                :colspan="wide(s) ? 2 : 1"
              >
                <div class="flex min-w-0 items-center gap-1.5">
                  <button
                    v-if="s.sizes.length > 1 || s.sketch || bodiesIn(s).length > 0"
                    type="button"
                    class="text-muted"
                    :aria-expanded="open.has(s.id)"
                    :aria-label="`${s.kind === 'import' ? 'Bodies' : 'Sizes'} of ${s.name}`"
                    :data-sizes-of="s.id"
                    @click="flip(open, s.id)"
                  >
                    <component :is="open.has(s.id) ? ChevronDown : ChevronRight" :size="14" />
                  </button>
                  <span v-else class="w-3.5" />
                  <ToolIcon :name="s.kind" :size="15" class="shrink-0 text-muted" />
                  <input
                    v-if="renaming === s.id"
                    class="field w-28"
                    :value="s.name"
                    :aria-label="`Name of step ${s.number}`"
                    autofocus
                    @blur="named(s, $event)"
                    @keydown.enter="($event.target as HTMLInputElement).blur()"
                    @keydown.esc="renaming = null"
                  />
                  <button
                    v-else
                    type="button"
                    class="min-w-0 flex-1 truncate text-left"
                    :title="`${stateOf(s)?.summary ?? s.name} — press to edit`"
                    :data-edit="s.id"
                    @click="edit(s)"
                  >
                    {{ s.name }}
                  </button>
                </div>
              </td>
              <td v-if="mainSize(s)" class="py-1 pr-1 text-right" :class="faint(s)">
                <SizeField :step="s.id" :size="mainSize(s)!" narrow />
              </td>
              <td
                class="py-1.5 pr-2"
                :colspan="wide(s) || mainSize(s) ? 1 : 2"
                :class="stands(s).bad ? 'font-medium text-alert' : 'text-muted'"
              >
                <!-- A long value reaches to the left, over what the name leaves. -->
                <div class="flex items-center justify-end whitespace-nowrap">
                  <span :class="faint(s)">{{ stands(s).text }}</span>
                  <SheetMenu
                    :choices="choices(s)"
                    width="w-52"
                    class="ml-0.5 block rounded px-0.5 text-muted hover:text-accent"
                    :aria-label="`More for ${s.name}`"
                    :data-more="s.id"
                    ><EllipsisVertical :size="14"
                  /></SheetMenu>
                </div>
              </td>
            </tr>
            <tr v-if="stands(s).bad && !isFolded(s)">
              <td />
              <td colspan="3" class="pr-3 pb-2 text-alert" role="status">
                {{ stateOf(s)?.message }}
                <button
                  v-for="c in stateOf(s)?.near ?? []"
                  :key="c"
                  type="button"
                  class="block min-h-6 max-w-full truncate text-left text-ink underline hover:text-accent"
                  :data-mend="c"
                  @click="mend(s, c)"
                >
                  take {{ names.of(c) }} instead
                </button>
              </td>
            </tr>
            <tr v-else-if="noteOf(stateOf(s)) && !isFolded(s)">
              <td />
              <td colspan="3" class="pr-3 pb-1.5 text-muted" role="note">
                {{ noteOf(stateOf(s)) }}
              </td>
            </tr>
            <tr v-if="open.has(s.id) && !isFolded(s)" :data-sizes="s.id">
              <td />
              <td colspan="3" class="pr-3 pb-2">
                <label
                  v-for="b in bodiesIn(s)"
                  :key="b.number"
                  class="flex min-h-6 items-center gap-2 py-0.5"
                  :class="b.taken ? '' : 'text-muted line-through'"
                >
                  <input
                    type="checkbox"
                    class="h-4 w-4 accent-[var(--accent)]"
                    :checked="b.taken"
                    :aria-label="`Take ${b.name} in`"
                    :data-body-in="b.number"
                    @change="leaveOut(s, b, $event)"
                  />
                  <span
                    class="h-3 w-3 shrink-0 rounded-sm border border-hair"
                    :style="b.colour ? { background: b.colour } : {}"
                  />
                  <span class="min-w-0 flex-1 truncate" :title="b.name">{{ b.name }}</span>
                </label>
                <p v-if="s.sizes.length === 0 && s.kind !== 'import'" class="text-muted">
                  no driving sizes yet
                </p>
                <div v-for="z in s.sizes" :key="z.field" class="flex items-center gap-2 py-0.5">
                  <span class="min-w-0 flex-1 truncate text-muted" :title="z.field">{{ z.field }}</span>
                  <span v-if="z.formula !== z.shown" class="whitespace-nowrap text-muted">{{ z.shown }}</span>
                  <SizeField :step="s.id" :size="z" />
                </div>
              </td>
            </tr>
            <tr v-if="part.snapshot?.stopLine === s.number" class="stop-line">
              <td
                colspan="4"
                class="border-y-2 border-accent bg-accent-soft px-3 py-0.5 text-[11px] font-medium text-accent"
              >
                stop line — steps below are not built
                <button type="button" class="float-right underline" @click="stopBelow(null)">
                  build all
                </button>
              </td>
            </tr>
          </template>
        </tbody>
      </table>
      <p v-if="part.snapshot && steps.length === 0" class="px-3 py-3 text-muted">
        No steps yet. Press <kbd class="font-mono">d</kbd> then <kbd class="font-mono">m</kbd> for a rectangle
        from its centre on XY, or pick a plane first.
      </p>
    </div>
  </section>
</template>
