<script setup lang="ts">
import Dialog from 'primevue/dialog'

const visible = defineModel<boolean>('visible', { required: true })
const GROUPS: readonly (readonly [string, readonly (readonly [string, string])[]])[] = [
  [
    'Go',
    [
      ['1 … 9, 0', 'stages'],
      ['[ ]', 'floor down, up'],
      ['. ,', 'next, previous finding'],
      ['T', 'tables'],
      ['V', 'sheet or 3D'],
      ['Ctrl K', 'find or do anything'],
      ['?', 'this sheet'],
    ],
  ],
  [
    'Draw',
    [
      ['W', 'wall'],
      ['D N', 'door, window'],
      ['S', 'space'],
      ['A', 'access point'],
      ['C', 'run'],
      ['M', 'measure'],
      ['L', 'loss account of a place'],
      ['Enter', 'end a chain, set a length'],
      ['Esc', 'back to select'],
    ],
  ],
  [
    'Move',
    [
      ['← ↑ → ↓', '0.1 m: selection, or the cross of a tool'],
      ['Shift + arrows', '1 m'],
      ['+ −', 'zoom'],
      ['Shift 0', 'show the whole sheet'],
      ['Space + drag', 'pan'],
      ['Del', 'remove the selection'],
      ['Shift + drag', 'box: select many'],
      ['Shift + press', 'one more or less of many'],
    ],
  ],
  [
    'Undo',
    [
      ['Ctrl Z', 'undo'],
      ['Ctrl Shift Z', 'redo'],
    ],
  ],
]
</script>

<template>
  <Dialog v-model:visible="visible" modal dismissable-mask :draggable="false" header="Keys" :style="{ width: '46rem' }">
    <div class="groups">
      <section v-for="[name, keys] in GROUPS" :key="name">
        <h3>{{ name }}</h3>
        <dl>
          <template v-for="[key, what] in keys" :key="key"
            ><dt>
              <kbd>{{ key }}</kbd>
            </dt>
            <dd>{{ what }}</dd></template
          >
        </dl>
      </section>
    </div>
  </Dialog>
</template>

<style scoped>
.groups {
  columns: 2;
  column-gap: 2rem;
}
section {
  break-inside: avoid;
  margin-bottom: 14px;
}
dl {
  display: grid;
  grid-template-columns: 8rem 1fr;
  gap: 3px 8px;
  margin: 4px 0;
}
dd {
  margin: 0;
}
</style>
