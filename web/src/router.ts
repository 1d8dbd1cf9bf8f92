import { createRouter, createWebHistory } from 'vue-router'
import { useAccount } from './stores/account'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', redirect: '/parts' },
    { path: '/sign-in', component: () => import('./views/SignIn.vue') },
    { path: '/account', component: () => import('./views/AccountPage.vue'), meta: { signedIn: true } },
    { path: '/parts', component: () => import('./views/PartList.vue'), meta: { signedIn: true } },
    {
      path: '/parts/:id',
      component: () => import('./views/Workspace.vue'),
      props: true,
      meta: { signedIn: true },
    },
    { path: '/:rest(.*)*', redirect: '/parts' },
  ],
})

router.beforeEach(async (to) => {
  const account = useAccount()
  await account.load()
  if (to.meta.signedIn && !account.email) return '/sign-in'
  if (to.path === '/sign-in' && account.email) return '/parts'
  return true
})
