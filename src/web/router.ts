import { createRouter, createWebHistory } from 'vue-router'
import AssetLayout from './features/asset/AssetLayout.vue'
import AssetsView from './features/assets/AssetsView.vue'
import BenchView from './features/bench/BenchView.vue'
import DestinationsView from './features/destinations/DestinationsView.vue'
import JobsView from './features/jobs/JobsView.vue'
import PracticeView from './features/practice/PracticeView.vue'
import ReturnView from './features/return/ReturnView.vue'
import SendView from './features/send/SendView.vue'
import SurfacesView from './features/surfaces/SurfacesView.vue'

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
        { path: 'surfaces', name: 'surfaces', component: SurfacesView, props: true },
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
