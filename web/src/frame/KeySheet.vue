<script setup lang="ts">
import Dialog from 'primevue/dialog'
import { computed } from 'vue'
import { useTools } from '@/sheet/tools'

const visible = defineModel<boolean>('visible', { required: true })
const { tools } = useTools()
/** Every tool with a key, as the strip has it: a new tool stands here by itself. */
const ofTools = computed(() =>
  tools.value.flatMap((tool) =>
    tool.key ? [[tool.key === 'Escape' ? 'Esc' : tool.key.toUpperCase(), tool.label.toLowerCase()] as const] : [],
  ),
)
const FIXED: readonly (readonly [string, readonly (readonly [string, string])[]])[] = [
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
const GROUPS = computed(() => [
  ['Tools', [...ofTools.value, ['Enter', 'end a chain, set a length'] as const]] as const,
  ...FIXED,
])
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
