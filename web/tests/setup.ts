import { disableAutoUnmount, enableAutoUnmount } from '@vue/test-utils'
import { afterEach, beforeEach } from 'vitest'
import { forgetAnswers } from '../api/client'
import { forgetOldFailures } from '../api/line'
import { forgetAsked } from '../lib/cupboard'
import { forgetDraft } from '../lib/draft'
import { language } from '../lib/say'

// Tests share a window, and the files of them their modules: a page that stays would hear of what the next ones do.
disableAutoUnmount()
enableAutoUnmount(afterEach)

// As it is for whoever is first; with what a browser has and jsdom has not.
beforeEach(() => {
  language.value = 'en'
  forgetAnswers()
  forgetAsked()
  forgetDraft()
  sessionStorage.clear()
  localStorage.clear()
  forgetOldFailures(Number.MAX_SAFE_INTEGER)
  globalThis.ResizeObserver = class {
    observe() {}
    unobserve() {}
    disconnect() {}
  }
  Object.defineProperty(globalThis, 'visualViewport', { value: new EventTarget(), configurable: true, writable: true })
})
