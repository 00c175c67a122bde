<script setup lang="ts">
/** The job is no longer there while it is open here: all that is on the sheet can still be kept. */
import { useRouter } from 'vue-router'
import { useGuarded } from '@/api/useGuarded'
import { useJob } from '@/job/useJob'
import { bringIn, putBack, savedHere } from '@/jobs/rescue'

const job = useJob()
const router = useRouter()
const { said, busy, guarded } = useGuarded()

const back = () =>
  guarded(async () => {
    await putBack(job.id)
    await job.open(job.id)
  })
const asNew = () =>
  guarded(async () => {
    const made = await bringIn(savedHere(job.name, job.all))
    // What waited is in the new job.
    for (const edit of [...job.waiting]) job.letGo(edit.editId)
    await router.push(`/jobs/${made}`)
  })
function asFile(): void {
  const url = URL.createObjectURL(savedHere(job.name, job.all))
  const link = document.createElement('a')
  link.href = url
  link.download = `${job.name.toLowerCase().replaceAll(/[^a-z0-9]+/g, '-') || 'job'}.job.json`
  link.click()
  URL.revokeObjectURL(url)
}
</script>

<template>
  <section v-if="job.gone" class="trouble" role="alert" aria-label="The job is gone">
    <h2>▲ {{ job.gone === 'bin' ? 'This job was put in the bin' : 'This job was deleted' }}</h2>
    <p>
      Nothing you did here is lost: the sheet is as you left it<template v-if="job.waiting.length"
        >, with {{ job.waiting.length }} {{ job.waiting.length === 1 ? 'edit' : 'edits' }} not saved yet</template
      >. Keep it one of these ways.
    </p>
    <div class="do">
      <button v-if="job.gone === 'bin'" type="button" class="ink-button primary" :disabled="busy" @click="back">
        Put it back
      </button>
      <button type="button" class="ink-button" :disabled="busy" @click="asNew">Save as a new job</button>
      <button type="button" class="ink-button" @click="asFile">Save as a file</button>
    </div>
    <p v-if="said" class="said">▲ {{ said }}</p>
  </section>
</template>

<style scoped>
.said {
  color: var(--rust);
}
</style>
