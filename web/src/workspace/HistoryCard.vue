<script setup lang="ts">
import { Copy, CornerUpLeft } from 'lucide-vue-next'
import { onBeforeUnmount, onMounted, reactive, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, reason } from '../api/client'
import type { components } from '../api/schema'
import { usePart } from '../stores/part'
import { currentTheme } from '../theme'
import SheetCard from './SheetCard.vue'

type State = components['schemas']['StateView']

/** Every state that the part was in, in the words of its log: looked at, named, gone back to, or made a part of its own. */
const emit = defineEmits<{ close: [] }>()
const part = usePart()
const router = useRouter()
const states = ref<State[]>([])
const chosen = ref<State | null>(null)
const name = ref('')
const error = ref<string | null>(null)
/** States of which there is nothing to see. */
const unseen = reactive(new Set<number>())
const dark = currentTheme() === 'dark'
const id = part.snapshot!.id

async function load(): Promise<void> {
  const { data, error: failed } = await api.GET('/api/parts/{id}/history', { params: { path: { id } } })
  states.value = data ?? states.value
  error.value = data ? null : reason(failed)
}

/** Shows a state in the view; the newest is the present one. */
async function choose(state: State): Promise<void> {
  error.value = null
  chosen.value = state
  name.value = state.name ?? ''
  if (state.revision === part.snapshot?.revision) part.leave()
  else if (!(await part.look(state.revision))) error.value = 'This state cannot be shown any more.'
}

function step(by: number): void {
  const at = states.value.findIndex((s) => s.revision === chosen.value?.revision)
  const next = states.value[Math.min(states.value.length - 1, Math.max(0, at + by))]
  if (next) void choose(next)
}

async function goBack(state: State): Promise<void> {
  const problem = await part.back(state.revision)
  chosen.value = null
  error.value = problem ? reason(problem) : null
}

async function copy(state: State): Promise<void> {
  const { data, error: failed } = await api.POST('/api/parts/{id}/history/{revision}/copy', {
    params: { path: { id, revision: state.revision } },
  })
  if (data) await router.push(`/parts/${data.id}`)
  else error.value = reason(failed)
}

async function give(state: State): Promise<void> {
  const { error: failed } = await api.PUT('/api/parts/{id}/history/{revision}/name', {
    params: { path: { id, revision: state.revision } },
    body: { name: name.value },
  })
  if (failed) error.value = reason(failed)
  else await load()
}

onMounted(load)
watch(() => part.snapshot?.revision, load)
onBeforeUnmount(() => part.leave())
</script>

<template>
  <SheetCard
    named="History of the part"
    closes="Close the history"
    class="flex max-h-[80%] w-[420px] flex-col"
    data-testid="history"
    @close="emit('close')"
  >
    <p v-if="error" class="mb-2 text-alert" role="alert">{{ error }}</p>
    <div v-if="chosen" class="mb-2 flex gap-3 rounded border border-accent bg-accent-soft p-2">
      <img
        v-if="chosen.revision !== part.snapshot?.revision && !unseen.has(chosen.revision)"
        :src="`/api/parts/${id}/history/${chosen.revision}/picture?dark=${dark}`"
        :alt="`The part in state ${chosen.revision}`"
        class="h-20 w-28 shrink-0 rounded border border-hair bg-canvas object-cover"
        @error="unseen.add(chosen.revision)"
      />
      <div class="flex min-w-0 flex-1 flex-col gap-1.5">
        <form v-if="chosen.revision > 1" class="flex gap-1.5" @submit.prevent="give(chosen)">
          <input
            v-model="name"
            class="field min-w-0 flex-1"
            maxlength="120"
            placeholder="a name for this state"
            aria-label="A name for this state"
          /><button class="button">Name it</button>
        </form>
        <div v-if="chosen.revision !== part.snapshot?.revision" class="flex flex-wrap gap-1.5">
          <button
            type="button"
            class="button-main flex items-center gap-1.5"
            data-testid="go-back"
            @click="goBack(chosen)"
          >
            <CornerUpLeft :size="14" />Go back to it
          </button>
          <button
            type="button"
            class="button flex items-center gap-1.5"
            data-testid="copy-state"
            @click="copy(chosen)"
          >
            <Copy :size="14" />Copy to a new part
          </button>
        </div>
        <p v-else class="text-muted">This is how the part is now.</p>
      </div>
    </div>
    <ol
      class="min-h-0 flex-1 overflow-auto"
      aria-label="States, the newest first"
      @keydown.down.prevent="step(1)"
      @keydown.up.prevent="step(-1)"
    >
      <li v-for="s in states" :key="s.revision">
        <button
          type="button"
          class="flex w-full items-baseline gap-2 rounded px-1.5 py-1 text-left hover:bg-accent-soft"
          :class="chosen?.revision === s.revision ? 'bg-accent-soft' : ''"
          :aria-pressed="chosen?.revision === s.revision"
          :data-state="s.revision"
          @click="choose(s)"
        >
          <span class="w-8 shrink-0 text-right text-muted tabular-nums">{{ s.revision }}</span>
          <span class="min-w-0 flex-1 truncate" :title="s.words"
            ><b v-if="s.name" class="font-medium">{{ s.name }}: </b
            ><span v-if="s.how !== 'done'" class="text-muted">{{ s.how }}: </span>{{ s.words }}</span
          >
          <time class="shrink-0 text-muted" :datetime="s.at">{{ new Date(s.at).toLocaleString() }}</time>
        </button>
      </li>
    </ol>
  </SheetCard>
</template>
