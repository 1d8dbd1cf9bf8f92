<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { useAccount } from '../stores/account'

const account = useAccount()
const router = useRouter()
const how = ref<'sign-in' | 'sign-up'>('sign-in')
const email = ref('')
const password = ref('')
const stay = ref(true)
const error = ref<string | null>(null)
const busy = ref(false)

async function go(work: Promise<string | null>): Promise<void> {
  busy.value = true
  error.value = await work
  busy.value = false
  if (!error.value) await router.push('/parts')
}
</script>

<template>
  <main class="grid h-full grid-cols-[1.2fr_1fr]">
    <section class="flex flex-col justify-between border-r border-hair bg-sheet p-14">
      <div class="flex items-center gap-3 text-xl font-semibold">
        <img src="/mark.svg" alt="" class="h-9 w-9" /> Ratiogon
      </div>
      <div>
        <h1 class="max-w-md text-3xl leading-tight font-semibold">Sketches that say what can still move.</h1>
        <p class="mt-4 max-w-md text-base text-muted">
          Draw, tie and size until nothing can move; give it depth; read it, change it, hand it over as exact
          STEP.
        </p>
        <svg viewBox="0 0 420 220" class="mt-10 w-full max-w-lg" fill="none" aria-hidden="true">
          <rect x="40" y="30" width="300" height="150" stroke="var(--steel)" stroke-width="2.5" />
          <circle cx="190" cy="105" r="42" stroke="var(--steel)" stroke-width="2.5" />
          <circle cx="290" cy="68" r="13" stroke="var(--amber)" stroke-width="2" stroke-dasharray="12 4" />
          <circle cx="290" cy="68" r="4" fill="var(--sheet)" stroke="var(--amber)" stroke-width="2" />
          <path
            d="M40 190v22M340 190v22M40 206h300M48 203l-8 3 8 3M332 203l8 3-8 3"
            stroke="var(--dimension)"
          />
          <text x="190" y="201" text-anchor="middle" fill="var(--ink)" font-size="13">90 mm</text>
        </svg>
      </div>
      <p class="text-muted">Everything stays on this server.</p>
    </section>
    <section class="flex items-center justify-center p-10">
      <form class="flex w-72 flex-col gap-3" @submit.prevent="go(account.enter(how, email, password, stay))">
        <h2 class="text-lg font-semibold">{{ how === 'sign-in' ? 'Sign in' : 'Make an account' }}</h2>
        <label class="flex flex-col gap-1"
          >E-mail address<input
            v-model="email"
            type="email"
            required
            autocomplete="username"
            class="field py-1.5"
            name="email"
        /></label>
        <label class="flex flex-col gap-1"
          >Password<input
            v-model="password"
            type="password"
            required
            minlength="8"
            maxlength="128"
            :autocomplete="how === 'sign-in' ? 'current-password' : 'new-password'"
            class="field py-1.5"
            name="password"
        /></label>
        <label class="flex min-h-6 items-center gap-2"
          ><input v-model="stay" type="checkbox" class="h-4 w-4 accent-[var(--accent)]" name="stay" />Stay
          signed in on this browser</label
        >
        <p v-if="error" role="alert" class="rounded bg-alert-soft p-2 text-alert">{{ error }}</p>
        <button class="button-main py-2" :disabled="busy">
          {{ how === 'sign-in' ? 'Sign in' : 'Sign up' }}
        </button>
        <button
          type="button"
          class="text-left text-accent underline"
          @click="how = how === 'sign-in' ? 'sign-up' : 'sign-in'"
        >
          {{ how === 'sign-in' ? 'No account yet? Sign up' : 'Have an account? Sign in' }}
        </button>
        <template v-if="account.demo">
          <hr class="my-2 border-hair" />
          <button
            type="button"
            class="button py-2"
            data-testid="enter-demo"
            :disabled="busy"
            @click="go(account.enterDemo())"
          >
            Enter the demo account
          </button>
        </template>
      </form>
    </section>
  </main>
</template>
