<script setup lang="ts">
/** A job on site: the next task, large; all of them by day; or those about what a label's code names. */
import { useLocalStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import FieldTask from '@/field/FieldTask.vue'
import { useField, type Todo } from '@/field/useField'

const props = defineProps<{ jobId: string }>()
const field = useField(props.jobId)
const { taken, takenAt, said, away, records, todos, left, next, after } = field
/** The task in hand lasts over a reload: a phone in a pocket loses its page. */
const inHand = useLocalStorage<string>(`heathrise.in-hand.${props.jobId}`, '')
const listed = ref(false)
const at = ref(new URLSearchParams(location.search).get('at') ?? '')
const mine = useLocalStorage('heathrise.only-mine', false)
const { me, waiting, refused } = records

const about = computed(() => (at.value ? todos.value.filter((one) => one.task.subjects[0] === at.value) : []))
const aboutLabel = computed(() => taken.value?.pack.things.find((one) => one.id === at.value)?.label ?? 'this label')
const current = computed<Todo | undefined>(
  () => todos.value.find((one) => one.task.key === inHand.value) ?? (at.value ? undefined : next.value),
)
// What a code names with one thing left to do is taken in hand at once.
watch(
  about,
  (some) => {
    const open = some.filter((one) => !one.done)
    const [only] = open
    if (!inHand.value && open.length === 1 && only) inHand.value = only.task.key
  },
  { immediate: true },
)
const shown = computed(() => {
  const some = at.value && about.value.length ? about.value : todos.value
  return mine.value && !at.value ? some.filter((one) => one.when.who.includes(me.value)) : some
})
const days = computed(() => {
  const into = new Map<string, Todo[]>()
  for (const one of shown.value) into.set(one.when.on, [...(into.get(one.when.on) ?? []), one])
  return [...into]
})
const dates = new Intl.DateTimeFormat(undefined, { weekday: 'long', day: 'numeric', month: 'short', timeZone: 'UTC' })
const times = new Intl.DateTimeFormat(undefined, { dateStyle: 'medium', timeStyle: 'short' })
const line = computed(() => {
  const open = waiting.value.filter((one) => !one.refused).length
  if (open) {
    return `${open} waiting on this device${away.value || records.offline.value ? ', no signal' : ''}`
  }
  return away.value ? 'no signal; all that was written is sent' : 'all sent'
})
function take(key: string): void {
  inHand.value = key
  listed.value = false
  scrollTo(0, 0)
}
/** Go on to what comes after the one in hand, ticked or left; round again at the end. */
function on(): void {
  const now = current.value?.task.key ?? ''
  at.value = ''
  listed.value = false
  inHand.value = after(now)?.task.key ?? ''
  scrollTo(0, 0)
}
function nextUp(): void {
  inHand.value = ''
  at.value = ''
  listed.value = false
}
function list(): void {
  listed.value = !listed.value
  if (listed.value) inHand.value = ''
}
const inList = computed(() => listed.value || (at.value !== '' && !inHand.value && about.value.length !== 0))
</script>

<template>
  <header>
    <p class="name">
      <strong>{{ taken?.pack.name ?? 'On site' }}</strong>
      <span class="quiet" role="status">{{ line }}</span>
    </p>
    <p v-if="said || records.said.value" class="fault" role="alert">▲ {{ said || records.said.value }}</p>
  </header>
  <main v-if="taken">
    <label class="me"
      >I am
      <input v-model.trim="me" class="entry" list="people" placeholder="your name" maxlength="80" autocomplete="name" />
      <datalist id="people"><option v-for="one in taken.pack.people" :key="one" :value="one" /></datalist>
    </label>
    <p v-if="at && !about.length" class="warning">
      ▲ Nothing is to be done at {{ aboutLabel }}, or it came after this was taken along.
    </p>
    <template v-if="inList">
      <h1>{{ at ? aboutLabel : `${left.length} to do` }}</h1>
      <label v-if="!at" class="only"><input v-model="mine" type="checkbox" /> only mine</label>
      <section v-for="[day, some] in days" :key="day">
        <h2>{{ dates.format(new Date(`${day}T00:00:00Z`)) }}</h2>
        <button
          v-for="one in some"
          :key="one.task.key"
          type="button"
          class="big row"
          :class="{ done: one.done }"
          @click="take(one.task.key)"
        >
          <span aria-hidden="true">{{ one.done ? '✓' : one.waits ? '◇' : '○' }}</span>
          <span class="what"
            >{{ one.task.label
            }}<small class="quiet"
              >{{ [one.task.space, one.task.storey].filter(Boolean).join(', ') }}{{ one.done ? ', done' : '' }}</small
            ></span
          >
        </button>
      </section>
    </template>
    <FieldTask v-else-if="current" :key="current.task.key" :todo="current" :field="field" @next="on" />
    <p v-else-if="!at" class="holds">✓ All is done. Hand over at a desk, stage 10.</p>
    <section v-if="refused.length" class="refused">
      <h2 class="fault">▲ {{ refused.length }} not taken</h2>
      <p v-for="one in refused" :key="one.id">
        {{ one.what }}: {{ one.why }}
        <button type="button" class="big" @click="records.forget(one)">Let it go</button>
      </p>
    </section>
    <nav>
      <button type="button" class="big" @click="inList ? nextUp() : list()">
        {{ inList ? 'Next task' : `All ${todos.length} tasks` }}
      </button>
      <p class="quiet">
        Taken along {{ takenAt ? times.format(new Date(takenAt)) : '' }}. <a href="/field/">Other jobs</a>
      </p>
    </nav>
  </main>
  <main v-else-if="said || away">
    <h1>Not taken along</h1>
    <p>
      This device has not got this job, and there is no signal. Open it once where there is one; after that it works
      without.
    </p>
    <button type="button" class="big primary" @click="field.fetchPack">Try again</button>
    <a class="big" href="/field/">Jobs on this device</a>
  </main>
  <main v-else aria-busy="true"><p class="quiet">Opening…</p></main>
</template>

<style scoped>
header,
main {
  max-width: 560px;
  margin: 0 auto;
  padding: 10px 14px;
}
header {
  border-bottom: 1.5px solid var(--ink);
}
main {
  display: grid;
  gap: 10px;
}
p {
  margin: 0;
}
.name {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 0 10px;
}
.me {
  display: flex;
  gap: 8px;
  align-items: center;
  white-space: nowrap;
}
section {
  display: grid;
  gap: 6px;
}
h1 {
  font-size: 1.4rem;
}
h2 {
  font-size: 1rem;
  padding-top: 6px;
}
.row {
  justify-content: flex-start;
  text-align: left;
}
.row.done {
  color: var(--ink-quiet);
  border-color: var(--rule);
}
.what {
  display: grid;
}
.only {
  min-height: 44px;
  display: flex;
  gap: 8px;
  align-items: center;
}
.only input {
  width: 24px;
  height: 24px;
}
nav {
  display: grid;
  gap: 6px;
  border-top: 1px solid var(--rule);
  padding-top: 10px;
}
</style>
