<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { useAccount } from '../stores/account'
import CodeCard from './CodeCard.vue'

const account = useAccount()
const router = useRouter()
const how = ref<'sign-in' | 'sign-up' | 'recover'>('sign-in')
const code = ref('')
const email = ref('')
const password = ref('')
const stay = ref(true)
const error = ref<string | null>(null)
const busy = ref(false)

async function go(work: Promise<string | null>): Promise<void> {
  busy.value = true
  error.value = await work
  busy.value = false
  // A code that was made is shown before anything else.
  if (!error.value && !account.code) await router.push('/parts')
}

const enter = (): Promise<void> =>
  go(
    how.value === 'recover'
      ? account.recover(email.value, code.value, password.value)
      : account.enter(how.value, email.value, password.value, stay.value),
  )

function turn(to: typeof how.value): void {
  how.value = to
  error.value = null
}

const WORDS = {
  'sign-in': { head: 'Sign in', press: 'Sign in' },
  'sign-up': { head: 'Make an account', press: 'Sign up' },
  recover: { head: 'The password is lost', press: 'Take the new password' },
} as const

async function written(): Promise<void> {
  account.code = null
  await router.push('/parts')
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
      <div v-if="account.code" class="flex w-96 flex-col gap-4">
        <h2 class="text-lg font-semibold">Before you go on</h2>
        <CodeCard :code="account.code" />
        <button type="button" class="button-main self-start py-2" data-testid="code-kept" @click="written">
          I have written it down
        </button>
      </div>
      <form v-else class="flex w-72 flex-col gap-3" @submit.prevent="enter">
        <h2 class="text-lg font-semibold">{{ WORDS[how].head }}</h2>
        <label class="flex flex-col gap-1"
          >E-mail address<input
            v-model="email"
            type="email"
            required
            autocomplete="username"
            class="field py-1.5"
            name="email"
        /></label>
        <label v-if="how === 'recover'" class="flex flex-col gap-1"
          >Recovery code<input
            v-model="code"
            required
            maxlength="100"
            autocomplete="off"
            spellcheck="false"
            placeholder="XXXXX-XXXXX-XXXXX-XXXXX"
            class="field py-1.5 font-mono"
            name="code"
        /></label>
        <label class="flex flex-col gap-1"
          >{{ how === 'recover' ? 'New password' : 'Password'
          }}<input
            v-model="password"
            type="password"
            required
            minlength="8"
            maxlength="128"
            :autocomplete="how === 'sign-in' ? 'current-password' : 'new-password'"
            class="field py-1.5"
            name="password"
        /></label>
        <label v-if="how !== 'recover'" class="flex min-h-6 items-center gap-2"
          ><input v-model="stay" type="checkbox" class="h-4 w-4 accent-[var(--accent)]" name="stay" />Stay
          signed in on this browser</label
        >
        <p v-if="error" role="alert" class="rounded bg-alert-soft p-2 text-alert">{{ error }}</p>
        <button class="button-main py-2" :disabled="busy">
          {{ WORDS[how].press }}
        </button>
        <button
          type="button"
          class="text-left text-accent underline"
          @click="turn(how === 'sign-in' ? 'sign-up' : 'sign-in')"
        >
          {{ how === 'sign-in' ? 'No account yet? Sign up' : 'Have an account? Sign in' }}
        </button>
        <button
          v-if="how === 'sign-in'"
          type="button"
          class="text-left text-accent underline"
          data-testid="lost-password"
          @click="turn('recover')"
        >
          Lost the password? Use the recovery code
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
            Look at the demo
          </button>
          <p class="text-muted">A copy of your own, thrown away after a day.</p>
        </template>
      </form>
    </section>
  </main>
</template>
