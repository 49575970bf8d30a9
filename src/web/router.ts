import { createRouter, createWebHistory } from 'vue-router'
import AssetLayout from './features/asset/AssetLayout.vue'
import AssetsView from './features/assets/AssetsView.vue'
import BenchView from './features/bench/BenchView.vue'
import ReturnView from './features/return/ReturnView.vue'
import SendView from './features/send/SendView.vue'

/** What an artist doesn’t see first comes when it is asked for. */
export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'assets', component: AssetsView },
    {
      path: '/asset/:assetId',
      component: AssetLayout,
      props: true,
      children: [
        { path: '', name: 'bench', component: BenchView, props: true },
        { path: 'version/:versionId', name: 'version', component: BenchView, props: true },
        { path: 'send', name: 'send', component: SendView, props: true },
        {
          path: 'surfaces',
          name: 'surfaces',
          component: () => import('./features/surfaces/SurfacesView.vue'),
          props: true,
        },
        { path: 'trip/:tripId/sent', name: 'sent', component: SendView, props: true },
        { path: 'trip/:tripId/return', name: 'return', component: ReturnView, props: true },
      ],
    },
    {
      path: '/destinations',
      name: 'destinations',
      component: () => import('./features/destinations/DestinationsView.vue'),
    },
    { path: '/practice', name: 'practice', component: () => import('./features/practice/PracticeView.vue') },
    { path: '/jobs', name: 'jobs', component: () => import('./features/jobs/JobsView.vue') },
    { path: '/:rest(.*)*', redirect: '/' },
  ],
})

// the page is older than the server: what it asks for has another name now
router.onError((error: Error, to) => {
  if (/dynamically imported module|module script|preload/i.test(error.message)) location.assign(to.fullPath)
})
