<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import { useGiveRoles } from '../api/queries'
import PhoneCard from './PhoneCard.vue'
import { many } from '../lib/format'

/** The two phones with their live state; stays while the work changes. Roles are changed here, deliberately. */
const props = defineProps<{ tray: Schemas['Tray'] }>()
const number = computed(() => props.tray.number)
const give = useGiveRoles(number)
const asking = ref(false)
const ordered = computed(() => [...props.tray.phones].sort((a) => (a.role === 'gives' ? -1 : 1)))
const receiving = computed(() => props.tray.phones.find((p) => p.role === 'receives'))
const giving = computed(() => props.tray.phones.find((p) => p.role === 'gives'))
const isFixed = computed(() => props.tray.closed || props.tray.steps.some((s) => s.stage === 'restore'))

function change(): void {
  if (!receiving.value) return
  give.mutate(receiving.value.tag, { onSuccess: () => (asking.value = false) })
}
</script>

<template>
  <aside class="dock" aria-label="The two phones">
    <PhoneCard v-for="phone in ordered" :key="phone.tag" :phone="phone" />
    <button v-if="!isFixed" class="roles" type="button" @click="asking = true">Change which phone gives…</button>
    <v-dialog v-model="asking" aria-labelledby="roles-title">
      <div v-if="giving && receiving" class="sheet pad ask">
        <h2 id="roles-title">{{ receiving.tag }} gives and {{ giving.tag }} receives?</h2>
        <p>
          From then on the chats of <b>{{ giving.tag }}</b> ({{ giving.live.model }}) are what a restore replaces, and
          those of <b>{{ receiving.tag }}</b> ({{ receiving.live.model }}) are what is brought.
          <template v-if="tray.backup">
            The backup of {{ many(tray.backup.messages, 'message') }} is kept and no longer used; a new one is
            needed.</template
          >
        </p>
        <p v-if="give.error.value" class="trouble" role="alert">{{ give.error.value.message }}</p>
        <div class="buttons">
          <v-btn :loading="give.isPending.value" @click="change">Change roles</v-btn>
          <v-btn variant="text" @click="asking = false">Leave as it is</v-btn>
        </div>
      </div>
    </v-dialog>
  </aside>
</template>

<style scoped>
.dock {
  display: grid;
  gap: var(--gap-3);
  align-content: start;
}
.roles {
  justify-self: start;
  font-size: var(--t-small);
  color: var(--soft);
  text-decoration: underline;
  text-underline-offset: 3px;
  padding: 4px;
}
.ask {
  display: grid;
  gap: var(--gap-3);
}
.buttons {
  display: flex;
  gap: var(--gap-2);
}
</style>
