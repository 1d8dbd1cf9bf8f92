<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'
import type { DrivesMessage } from '../api/live'
import { useAsking } from '../stores/asking'
import { usePart } from '../stores/part'
import ShareDone from './ShareDone.vue'

/** Which parameters and sizes move a reading: by how much for one more, and their share of all that does. */
const props = defineProps<{ reading: string }>()
const part = usePart()
const lights = useAsking()
const answer = ref<DrivesMessage | null>(null)
const asking = ref(false)

async function ask(): Promise<void> {
  asking.value = true
  const told = await part
    .live()
    ?.drives(props.reading)
    .catch(() => null)
  asking.value = false
  part.share = null
  // The sizes light up in the view, each as strongly as it moves the reading.
  lights.lit = told?.rows.map(({ step, name, share }) => ({ step, name, share })) ?? []
  answer.value = told ?? {
    reading: '',
    shown: '',
    rows: [],
    left: [],
    tried: 0,
    refusal: 'The server could not be reached; ask again.',
  }
}

onMounted(ask)
onBeforeUnmount(() => (lights.lit = []))
/** One row alone, while the pointer is on it. */
const only = (row?: DrivesMessage['rows'][number]): void => {
  const rows = row ? [row] : (answer.value?.rows ?? [])
  lights.lit = rows.map(({ step, name, share }) => ({ step, name, share }))
}
// Another part than was asked about: what stands here is said to be old.
const old = ref(false)
watch(
  () => part.snapshot?.revision,
  () => (old.value = true),
)

async function again(): Promise<void> {
  old.value = false
  await ask()
}
</script>

<template>
  <div class="px-2 pb-2" data-testid="drives">
    <p v-if="asking" class="flex items-center gap-2 text-muted" aria-live="polite">
      each size is moved a little and the part built again … <ShareDone />
      <button type="button" class="button" data-testid="stop-drives" @click="part.stop()">Stop</button>
    </p>
    <template v-else-if="answer">
      <p v-if="answer.refusal" class="text-alert" role="alert">{{ answer.refusal }}</p>
      <p v-else-if="answer.rows.length === 0" class="text-muted">
        None of the {{ answer.tried }} parameters and sizes moves it.
      </p>
      <table v-else class="w-full tabular-nums">
        <caption class="pb-0.5 text-left text-muted">
          What moves it, of
          {{
            answer.tried
          }}
          parameters and sizes; the bar is the share of each if all change in proportion
        </caption>
        <tbody>
          <tr
            v-for="r in answer.rows"
            :key="`${r.step}/${r.name}`"
            :data-drive="r.words"
            class="hover:bg-accent-soft"
            @pointerenter="only(r)"
            @pointerleave="only()"
          >
            <td class="max-w-52 truncate py-0.5">{{ r.words }}</td>
            <td class="pr-3 text-right text-muted">{{ r.shown }}</td>
            <td class="w-40">
              <span class="relative block h-3 bg-canvas" aria-hidden="true">
                <span class="absolute inset-y-0 left-1/2 w-px bg-hair" /><span
                  class="absolute inset-y-0"
                  :class="r.share < 0 ? 'right-1/2 bg-[var(--copper)]' : 'left-1/2 bg-[var(--steel)]'"
                  :style="{ width: `${Math.max(1, Math.abs(r.share) * 50)}%` }"
                />
              </span>
            </td>
            <td class="w-14 text-right">{{ Math.round(r.share * 100) }} %</td>
            <td class="pl-3 text-right font-medium">{{ r.slope }}</td>
            <td class="pl-2 text-muted">{{ r.note }}</td>
          </tr>
        </tbody>
      </table>
      <p v-for="l in answer.left" :key="l" class="text-muted">not tried: {{ l }}</p>
      <p v-if="old" class="text-[var(--copper)]">
        The part has changed since.
        <button type="button" class="underline hover:text-accent" @click="again">Ask again</button>
      </p>
    </template>
  </div>
</template>
