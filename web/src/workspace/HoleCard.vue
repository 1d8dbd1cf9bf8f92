<script setup lang="ts">
import { ref, watch } from 'vue'
import { api } from '../api/client'
import type { components } from '../api/schema'
import { useNames } from '../stores/names'
import { usePart } from '../stores/part'
import SheetCard from './SheetCard.vue'

const emit = defineEmits<{ close: [] }>()
const part = usePart()
const names = useNames()
const rows = ref<components['schemas']['HoleTableRow'][]>([])
watch(
  () => part.built?.revision,
  async () => {
    const id = part.snapshot?.id
    if (!id) return
    const { data } = await api.GET('/api/parts/{id}/holes', { params: { path: { id } } })
    rows.value = data ?? []
  },
  { immediate: true },
)
</script>

<template>
  <SheetCard
    named="Hole table"
    closes="Close the hole table"
    class="w-[700px]"
    data-testid="hole-table"
    @close="emit('close')"
  >
    <p v-if="rows.length === 0" class="text-muted">There are no holes yet: make one on the Form bench.</p>
    <table v-else class="w-full">
      <thead class="text-left text-muted">
        <tr>
          <th class="font-normal">no.</th>
          <th class="font-normal">step</th>
          <th class="text-right font-normal">x</th>
          <th class="text-right font-normal">y</th>
          <th class="text-right font-normal">z</th>
          <th class="pl-3 font-normal">size</th>
          <th class="font-normal">thread</th>
          <th class="text-right font-normal">depth</th>
        </tr>
      </thead>
      <tbody class="tabular-nums">
        <tr
          v-for="r in rows"
          :key="r.number"
          class="border-t border-hair"
          :title="`${names.of(r.centre)}, along ${r.direction}`"
        >
          <td class="py-0.5">{{ r.number }}</td>
          <td class="max-w-40 truncate">{{ r.step }}</td>
          <td class="text-right">{{ r.x }}</td>
          <td class="text-right">{{ r.y }}</td>
          <td class="text-right">{{ r.z }}</td>
          <td class="pl-3">{{ r.size }}</td>
          <td>{{ r.thread }}</td>
          <td class="text-right">{{ r.depth }}</td>
        </tr>
      </tbody>
    </table>
    <a
      v-if="rows.length"
      class="button mt-2 inline-block"
      :href="`/api/parts/${part.snapshot?.id}/holes.csv`"
      download
      data-testid="holes-csv"
      >Save as CSV</a
    >
  </SheetCard>
</template>
