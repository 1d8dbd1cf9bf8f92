<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { api, reason } from '../api/client'
import { saveAs } from '../api/save'
import { inWords } from '../stores/bytes'
import { useFormats } from '../stores/formats'
import { useGuide } from '../stores/guide'
import { useNames } from '../stores/names'
import { usePart } from '../stores/part'
import { useWork } from '../stores/work'
import ShareDone from './ShareDone.vue'
import SheetCard from './SheetCard.vue'

const emit = defineEmits<{ close: [] }>()
const part = usePart()
const guide = useGuide()
const work = useWork()
const names = useNames()
const formats = useFormats()
const ending = ref('step')
const deviation = ref('0.05')
const text = ref(false)
const ap242 = ref(false)
const of = ref('')
const writing = ref(false)
const refusal = ref('')
const preview = ref<{ triangles: number; deviation: number; bytes: number } | null>(null)
const format = computed(() => formats.all.find((f) => f.ending === ending.value))
const mesh = computed(() => format.value?.deviation === true)
onMounted(formats.load)
/** Sketches, and the planar face that is picked. */
const drawable = computed(() => [
  ...work.picks.filter((p) => p.includes('/') && work.isPlane(p)).map((p) => ({ id: p, name: names.of(p) })),
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
  if (format.value?.text && text.value) q.set('text', 'true')
  if (format.value?.ap242 && ap242.value) q.set('ap242', 'true')
  if (format.value?.of) q.set('of', of.value)
  return q
})

let asked = 0
watch(
  () => [format.value, deviation.value, text.value, part.built?.revision] as const,
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
        v-for="f in formats.all"
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
      {{ format?.purpose
      }}<template v-if="format?.inUnitsOfPart"
        >; in {{ part.snapshot?.units === 'in' ? 'inches' : 'millimetres' }}, as the part</template
      >
    </p>
    <label v-if="format?.ap242" class="mt-2 flex min-h-6 items-center gap-1.5"
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
      <label v-if="format?.text" class="mt-1 flex min-h-6 items-center gap-1.5"
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
    <label v-if="format?.of" class="mt-2 flex items-center gap-1.5"
      >of
      <select v-model="of" class="field min-w-0 flex-1" aria-label="What is drawn" data-testid="drawn">
        <option v-for="d in drawable" :key="d.id" :value="d.id">{{ d.name }}</option>
      </select></label
    >
    <p v-if="format?.of && drawable.length === 0" class="mt-1 text-muted">
      There is no sketch yet; pick a planar face to draw it.
    </p>
    <p v-if="refusal || formats.refusal" class="mt-1.5 text-alert" role="alert" data-testid="export-refusal">
      {{ refusal || formats.refusal }}
    </p>
    <div class="mt-2.5 flex items-center gap-2">
      <button
        type="button"
        class="button-main"
        :disabled="writing || !format || (format.of && !of)"
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
