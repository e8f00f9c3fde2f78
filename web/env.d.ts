/// <reference types="vite/client" />
declare module '*.vue' {
  import type { DefineComponent } from 'vue'
  const component: DefineComponent
  export default component
}
declare module '@fontsource-variable/bitter'
declare module '@fontsource-variable/noto-sans-arabic'
declare module '@fontsource-variable/noto-sans-jp'
declare module '@fontsource-variable/source-sans-3'
declare module 'vuetify/styles'
