import '@fontsource-variable/inter/index.css'
import { element } from './kit/element.ts'
import 'element-plus/dist/index.css'
import 'element-plus/theme-chalk/dark/css-vars.css'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { router } from './router.ts'
import './styles/look.css'

createApp(App).use(createPinia()).use(element).use(router).mount('#app')
