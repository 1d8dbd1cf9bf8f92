<script setup lang="ts">
import { computed, ref } from 'vue'
import ToolCard from '../cards/ToolCard.vue'
import ToolIcon from '../icons/ToolIcon.vue'
import type { PartCommand } from '../api/client'
import { useForm } from '../stores/form'
import { usePart } from '../stores/part'
import { useWork } from '../stores/work'
import { useActions, type Action } from './actions'
import { BENCHES } from '../stores/benches'

/** Labels up to this long share a row with another, where a bench has too many tools for a row each. */
const SHORT = 8
/** How long the pointer rests on a tool before its card comes, in milliseconds; and room for the tallest card, in pixels. */
const RESTS = 650
const CARD_HEIGHT = 330
/** Benches whose tools change the open sketch, and tools on them that do not. */
const SKETCHING = new Set(['Draw', 'Tie', 'Size'])
const ALWAYS = new Set(['select', 'new-sketch'])
const part = usePart()
const work = useWork()
const form = useForm()
const actions = useActions()
const groups = computed(() => {
  const found = new Map<string, Action[]>()
  for (const a of actions.value.filter((x) => x.bench === work.bench)) {
    if (!found.has(a.group)) found.set(a.group, [])
    found.get(a.group)!.push(a)
  }
  return [...found]
})
const isActive = (name: string): boolean =>
  (work.tool === name && !work.taking) ||
  name === `take-${work.taking}` ||
  (form.answer !== null && name === form.answer.draft.step.kind && !form.answer.draft.step.id) ||
  (name === 'new-sketch' && work.awaitingPlane === 'select')

/** The tool whose card is shown: of what the pointer rests on, or the keyboard stands on. */
const shown = ref<{ action: Action; top: number } | null>(null)
let resting: ReturnType<typeof setTimeout> | undefined
function rest(action: Action, event: Event): void {
  const button = event.currentTarget as HTMLElement
  if (event.type === 'focus' && !button.matches(':focus-visible')) return
  clearTimeout(resting)
  resting = setTimeout(
    () => {
      const top = Math.min(button.getBoundingClientRect().top, window.innerHeight - CARD_HEIGHT)
      shown.value = { action, top: Math.max(8, top) }
    },
    shown.value ? 60 : RESTS,
  )
}
function leave(): void {
  clearTimeout(resting)
  resting = setTimeout(() => (shown.value = null), 60)
}
function hide(): void {
  clearTimeout(resting)
  shown.value = null
}
/** Escape takes the card away; where there is none it is for the tool. */
function escape(event: KeyboardEvent): void {
  if (shown.value) event.stopPropagation()
  hide()
}
function act(action: Action): void {
  hide()
  if (copied.value && whyNot(action)) {
    part.notice = whyNot(action)
    return
  }
  action.run()
}

/** What the open sketch is a live copy of: nothing is drawn in that. */
const copied = computed(() => {
  const like = part.snapshot?.steps.find((s) => s.id === work.sketch)?.step as { like?: string } | undefined
  return part.snapshot?.steps.find((s) => s.id === like?.like) ?? null
})

async function own(): Promise<void> {
  await part.send({ command: 'own-sketch', step: work.sketch } as PartCommand)
}

/** Why a tool cannot be taken up now, or a tie cannot be made from what is picked; empty where it can. */
function whyNot(action: Action): string {
  if (copied.value && SKETCHING.has(action.bench) && !ALWAYS.has(action.name))
    return `This sketch is a live copy of ${copied.value.name}: nothing is drawn in it until it is one of its own.`
  if (!work.sketch || work.picks.length === 0 || action.bench !== 'Tie') return ''
  return work.offers.find((o) => o.id === action.name)?.whyNot ?? ''
}
</script>

<template>
  <nav class="flex w-[200px] shrink-0 flex-col border-r border-hair bg-sheet" aria-label="Benches and tools">
    <div class="grid grid-cols-2 gap-px border-b border-hair bg-hair" role="tablist" aria-label="Benches">
      <button
        v-for="b in BENCHES"
        :key="b.name"
        type="button"
        role="tab"
        :aria-selected="work.bench === b.name"
        :data-bench="b.name"
        class="flex items-center justify-between px-2.5 py-1.5 text-left font-medium"
        :class="work.bench === b.name ? 'bg-accent text-on-accent' : 'bg-sheet hover:bg-accent-soft'"
        @click="work.bench = b.name"
      >
        {{ b.name }}<kbd class="font-mono text-[11px] opacity-70">{{ b.stroke }}</kbd>
      </button>
    </div>
    <p
      v-if="copied"
      class="border-b border-hair bg-accent-soft px-2.5 py-1.5 leading-snug"
      data-testid="copied"
    >
      A live copy of {{ copied.name }}: it follows what is drawn there.
      <button type="button" class="button mt-1 block" data-testid="own-sketch" @click="own">
        Make it one of its own
      </button>
    </p>
    <div class="flex-1 overflow-auto py-0.5" role="tabpanel" :aria-label="work.bench">
      <ul
        v-for="[group, list] in groups"
        :key="group"
        class="grid grid-cols-2"
        :aria-label="group || work.bench"
      >
        <li v-if="group" class="head col-span-2 border-t border-hair px-2.5 pt-1 pb-px">{{ group }}</li>
        <li
          v-for="a in list"
          :key="a.name"
          :class="a.label.length > SHORT || work.bench === 'Form' ? 'col-span-2' : ''"
        >
          <button
            type="button"
            class="flex w-full items-center gap-1 px-1.5 min-h-[25px] text-left text-[12.5px]"
            :class="[
              isActive(a.name)
                ? 'bg-accent-soft font-medium shadow-[inset_3px_0_0_var(--accent)]'
                : 'hover:bg-accent-soft',
              whyNot(a) ? 'opacity-45' : '',
            ]"
            :data-tool="a.name"
            :aria-pressed="isActive(a.name)"
            :aria-disabled="whyNot(a) !== ''"
            :title="whyNot(a)"
            :aria-describedby="shown?.action.name === a.name ? 'tool-card' : undefined"
            @click="act(a)"
            @pointerenter="rest(a, $event)"
            @pointerleave="leave"
            @focus="rest(a, $event)"
            @blur="leave"
            @keydown.escape="escape"
          >
            <ToolIcon :name="a.icon" /><span class="flex-1 truncate leading-tight">{{ a.label }}</span
            ><kbd class="font-mono text-[11px] text-muted">{{ a.stroke }}</kbd>
          </button>
        </li>
      </ul>
    </div>
    <button
      v-if="work.sketch"
      type="button"
      class="m-1.5 rounded bg-accent px-2 py-1.5 font-medium text-on-accent"
      data-testid="leave-sketch"
      @click="work.leaveSketch()"
    >
      Leave the sketch
    </button>
    <ToolCard
      v-if="shown"
      id="tool-card"
      class="pointer-events-none fixed left-[206px] z-30"
      :style="{ top: `${shown.top}px` }"
      :bench="shown.action.bench"
      :tool="shown.action.name"
      :label="shown.action.label"
      :stroke="`${BENCHES.find((b) => b.name === shown?.action.bench)?.stroke ?? ''} ${shown.action.stroke}`"
    />
  </nav>
</template>
