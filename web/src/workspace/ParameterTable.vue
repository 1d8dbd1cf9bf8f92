<script setup lang="ts">
import { Plus, Trash2 } from 'lucide-vue-next'
import { nextTick, ref } from 'vue'
import type { PartCommand } from '../api/client'
import { usePart } from '../stores/part'
import SheetCard from './SheetCard.vue'

const emit = defineEmits<{ close: [] }>()
const part = usePart()
const fresh = ref({ name: '', value: '', note: '' })
const errors = ref<Record<string, string>>({})
/** What was typed and refused, by row and column: it stays in its field. */
const refused = ref<Record<string, string>>({})

async function send(command: object, at: string): Promise<boolean> {
  const problem = await part.send(command as PartCommand)
  errors.value = { ...errors.value, [at]: problem?.detail ?? '' }
  return problem === null
}

const set = (name: string, value: string, note: string, at: string): Promise<boolean> =>
  send({ command: 'set-parameter', name, value, note }, at)

/** Sends what a field says; when it is refused it stays there, selected, ready to be typed over. */
async function change(
  field: HTMLInputElement,
  row: string,
  old: string,
  send: (text: string) => Promise<boolean>,
): Promise<void> {
  const text = field.value
  const key = `${row}/${field.name}`
  if (text === old) {
    errors.value = { ...errors.value, [row]: '' }
  } else if (!(await send(text))) {
    refused.value = { ...refused.value, [key]: text }
    await nextTick()
    field.focus()
    field.select()
    return
  }
  refused.value = Object.fromEntries(Object.entries(refused.value).filter(([k]) => k !== key))
}

const rename = (name: string, event: Event): Promise<void> =>
  change(event.target as HTMLInputElement, name, name, (to) =>
    send({ command: 'rename-parameter', name, to }, name),
  )

const rework = (name: string, old: string, note: string, event: Event): Promise<void> =>
  change(event.target as HTMLInputElement, name, old, (value) => set(name, value, note, name))

async function add(): Promise<void> {
  if (await set(fresh.value.name, fresh.value.value, fresh.value.note, '+'))
    fresh.value = { name: '', value: '', note: '' }
}

const remove = (name: string): Promise<boolean> => send({ command: 'remove-parameter', name }, name)
</script>

<template>
  <SheetCard
    named="Parameters"
    closes="Close the parameters"
    class="w-[580px]"
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
            <td class="py-0.5 pr-2">
              <input
                class="field w-28 font-medium"
                name="name"
                :value="refused[`${p.name}/name`] ?? p.name"
                :aria-label="`name of ${p.name}`"
                @change="rename(p.name, $event)"
              />
            </td>
            <td class="pr-2">
              <input
                class="field w-28"
                name="formula"
                :value="refused[`${p.name}/formula`] ?? p.value"
                :aria-label="`formula of ${p.name}`"
                :data-parameter="p.name"
                @change="rework(p.name, p.value, p.note, $event)"
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
