<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api, reason } from '../api/client'
import { saveAs } from '../api/save'
import { inWords } from '../stores/bytes'
import { useGuide } from '../stores/guide'
import { usePart } from '../stores/part'
import { useWork } from '../stores/work'
import ShareDone from './ShareDone.vue'
import SheetCard from './SheetCard.vue'

/** Formats, with what each is good for and what can be chosen. */
const FORMATS = [
  {
    ending: 'step',
    label: 'STEP',
    words: 'exact bodies with names and colours, for other CAD and CAM programs',
  },
  { ending: 'iges', label: 'IGES', words: 'exact bodies, for older programs' },
  { ending: 'stl', label: 'STL', words: 'triangles, for printing', mesh: true },
  { ending: '3mf', label: '3MF', words: 'triangles with names and colours, for printing', mesh: true },
  {
    ending: 'glb',
    label: 'glTF',
    words: 'triangles with names and colours, for the web and for pictures',
    mesh: true,
  },
  { ending: 'svg', label: 'SVG', words: 'a sketch or a planar face at true scale, for cutting' },
  { ending: 'json', label: 'Part', words: 'the part itself, with every step' },
] as const

const emit = defineEmits<{ close: [] }>()
const part = usePart()
const guide = useGuide()
const work = useWork()
const ending = ref<(typeof FORMATS)[number]['ending']>('step')
const deviation = ref('0.05')
const text = ref(false)
const ap242 = ref(false)
const of = ref('')
const writing = ref(false)
const refusal = ref('')
const preview = ref<{ triangles: number; deviation: number; bytes: number } | null>(null)
const format = computed(() => FORMATS.find((f) => f.ending === ending.value)!)
const mesh = computed(() => 'mesh' in format.value)
/** Sketches, and the planar face that is picked. */
const drawable = computed(() => [
  ...work.picks
    .filter((p) => p.includes('/') && work.isPlane(p))
    .map((p) => ({ id: p, name: `the face ${p}` })),
  ...(part.snapshot?.steps ?? []).filter((s) => s.sketch).map((s) => ({ id: s.id, name: s.name })),
])
watch(
  drawable,
  (all) => {
    if (!all.some((d) => d.id === of.value)) of.value = all[0]?.id ?? ''
  },
  { immediate: true },
)

const query = computed(() => {
  const q = new URLSearchParams()
  if (mesh.value) q.set('deviation', deviation.value)
  if (ending.value === 'stl' && text.value) q.set('text', 'true')
  if (ending.value === 'step' && ap242.value) q.set('ap242', 'true')
  if (ending.value === 'svg') q.set('of', of.value)
  return q
})

let asked = 0
watch(
  () => [ending.value, deviation.value, text.value, part.built?.revision] as const,
  async () => {
    const now = ++asked
    preview.value = null
    refusal.value = ''
    if (!mesh.value || !part.snapshot) return
    const fine = Number(deviation.value)
    if (!Number.isFinite(fine)) {
      refusal.value = `'${deviation.value}' is no length in millimetres.`
      return
    }
    const { data, error } = await api.GET('/api/parts/{id}/export-preview', {
      params: {
        path: { id: part.snapshot.id },
        query: { ending: ending.value, deviation: fine, text: text.value },
      },
    })
    if (now !== asked) return
    if (data) preview.value = data
    else refusal.value = reason(error)
  },
  { immediate: true },
)

async function write(): Promise<void> {
  writing.value = true
  refusal.value = ''
  const wrong = await saveAs(
    `/api/parts/${part.snapshot?.id}/export.${ending.value}?${query.value}`,
    `part.${ending.value}`,
  )
  writing.value = false
  part.share = null
  if (wrong) refusal.value = wrong
  else guide.saved = true
}
</script>

<template>
  <SheetCard
    named="Export"
    closes="Close the export"
    class="w-[430px]"
    data-testid="export-card"
    @close="emit('close')"
  >
    <div class="flex flex-wrap gap-1" role="radiogroup" aria-label="Format">
      <button
        v-for="f in FORMATS"
        :key="f.ending"
        type="button"
        role="radio"
        class="min-h-7 rounded border px-2"
        :class="
          ending === f.ending ? 'border-accent bg-accent-soft text-accent' : 'border-hair hover:border-accent'
        "
        :aria-checked="ending === f.ending"
        :data-format="f.ending"
        @click="ending = f.ending"
      >
        {{ f.label }}
      </button>
    </div>
    <p class="mt-1.5 text-muted">
      {{ format.words
      }}<template v-if="ending === 'step' || ending === 'iges'"
        >; in {{ part.snapshot?.units === 'in' ? 'inches' : 'millimetres' }}, as the part</template
      >
    </p>
    <label v-if="ending === 'step'" class="mt-2 flex min-h-6 items-center gap-1.5"
      ><input v-model="ap242" type="checkbox" class="h-4 w-4 accent-[var(--accent)]" data-testid="ap242" />by
      AP242 rather than AP214</label
    >
    <template v-if="mesh">
      <label class="mt-2 flex items-center gap-1.5"
        ><span class="flex-1">triangles keep to the faces within</span
        ><input
          class="field w-20 text-right"
          :value="deviation"
          aria-label="Largest deviation in millimetres"
          data-testid="deviation"
          @change="deviation = ($event.target as HTMLInputElement).value.replace(/\s*mm$/, '').trim()"
        />mm</label
      >
      <label v-if="ending === 'stl'" class="mt-1 flex min-h-6 items-center gap-1.5"
        ><input v-model="text" type="checkbox" class="h-4 w-4 accent-[var(--accent)]" />as text rather than
        binary</label
      >
      <p class="mt-1.5 min-h-5 tabular-nums" aria-live="polite" data-testid="export-preview">
        <template v-if="preview"
          ><b class="font-medium">{{ preview.triangles.toLocaleString('en') }} triangles</b>, straying up to
          {{ preview.deviation < 1e-6 ? '0' : preview.deviation.toPrecision(2) }} mm;
          {{ inWords(preview.bytes) }}</template
        ><span v-else-if="!refusal" class="text-muted">counting the triangles …</span>
      </p>
    </template>
    <label v-if="ending === 'svg'" class="mt-2 flex items-center gap-1.5"
      >of
      <select v-model="of" class="field min-w-0 flex-1" aria-label="What is drawn" data-testid="drawn">
        <option v-for="d in drawable" :key="d.id" :value="d.id">{{ d.name }}</option>
      </select></label
    >
    <p v-if="ending === 'svg' && drawable.length === 0" class="mt-1 text-muted">
      There is no sketch yet; pick a planar face to draw it.
    </p>
    <p v-if="refusal" class="mt-1.5 text-alert" role="alert" data-testid="export-refusal">{{ refusal }}</p>
    <div class="mt-2.5 flex items-center gap-2">
      <button
        type="button"
        class="button-main"
        :disabled="writing || (ending === 'svg' && !of)"
        data-testid="export-write"
        @click="write()"
      >
        Save the file
      </button>
      <template v-if="writing"
        ><span class="flex items-center gap-1.5 text-muted" aria-live="polite">writing <ShareDone /></span
        ><button type="button" class="button" @click="part.stop()">Stop</button></template
      >
    </div>
  </SheetCard>
</template>
