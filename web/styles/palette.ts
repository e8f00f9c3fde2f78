/** The palette, once. Every name is a Vuetify theme colour and so a custom property --v-theme-<name>. */
export interface Palette {
  [name: string]: string
  /** the page */
  background: string
  /** sheets of paper on it */
  surface: string
  /** fields and gutters */
  sunk: string
  line: string
  ink: string
  /** second-rank text */
  soft: string
  /** the ribbon: the one next action, the wordmark */
  primary: string
  'on-primary': string
  gives: string
  receives: string
  arrived: string
  changed: string
  leftout: string
  missing: string
}

export const light: Palette = {
  background: '#E9EEEA',
  surface: '#FBFCFA',
  sunk: '#DDE5DF',
  line: '#B9C6BE',
  ink: '#14211B',
  soft: '#44544C',
  primary: '#6E1F52',
  'on-primary': '#FFFFFF',
  gives: '#7A4E00',
  receives: '#0A5A6B',
  arrived: '#245F46',
  changed: '#745300',
  leftout: '#4D5C66',
  missing: '#AD2A0C',
}

export const dark: Palette = {
  background: '#121815',
  surface: '#1B2420',
  sunk: '#26312C',
  line: '#3F4F47',
  ink: '#E6ECE8',
  soft: '#AAB9B1',
  primary: '#E7A6CF',
  'on-primary': '#33082A',
  gives: '#E6B65C',
  receives: '#74C9D8',
  arrived: '#86CFA8',
  changed: '#E0BE62',
  leftout: '#A9B8C2',
  missing: '#FF9A80',
}

function luminance(hex: string): number {
  const part = (at: number) => {
    const value = parseInt(hex.slice(at, at + 2), 16) / 255
    return value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4
  }
  return 0.2126 * part(1) + 0.7152 * part(3) + 0.0722 * part(5)
}

/** Contrast ratio of two colours, WCAG 2.2. */
export function contrast(one: string, other: string): number {
  const [a, b] = [luminance(one), luminance(other)]
  return (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05)
}
