<script setup lang="ts">
import { computed, onBeforeUnmount, ref, shallowRef, watch } from 'vue'
import type { ProposalMessage } from '../api/live'
import { usePart } from '../stores/part'
import { useWork } from '../stores/work'
import { editSketch } from '../stores/edits'

const emit = defineEmits<{ close: [] }>()
const part = usePart()
const work = useWork()
const proposals = shallowRef<ProposalMessage[]>([])
const chosen = ref<boolean[]>([])
const ready = ref(false)
const count = computed(() => chosen.value.filter(Boolean).length)

const command = computed(() => {
  const taken = proposals.value.filter((_, i) => chosen.value[i])
  const ties = taken.flatMap((p) => (p.tie ? [JSON.parse(p.tie) as { id: string }] : []))
  const sizes = taken.flatMap((p) => (p.size ? [JSON.parse(p.size) as object] : []))
  const edit = { tie: ties, size: sizes, inferred: ties.map((t) => t.id) }
  return JSON.stringify(editSketch(work.sketch, 'finish', edit))
})

async function load(): Promise<void> {
  const live = part.live()
  if (!live || !work.sketch) return
  proposals.value = await live.finish(work.sketch)
  chosen.value = proposals.value.map(() => true)
  ready.value = true
}

async function apply(): Promise<void> {
  if (await work.send(command.value)) emit('close')
}

watch(() => part.snapshot?.revision, load, { immediate: true })
watch(command, async (now) => {
  // What would come of it is shown on the sketch.
  const live = part.live()
  if (live && work.sketch && count.value > 0) work.foreseen = (await live.preview(work.sketch, now)) ?? []
  else work.foreseen = []
})
onBeforeUnmount(() => {
  work.foreseen = []
  work.touched = []
})
</script>

<template>
  <section
    class="absolute top-9 left-0 z-20 flex max-h-[60vh] w-96 flex-col rounded border border-hair bg-sheet p-2 shadow-lg"
    aria-label="Finish it"
    data-testid="finish-panel"
  >
    <p v-if="!ready" class="text-muted">Looking for what would set the rest …</p>
    <p v-else-if="proposals.length === 0" class="text-muted">Nothing is left to propose.</p>
    <template v-else>
      <p class="mb-1 text-muted">These would set the rest; take all or some:</p>
      <ul class="min-h-0 flex-1 overflow-auto">
        <li v-for="(p, i) in proposals" :key="i">
          <label
            class="flex min-h-6 items-baseline gap-2 rounded px-1.5 py-1 hover:bg-accent-soft"
            @pointerenter="work.touched = p.of"
            @pointerleave="work.touched = []"
          >
            <input v-model="chosen[i]" type="checkbox" class="translate-y-px" />{{ p.words }}
          </label>
        </li>
      </ul>
      <div class="mt-2 flex gap-2">
        <button
          type="button"
          class="button-main"
          :disabled="count === 0"
          data-testid="apply-finish"
          @click="apply"
        >
          Apply {{ count }}
        </button>
        <button type="button" class="button" @click="emit('close')">Cancel</button>
      </div>
    </template>
  </section>
</template>
