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
import { lookForLoss } from '@/device/cleared'
import { keepApplication } from '@/device/update'
import { router } from '@/router'

// A lesson needs the rules: they are compiled while its page is fetched.
if (location.pathname.startsWith('/lessons/'))
  void import('@/rules/rules').then((rules) => rules.ready()).catch(() => undefined) // it says so itself
keepApplication()
await lookForLoss()
createApp(App).use(createPinia()).use(router).mount('#app')
