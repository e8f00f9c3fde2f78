<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { useGiveRoles } from '../../api/tray'
import PhoneCard from './PhoneCard.vue'
import RolesProposal from './RolesProposal.vue'
import { mayBegin, whyNotNow } from '../../lib/runs'
import { say } from '../../lib/say'

/** The two phones as last seen; stays while the work changes. Roles are changed here, deliberately. */
const props = defineProps<{ tray: Schemas['Tray'] }>()
const number = computed(() => props.tray.number)
const give = useGiveRoles(number)
const asking = ref(false)
const ordered = computed(() => [...props.tray.phones].sort((a) => (a.role === 'gives' ? -1 : 1)))
const receiving = computed(() => props.tray.phones.find((p) => p.role === 'receives'))
const giving = computed(() => props.tray.phones.find((p) => p.role === 'gives'))
const backups = computed(() => props.tray.moves.filter((m) => m.backup !== null).length)

function change(): void {
  if (!receiving.value || give.isPending.value) return
  give.mutate(receiving.value.tag, { onSuccess: () => (asking.value = false) })
}
</script>

<template>
  <aside class="dock" :aria-label="say(receiving ? 'tray.phones' : 'tray.phone')">
    <PhoneCard v-for="phone in ordered" :key="phone.tag" :phone="phone" />
    <p v-if="tray.direction" class="trouble" role="status">{{ tray.direction }}</p>
    <RolesProposal v-if="tray.proposal" :proposal="tray.proposal" />
    <button
      v-if="mayBegin(tray, 'turn') && giving && receiving"
      class="roles"
      type="button"
      :disabled="whyNotNow(tray, 'turn') !== ''"
      :title="whyNotNow(tray, 'turn')"
      @click="asking = true"
    >
      {{ say('tray.roles') }}
    </button>
    <v-dialog v-model="asking" aria-labelledby="roles-title">
      <div v-if="giving && receiving" class="sheet pad ask">
        <h2 id="roles-title">{{ say('tray.roles_ask', { receives: receiving.tag, gives: giving.tag }) }}</h2>
        <p>
          {{
            say('tray.roles_how', {
              gives: giving.tag,
              gives_model: giving.live.model,
              receives: receiving.tag,
              receives_model: receiving.live.model,
            })
          }}
          <template v-if="backups > 0">{{ say('tray.roles_backup', { count: backups }) }}</template>
        </p>
        <RolesProposal v-if="tray.proposal" :proposal="tray.proposal" />
        <p v-if="give.error.value" class="trouble" role="alert">{{ give.error.value.message }}</p>
        <div class="buttons">
          <v-btn :loading="give.isPending.value" @click="change">{{ say('tray.roles_do') }}</v-btn>
          <v-btn variant="text" @click="asking = false">{{ say('tray.keep') }}</v-btn>
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
