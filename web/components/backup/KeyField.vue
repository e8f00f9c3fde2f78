<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { dateTime } from '../../lib/format'
import { toldKey } from '../../lib/keyTold'
import { say } from '../../lib/say'

/** Where the customer's key or password of a locked backup is typed in; hidden, since others stand at the counter. */
const props = defineProps<{ tag: string; edition: string; madeAt: string | null; lock: Schemas['Lock'] }>()
const told = defineModel<string>({ required: true })
const isShown = ref(false)
const heard = computed(() => toldKey(told.value, props.lock))
</script>

<template>
  <section class="sheet key" :aria-label="say('key.region')">
    <div>
      <h3>{{ say('key.title', { tag: props.tag, edition: props.edition }) }}</h3>
      <p class="soft">{{ say('key.how', { at: dateTime(madeAt), lock: lock ?? 'other' }) }}</p>
    </div>
    <div class="row">
      <v-text-field
        v-model="told"
        :label="say('key.label', { lock: lock ?? 'other' })"
        :type="isShown ? 'text' : 'password'"
        autocomplete="off"
        spellcheck="false"
        autocapitalize="off"
        maxlength="200"
      />
      <v-btn size="small" :aria-pressed="isShown" @click="isShown = !isShown">{{
        isShown ? say('key.hide') : say('key.show')
      }}</v-btn>
    </div>
    <p class="small heard" aria-live="polite">{{ heard }}</p>
  </section>
</template>

<style scoped>
.key {
  padding: var(--gap-3) var(--gap-4);
  display: grid;
  gap: var(--gap-3);
}
.row {
  display: grid;
  grid-template-columns: minmax(0, 420px) auto;
  justify-content: start;
  align-items: center;
  gap: var(--gap-3);
}
.heard {
  margin-top: calc(-1 * var(--gap-2));
  min-height: 1.4em;
  color: var(--soft);
}
</style>
