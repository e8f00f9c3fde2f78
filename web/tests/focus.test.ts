import { mount } from '@vue/test-utils'
import { defineComponent, h, nextTick, ref, withDirectives } from 'vue'
import { describe, expect, it } from 'vitest'
import { vBeginHere } from '../lib/focus'

describe('where typing begins', () => {
  const form = (begins: boolean | undefined) =>
    defineComponent({
      setup() {
        const said = ref('')
        return () =>
          h('form', [
            withDirectives(h('div', [h('input', { id: 'first', title: said.value })]), [[vBeginHere, begins]]),
            h('input', { id: 'second', onInput: () => (said.value += '.') }),
          ])
      },
    })
  it('is the field from the moment that it is drawn, and never once somebody types elsewhere', async () => {
    const view = mount(form(undefined), { attachTo: document.body })
    expect(document.activeElement?.id).toBe('first')
    view.find<HTMLInputElement>('#second').element.focus()
    await view.find('#second').setValue('typed')
    await nextTick()
    await new Promise((done) => setTimeout(done, 50))
    expect(document.activeElement?.id).toBe('second')
    view.unmount()
  })
  it('is elsewhere where that is said', () => {
    const view = mount(form(false), { attachTo: document.body })
    expect(document.activeElement?.id).not.toBe('first')
    view.unmount()
  })
})
