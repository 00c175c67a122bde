import '@fontsource/atkinson-hyperlegible-next/latin-400.css'
import '@fontsource/atkinson-hyperlegible-next/latin-700.css'
import '@fontsource/ibm-plex-mono/latin-400.css'
import '@/ink/ink.css'
import '@/field/field.css'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import FieldApp from '@/field/FieldApp.vue'

createApp(FieldApp).use(createPinia()).mount('#app')
void navigator.serviceWorker?.register('/field/worker.js', { scope: '/field/' })
