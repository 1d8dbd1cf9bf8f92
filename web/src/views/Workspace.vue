<script setup lang="ts">
import { nextTick, onBeforeUnmount, onMounted, ref } from 'vue'
import { useDatum } from '../stores/datum'
import { useForm } from '../stores/form'
import { useGuide } from '../stores/guide'
import { useGauge } from '../stores/gauge'
import { useLook } from '../stores/look'
import { usePart } from '../stores/part'
import { useWork } from '../stores/work'
import ToolIcon from '../icons/ToolIcon.vue'
import Viewport from '../viewport/Viewport.vue'
import AskCard from '../workspace/AskCard.vue'
import BenchPanel from '../workspace/BenchPanel.vue'
import BuildSheet from '../workspace/BuildSheet.vue'
import CommandBox from '../workspace/CommandBox.vue'
import DatumPanel from '../workspace/DatumPanel.vue'
import HistoryCard from '../workspace/HistoryCard.vue'
import HoleCard from '../workspace/HoleCard.vue'
import MassCard from '../workspace/MassCard.vue'
import NamedViews from '../workspace/NamedViews.vue'
import ProbeCard from '../workspace/ProbeCard.vue'
import SectionBar from '../workspace/SectionBar.vue'
import ExportCard from '../workspace/ExportCard.vue'
import FormsAside from '../workspace/FormsAside.vue'
import FormPanel from '../workspace/FormPanel.vue'
import GuideCard from '../workspace/GuideCard.vue'
import KeysCard from '../workspace/KeysCard.vue'
import GaugePanel from '../workspace/GaugePanel.vue'
import ReadingsCard from '../workspace/ReadingsCard.vue'
import ParameterTable from '../workspace/ParameterTable.vue'
import PicksOffers from '../workspace/PicksOffers.vue'
import PromptLine from '../workspace/PromptLine.vue'
import SizeTable from '../workspace/SizeTable.vue'
import StrokeCard from '../workspace/StrokeCard.vue'
import TemperBar from '../workspace/TemperBar.vue'
import TopBar from '../workspace/TopBar.vue'
import { useAhead } from '../workspace/ahead'
import { follow } from '../workspace/dragging'
import { useStrokes } from '../workspace/strokes'

const props = defineProps<{ id: string }>()
const part = usePart()
const work = useWork()
const datum = useDatum()
const form = useForm()
const look = useLook()
const gauge = useGauge()
const viewport = ref<InstanceType<typeof Viewport> | null>(null)
const prompt = ref<InstanceType<typeof PromptLine> | null>(null)
const parameters = ref(false)
const finding = ref(false)
const sizes = ref(false)
const keys = ref(false)
const guide = useGuide()
useAhead()

/** Closes the card on top of the others; answers whether there was one. */
function closeTop(): boolean {
  if (keys.value) keys.value = false
  else if (parameters.value) parameters.value = false
  else if (look.card) look.card = null
  else return false
  return true
}
const { first } = useStrokes({
  type: (text) => void typeAhead(text),
  find: () => (finding.value = true),
  keys: () => (keys.value = !keys.value),
  close: closeTop,
})
let ahead = ''

/** Figures typed while the last click is still being answered go to the field that the answer brings. */
async function typeAhead(text: string): Promise<void> {
  ahead += text
  await work.idle()
  await nextTick()
  const typed = ahead
  ahead = ''
  if (typed) prompt.value?.focusFirst(typed)
}

/** Cuts with what is picked where that is flat, else with the front plane; once more closes the cut. */
function section(): void {
  if (look.section) look.section = null
  else void look.cut(work.picks.length === 1 && work.isPlane(work.picks[0]!) ? work.picks[0]! : 'world/xz')
}

/** How wide the panel at the right is, in pixels; remembered in this browser. */
const USUAL = 336
const NARROWEST = 280
const WIDEST = 620
const wide = ref(USUAL)
setWide(Number(localStorage.getItem('sheet-width')) || USUAL)

function setWide(width: number): void {
  wide.value = Math.round(Math.max(NARROWEST, Math.min(WIDEST, width)))
  localStorage.setItem('sheet-width', `${wide.value}`)
}

function widen(event: PointerEvent): void {
  const from = wide.value + event.clientX
  follow(event, (e) => setWide(from - e.clientX))
}

const VIEWS = ['corner', 'top', 'front', 'right', 'bottom', 'back', 'left'] as const
/** Those that a narrow window leaves to the marker of directions. */
const ON_THE_SPRIG: readonly string[] = ['bottom', 'back', 'left']

onMounted(async () => {
  work.leaveSketch()
  form.close()
  gauge.close()
  work.awaitingPlane = null
  datum.close()
  datum.frames = []
  look.section = null
  look.card = null
  form.probed = null
  await Promise.all([work.loadTools(), part.open(props.id)])
})

onBeforeUnmount(() => {
  work.leaveSketch()
  part.close()
})
</script>

<template>
  <div v-if="part.missing" class="flex h-full flex-col items-center justify-center gap-4">
    <p role="alert" class="text-base">{{ part.missing }}</p>
    <RouterLink to="/parts" class="button-main">To the parts</RouterLink>
  </div>
  <div v-else class="flex h-full flex-col">
    <TopBar @parameters="parameters = !parameters" @find="finding = true" />
    <div class="flex min-h-0 flex-1">
      <BenchPanel />
      <main class="relative min-w-0 flex-1">
        <Viewport ref="viewport" />
        <div
          class="pointer-events-none absolute inset-x-3 top-2.5 flex flex-wrap items-start gap-2 *:pointer-events-auto"
        >
          <TemperBar @play="viewport?.play($event)" />
          <div
            class="ml-auto flex gap-px overflow-hidden rounded border border-hair bg-hair"
            role="toolbar"
            aria-label="Views"
          >
            <select
              v-if="!work.sketch"
              v-model="look.mode"
              class="bg-sheet px-1.5 py-1 hover:bg-accent-soft"
              aria-label="How bodies are drawn"
              data-testid="look"
            >
              <option value="edges">with edges</option>
              <option value="shaded">shaded</option>
              <option value="through">see-through</option>
              <option value="wire">edges only</option>
            </select>
            <button
              v-if="!work.sketch"
              type="button"
              class="bg-sheet/95 px-1.5 py-1 xl:px-2 hover:bg-accent-soft"
              :class="look.section ? 'font-medium text-accent' : ''"
              :aria-pressed="look.section !== null"
              data-testid="section"
              @click="section()"
            >
              section
            </button>
            <button
              v-if="work.sketch"
              type="button"
              class="bg-sheet/95 px-1.5 py-1 xl:px-2 hover:bg-accent-soft"
              data-testid="open-sizes"
              :aria-pressed="sizes"
              @click="sizes = !sizes"
            >
              sizes
            </button>
            <button
              v-if="work.sketch"
              type="button"
              class="bg-sheet/95 px-1.5 py-1 xl:px-2 hover:bg-accent-soft"
              @click="viewport?.look('square')"
            >
              square
            </button>
            <button
              v-for="v in VIEWS"
              :key="v"
              type="button"
              class="bg-sheet/95 px-1.5 py-1 xl:px-2 hover:bg-accent-soft"
              :class="!ON_THE_SPRIG.includes(v) ? '' : work.sketch ? 'hidden 2xl:block' : 'hidden xl:block'"
              :data-view="v"
              @click="viewport?.look(v)"
            >
              {{ v }}
            </button>
            <button
              type="button"
              class="px-1.5 py-1 xl:px-2 hover:bg-accent-soft"
              :class="look.perspective ? 'bg-accent-soft text-accent' : 'bg-sheet/95'"
              :aria-pressed="look.perspective"
              aria-label="In perspective"
              title="In perspective: what is further off is smaller. Sketches are always seen in parallel."
              data-testid="perspective"
              @click="look.perspective = !look.perspective"
            >
              <ToolIcon name="perspective" :size="16" />
            </button>
            <button
              type="button"
              class="bg-sheet/95 px-1.5 py-1 xl:px-2 font-medium hover:bg-accent-soft"
              data-view="fit"
              @click="viewport?.look('fit')"
            >
              fit
            </button>
          </div>
          <NamedViews :viewpoint="() => viewport?.viewpoint()" @look="viewport?.lookAs($event)" />
        </div>
        <SectionBar />
        <HoleCard v-if="look.card === 'holes'" @close="look.card = null" />
        <MassCard v-if="look.card === 'mass'" @close="look.card = null" />
        <ReadingsCard v-if="look.card === 'readings'" @close="look.card = null" />
        <ExportCard v-if="look.card === 'export'" @close="look.card = null" />
        <HistoryCard v-if="look.card === 'history' && part.snapshot" @close="look.card = null" />
        <AskCard v-if="look.card === 'ask' && part.snapshot" @close="look.card = null" />
        <ProbeCard />
        <ParameterTable v-if="parameters" @close="parameters = false" />
        <SizeTable v-if="sizes && work.sketch" @close="sizes = false" />
        <KeysCard v-if="keys" @close="keys = false" />
        <StrokeCard v-if="first" :bench="first" />
        <GuideCard v-else-if="guide.on && part.snapshot" />
      </main>
      <aside
        class="relative flex shrink-0 flex-col border-l border-hair bg-sheet"
        :style="{ width: `${wide}px` }"
      >
        <div
          role="separator"
          aria-orientation="vertical"
          aria-label="Width of the build sheet"
          tabindex="0"
          :aria-valuenow="wide"
          :aria-valuemin="NARROWEST"
          :aria-valuemax="WIDEST"
          class="absolute inset-y-0 -left-1 z-10 w-2 cursor-col-resize touch-none hover:bg-accent-soft focus-visible:bg-accent-soft"
          data-testid="sheet-width"
          @pointerdown="widen"
          @keydown.left.prevent="setWide(wide + 16)"
          @keydown.right.prevent="setWide(wide - 16)"
          @dblclick="setWide(USUAL)"
        />
        <BuildSheet />
        <FormsAside v-if="form.aside.length && !form.open && !work.sketch" />
        <FormPanel v-if="form.open && !work.sketch" />
        <DatumPanel v-else-if="datum.open && !work.sketch" />
        <GaugePanel v-else-if="gauge.open && !work.sketch" />
        <PicksOffers v-else />
      </aside>
    </div>
    <PromptLine ref="prompt" />
    <CommandBox v-if="finding" @close="finding = false" />
  </div>
</template>
