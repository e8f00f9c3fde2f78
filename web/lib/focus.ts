import type { Directive } from 'vue'

/**
 * Where typing begins, from the moment that a field is drawn. A browser's or a library's own "autofocus" comes when the
 * field is seen, which is later on a busy computer, and takes the keys from whoever types elsewhere by then: a password
 * stood in the field for the name.
 */
export const vBeginHere: Directive<HTMLElement, boolean | undefined> = {
  mounted: (field, { value }) => {
    if (value !== false) (field.querySelector('input') ?? field).focus()
  },
}
