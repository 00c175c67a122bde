import { createRouter, createWebHistory } from 'vue-router'
import JobList from '@/jobs/JobList.vue'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', component: JobList },
    { path: '/jobs/:id', component: () => import('@/frame/JobFrame.vue'), props: true },
  ],
})
