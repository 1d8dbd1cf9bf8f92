<script setup lang="ts">
import { computed } from 'vue'
import type { DimensionView, PartCommand } from '../api/client'
import { useNames } from '../stores/names'
import { usePart } from '../stores/part'
import { useWork } from '../stores/work'
import { resize } from '../stores/edits'
import SheetCard from './SheetCard.vue'
import SizeField from './SizeField.vue'

const emit = defineEmits<{ close: [] }>()
const part = usePart()
const work = useWork()
const names = useNames()
const said = (of: string[]): string => of.map((id) => names.of(id, work.sketch)).join(', ')
const sizes = computed(() => work.sketchView?.dimensions ?? [])
const counts = computed(() => work.sketchView?.counts ?? [])

const tolerance = (id: string): string =>
  part.snapshot?.steps.find((s) => s.id === work.sketch)?.sizes.find((z) => z.field === id)?.tolerance ?? ''

/** How far a size may be off; what is refused stays in its field, to be typed over. */
async function tolerate(id: string, event: Event): Promise<void> {
  const field = event.target as HTMLInputElement
  const command = { command: 'set-tolerance', step: work.sketch, name: id, text: field.value } as PartCommand
  if (await part.send(command)) field.select()
}

/** Lets a dimension drive at what it reads, or only read. */
async function drive(d: DimensionView, on: boolean): Promise<void> {
  const what = on ? `drive ${d.id}` : `${d.id} reads only`
  await work.send(JSON.stringify(resize(work.sketch, what, d, on ? d.now : null)))
}
</script>

<template>
  <SheetCard
    named="Sizes of the sketch"
    closes="Close the sizes"
    class="max-h-[75%] w-[600px] overflow-auto"
    data-testid="sizes"
    @close="emit('close')"
  >
    <p v-if="sizes.length + counts.length === 0" class="text-muted">This sketch has no sizes yet.</p>
    <table v-else class="w-full">
      <thead class="text-left text-muted">
        <tr>
          <th class="font-normal">size</th>
          <th class="font-normal">of</th>
          <th class="font-normal">reads</th>
          <th class="font-normal">formula</th>
          <th class="font-normal">tolerance</th>
          <th class="font-normal">drives</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="d in sizes"
          :key="d.id"
          class="border-t border-hair"
          :data-size-row="d.id"
          @pointerenter="work.touched = [...d.of]"
          @pointerleave="work.touched = []"
        >
          <td class="py-1">{{ d.kind.replace(/-/g, ' ') }}</td>
          <td class="max-w-[170px] truncate" :title="said(d.of)">{{ said(d.of) }}</td>
          <td>{{ d.text }}</td>
          <td>
            <SizeField
              v-if="d.value"
              :step="work.sketch!"
              :size="{ field: d.id, formula: d.value, shown: d.text }"
            />
          </td>
          <td>
            <input
              v-if="d.value"
              class="field w-24 py-0"
              :value="tolerance(d.id)"
              placeholder="±0.1 or H7"
              :aria-label="`tolerance of ${d.id}`"
              @change="tolerate(d.id, $event)"
            />
          </td>
          <td class="text-center">
            <input
              type="checkbox"
              :checked="Boolean(d.value)"
              :aria-label="`${d.id} drives`"
              @click.prevent="drive(d, !d.value)"
            />
          </td>
        </tr>
        <tr v-for="c in counts" :key="c.field" class="border-t border-hair" :data-size-row="c.field">
          <td class="py-1">number</td>
          <td colspan="2">{{ c.label }}</td>
          <td>
            <SizeField :step="work.sketch!" :size="{ field: c.field, formula: c.value, shown: c.value }" />
          </td>
          <td colspan="2" />
        </tr>
      </tbody>
    </table>
    <p v-if="part.notice" role="alert" class="mt-2 text-alert">{{ part.notice }}</p>
  </SheetCard>
</template>
