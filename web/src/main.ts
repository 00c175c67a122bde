import '@fontsource/atkinson-hyperlegible-next/latin-400.css'
import '@fontsource/atkinson-hyperlegible-next/latin-700.css'
import '@fontsource/ibm-plex-mono/latin-400.css'
import '@fontsource/ibm-plex-mono/latin-600.css'
import 'primeicons/primeicons.css'
import '@/ink/ink.css'
import { createPinia } from 'pinia'
import PrimeVue from 'primevue/config'
import ToastService from 'primevue/toastservice'
import { createApp } from 'vue'
import App from '@/App.vue'
import { SurveySheet } from '@/ink/theme'
import { router } from '@/router'

const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content

createApp(App)
  .use(createPinia())
  .use(router)
  .use(PrimeVue, {
    theme: { preset: SurveySheet, options: { darkModeSelector: '.night' } },
    csp: { nonce },
  })
  .use(ToastService)
  .mount('#app')
