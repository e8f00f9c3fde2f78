<script setup lang="ts">
import { computed } from 'vue'
import { say } from '../../lib/say'

const props = defineProps<{ desk: boolean }>()
const open = defineModel<boolean>({ required: true })
const keys = computed<[string, string][]>(() => [
  ['1 … 9', say('keys.digits')],
  ['0', say('keys.zero')],
  ['n', say('keys.n')],
  ['b', say('keys.b')],
  ['c', say('keys.c')],
  ...(props.desk ? [['s', say('keys.s')] satisfies [string, string]] : []),
  ['u', say('keys.u')],
  ['g', say('keys.g')],
  ['?', say('keys.question')],
  ['Esc', say('keys.esc')],
])
</script>

<template>
  <v-dialog v-model="open" aria-labelledby="help-title">
    <div class="sheet pad help">
      <h2 id="help-title">{{ say('app.keys') }}</h2>
      <table class="plain">
        <tbody>
          <tr v-for="[key, what] in keys" :key="key">
            <td class="key">
              <kbd>{{ key }}</kbd>
            </td>
            <td>{{ what }}</td>
          </tr>
        </tbody>
      </table>
      <p class="soft small">{{ say('keys.note') }}</p>
      <v-btn @click="open = false">{{ say('app.close') }}</v-btn>
    </div>
  </v-dialog>
</template>

<style scoped>
.help {
  display: grid;
  gap: var(--gap-3);
  justify-items: start;
}
.key {
  width: 90px;
}
kbd {
  font-family: var(--sans);
  font-weight: 650;
}
</style>
