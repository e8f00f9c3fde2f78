<script setup lang="ts">
import { computed, ref } from 'vue'
import { bytes, dateTime } from '../lib/format'
import { toldKey } from '../lib/keyTold'

/** Where the customer's key or password of a sealed backup is typed in; hidden, since others stand at the counter. */
const props = defineProps<{ tag: string; sealed: { bytes: number; made_at: string | null } }>()
const told = defineModel<string>({ required: true })
const isShown = ref(false)
const heard = computed(() => toldKey(told.value))
</script>

<template>
  <section class="sheet key" aria-label="Sealed backup">
    <div>
      <h3>The chats on {{ props.tag }} lie in a sealed backup</h3>
      <p class="soft">
        {{ bytes(sealed.bytes) }}, made {{ dateTime(sealed.made_at) }}. It opens with what its owner chose then: a
        password, or a key of 64 digits. Neither is kept once the backup is taken.
      </p>
    </div>
    <div class="row">
      <v-text-field
        v-model="told"
        label="Password or 64 digits"
        :type="isShown ? 'text' : 'password'"
        autocomplete="off"
        spellcheck="false"
        autocapitalize="off"
        maxlength="200"
      />
      <v-btn size="small" :aria-pressed="isShown" @click="isShown = !isShown">{{ isShown ? 'Hide' : 'Show' }}</v-btn>
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
