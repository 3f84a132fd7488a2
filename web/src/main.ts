import '@fontsource/atkinson-hyperlegible/latin-ext-400.css'
import '@fontsource/atkinson-hyperlegible/latin-ext-700.css'
import '@fontsource/b612/latin-400.css'
import '@fontsource/b612/latin-700.css'
import 'element-plus/theme-chalk/base.css'
import './theme/tokens.css'
import './theme/base.css'

import { createPinia } from 'pinia'
import { createApp } from 'vue'

import App from '@/App.vue'
import { keepApplication } from '@/device/update'
import { router } from '@/router'

keepApplication()
createApp(App).use(createPinia()).use(router).mount('#app')
