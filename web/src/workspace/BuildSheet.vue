<script setup lang="ts">
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue'
import { ChevronDown, ChevronRight, EllipsisVertical } from 'lucide-vue-next'
import { computed, ref } from 'vue'
import type { PartCommand, StepView } from '../api/client'
import ToolIcon from '../icons/ToolIcon.vue'
import { useDatum } from '../stores/datum'
import { useForm } from '../stores/form'
import { useGauge } from '../stores/gauge'
import { usePart } from '../stores/part'
import { useWork } from '../stores/work'
import { FORMS } from './benches'
import SizeField from './SizeField.vue'

const part = usePart()
const work = useWork()
const datum = useDatum()
const form = useForm()
const gauge = useGauge()
const isForm = (kind: string): boolean => FORMS.some((f) => f.name === kind)
const open = ref(new Set<string>())
const renaming = ref<string | null>(null)

const search = ref('')
const folded = ref(new Set<string>())
interface Row {
  step: StepView
  /** Named where a group begins here. */
  begins: string | null
}
/** The rows that the search leaves, those of folded groups left out; a group begins where its first step stands. */
const rows = computed<Row[]>(() => {
  const wanted = search.value.trim().toLowerCase()
  const all = (part.snapshot?.steps ?? []).filter(
    (s) =>
      !wanted || [s.name, s.kind, s.summary, String(s.number)].some((t) => t.toLowerCase().includes(wanted)),
  )
  return all.map((step, i) => ({
    step,
    begins: step.group && all[i - 1]?.group !== step.group ? step.group : null,
  }))
})
const isFolded = (s: StepView): boolean => s.group != null && folded.value.has(s.group) && !search.value
function fold(group: string): void {
  if (!folded.value.delete(group)) folded.value.add(group)
}
const grouping = ref<StepView | null>(null)
const groupNames = computed(() => [
  ...new Set((part.snapshot?.steps ?? []).map((s) => s.group).filter((g) => g != null)),
])
async function group(name: string | null): Promise<void> {
  const step = grouping.value
  grouping.value = null
  if (step)
    await part.send({ command: 'group-steps', steps: [step.id], group: name?.trim() || null } as PartCommand)
}
const duplicate = (s: StepView): Promise<unknown> =>
  part.send({ command: 'duplicate-step', step: s.id } as PartCommand)
const mend = (s: StepView, instead: string): Promise<unknown> =>
  part.send({
    command: 'mend-reference',
    step: s.id,
    lost: part.states.get(s.id)?.lost ?? '',
    instead,
  } as PartCommand)

function toggle(id: string): void {
  if (!open.value.delete(id)) open.value.add(id)
}

function edit(step: StepView): void {
  if (gauge.open && !work.sketch) {
    // A form's row stands for the body that it began, or for the only one there is.
    const bodies = part.built?.bodies ?? []
    const solid = isForm(step.kind) || step.kind === 'import'
    void gauge.pick(solid && bodies.length === 1 ? bodies[0]!.name : step.id, false)
    return
  }
  // While a form is made, the rows serve as picks too.
  if (form.open && !work.sketch && form.answer?.draft.step.id !== step.id) {
    void form.pick(step.id)
    return
  }
  // While a datum is made, the rows serve as picks: datums, curves, and the body of a form.
  if (datum.open && !work.sketch && datum.answer?.draft.step !== step.id) {
    const body = part.built?.bodies[0]?.name
    const named =
      isForm(step.kind) || step.kind === 'import' ? body : step.kind === 'reading' ? undefined : step.id
    if (named) void datum.pick(named, [0, 0, 1e4, 0, 0, -1])
    return
  }
  if (step.kind === 'sketch') {
    void work.enterSketch(step.id)
    return
  }
  if (isForm(step.kind)) {
    work.leaveSketch()
    datum.close()
    work.bench = 'Form'
    void form.edit(step.id)
    return
  }
  if (['plane', 'axis', 'point', 'frame', 'curve'].includes(step.kind)) {
    work.leaveSketch()
    form.close()
    work.bench = 'Datum'
    void datum.edit(step.id)
    return
  }
  toggle(step.id)
}

/** Draws a datum or a sketch, or not. */
function show(s: StepView): void {
  const shown = s.hidden === true || (s.kind === 'sketch' && s.hidden !== false)
  void part.send({ command: 'show-step', step: s.id, shown } as PartCommand)
}

/** Gives a sketch a turn and a shift within its plane, to be edited among its sizes. */
function place(s: StepView): void {
  const unit = part.snapshot?.units ?? 'mm'
  const on = (s.step as { on: string }).on
  open.value.add(s.id)
  void part.send({
    command: 'place-sketch',
    step: s.id,
    on,
    turn: '0 deg',
    shiftX: `0 ${unit}`,
    shiftY: `0 ${unit}`,
  } as PartCommand)
}

function move(s: StepView, by: -1 | 1): void {
  const steps = part.snapshot?.steps ?? []
  const at = steps.findIndex((o) => o.id === s.id)
  const after = by < 0 ? steps[at - 2]?.id : steps[at + 1]?.id
  if (by > 0 && after === undefined) return
  void part.send({ command: 'move-step', step: s.id, after: after ?? null } as PartCommand)
}

const DRAWN = ['plane', 'axis', 'point', 'frame', 'curve', 'sketch']
const kinds = computed(() =>
  DRAWN.filter((k) => part.snapshot?.steps.some((s) => s.kind === k)).map((kind) => ({
    kind,
    shown: part.snapshot!.steps.some((s) => s.kind === kind && s.hidden !== true),
  })),
)
const showKind = (kind: string, shown: boolean): Promise<unknown> =>
  part.send({ command: 'show-kind', kind, shown } as PartCommand)

async function rename(step: StepView, event: Event): Promise<void> {
  const name = (event.target as HTMLInputElement).value
  renaming.value = null
  if (name && name !== step.name)
    await part.send({ command: 'rename-step', step: step.id, name } as PartCommand)
}

const remove = (s: StepView): Promise<unknown> => {
  if (work.sketch === s.id) work.leaveSketch()
  return part.send({ command: 'remove-step', step: s.id, anyway: false } as PartCommand)
}
const removeAnyway = (s: StepView): Promise<unknown> =>
  part.send({ command: 'remove-step', step: s.id, anyway: true } as PartCommand)
/** Steps that stand on this one, directly or through others. */
function standingOn(id: string): StepView[] {
  const found = new Set([id])
  for (const s of part.snapshot?.steps ?? []) if (s.parents.some((p) => found.has(p))) found.add(s.id)
  found.delete(id)
  return (part.snapshot?.steps ?? []).filter((s) => found.has(s.id))
}
const suppress = (s: StepView): Promise<unknown> =>
  part.send({ command: 'suppress-step', step: s.id, suppressed: !s.suppressed } as PartCommand)
const stopBelow = (below: number | null): Promise<unknown> =>
  part.send({ command: 'set-stop-line', below } as PartCommand)

function choices(s: StepView): { label: string; run(): void }[] {
  const hanging = standingOn(s.id).length
  return [
    { label: 'Edit', run: () => edit(s) },
    { label: 'Rename', run: () => (renaming.value = s.id) },
    ...(DRAWN.includes(s.kind)
      ? [
          {
            label: s.hidden === true || (s.kind === 'sketch' && s.hidden !== false) ? 'Show' : 'Hide',
            run: () => show(s),
          },
        ]
      : []),
    ...(s.kind === 'sketch'
      ? [
          { label: 'Move to another plane', run: () => (work.moving = s.id) },
          { label: 'Turn and shift its axes', run: () => place(s) },
        ]
      : []),
    ...(s.kind === 'frame' ? [{ label: 'Work in this frame', run: () => datum.workIn(s.id) }] : []),
    {
      label: s.suppressed ? 'Build again' : hanging ? `Suppress, with ${hanging} on it` : 'Suppress',
      run: () => void suppress(s),
    },
    ...(s.kind === 'import' ? [{ label: 'Put another file in its place', run: () => replaceFile(s) }] : []),
    { label: 'Move up', run: () => move(s, -1) },
    { label: 'Move down', run: () => move(s, 1) },
    { label: 'Duplicate', run: () => void duplicate(s) },
    {
      label: s.group ? `Take out of ${s.group}` : 'Put into a group',
      run: () => {
        grouping.value = s
        if (s.group) void group(null)
      },
    },
    { label: 'Insert below', run: () => void stopBelow(s.number) },
    { label: 'Remove', run: () => void remove(s) },
    ...(hanging ? [{ label: `Remove, ${hanging} then wait`, run: () => void removeAnyway(s) }] : []),
  ]
}

const newer = ref<HTMLInputElement | null>(null)
let replaced = ''
function replaceFile(s: StepView): void {
  replaced = s.id
  newer.value?.click()
}
async function takeNewer(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const chosen = input.files?.[0]
  input.value = ''
  if (chosen) await part.importFile(chosen, replaced)
}

/** What is edited in the row itself; the limits of readings have their table. */
const mainSize = (s: StepView): StepView['sizes'][number] | undefined =>
  s.sketch || s.kind === 'reading' ? undefined : s.sizes[0]

/** Whether the name may have the room of the main size as well. */
const wide = (s: StepView): boolean => s.sketch != null || (s.sizes.length === 0 && s.kind !== 'reading')

/** What is worth knowing of a step that was built. */
const noteOf = (s: StepView): string =>
  part.states.get(s.id)?.state === 'built' ? (part.states.get(s.id)?.message ?? '') : ''

function stateOf(s: StepView): { text: string; bad: boolean } {
  const state = part.states.get(s.id)
  if (s.suppressed) return { text: 'left out', bad: false }
  if (!state) return { text: '…', bad: false }
  if (state.state === 'failed') return { text: 'fails', bad: true }
  if (state.state === 'waiting') return { text: 'waits', bad: true }
  if (state.state === 'left') return { text: 'not built', bad: false }
  if (state.reading) return { text: state.reading, bad: state.verdict === 'fail' }
  if (s.sketch) return { text: s.sketch.freedoms === 0 ? 'set' : `${s.sketch.freedoms} free`, bad: false }
  return { text: '', bad: false }
}
</script>

<template>
  <section class="flex min-h-0 flex-1 flex-col" aria-label="Build sheet">
    <input
      ref="newer"
      type="file"
      accept=".step,.stp,.iges,.igs"
      class="hidden"
      aria-label="File to put in its place"
      data-testid="replace-file"
      @change="takeNewer"
    />
    <div class="flex items-center px-3 pt-2.5 pb-1.5">
      <h2 class="head flex-1">Build sheet</h2>
      <input
        v-if="(part.snapshot?.steps.length ?? 0) > 5"
        v-model="search"
        class="field mr-1 w-28"
        placeholder="search"
        aria-label="Search the build sheet"
        data-testid="search-sheet"
      />
      <Menu v-if="kinds.length" as="span" class="relative">
        <MenuButton
          class="min-h-6 px-1.5 text-[11.5px] text-muted hover:text-accent"
          data-testid="shown-kinds"
          >shown</MenuButton
        >
        <MenuItems
          class="absolute right-0 z-30 w-40 rounded border border-hair bg-sheet py-1 text-left text-ink shadow-lg"
        >
          <MenuItem v-for="k in kinds" :key="k.kind" v-slot="{ active }"
            ><button
              type="button"
              class="block w-full px-3 py-1.5 text-left"
              :class="active ? 'bg-accent-soft' : ''"
              :data-show-kind="k.kind"
              @click="showKind(k.kind, !k.shown)"
            >
              {{ k.shown ? 'Hide' : 'Show' }} every {{ k.kind }}
            </button></MenuItem
          >
        </MenuItems>
      </Menu>
    </div>
    <form
      v-if="grouping"
      class="flex items-center gap-1.5 px-3 pb-1.5"
      data-testid="grouping"
      @submit.prevent="group(($event.target as HTMLFormElement).group.value)"
    >
      <span class="min-w-0 flex-1 truncate text-muted">group for {{ grouping.name }}</span>
      <input name="group" class="field w-32" list="groups" aria-label="Name of the group" autofocus />
      <datalist id="groups"><option v-for="g in groupNames" :key="g" :value="g" /></datalist>
      <button class="button">Put</button>
      <button type="button" class="button" @click="grouping = null">Cancel</button>
    </form>
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
          <col class="w-[110px]" />
          <col class="w-[84px]" />
        </colgroup>
        <tbody>
          <template v-for="{ step: s, begins } in rows" :key="s.id">
            <tr v-if="begins" class="border-t border-hair bg-paper" :data-group="begins">
              <td colspan="4" class="px-3 py-1">
                <button
                  type="button"
                  class="flex min-h-6 items-center gap-1.5 font-medium"
                  :aria-expanded="!folded.has(begins)"
                  @click="fold(begins)"
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
                s.suppressed || (part.snapshot?.stopLine ?? Infinity) < s.number ? 'opacity-55' : '',
              ]"
              :data-step="s.id"
              :data-state="part.states.get(s.id)?.state ?? ''"
              :data-frame="part.states.get(s.id)?.plane?.join(' ') ?? ''"
            >
              <td class="py-1.5 pl-3 text-muted">{{ s.number }}</td>
              <td class="py-1.5" :colspan="wide(s) ? 2 : 1">
                <div class="flex min-w-0 items-center gap-1.5">
                  <button
                    v-if="s.sizes.length > 1 || s.sketch"
                    type="button"
                    class="text-muted"
                    :aria-expanded="open.has(s.id)"
                    :aria-label="`Sizes of ${s.name}`"
                    :data-sizes-of="s.id"
                    @click="toggle(s.id)"
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
                    @blur="rename(s, $event)"
                    @keydown.enter="($event.target as HTMLInputElement).blur()"
                    @keydown.esc="renaming = null"
                  />
                  <button
                    v-else
                    type="button"
                    class="min-w-0 flex-1 truncate text-left"
                    :title="`${s.summary} — press to edit`"
                    :data-edit="s.id"
                    @click="edit(s)"
                  >
                    {{ s.name }}
                  </button>
                </div>
              </td>
              <td v-if="mainSize(s)" class="py-1 pr-1 text-right">
                <SizeField :step="s.id" :size="mainSize(s)!" />
              </td>
              <td
                class="relative py-1.5 pr-2 text-right whitespace-nowrap"
                :colspan="wide(s) || mainSize(s) ? 1 : 2"
                :class="stateOf(s).bad ? 'font-medium text-alert' : 'text-muted'"
              >
                <span class="whitespace-nowrap">{{ stateOf(s).text }}</span>
                <Menu as="span" class="inline-block">
                  <MenuButton
                    class="ml-0.5 rounded px-0.5 align-middle text-muted hover:text-accent"
                    :aria-label="`More for ${s.name}`"
                    :data-more="s.id"
                    ><EllipsisVertical :size="14"
                  /></MenuButton>
                  <MenuItems
                    class="absolute right-2 z-30 w-52 rounded border border-hair bg-sheet py-1 text-left font-normal text-ink shadow-lg"
                  >
                    <MenuItem v-for="c in choices(s)" :key="c.label" v-slot="{ active }"
                      ><button
                        type="button"
                        class="block w-full px-3 py-1.5 text-left"
                        :class="active ? 'bg-accent-soft' : ''"
                        @click="c.run()"
                      >
                        {{ c.label }}
                      </button></MenuItem
                    >
                  </MenuItems>
                </Menu>
              </td>
            </tr>
            <tr v-if="stateOf(s).bad && !isFolded(s)">
              <td />
              <td colspan="3" class="pr-3 pb-2 text-alert" role="status">
                {{ part.states.get(s.id)?.message }}
                <button
                  v-for="c in part.states.get(s.id)?.near ?? []"
                  :key="c"
                  type="button"
                  class="block min-h-6 max-w-full truncate text-left text-ink underline hover:text-accent"
                  :data-mend="c"
                  @click="mend(s, c)"
                >
                  take {{ c }} instead
                </button>
              </td>
            </tr>
            <tr v-else-if="noteOf(s) && !isFolded(s)">
              <td />
              <td colspan="3" class="pr-3 pb-1.5 text-[var(--copper)]" role="note">{{ noteOf(s) }}</td>
            </tr>
            <tr v-if="open.has(s.id) && !isFolded(s)" :data-sizes="s.id">
              <td />
              <td colspan="3" class="pr-3 pb-2">
                <p v-if="s.sizes.length === 0" class="text-muted">no driving sizes yet</p>
                <div v-for="z in s.sizes" :key="z.field" class="flex items-center gap-2 py-0.5">
                  <span class="flex-1 truncate text-muted" :title="z.field">{{ z.field }}</span>
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
      <p v-if="part.snapshot?.steps.length === 0" class="px-3 py-3 text-muted">
        No steps yet. Press <kbd class="font-mono">d</kbd> then <kbd class="font-mono">m</kbd> for a rectangle
        from its centre on XY, or pick a plane first.
      </p>
    </div>
  </section>
</template>
