<script setup lang="ts">
import { Trash2 } from 'lucide-vue-next'
import { computed, ref, watch } from 'vue'
import { api, type PartCommand } from '../api/client'
import type { components } from '../api/schema'
import { usePart } from '../stores/part'
import SheetCard from './SheetCard.vue'

type Material = components['schemas']['Material']
const emit = defineEmits<{ close: [] }>()
const part = usePart()
const rows = ref<components['schemas']['MassRow'][]>([])
const common = ref<Material[]>([])
const own = ref({ name: '', density: '', colour: '#b8b4a8' })
const filter = ref('')
const list = computed(() =>
  [
    ...(part.snapshot?.materials ?? []).map((m) => ({ ...m, own: true })),
    ...common.value.map((m) => ({ ...m, own: false })),
  ].filter((m) => m.name.toLowerCase().includes(filter.value.toLowerCase())),
)

watch(
  () => [part.built?.revision, part.snapshot?.material.density],
  async () => {
    const id = part.snapshot?.id
    if (!id) return
    const { data } = await api.GET('/api/parts/{id}/mass', { params: { path: { id } } })
    rows.value = data ?? []
    if (common.value.length === 0) common.value = (await api.GET('/api/materials')).data ?? []
  },
  { immediate: true },
)

const use = (m: Material): Promise<unknown> =>
  part.send({ command: 'set-material', name: m.name, density: m.density, colour: m.colour } as PartCommand)
const drop = (name: string): Promise<unknown> => part.send({ command: 'drop-material', name } as PartCommand)

async function keep(): Promise<void> {
  const material = {
    name: own.value.name,
    density: Number(own.value.density.replace(',', '.')) || 0,
    colour: own.value.colour,
  }
  if (await part.send({ command: 'keep-material', material } as PartCommand)) return
  await use(material as Material)
  own.value = { name: '', density: '', colour: own.value.colour }
}
</script>

<template>
  <SheetCard
    named="Mass and material"
    closes="Close mass and material"
    class="w-[640px]"
    data-testid="mass-card"
    @close="emit('close')"
  >
    <table v-if="rows.length" class="w-full">
      <thead class="text-left text-muted">
        <tr>
          <th class="font-normal">body</th>
          <th class="font-normal">volume</th>
          <th class="font-normal">area</th>
          <th class="font-normal">mass</th>
        </tr>
      </thead>
      <tbody class="tabular-nums">
        <template v-for="r in rows" :key="r.body">
          <tr class="border-t border-hair">
            <td class="py-0.5 pr-3 font-medium">{{ r.body }}</td>
            <td>{{ r.volume }}</td>
            <td>{{ r.area }}</td>
            <td data-mass>{{ r.mass }}</td>
          </tr>
          <tr class="text-muted">
            <td />
            <td colspan="3" class="pb-1">
              centre {{ r.centre }} · size {{ r.size }} · inertia xx yy zz {{ r.inertia }}
            </td>
          </tr>
        </template>
      </tbody>
    </table>
    <p v-else class="text-muted">There is no body yet.</p>
    <div class="mt-2 flex items-center gap-2 border-t border-hair pt-2">
      <span class="flex-1"
        >made of <b data-testid="material">{{ part.snapshot?.material.name }}</b>,
        {{ part.snapshot?.material.density }} g/cm³</span
      >
      <input v-model="filter" class="field w-40" placeholder="find a material" aria-label="Find a material" />
    </div>
    <ul class="mt-1 grid max-h-52 grid-cols-2 gap-x-3 overflow-auto" aria-label="Materials">
      <li v-for="m in list" :key="`${m.own}${m.name}`" class="flex items-center">
        <button
          type="button"
          class="flex min-h-6 min-w-0 flex-1 items-center gap-2 rounded px-1 text-left hover:bg-accent-soft"
          :class="m.name === part.snapshot?.material.name ? 'bg-accent-soft font-medium' : ''"
          :data-material="m.name"
          @click="use(m)"
        >
          <span
            class="h-3.5 w-3.5 shrink-0 rounded-full border border-hair"
            :style="{ background: m.colour ?? 'var(--body)' }"
          />
          <span class="min-w-0 flex-1 truncate">{{ m.name }}</span>
          <span class="text-muted tabular-nums">{{ m.density }}</span>
        </button>
        <button
          v-if="m.own"
          type="button"
          class="rounded p-1.5 text-muted hover:text-alert"
          :aria-label="`Drop ${m.name}`"
          @click="drop(m.name)"
        >
          <Trash2 :size="12" />
        </button>
      </li>
    </ul>
    <form class="mt-2 flex items-center gap-2 border-t border-hair pt-2" @submit.prevent="keep">
      <input
        v-model="own.name"
        class="field min-w-0 flex-1"
        placeholder="own material"
        aria-label="Name of an own material"
      />
      <input
        v-model="own.density"
        class="field w-20"
        placeholder="g/cm³"
        aria-label="Density in grams per cubic centimetre"
      />
      <input
        v-model="own.colour"
        type="color"
        class="h-7 w-9 rounded border border-hair"
        aria-label="Colour"
      />
      <button class="button" data-testid="keep-material">Keep and use</button>
    </form>
    <p v-if="part.notice" role="alert" class="mt-1 text-alert">{{ part.notice }}</p>
  </SheetCard>
</template>
