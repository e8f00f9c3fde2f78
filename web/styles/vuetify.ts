import 'vuetify/styles'
import { createVuetify } from 'vuetify'
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg'
import { dark, light } from './palette'

const shared = { error: '', success: '', warning: '', info: '' }

function theme(palette: typeof light, isDark: boolean) {
  const { ink } = palette
  return {
    dark: isDark,
    colors: {
      ...shared,
      ...palette,
      secondary: palette.soft,
      error: palette.missing,
      success: palette.arrived,
      warning: palette.changed,
      info: palette.receives,
      'on-background': ink,
      'on-surface': ink,
    },
    variables: {
      'border-opacity': 1,
      'medium-emphasis-opacity': 1,
      'high-emphasis-opacity': 1,
      'disabled-opacity': 0.55,
    },
  }
}

/** Vuetify with Geschenk's theme, density and shapes, set here and nowhere else. */
export function makeVuetify(nonce: string | undefined) {
  return createVuetify({
    theme: {
      defaultTheme: localStorage.getItem('geschenk.theme') === 'dark' ? 'dark' : 'light',
      themes: { light: theme(light, false), dark: theme(dark, true) },
      ...(nonce ? { cspNonce: nonce } : {}),
    },
    icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
    defaults: {
      global: { ripple: false },
      VBtn: { variant: 'outlined', rounded: 'sm', height: 36 },
      VTextField: { variant: 'outlined', density: 'compact', hideDetails: 'auto', color: 'primary' },
      VTextarea: { variant: 'outlined', density: 'compact', hideDetails: 'auto', color: 'primary' },
      VSelect: { variant: 'outlined', density: 'compact', hideDetails: 'auto', color: 'primary' },
      VAutocomplete: { variant: 'outlined', density: 'compact', hideDetails: 'auto', color: 'primary' },
      VCheckbox: { density: 'compact', hideDetails: 'auto', color: 'primary' },
      VDialog: { maxWidth: 560 },
    },
  })
}
