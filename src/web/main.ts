import '@fontsource-variable/inter/index.css'
import { element } from './kit/element.ts'
import 'element-plus/dist/index.css'
import 'element-plus/theme-chalk/dark/css-vars.css'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { router } from './router.ts'
import { useDescriptors } from './stores/descriptors.ts'
import { useDestinations } from './stores/destinations.ts'
import './styles/look.css'

const app = createApp(App).use(createPinia()).use(element)
try {
  await Promise.all([useDescriptors().load(), useDestinations().refresh()])
  app.use(router).mount('#app')
} catch (error) {
  // without these no view can be drawn; the sentence is the server's own where there is one
  const place = document.querySelector('#app')!
  place.className = 'unreachable'
  place.textContent = `${(error as Error).message} Reload the page when it is back.`
}
