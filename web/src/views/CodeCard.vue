<script setup lang="ts">
import { ref } from 'vue'

const props = defineProps<{ code: string }>()
const copied = ref(false)

async function copy(): Promise<void> {
  copied.value = await navigator.clipboard.writeText(props.code).then(
    () => true,
    () => false,
  )
}
</script>

<template>
  <div class="flex flex-col gap-2 rounded border border-hair bg-canvas p-3" data-testid="recovery-code">
    <p>Your recovery code, shown this once:</p>
    <p class="flex items-center gap-3">
      <code class="font-mono text-base tracking-wide select-all">{{ code }}</code><button
        type="button"
        class="button"
        @click="copy"
      >
        {{ copied ? 'copied' : 'Copy' }}
      </button>
    </p>
    <p class="text-muted">
      Keep it where you keep such things. Without it a lost password cannot be replaced: no mail is sent.
    </p>
  </div>
</template>
