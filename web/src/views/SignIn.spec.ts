// @vitest-environment happy-dom
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { useAccount } from '../stores/account'
import { freshStores, mounted, settle, type Mounted } from '../testing'

const went: string[] = []
vi.mock('vue-router', () => ({
  useRouter: () => ({ push: (to: string) => Promise.resolve(void went.push(to)) }),
}))
const { default: SignIn } = await import('./SignIn.vue')

let page: Mounted
const calls: unknown[][] = []
let answer: string | null = null

async function send(email: string, password: string): Promise<void> {
  await page.type(page.all('input[name=email]')[0]!, email)
  await page.type(page.all('input[name=password]')[0]!, password)
  page.all('form')[0]!.dispatchEvent(new Event('submit', { cancelable: true }))
  await settle()
}

describe('signing in', () => {
  beforeEach(async () => {
    document.body.innerHTML = ''
    went.length = calls.length = 0
    answer = null
    freshStores()
    const account = useAccount()
    account.enter = ((...given: unknown[]) => (calls.push(given), Promise.resolve(answer))) as never
    account.recover = ((...given: unknown[]) => (
      calls.push(['recover', ...given]),
      Promise.resolve(answer)
    )) as never
    page = await mounted(SignIn)
  })

  it('goes to the parts, staying signed in unless that is not wanted', async () => {
    await send('a@b.example', 'a long password')
    await page.press(page.all('input[name=stay]')[0]!)
    await send('a@b.example', 'a long password')
    expect(calls).toEqual([
      ['sign-in', 'a@b.example', 'a long password', true],
      ['sign-in', 'a@b.example', 'a long password', false],
    ])
    expect(went).toEqual(['/parts', '/parts'])
  })

  it('says why not, keeps what was typed, and stays', async () => {
    answer = 'Too many tries; wait a minute.'
    await send('a@b.example', 'wrong password')
    expect(page.all('[role=alert]')[0]!.textContent).toBe('Too many tries; wait a minute.')
    expect(page.all<HTMLInputElement>('input[name=email]')[0]!.value).toBe('a@b.example')
    expect(went).toEqual([])
  })

  it('shows a new recovery code before anything else', async () => {
    useAccount().code = 'AAAAA-BBBBB-CCCCC-DDDDD'
    await settle()
    expect(page.text()).toContain('AAAAA-BBBBB-CCCCC-DDDDD')
    expect(page.all('form')).toHaveLength(0)
    await page.press(page.part('code-kept'))
    expect([useAccount().code, went]).toEqual([null, ['/parts']])
  })

  it('takes a recovery code in place of the password', async () => {
    await page.press(page.part('lost-password'))
    expect(page.all('input[name=stay]')).toHaveLength(0)
    await page.type(page.all('input[name=code]')[0]!, 'XXXXX')
    await send('a@b.example', 'a new password')
    expect(calls).toEqual([['recover', 'a@b.example', 'XXXXX', 'a new password']])
  })
})
