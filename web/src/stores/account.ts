import { defineStore } from 'pinia'
import { ref } from 'vue'
import { api, reason, type AccountView } from '../api/client'

export const useAccount = defineStore('account', () => {
  const email = ref<string | null>(null)
  const demo = ref(false)
  /** Whether this is a visitor's copy of the demo. */
  const visitor = ref(false)
  /** A recovery code that was made just now and has to be shown. */
  const code = ref<string | null>(null)
  let loaded = false

  async function load(): Promise<void> {
    if (loaded) return
    const { data } = await api.GET('/api/account')
    if (!data) return
    loaded = true
    take(data)
    demo.value = data.demo
  }

  function take(view: AccountView): void {
    email.value = view.email ?? null
    visitor.value = view.visitor
    code.value = view.code ?? null
  }

  /** Signs up or in; answers what is wrong, or null. */
  async function enter(
    how: 'sign-up' | 'sign-in',
    address: string,
    password: string,
    stay: boolean,
  ): Promise<string | null> {
    const body = { email: address, password, stay }
    const { data, error } =
      how === 'sign-up'
        ? await api.POST('/api/account/sign-up', { body })
        : await api.POST('/api/account/sign-in', { body })
    if (data) take(data)
    return data ? null : reason(error)
  }

  /** Another password by the recovery code; answers what is wrong, or null. */
  async function recover(address: string, by: string, next: string): Promise<string | null> {
    const { data, error } = await api.POST('/api/account/recover', {
      body: { email: address, code: by, next },
    })
    if (data) take(data)
    return data ? null : reason(error)
  }

  async function enterDemo(): Promise<string | null> {
    const { data, error } = await api.POST('/api/account/demo')
    if (data) take(data)
    return data ? null : reason(error)
  }

  /** Another recovery code, or what is wrong. */
  async function newCode(password: string): Promise<{ code: string | null; wrong: string | null }> {
    const { data, error } = await api.POST('/api/account/code', { body: { password } })
    return { code: data?.code ?? null, wrong: data ? null : reason(error) }
  }

  /** Deletes the account with everything that it keeps; answers what is wrong, or null. */
  async function leave(password: string): Promise<string | null> {
    const { error, response } = await api.POST('/api/account/delete', { body: { password } })
    if (!response.ok) return reason(error)
    email.value = null
    visitor.value = false
    return null
  }

  /** Takes another password; every other browser is signed out. Answers what is wrong, or null. */
  async function changePassword(current: string, next: string): Promise<string | null> {
    const { error, response } = await api.POST('/api/account/password', { body: { current, next } })
    return response.ok ? null : reason(error)
  }

  async function signOut(): Promise<void> {
    await api.POST('/api/account/sign-out', { keepalive: true })
    email.value = null
    visitor.value = false
  }

  return {
    email,
    demo,
    visitor,
    code,
    load,
    enter,
    recover,
    enterDemo,
    newCode,
    changePassword,
    leave,
    signOut,
  }
})
