<script setup lang="ts">
/** Build-ups: design values, layers with what they cost by frequency, and this job's own. */
import { vDraft } from '@/ink/draft'
import InkChart from '@/ink/InkChart.vue'
import { useBuildUps } from '@/stages/useBuildUps'

const {
  code,
  layers,
  computedLoss,
  said,
  rows,
  row,
  mine,
  values,
  materials,
  byFrequency,
  compute,
  addLayer,
  dropLayer,
  setValue,
  useLayers,
  back,
  addOwn,
} = useBuildUps()
</script>

<template>
  <div class="build-ups">
    <div class="list">
      <table aria-label="Build-ups">
        <thead>
          <tr>
            <th scope="col">Build-up</th>
            <th scope="col" class="right">2.4</th>
            <th scope="col" class="right">5</th>
            <th scope="col" class="right">6 GHz</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.id" :class="{ on: r.id === code }" @click="code = r.id">
            <th scope="row">
              <button type="button" class="bare" @click.stop="code = r.id">{{ r.label }}</button>
              <span v-if="r.own" class="advice">this job</span>
            </th>
            <td v-for="(loss, i) in r.losses" :key="i" class="mono right">{{ loss }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <div class="one">
      <header>
        <h3>{{ row?.label }}</h3>
        <span class="quiet">{{ mine ? 'own figures of this job' : 'as in the library' }}</span>
        <button v-if="mine" type="button" class="ink-button" @click="back">As in the library</button>
        <button type="button" class="ink-button" @click="addOwn">Add a build-up</button>
      </header>
      <div class="values">
        <span class="quiet">Design value</span>
        <label v-for="(name, i) in ['2.4 GHz', '5 GHz', '6 GHz']" :key="name"
          >{{ name }}
          <input
            v-draft="values[i]"
            class="field n"
            inputmode="decimal"
            :aria-label="`Loss at ${name}`"
            @change="setValue(i, $event)"
          />
          dB</label
        >
      </div>
      <p v-if="said" class="fault" role="alert">▲ {{ said }}</p>
      <div class="parts">
        <div class="layers">
          <div v-for="(layer, i) in layers" :key="i" class="layer">
            <select v-model="layer.material" class="field" :aria-label="`Material of layer ${i + 1}`" @change="compute">
              <option v-for="m in materials" :key="m">{{ m }}</option>
            </select>
            <input
              v-model.number="layer.thickness_mm"
              class="field n"
              inputmode="decimal"
              :aria-label="`Thickness of layer ${i + 1}`"
              @change="compute"
            />
            mm
            <button type="button" class="bare quiet" :aria-label="`Remove layer ${i + 1}`" @click="dropLayer(i)">
              ✕
            </button>
          </div>
          <p v-if="!layers.length" class="quiet">
            No layers: studwork, brick and stone go by their measured class. Add layers for a plain slab.
          </p>
          <button type="button" class="ink-button" @click="addLayer">Add a layer</button>
          <template v-if="computedLoss">
            <p>
              Layers cost <span class="mono">{{ computedLoss.losses_db.join(' / ') }} dB</span>
              <span class="quiet">{{ computedLoss.source }}</span>
            </p>
            <button type="button" class="ink-button primary" @click="useLayers">Use the layers in this job</button>
          </template>
        </div>
        <div class="plot"><InkChart :config="byFrequency" :label="`Loss of ${row?.label ?? ''} by frequency`" /></div>
      </div>
    </div>
  </div>
</template>

<style scoped>
.build-ups {
  display: grid;
  grid-template-columns: minmax(250px, 320px) minmax(0, 1fr);
  height: 100%;
}
.list {
  overflow: auto;
  border-right: 1px solid var(--rule);
}
.list table {
  border-collapse: collapse;
  width: 100%;
  font-size: 0.88rem;
}
th {
  text-align: left;
  font-weight: 400;
  padding: 1px 6px 1px 12px;
}
thead th {
  white-space: nowrap;
  color: var(--ink-quiet);
  position: sticky;
  top: 0;
  background: var(--paper-raised);
}
td {
  padding: 1px 6px;
}
.list th .bare {
  min-height: 24px;
}
.right {
  text-align: right;
}
tr {
  cursor: pointer;
}
tr.on {
  background: var(--heather-tint);
}
.one {
  padding: 6px 14px;
  overflow: auto;
  display: grid;
  gap: 6px;
  align-content: start;
}
header {
  display: flex;
  gap: 10px;
  align-items: baseline;
}
header .ink-button {
  font-size: 0.88rem;
}
header h3 {
  flex: 1;
}
.values {
  display: flex;
  gap: 14px;
  font-size: 0.9rem;
  align-items: center;
  flex-wrap: wrap;
}
.n {
  width: 3.8rem;
}
.parts {
  display: grid;
  grid-template-columns: minmax(220px, 1fr) minmax(240px, 1.4fr);
  gap: 14px;
}
.layers {
  display: grid;
  gap: 5px;
  align-content: start;
  justify-items: start;
  font-size: 0.9rem;
}
.layer {
  display: flex;
  gap: 6px;
  align-items: center;
}
.plot {
  height: 190px;
  position: relative;
}
p {
  margin: 0;
  font-size: 0.9rem;
}
</style>
