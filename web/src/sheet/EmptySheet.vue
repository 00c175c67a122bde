<script setup lang="ts">
/** An empty storey: the ways to begin, as buttons. */
import { useImport } from '@/job/useImport'
import { useView } from '@/job/useView'

const view = useView()
const importing = useImport()

function chosen(event: Event): void {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  view.stage = 'plan'
  if (file) void importing.send(file)
}
function walls(): void {
  view.stage = 'plan'
  // After the stage has put the last tool away.
  setTimeout(() => {
    view.tool = 'wall'
  })
}
</script>

<template>
  <div class="empty">
    <h2>Nothing is drawn on {{ view.storey?.label ?? 'this job' }} yet</h2>
    <p class="acts" @click.stop @pointerdown.stop>
      <label class="ink-button primary"
        >Import a drawing<input
          type="file"
          class="visually-hidden"
          accept=".dxf,.ifc,.pdf,.svg,.geojson,.json,image/png,image/jpeg"
          aria-label="Choose a drawing"
          @change="chosen"
      /></label>
      <button type="button" class="ink-button" @click="walls">Draw walls <kbd>W</kbd></button>
    </p>
    <p class="quiet">
      Or drop a file here: DXF, IFC, PDF, SVG, GeoJSON or a picture. The sheet is 40 m wide and follows what is drawn.
    </p>
  </div>
</template>

<style scoped>
.empty {
  position: absolute;
  inset: 34% 16% auto;
  text-align: center;
}
.acts {
  display: flex;
  justify-content: center;
  gap: 10px;
}
label:focus-within {
  outline: 2px solid var(--heather);
  outline-offset: 1px;
}
</style>
