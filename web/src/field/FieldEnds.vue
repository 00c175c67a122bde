<script setup lang="ts">
/** The colours of an end, pin by pin, for a ladder: each named beside its colour. */
import type { EndGuide } from '@/api/schema'

defineProps<{ ends: EndGuide }>()
</script>

<template>
  <figure>
    <figcaption>
      <strong>T568{{ ends.scheme }}</strong> <span class="quiet">clip away from the eye, pin 1 at the left</span>
    </figcaption>
    <ol>
      <li v-for="pin in ends.pins" :key="pin.pin" :data-colour="pin.colour" :class="{ white: pin.white }">
        <span class="n">{{ pin.pin }}</span>
        <span class="wire" />
        <span class="word">{{ pin.white ? 'white' : '' }} {{ pin.colour }}</span>
      </li>
    </ol>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
ol {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(8, 1fr);
  gap: 4px;
}
li {
  display: grid;
  align-content: start;
  gap: 3px;
  text-align: center;
  font-size: 0.68rem;
  line-height: 1.1;
}
.n {
  font-weight: 700;
  font-size: 1.05rem;
}
.wire {
  height: 74px;
  border: 1px solid var(--ink);
  background: var(--wire);
}
.white .wire {
  background: repeating-linear-gradient(#fff 0 7px, var(--wire) 7px 12px);
}
/* The wires of a pair cable, as they are made. */
[data-colour='orange'] {
  --wire: #d9731a;
}
[data-colour='green'] {
  --wire: #2e7d3b;
}
[data-colour='blue'] {
  --wire: #2b5fa8;
}
[data-colour='brown'] {
  --wire: #6b4423;
}
</style>
