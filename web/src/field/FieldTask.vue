<script setup lang="ts">
/** One task, large: what, where, with what care, the colours where an end is made; and what is written down. */
import { computed, ref } from 'vue'
import type { Field, Todo } from '@/field/useField'
import FieldEnds from '@/field/FieldEnds.vue'
import FieldPlace from '@/field/FieldPlace.vue'
import OtherwisePart from '@/field/OtherwisePart.vue'
import TestPart from '@/field/TestPart.vue'
import { useTyped } from '@/field/useTyped'
import { small } from '@/site/photograph'
import type { Written } from '@/site/useRecords'
import { numberOf } from '@/units/typed'
import { useUnits } from '@/units/useUnits'

const props = defineProps<{ todo: Todo; field: Field }>()
const emit = defineEmits<{ next: [] }>()
const units = useUnits()
const task = computed(() => props.todo.task)
const pack = computed(() => props.field.taken.value?.pack)
const subject = computed(() => task.value.subjects[0] ?? 'job')
const cautions = computed(() => task.value.cautions.flatMap((code) => pack.value?.plan.cautions[code] ?? []))
const before = computed(() => props.field.taken.value?.done[task.value.key])
const asks = (what: string): boolean => task.value.records.some((one) => one === what)
const isEnd = computed(() => task.value.step.startsWith('terminate-'))
/** What is typed and not kept yet lasts over a reload: a phone in a pocket loses its page. */
const { note, number, serial } = useTyped(() => task.value.key)
const said = ref('')
const kept = ref('')

async function write(written: Pick<Written, 'kind'> & Partial<Written>, words: string, photo?: Blob): Promise<boolean> {
  const all = [{ subject: subject.value, task: task.value.key, ...written }]
  const done = await props.field.records.write(all, photo)
  kept.value = done ? words : ''
  return done
}
async function tick(): Promise<void> {
  const done = props.todo.done
  if (await write({ kind: done ? 'undone' : 'done' }, done ? 'Opened again.' : 'Done.')) if (!done) emit('next')
}
async function keepNote(): Promise<void> {
  if (note.value.trim() && (await write({ kind: 'note', text: note.value }, 'The note is kept.'))) note.value = ''
}
async function keepNumber(): Promise<void> {
  const value = numberOf(number.value)
  said.value = value === null ? 'Type a number of metres.' : ''
  if (value !== null && (await write({ kind: 'length', number: units.toSi(value, 'm') }, 'The length is kept.')))
    number.value = ''
}
async function keepSerial(): Promise<void> {
  if (serial.value.trim() && (await write({ kind: 'serial', text: serial.value.trim() }, 'The serial is kept.')))
    serial.value = ''
}
async function photograph(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const [file] = input.files ?? []
  input.value = ''
  if (!file) return
  const made = await small(file)
  said.value = made ? '' : `The photograph has ${Math.round(file.size / 1e6)} MB, too much to keep. Take it smaller.`
  if (made) await write({ kind: 'photo', text: note.value }, 'The photograph is kept.', made)
}
async function fault(): Promise<void> {
  const measured = { measured: 'fault' as const, owner: '', storey_id: task.value.storey_id, at: task.value.at }
  if (await write({ kind: 'measured', text: note.value, measured }, 'It is on the list of faults.')) note.value = ''
}
</script>

<template>
  <article :aria-label="task.label">
    <p class="where quiet">{{ [task.space, task.storey, task.trade].filter(Boolean).join(' · ') }}</p>
    <h1>{{ task.label }}</h1>
    <p v-if="todo.waits && !todo.done" class="warning">◇ Something that comes first is not done yet.</p>
    <p class="text">{{ units.sentence(task.text) }}</p>
    <ul v-if="cautions.length" class="cautions">
      <li v-for="one in cautions" :key="one.title">
        <strong>{{ one.title }}.</strong> {{ one.text }} <span class="quiet">Decides: {{ one.decides }}.</span>
      </li>
    </ul>
    <dl v-if="task.facts.length">
      <template v-for="one in task.facts" :key="one.label">
        <dt class="quiet">{{ one.label }}</dt>
        <dd>{{ units.sentence(one.value) }}</dd>
      </template>
    </dl>
    <FieldEnds v-if="isEnd && pack" :ends="pack.ends" />
    <FieldPlace v-if="task.at && task.storey_id && pack" :task="task" :walls="pack.walls" />
    <p v-if="before?.by.length" class="holds">✓ {{ before.by.join(' and ') }} ticked this.</p>
    <p v-if="before?.apart" class="warning">▲ {{ before.numbers.join(' and ') }} were both written down here.</p>
    <button v-if="!asks('test')" type="button" class="big primary" :aria-pressed="todo.done" @click="tick">
      {{ todo.done ? '✓ Done – open it again' : 'Done' }}
    </button>
    <TestPart v-else :task="task" @keep="(measured) => write({ kind: 'measured', measured }, 'The test is kept.')" />
    <p v-if="kept" class="holds" role="status">✓ {{ kept }}</p>
    <p v-if="said" class="fault" role="alert">▲ {{ said }}</p>
    <form v-if="asks('length')" class="ask" @submit.prevent="keepNumber">
      <label
        >Measured length, {{ units.convert(1, 'm').unit }}
        <input v-model="number" class="entry" inputmode="decimal" autocomplete="off" /></label
      ><button type="submit" class="big" :disabled="!number.trim()">Keep</button>
    </form>
    <form v-if="asks('serial')" class="ask" @submit.prevent="keepSerial">
      <label>Serial on the unit <input v-model="serial" class="entry" maxlength="32" autocomplete="off" /></label
      ><button type="submit" class="big" :disabled="!serial.trim()">Keep</button>
    </form>
    <label class="big file"
      ><input type="file" accept="image/*" capture="environment" @change="photograph" />Photograph</label
    >
    <form class="ask" @submit.prevent="keepNote">
      <label>Note <textarea v-model="note" class="entry" rows="2" maxlength="2000" /></label
      ><button type="submit" class="big" :disabled="!note.trim()">Keep</button>
    </form>
    <button v-if="note.trim()" type="button" class="big" @click="fault">This is a fault: onto the list</button>
    <OtherwisePart
      v-if="pack"
      :thing="pack.things.find((one) => one.id === subject)"
      @keep="(measured, text) => write({ kind: 'measured', text, measured }, 'It goes to the desk, to be drawn so.')"
    />
    <button type="button" class="big" @click="emit('next')">Leave it, next task</button>
  </article>
</template>

<style scoped>
article {
  display: grid;
  gap: 10px;
}
h1 {
  font-size: 1.5rem;
}
p {
  margin: 0;
}
.text {
  font-size: 1.08rem;
}
.cautions {
  list-style: none;
  margin: 0;
  padding: 0 0 0 10px;
  border-left: 4px solid var(--gorse);
  display: grid;
  gap: 6px;
}
dl {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 2px 12px;
  margin: 0;
}
dd {
  margin: 0;
  font-weight: 700;
}
.ask {
  display: grid;
  grid-template-columns: 1fr 5.5rem;
  gap: 8px;
  align-items: end;
}
.file input {
  position: absolute;
  opacity: 0;
  width: 1px;
}
</style>
