/** PrimeVue's tokens in the survey sheet's ink: square corners, thin rules, heather for action. */
import { definePreset } from '@primeuix/themes'
import base from '@primeuix/themes/nora/base'
import button from '@primeuix/themes/nora/button'
import datatable from '@primeuix/themes/nora/datatable'
import dialog from '@primeuix/themes/nora/dialog'
import popover from '@primeuix/themes/nora/popover'
import tabs from '@primeuix/themes/nora/tabs'
import toast from '@primeuix/themes/nora/toast'
import virtualscroller from '@primeuix/themes/nora/virtualscroller'

const heather = {
  50: '#f5f0f7',
  100: '#e8dcec',
  200: '#d3bedb',
  300: '#b797c4',
  400: '#9770a8',
  500: '#6b3f7a',
  600: '#6b3f7a',
  700: '#5a3467',
  800: '#482a53',
  900: '#371f40',
  950: '#25142b',
}
const paper = {
  0: '#fffdf7',
  50: '#f6f3ea',
  100: '#efeade',
  200: '#e2dccb',
  300: '#cbc4b0',
  400: '#8d9197',
  500: '#5b6770',
  600: '#46525b',
  700: '#343f48',
  800: '#28323a',
  900: '#1f2a33',
  950: '#141c22',
}
const slate = {
  0: '#ece7da',
  50: '#d9d4c6',
  100: '#c3bfb3',
  200: '#a9abad',
  300: '#8b959c',
  400: '#70808a',
  500: '#566670',
  600: '#3f4d56',
  700: '#2f3b43',
  800: '#232d34',
  900: '#1a2228',
  950: '#131a1f',
}

/** The parts of the theme whose components are used; a new one is a line here. */

const Plain = { ...base, components: { button, datatable, dialog, popover, tabs, toast, virtualscroller } }

export const SurveySheet = definePreset(Plain, {
  primitive: { borderRadius: { none: '0', xs: '1px', sm: '2px', md: '2px', lg: '3px', xl: '4px' } },
  semantic: {
    primary: heather,
    focusRing: { width: '2px', style: 'solid', color: '{primary.500}', offset: '1px' },
    formField: { paddingX: '0.5rem', paddingY: '0.25rem' },
    colorScheme: {
      light: {
        surface: paper,
        primary: { color: '#6b3f7a', contrastColor: '#fffdf7', hoverColor: '#5a3467', activeColor: '#482a53' },
        text: { color: '#1f2a33', mutedColor: '#5b6770' },
        content: { background: '#fbf9f2', borderColor: '#d9d2bf' },
      },
      dark: {
        surface: slate,
        primary: { color: '#c9a3d8', contrastColor: '#1a1220', hoverColor: '#d8bbe3', activeColor: '#e6d2ee' },
        text: { color: '#ece7da', mutedColor: '#a9abad' },
        content: { background: '#1e272d', borderColor: '#3a474f' },
      },
    },
  },
})
