/** What stages show beside tables, and the parts of the brief: each named once, for tabs and for finding them. */
import { defineAsyncComponent, type Component } from 'vue'

export interface Panel {
  readonly name: string
  readonly component: Component
}
// Loaded when they are first opened.
const part = (name: string, load: () => Promise<Component>): Panel => ({ name, component: defineAsyncComponent(load) })

/** By the stage, in the order of their tabs. */
export const PANELS: Readonly<Record<string, readonly Panel[]>> = {
  plan: [part('Build-ups', () => import('@/stages/BuildUps.vue'))],
  air: [
    part('Placing', () => import('@/air/PlacingPanel.vue')),
    part('Radio plan', () => import('@/air/RadioPlanPanel.vue')),
    part('Walks', () => import('@/air/WalksPanel.vue')),
    part('Airtime', () => import('@/air/AirtimePanel.vue')),
    part('Failures', () => import('@/air/FailuresPanel.vue')),
    part('Survey', () => import('@/air/SurveyPanel.vue')),
    part('Compare', () => import('@/air/VariantsPanel.vue')),
  ],
  links: [
    part('Ways', () => import('@/links/WaysPanel.vue')),
    part('Mesh', () => import('@/links/MeshPanel.vue')),
    part('Compared', () => import('@/links/ComparedPanel.vue')),
    part('Paths', () => import('@/links/PathsPanel.vue')),
    part('What fails', () => import('@/links/FailsPanel.vue')),
    part('River map', () => import('@/links/RiverPanel.vue')),
  ],
  runs: [
    part('Drill list', () => import('@/runs/DrillPanel.vue')),
    part('Pathways to make', () => import('@/runs/ProposedPanel.vue')),
    part('Cut list', () => import('@/runs/CutsPanel.vue')),
    part('Labels', () => import('@/runs/LabelsPanel.vue')),
  ],
  ports: [
    part('Fronts', () => import('@/ports/FrontsPanel.vue')),
    part('Loads', () => import('@/ports/LoadsPanel.vue')),
    part('A feed', () => import('@/ports/FeedPanel.vue')),
    part('Racks', () => import('@/ports/RackPanel.vue')),
    part('Battery', () => import('@/ports/StandbyPanel.vue')),
    part('Patches', () => import('@/ports/PatchesPanel.vue')),
    part('Recording', () => import('@/ports/RecordingPanel.vue')),
    part('Re-patch', () => import('@/ports/AnewPanel.vue')),
    part('Models', () => import('@/stages/OwnModels.vue')),
  ],
  network: [
    part('Who reaches whom', () => import('@/network/FlowsPanel.vue')),
    part('Names by point', () => import('@/network/NamesPanel.vue')),
    part('Addresses', () => import('@/network/AddressesPanel.vue')),
    part('One name or many', () => import('@/network/SplittingPanel.vue')),
    part('Why', () => import('@/network/WhyPanel.vue')),
    part('Run book', () => import('@/network/RunBookPanel.vue')),
    part('Passphrases', () => import('@/network/PassphrasesPanel.vue')),
    part('Controller', () => import('@/network/ControllerPanel.vue')),
    part('Units', () => import('@/network/UnitsPanel.vue')),
  ],
  order: [
    part('Suppliers', () => import('@/order/SuppliersPanel.vue')),
    part('What if', () => import('@/order/WhatIfPanel.vue')),
    part('Good, better, best', () => import('@/order/WaysToBuyPanel.vue')),
    part('Terms', () => import('@/order/TermsPanel.vue')),
  ],
  fit: [
    part('Board', () => import('@/fit/BoardPanel.vue')),
    part('Sheets', () => import('@/fit/SheetsPanel.vue')),
    part('Ends', () => import('@/fit/EndsPanel.vue')),
  ],
  prove: [
    part('Runs tested', () => import('@/prove/RunsPanel.vue')),
    part('Ports and points', () => import('@/prove/SeenPanel.vue')),
    part('Air and walks', () => import('@/prove/AirPanel.vue')),
    part('Faults', () => import('@/prove/FaultsPanel.vue')),
    part('Hand over', () => import('@/prove/HandOverPanel.vue')),
    part('Logbook', () => import('@/prove/LogPanel.vue')),
  ],
}
export const BRIEF = {
  facts: 'Facts',
  spaces: 'Spaces and hours',
  devices: 'Devices',
  questions: 'Questions',
  drops: 'Forgotten drops',
  practice: 'House practice',
} as const
