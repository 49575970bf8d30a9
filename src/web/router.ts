import { createRouter, createWebHistory } from 'vue-router'
import AssetLayout from './views/AssetLayout.vue'
import AssetsView from './views/AssetsView.vue'
import BenchView from './views/BenchView.vue'
import DestinationsView from './views/DestinationsView.vue'
import JobsView from './views/JobsView.vue'
import PracticeView from './views/PracticeView.vue'
import ReturnView from './views/ReturnView.vue'
import SendView from './views/SendView.vue'

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
        { path: 'trip/:tripId/sent', name: 'sent', component: SendView, props: true },
        { path: 'trip/:tripId/return', name: 'return', component: ReturnView, props: true },
      ],
    },
    { path: '/destinations', name: 'destinations', component: DestinationsView },
    { path: '/practice', name: 'practice', component: PracticeView },
    { path: '/jobs', name: 'jobs', component: JobsView },
    { path: '/:rest(.*)*', redirect: '/' },
  ],
})
