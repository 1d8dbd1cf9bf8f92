<script setup lang="ts">
import { Plus, Trash2 } from 'lucide-vue-next'
import { ref } from 'vue'
import type { PartCommand } from '../api/client'
import { usePart } from '../stores/part'
import SheetCard from './SheetCard.vue'

const emit = defineEmits<{ close: [] }>()
const part = usePart()
const fresh = ref({ name: '', value: '', note: '' })
const errors = ref<Record<string, string>>({})

async function set(name: string, value: string, note: string, at: string): Promise<boolean> {
  const problem = await part.send({ command: 'set-parameter', name, value, note } as PartCommand)
  errors.value = { ...errors.value, [at]: problem?.detail ?? '' }
  return problem === null
}

async function change(name: string, old: string, note: string, event: Event): Promise<void> {
  const value = (event.target as HTMLInputElement).value
  if (value !== old) await set(name, value, note, name)
}

async function add(): Promise<void> {
  if (await set(fresh.value.name, fresh.value.value, fresh.value.note, '+'))
    fresh.value = { name: '', value: '', note: '' }
}

async function remove(name: string): Promise<void> {
  const problem = await part.send({ command: 'remove-parameter', name } as PartCommand)
  errors.value = { ...errors.value, [name]: problem?.detail ?? '' }
}
</script>

<template>
  <SheetCard
    named="Parameters"
    closes="Close the parameters"
    class="w-[520px]"
    data-testid="parameters"
    @close="emit('close')"
  >
    <table class="w-full">
      <thead class="text-left text-muted">
        <tr>
          <th class="font-normal">name</th>
          <th class="font-normal">formula</th>
          <th class="font-normal">value</th>
          <th class="font-normal">for</th>
          <th />
        </tr>
      </thead>
      <tbody>
        <template v-for="p in part.snapshot?.parameters" :key="p.name">
          <tr>
            <td class="py-0.5 pr-2 font-medium">{{ p.name }}</td>
            <td class="pr-2">
              <input
                class="field w-32"
                :value="p.value"
                :aria-label="`formula of ${p.name}`"
                :data-parameter="p.name"
                @change="change(p.name, p.value, p.note, $event)"
              />
            </td>
            <td class="pr-2 whitespace-nowrap">{{ p.shown }}</td>
            <td class="max-w-40 truncate text-muted" :title="p.note">{{ p.note }}</td>
            <td>
              <button
                type="button"
                class="rounded p-1 text-muted hover:text-alert"
                :aria-label="`Remove ${p.name}`"
                @click="remove(p.name)"
              >
                <Trash2 :size="13" />
              </button>
            </td>
          </tr>
          <tr v-if="errors[p.name]">
            <td colspan="5" role="alert" class="rounded bg-alert-soft p-1 text-alert">
              {{ errors[p.name] }}
            </td>
          </tr>
        </template>
      </tbody>
    </table>
    <form class="mt-2 flex gap-2 border-t border-hair pt-2" @submit.prevent="add">
      <input
        v-model="fresh.name"
        class="field w-28"
        placeholder="name"
        aria-label="name of a new parameter"
      />
      <input
        v-model="fresh.value"
        class="field w-36"
        placeholder="plate_w/2 + 3 mm"
        aria-label="formula of a new parameter"
      />
      <input
        v-model="fresh.note"
        class="field min-w-0 flex-1"
        placeholder="for"
        aria-label="what it is for"
      />
      <button class="button flex items-center gap-1"><Plus :size="13" />Add</button>
    </form>
    <p v-if="errors['+']" role="alert" class="mt-1 rounded bg-alert-soft p-1 text-alert">{{ errors['+'] }}</p>
  </SheetCard>
</template>
