<script setup lang="ts">
import {
  Combobox,
  ComboboxInput,
  ComboboxOption,
  ComboboxOptions,
  Dialog,
  DialogPanel,
} from '@headlessui/vue'
import { computed, ref } from 'vue'
import ToolIcon from '../icons/ToolIcon.vue'
import { useActions, type Action } from './actions'
import { BENCHES } from '../stores/benches'
import { usePart } from '../stores/part'
import { useWork } from '../stores/work'
import { find, recent, used } from './needs'

const emit = defineEmits<{ close: [] }>()
const actions = useActions()
const query = ref('')
const strokes = (a: Action): string => `${BENCHES.find((b) => b.name === a.bench)?.stroke ?? ''} ${a.stroke}`
const part = usePart()
const work = useWork()
const last = recent()
const found = computed(() =>
  find(actions.value, query.value, last, {
    sketch: work.sketch !== null,
    bodies: (part.built?.bodies.length ?? 0) > 0,
  }).slice(0, 10),
)

function choose(action: Action | null): void {
  emit('close')
  if (!action) return
  used(action)
  action.run()
}
</script>

<template>
  <Dialog open class="fixed inset-0 z-50" @close="emit('close')">
    <div class="fixed inset-0 bg-black/20" aria-hidden="true" />
    <DialogPanel
      class="absolute top-24 left-1/2 w-[460px] -translate-x-1/2 rounded-lg border border-hair bg-sheet p-2 shadow-2xl"
    >
      <Combobox :model-value="null" @update:model-value="choose">
        <ComboboxInput
          class="field w-full px-3 py-2 text-[15px]"
          placeholder="A tool by its name, or what it is for"
          aria-label="Find a tool by name"
          @change="query = ($event.target as HTMLInputElement).value"
        />
        <ComboboxOptions static class="mt-1 max-h-80 overflow-auto">
          <ComboboxOption
            v-for="a in found"
            :key="a.bench + a.name"
            v-slot="{ active }"
            :value="a"
            as="template"
          >
            <li
              class="flex cursor-pointer items-center gap-2 rounded px-2 py-1.5"
              :class="active ? 'bg-accent-soft' : ''"
            >
              <ToolIcon :name="a.icon" /><span class="flex-1">{{ a.label }}</span
              ><span class="text-muted">{{ a.bench }}</span
              ><kbd class="w-10 text-right font-mono text-muted">{{ strokes(a) }}</kbd>
            </li>
          </ComboboxOption>
          <li v-if="found.length === 0" class="px-2 py-1.5 text-muted">
            Nothing of that name, and nothing that is for it.
          </li>
        </ComboboxOptions>
      </Combobox>
    </DialogPanel>
  </Dialog>
</template>
