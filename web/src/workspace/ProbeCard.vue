<script setup lang="ts">
import { useForm } from '../stores/form'
import HoleStrip from './HoleStrip.vue'
import SheetCard from './SheetCard.vue'

const form = useForm()
</script>

<template>
  <SheetCard
    v-if="form.probed"
    named="Probe"
    closes="Close the probe"
    class="w-[360px]"
    data-testid="probe-card"
    @close="form.probed = null"
  >
    <p v-if="form.probed.strip.length === 0" class="text-muted">There is no material along this axis.</p>
    <template v-else>
      <HoleStrip :strip="form.probed.strip" :title="`${form.probed.total} of material`" />
      <ol class="mt-1">
        <li v-for="s in form.probed.strip" :key="s.from" class="border-t border-hair py-0.5">
          <b>{{ s.shown }}</b> <span class="text-muted">{{ s.in }}; {{ s.out }}</span>
        </li>
      </ol>
    </template>
  </SheetCard>
</template>
