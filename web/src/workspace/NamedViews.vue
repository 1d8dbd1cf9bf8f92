<script setup lang="ts">
import { Bookmark, X } from 'lucide-vue-next'
import { nextTick, ref } from 'vue'
import { useViews, type Viewpoint } from '../stores/views'

/** Views that have names: to look so again, and to keep how one looks now. */
const props = defineProps<{ viewpoint: () => Viewpoint | undefined }>()
const emit = defineEmits<{ look: [viewpoint: Viewpoint] }>()
const views = useViews()
const open = ref(false)
const name = ref('')
const field = ref<HTMLInputElement | null>(null)
const button = ref<HTMLButtonElement | null>(null)

async function toggle(): Promise<void> {
  open.value = !open.value
  await nextTick()
  if (open.value) field.value?.focus()
}

function close(): void {
  open.value = false
  button.value?.focus()
}

function keep(): void {
  const now = props.viewpoint()
  if (now) views.keep(name.value, now)
  name.value = ''
}
</script>

<template>
  <div class="relative" @keydown.esc.stop="close">
    <button
      ref="button"
      type="button"
      class="rounded border border-hair px-1.5 py-1.5 hover:bg-accent-soft"
      :class="open ? 'bg-accent-soft text-accent' : 'bg-sheet/95'"
      aria-label="Named views"
      title="Views with names: keep how the part is looked at now, and look so again"
      :aria-expanded="open"
      data-testid="named-views"
      @click="toggle"
    >
      <Bookmark :size="15" />
    </button>
    <section
      v-if="open"
      class="absolute top-9 right-0 z-20 w-60 rounded border border-hair bg-sheet p-2 shadow-lg"
      aria-label="Named views"
    >
      <form class="flex gap-1" @submit.prevent="keep">
        <input
          ref="field"
          v-model="name"
          class="field min-w-0 flex-1"
          placeholder="name of this view"
          aria-label="Name of this view"
          maxlength="40"
        />
        <button class="button" data-testid="keep-view">Keep</button>
      </form>
      <p v-if="views.all.length === 0" class="mt-1.5 text-muted">
        Turn the view to what you look at often, and keep it here.
      </p>
      <ul class="mt-1 max-h-60 overflow-auto">
        <li v-for="v in views.all" :key="v.name" class="flex">
          <button
            type="button"
            class="flex-1 truncate rounded px-1.5 py-1 text-left hover:bg-accent-soft"
            :data-named-view="v.name"
            :title="v.name"
            @click="emit('look', v)"
          >
            {{ v.name }}
          </button>
          <button
            type="button"
            class="rounded p-1.5 text-muted hover:text-alert"
            :aria-label="`Forget ${v.name}`"
            @click="views.drop(v.name)"
          >
            <X :size="13" />
          </button>
        </li>
      </ul>
    </section>
  </div>
</template>
