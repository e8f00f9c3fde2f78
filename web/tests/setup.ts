import { disableAutoUnmount, enableAutoUnmount } from '@vue/test-utils'
import { afterEach, beforeEach } from 'vitest'
import { language } from '../lib/say'

// Tests share a window, and the files of them their modules: a page that stays would hear of what the next ones do.
disableAutoUnmount()
enableAutoUnmount(afterEach)

// The language of whoever is first, and what a browser has and jsdom has not.
beforeEach(() => {
  language.value = 'en'
  globalThis.ResizeObserver = class {
    observe() {}
    unobserve() {}
    disconnect() {}
  }
  Object.defineProperty(globalThis, 'visualViewport', { value: new EventTarget(), configurable: true, writable: true })
})
